"""Days of a 365-day year, 0 = 1 January; 29 February reads as the 28th."""

from __future__ import annotations

from datetime import date, timedelta
from functools import lru_cache

import numpy as np

from elder.engine.arrays import Ints

MONTH_DAYS = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])


MONTH_STARTS = np.concatenate(([0], np.cumsum(MONTH_DAYS)[:-1]))


YEAR_DAYS = 365


def doy0(day: date) -> int:
    """Day of a 365-day year, 0 = 1 January. 29 February reads as 28 February."""
    dom = 28 if (day.month, day.day) == (2, 29) else day.day
    return int(MONTH_STARTS[day.month - 1]) + dom - 1


def doy0_range(start: date, days: int) -> Ints:
    """``doy0`` of ``days`` consecutive days from ``start``; shape (days,), not to be written to: a piece of the years
    it lies in, for each batch of five years asks for days of its own."""
    new_year = date(start.year, 1, 1)
    at = (start - new_year).days
    return _years_from(start.year, (at + days) // YEAR_DAYS + 1)[at : at + days]


@lru_cache(maxsize=256)
def _years_from(year: int, count: int) -> Ints:
    """``doy0`` of the days of so many years and a few more; shape (366 count,), read only."""
    found = days_of_year(date(year, 1, 1).toordinal() + np.arange(366 * count))
    found.setflags(write=False)
    return found


def add_days(day: date, days: int) -> date:
    """``day`` moved by ``days``."""
    return day + timedelta(days=int(days))


def days_of_year(ordinals: Ints) -> Ints:
    """Day of a 365-day year, 0 = 1 January, for each ordinal; 29 February reads as 28 February."""
    stamps = (ordinals - date(1970, 1, 1).toordinal()).astype("datetime64[D]")
    years = stamps.astype("datetime64[Y]")
    doy = (stamps - years).astype(np.int64)
    year = years.astype(np.int64) + 1970
    leap = (year % 4 == 0) & ((year % 100 != 0) | (year % 400 == 0))
    return np.asarray(doy - (leap & (doy >= 59)), dtype=np.int64)
