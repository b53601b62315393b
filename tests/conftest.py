"""Settings that every test shares."""

from __future__ import annotations

import os
from typing import Any

import pytest
from hypothesis import settings
from xdist.scheduler import LoadScopeScheduling

# Playwright's sync API runs an event loop in the test's own thread; Django then refuses the database.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

# Machines are shared: how long a property takes says nothing. The examples are the same on every run.
settings.register_profile("elder", deadline=None, derandomize=True, max_examples=60)
settings.load_profile("elder")


class JourneysTogether(LoadScopeScheduling):
    """Journeys all on one worker, so that one browser is started and they do not contend for the machine among
    themselves; every other test by itself, on whichever worker is free. The largest group goes first.

    The mark ``xdist_group`` would say the same, but pytest 9 no longer reads the node ids that xdist 3.8 writes for it.
    """

    def _split_scope(self, nodeid: str) -> str:
        return "journeys" if nodeid.startswith("tests/journeys/") else nodeid


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> LoadScopeScheduling:
    """Share the tests out between the workers."""
    return JourneysTogether(config, log)
