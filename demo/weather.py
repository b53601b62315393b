"""Invented weather for the demo garden: daily minima and maxima about its monthly means, from a fixed seed.

A day resembles the day before it (a first-order autoregression), and the two ends of a day go together, so
that cold snaps last and frost dates spread as real ones do. Each month's mean over all years is then set to
the garden's own, so that the normals derived from the series are those it was made from.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.climate.day_of_year import days_of_year
from elder.engine.climate.normals import Normals, daily_normals
from elder.engine.climate.records import DailyRecords, records_of
from elder.engine.place.weather import wandering

LOW_SD_C, HIGH_SD_C = 2.95, 2.7
TOGETHER = 0.55  # correlation of a day's two departures
LEAST_RANGE_C = 1.0


def invented_records(
    t_min: Sequence[float], t_max: Sequence[float], *, first: date, last: date, seed: int
) -> DailyRecords:
    """Daily records from ``first`` to ``last``, in tenths of a degree. The same seed gives the same weather."""
    chance = np.random.default_rng(seed)
    ordinals = np.arange(first.toordinal(), last.toordinal() + 1, dtype=np.int64)
    low, high = (curve[days_of_year(ordinals)] for curve in daily_normals(Normals(tuple(t_min), tuple(t_max))))
    shared, own = wandering(chance, len(ordinals)), wandering(chance, len(ordinals))
    low = low + LOW_SD_C * shared
    high = high + HIGH_SD_C * (TOGETHER * shared + math.sqrt(1 - TOGETHER**2) * own)
    high = np.maximum(high, low + LEAST_RANGE_C)
    low, high = (_centred(values, ordinals, means) for values, means in ((low, t_min), (high, t_max)))
    return records_of(ordinals, _tenths(np.minimum(low, high)), _tenths(high))


def _tenths(values: Floats) -> Floats:
    return np.asarray(np.round(values, 1), dtype=np.float64)


def _centred(values: Floats, ordinals: Ints, means: Sequence[float]) -> Floats:
    """Each calendar month moved as a whole, so that it averages what it should."""
    months = (ordinals - date(1970, 1, 1).toordinal()).astype("datetime64[D]").astype("datetime64[M]").astype(int) % 12
    moved = values.copy()
    for month in range(12):
        here = months == month
        moved[here] += means[month] - values[here].mean()
    return moved
