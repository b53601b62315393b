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

# Sweeps: many lives, many gardens, many senders. What they run is run by others too, and the count doubles their time.
SWEEPS = (
    "test_acknowledged", "test_calibration", "test_cold", "test_learning", "test_lives", "test_multiply",
    "test_properties", "test_readers",
    "test_true_chance", "test_windows", "test_years",
)  # fmt: skip


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Lines run are counted without the sweeps."""
    for item in items:
        if item.path.stem in SWEEPS:
            item.add_marker(pytest.mark.no_cover)


@pytest.fixture(scope="session")
def attack() -> int:
    """How long the long forms of attacks are, by ``ATTACK``; 0 for the short ones that every run has."""
    return int(os.environ.get("ATTACK", "0"))
