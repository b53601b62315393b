"""How long the day is. Sunrise and sunset with the sun's upper limb and ordinary refraction, by astral."""

from __future__ import annotations

import math
from datetime import date
from functools import lru_cache
from typing import Final

import numpy as np
from astral.julian import julianday, julianday_to_juliancentury
from astral.sun import sun_declination

from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import YEAR_DAYS, add_days

HORIZON_DEG: Final = -0.8333  # the sun's semi-diameter and refraction at the horizon (Meeus, from memory)
NOON: Final = 0.5


def day_length_h(latitude: float, longitude: float, day: date) -> float:
    """Hours from sunrise to sunset, 24 where the sun never sets and 0 where it never rises.

    The declination is astral's at local noon. astral's own rising and setting are not used: above 60° N
    a sunset can fall after midnight, before its sunrise by date.
    """
    noon = julianday(day) + NOON - longitude / 360
    declination = math.radians(sun_declination(julianday_to_juliancentury(noon)))
    phi = math.radians(max(min(latitude, 89.99), -89.99))
    cosine = (math.sin(math.radians(HORIZON_DEG)) - math.sin(phi) * math.sin(declination)) / (
        math.cos(phi) * math.cos(declination)
    )
    return 24 / math.pi * math.acos(max(min(cosine, 1.0), -1.0))


@lru_cache(maxsize=64)
def day_lengths(latitude: float, longitude: float) -> Floats:
    """Day length on each day of an ordinary year, hours; shape (365,), read only."""
    first = date(2027, 1, 1)
    hours = np.array([day_length_h(latitude, longitude, add_days(first, i)) for i in range(YEAR_DAYS)])
    hours.setflags(write=False)
    return hours
