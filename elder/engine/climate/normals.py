"""The climate of one garden: smooth daily normals and the gardening year.

The daily curve is a periodic cubic spline through the mid-month days of a 365-day year. A spline
through monthly means does not keep those means exactly; for ordinary climates it stays within 0.3 °C.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache

import numpy as np
from scipy.interpolate import CubicSpline

from elder.engine.arrays import Floats, Ints
from elder.engine.climate.frost import Frost
from elder.engine.climate.records import DailyRecords

MONTH_DAYS = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
MONTH_STARTS = np.concatenate(([0], np.cumsum(MONTH_DAYS)[:-1]))
MID_MONTHS = np.cumsum(MONTH_DAYS) - MONTH_DAYS / 2
YEAR_DAYS = 365
GROWING_MEAN_C = 10.0  # growing season: smoothed mean at or above this (assumed)


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


@dataclass(frozen=True)
class Climate:
    """Where a garden lies and what its year is like. Latitude and longitude in degrees, north and
    east positive; ``timezone`` an IANA name; ``daily_records`` where the garden has any: then every plant's
    own frost limit is counted in them, rather than shifted from the threshold's dates."""

    latitude: float
    longitude: float
    elevation_m: float
    timezone: str
    normals: Normals
    frost: Frost
    daily_records: DailyRecords | None = None


def doy0(day: date) -> int:
    """Day of a 365-day year, 0 = 1 January. 29 February reads as 28 February."""
    dom = 28 if (day.month, day.day) == (2, 29) else day.day
    return int(MONTH_STARTS[day.month - 1]) + dom - 1


def doy0_range(start: date, days: int) -> Ints:
    """``doy0`` of ``days`` consecutive days from ``start``; shape (days,)."""
    stamps = np.datetime64(start, "D") + np.arange(days)
    months = stamps.astype("datetime64[M]")
    dom = (stamps - months).astype(int)
    month = months.astype(int) % 12
    return np.asarray(MONTH_STARTS[month] + np.minimum(dom, MONTH_DAYS[month] - 1), dtype=np.int64)


def smooth_year(monthly: Sequence[float], *, lag_days: float = 0.0) -> Floats:
    """A year of daily values from 12 monthly means, each read at noon ``lag_days`` earlier; shape (365,)."""
    knots = np.concatenate((MID_MONTHS, [MID_MONTHS[0] + YEAR_DAYS]))
    spline = CubicSpline(knots, [*monthly, monthly[0]], bc_type="periodic")
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


@dataclass(frozen=True)
class GrowingSeason:
    """The part of the year with growth: ``start`` day of year and ``days`` long (0 none, 365 all year)."""

    start: int
    days: int


@lru_cache(maxsize=256)
def growing_season(normals: Normals) -> GrowingSeason:
    """The longest run of days with a smoothed mean of 10 °C or more, round the turn of the year."""
    warm = daily_mean(normals) >= GROWING_MEAN_C
    if warm.all():
        cool_start, cool_days = coolest_stretch(normals)
        return GrowingSeason((cool_start + cool_days) % YEAR_DAYS, YEAR_DAYS)
    if not warm.any():
        return GrowingSeason(0, 0)
    order = np.roll(warm, -int(np.argmin(warm)))  # start on a cold day, so that no run is cut in two
    edges = np.flatnonzero(np.diff(np.concatenate(([0], order.astype(int), [0]))))
    starts, ends = edges[::2], edges[1::2]
    best = int(np.argmax(ends - starts))
    start = (int(starts[best]) + int(np.argmin(warm))) % YEAR_DAYS
    return GrowingSeason(start, int(ends[best] - starts[best]))


def coolest_stretch(normals: Normals, days: int = 90) -> tuple[int, int]:
    """Start and length of the coolest ``days`` on end: the rest that stands in for winter (assumed)."""
    mean = daily_mean(normals)
    sums = np.convolve(np.concatenate((mean, mean[: days - 1])), np.ones(days), mode="valid")
    return int(np.argmin(sums)), days


def add_days(day: date, days: int) -> date:
    """``day`` moved by ``days``."""
    return day + timedelta(days=int(days))
