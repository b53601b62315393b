"""Settings that every test shares."""

from __future__ import annotations

import os

import pytest
from hypothesis import settings

# Playwright's sync API runs an event loop in the test's own thread; Django then refuses the database.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

# Machines are shared: how long a property takes says nothing. The examples are the same on every run.
settings.register_profile("elder", deadline=None, derandomize=True, max_examples=60)
settings.load_profile("elder")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Journeys first: they take the longest, and what is left then evens out between the workers."""
    items.sort(key=lambda item: "journeys" not in item.path.parts)
