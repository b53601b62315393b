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
    """The journeys of a module all on one worker, so that each worker starts one browser and lays the demo out once;
    every other test by itself, on whichever worker is free. The largest groups go first. (All journeys on one worker
    took longer: they are half of the time, and the browser is busy while the server waits.)

    The mark ``xdist_group`` would say the same, but pytest 9 no longer reads the node ids that xdist 3.8 writes for it.
    """

    def _split_scope(self, nodeid: str) -> str:
        return nodeid.split("::")[0] if nodeid.startswith("tests/journeys/") else nodeid


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> LoadScopeScheduling:
    """Share the tests out between the workers."""
    return JourneysTogether(config, log)
