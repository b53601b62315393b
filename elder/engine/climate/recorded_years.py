"""Complete gardening years of a daily record, short gaps bridged."""

from __future__ import annotations

from calendar import isleap
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.climate.records import DailyRecords

LEAST_RECORDED: Final = 15  # complete years, from which they stand by themselves (assumed)
MOST_FILLED_DAYS: Final = 5  # a gap this long is bridged; a longer one makes a year incomplete (assumed)


def recorded_years(records: DailyRecords, midwinter_doy: int) -> tuple[Floats, Floats] | None:
    """Complete recorded gardening years, short gaps bridged; shapes (years, 365). Nothing where there are too few."""
    stamps = records.ordinals.astype("int64") - 719163  # days since 1970
    dates = stamps.astype("datetime64[D]")
    leap = (dates.astype("datetime64[M]").astype(int) % 12 == 1) & (
        (dates - dates.astype("datetime64[M]")).astype(int) == 28
    )
    kept = ~leap
    year = dates[kept].astype("datetime64[Y]")
    doy = (dates[kept] - year).astype(int)
    is_leap = np.array([isleap(1970 + int(y)) for y in year.astype(int)])
    doy = doy - (is_leap & (doy > 59))  # the 29th of February itself is left out
    serial = (1970 + year.astype(int)) * YEAR_DAYS + doy
    first = int(serial[0])
    grid = np.full((2, int(serial[-1]) - first + 1), np.nan)
    grid[0, serial - first], grid[1, serial - first] = records.low[kept], records.high[kept]
    begin = (midwinter_doy - first) % YEAR_DAYS
    count = (grid.shape[1] - begin) // YEAR_DAYS
    whole = grid[:, begin : begin + count * YEAR_DAYS].reshape(2, max(count, 0), YEAR_DAYS)
    complete = [i for i in range(count) if all(_longest_gap(whole[part, i]) <= MOST_FILLED_DAYS for part in (0, 1))]
    if len(complete) < LEAST_RECORDED:
        return None
    filled = np.stack([[_bridged(whole[part, i]) for i in complete] for part in (0, 1)])
    return filled[0], np.maximum(filled[1], filled[0])


def _longest_gap(days: Floats) -> int:
    edges = np.flatnonzero(np.diff(np.concatenate(([0], np.isnan(days).astype(int), [0]))))
    return int((edges[1::2] - edges[::2]).max(initial=0))


def _bridged(days: Floats) -> Floats:
    good = np.flatnonzero(np.isfinite(days))
    return np.interp(np.arange(len(days)), good, days[good])
