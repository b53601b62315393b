"""The phases of a garden's year: when things grow, and the coolest stretch that stands in for winter."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.climate.normals import Normals, daily_mean

GROWING_MEAN_C = 10.0  # growing season: smoothed mean at or above this (assumed)
LEAST_REST_DAYS = 104  # woody plants rest so long even where winters are mild (assumed)


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


@lru_cache(maxsize=256)
def rest(normals: Normals) -> tuple[int, int]:
    """Start, day of year, and length of the rest of woody plants: the coolest run of as many days as have a mean below
    10 °C, 104 at the least. So a winter a little milder makes the rest a little shorter, never all at once."""
    cold = int((daily_mean(normals) < GROWING_MEAN_C).sum())
    return coolest_stretch(normals, max(LEAST_REST_DAYS, cold))
