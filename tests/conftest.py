"""Settings that every test shares."""

from __future__ import annotations

import os

from hypothesis import settings

# Playwright's sync API runs an event loop in the test's own thread; Django then refuses the database.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

# Machines are shared: how long a property takes says nothing. The examples are the same on every run.
settings.register_profile("elder", deadline=None, derandomize=True, max_examples=60)
settings.load_profile("elder")
