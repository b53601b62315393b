"""Climates and places that many engine tests stand on."""

from __future__ import annotations

import pytest

from elder.engine.climate.climate import Climate
from elder.engine.climate.frost import FROST_FREE, Frost, by_hand
from elder.engine.climate.normals import Normals
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Cardinals, Place

# The monthly means of docs/architecture.md's worked example.
T_MIN = (1.2, 1.0, 2.9, 4.9, 7.8, 10.7, 12.9, 12.8, 10.6, 7.6, 4.1, 2.0)
T_MAX = (6.8, 7.6, 10.4, 13.6, 17.1, 20.0, 22.3, 22.2, 19.2, 14.6, 10.1, 7.5)
EXAMPLE_CARDINALS = Cardinals(8, 25, 36)


def turned(monthly: tuple[float, ...]) -> tuple[float, ...]:
    """The same year, six months on."""
    return monthly[6:] + monthly[:6]


@pytest.fixture(scope="session")
def north() -> Climate:
    """A mild northern garden: last frost about 11 April, first about 16 November."""
    return Climate(52.6, -4.1, 60, "Europe/London", Normals(T_MIN, T_MAX), Frost(by_hand(100, 121), by_hand(319, 299)))


@pytest.fixture(scope="session")
def quenby() -> Climate:
    """The worked example's garden, its frosts as model.md gives them: last 19 April ± , first 25 October."""
    return Climate(52.6, -4.1, 60, "Europe/London", Normals(T_MIN, T_MAX), Frost(by_hand(109, 129), by_hand(297, 280)))


@pytest.fixture(scope="session")
def south() -> Climate:
    """The same garden six months on, below the equator."""
    frost = Frost(by_hand(100 + 182, 121 + 182), by_hand(319 - 183, 299 - 183))
    return Climate(-41.0, 174.0, 60, "Pacific/Auckland", Normals(turned(T_MIN), turned(T_MAX)), frost)


@pytest.fixture(scope="session")
def frost_free() -> Climate:
    """A coast without frost or a cold month."""
    return Climate(-5.0, 120.0, 5, "Asia/Makassar", Normals((22.0,) * 12, (31.0,) * 12), FROST_FREE)


@pytest.fixture(scope="session")
def sill() -> Place:
    """The worked example's room."""
    return Place("room", day_c=20, night_c=17)


@pytest.fixture(scope="session")
def tomato() -> Plant:
    """Tomato, whose handbook values are the worked example's."""
    return handbook()["tomato"]
