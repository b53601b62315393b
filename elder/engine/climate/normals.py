"""The climate of one garden: smooth daily normals and the gardening year.

The daily curve is a periodic cubic spline through the mid-month days of a 365-day year. A spline
through monthly means does not keep those means exactly; for ordinary climates it stays within 0.3 °C.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import scipy

from elder.engine.arrays import Floats, Ints
from elder.engine.climate.day_of_year import MONTH_DAYS, YEAR_DAYS

MID_MONTHS = np.cumsum(MONTH_DAYS) - MONTH_DAYS / 2


@dataclass(frozen=True)
class Normals:
    """Monthly mean daily minimum and maximum, °C, January first, 12 of each.

    Raises ValueError when there are not 12 of each or a minimum lies above its maximum.
    """

    t_min: tuple[float, ...]
    t_max: tuple[float, ...]

    def __post_init__(self) -> None:
        if len(self.t_min) != 12 or len(self.t_max) != 12:
            raise ValueError("normals want twelve minima and twelve maxima")
        if any(low > high for low, high in zip(self.t_min, self.t_max, strict=True)):
            raise ValueError("a monthly minimum lies above its maximum")


def smooth_year(monthly: Sequence[float], *, lag_days: float = 0.0) -> Floats:
    """A year of daily values from 12 monthly means, each read at noon ``lag_days`` earlier; shape (365,)."""
    means = np.asarray(monthly, dtype=np.float64)
    return np.asarray(means[0] + _by_month(lag_days) @ (means - means[0]))  # so months all alike give days all alike


@lru_cache(maxsize=64)
def _by_month(lag_days: float) -> Floats:
    """What each month's mean has in each day of the curve, which goes along with its means; shape (365, 12)."""
    knots = np.concatenate((MID_MONTHS, [MID_MONTHS[0] + YEAR_DAYS]))
    ones = np.eye(len(MID_MONTHS))
    spline = scipy.interpolate.CubicSpline(knots, np.vstack((ones, ones[:1])), bc_type="periodic")
    return np.asarray(spline(np.arange(YEAR_DAYS) + 0.5 - lag_days), dtype=np.float64)


@lru_cache(maxsize=256)
def daily_normals(normals: Normals, lag_days: float = 0.0) -> tuple[Floats, Floats]:
    """Daily minimum and maximum, °C, by day of year; two arrays of shape (365,), not to be written to."""
    low, high = (smooth_year(m, lag_days=lag_days) for m in (normals.t_min, normals.t_max))
    for curve in (low, high):
        curve.setflags(write=False)
    return low, high


def daily_mean(normals: Normals) -> Floats:
    """Smoothed daily mean, °C; shape (365,)."""
    low, high = daily_normals(normals)
    return (low + high) / 2


@lru_cache(maxsize=256)
def midsummer(normals: Normals) -> int:
    """The warmest day of the smoothed curve, day of year 0..364."""
    return int(np.argmax(daily_mean(normals)))


def midwinter(normals: Normals) -> int:
    """Half a year from midsummer: where one gardening year ends and the next begins."""
    return (midsummer(normals) + YEAR_DAYS // 2) % YEAR_DAYS


def garden_year_position(normals: Normals, doy: Ints | int) -> Ints:
    """Days since midwinter, 0..364. Midsummer stands at 183."""
    return np.asarray((np.asarray(doy) - midwinter(normals)) % YEAR_DAYS, dtype=np.int64)
