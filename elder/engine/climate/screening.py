"""Readings that look wrong: each set against its own time of year."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
import scipy

from elder.engine.arrays import Floats, Ints
from elder.engine.climate.day_of_year import days_of_year

SCREEN_SIGMAS: Final = 6.0  # robust deviations from the season's own middle that make a reading suspect (assumed)


SCREEN_LEAST_C: Final = 12.0  # and at least so far off, °C (assumed)


MAD_TO_SIGMA: Final = 1.4826  # a normal law's sigma over its median absolute deviation; any handbook


SEASON_WINDOW: Final = 31  # days of the year looked at together when screening


@dataclass(frozen=True)
class Suspect:
    """A reading unlike its season: where it stands in the arrays, which of the two, and what is usual then."""

    index: int
    which: str
    value: float
    usual: float


def screen(ordinals: Ints, low: Floats, high: Floats) -> list[Suspect]:
    """Readings that lie far outside their own time of year, worst first.

    Each is set against the median of its day of year and the fortnight either side, in robust deviations
    (median absolute deviation), so that one wild reading does not hide another.
    """
    found: list[tuple[float, Suspect]] = []
    doy = days_of_year(ordinals)
    for which, values in (("low", low), ("high", high)):
        if not np.isfinite(values).any():
            continue
        middle, spread = _season_of(doy, values)
        off = np.abs(values - middle[doy])
        wild = np.flatnonzero((off > SCREEN_SIGMAS * spread[doy]) & (off > SCREEN_LEAST_C))
        found += [(float(off[i]), Suspect(int(i), which, float(values[i]), float(middle[doy[i]]))) for i in wild]
    return [suspect for _, suspect in sorted(found, key=lambda pair: -pair[0])]


def _season_of(doy: Ints, values: Floats) -> tuple[Floats, Floats]:
    """Median and robust sigma by day of year, over a moving month; shapes (365,)."""
    order = np.argsort(doy, kind="stable")
    bounds = np.searchsorted(doy[order], np.arange(366))
    sorted_values = values[order]
    half = SEASON_WINDOW // 2
    middle, spread = np.full(365, np.nan), np.full(365, np.nan)
    for day in range(365):
        parts = [sorted_values[bounds[d % 365] : bounds[d % 365 + 1]] for d in range(day - half, day + half + 1, 3)]
        month = np.concatenate(parts)
        month = month[np.isfinite(month)]
        if len(month):
            middle[day] = np.median(month)
            spread[day] = MAD_TO_SIGMA * np.median(np.abs(month - middle[day]))
    usual = float(np.nanmedian(middle))
    middle = np.where(np.isfinite(middle), middle, usual)
    spread = np.where(np.isfinite(spread), spread, np.nanmedian(spread))
    return scipy.ndimage.median_filter(middle, 5, mode="wrap"), np.maximum(spread, 1.0)
