"""Daily minima and maxima of past years: what they say of frost and of the ordinary year.

Freeze dates are counted by gardening year (midwinter to midwinter), the last at or below a threshold
before midsummer and the first after it. A year with a gap of more than ten days in the month before or
after its date is left out, for the true date may lie in the gap.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from datetime import date
from typing import ClassVar, Final

import numpy as np

from elder.engine.arrays import Bools, Floats, Ints

NORMAL_YEARS: Final = 30  # the length of a climatological normal (WMO-No. 1203, from memory)
LEAST_MONTH_DAYS: Final = 20  # a month with fewer readings does not speak for its year (assumed)
LEAST_MONTHS: Final = 3  # of each name, for a mean to be worth using (assumed)
GAP_DAYS: Final = 10  # a longer gap near a freeze date leaves its year out
COLDEST_C, HOTTEST_C = -90.0, 60.0  # beyond the lowest and highest air temperatures on record, rounded outward


@dataclass(frozen=True, eq=False)
class DailyRecords:
    """Readings by day: proleptic ordinals rising, minima and maxima °C (NaN where one is missing).

    Shapes (days,). Compared by ``digest``, since it stands in the key of every kept answer.
    """

    shared: ClassVar = True  # belongs to no one answer

    ordinals: Ints
    low: Floats
    high: Floats
    digest: str

    def __eq__(self, other: object) -> bool:
        return isinstance(other, DailyRecords) and other.digest == self.digest

    def __hash__(self) -> int:
        return hash(self.digest)

    def __len__(self) -> int:
        return len(self.ordinals)

    @property
    def first(self) -> date:
        """The first day read."""
        return date.fromordinal(int(self.ordinals[0]))

    @property
    def last(self) -> date:
        """The last day read."""
        return date.fromordinal(int(self.ordinals[-1]))

    @property
    def years(self) -> float:
        """Years from the first day to the last."""
        return (int(self.ordinals[-1]) - int(self.ordinals[0]) + 1) / 365.2425

    def since(self, year: int) -> DailyRecords:
        """Only the readings from 1 January of that year on."""
        begin = int(np.searchsorted(self.ordinals, date(year, 1, 1).toordinal()))
        return records_of(self.ordinals[begin:], self.low[begin:], self.high[begin:])


def records_of(ordinals: Ints, low: Floats, high: Floats) -> DailyRecords:
    """Readings as records. Raises ValueError for none, or for days that do not rise."""
    if len(ordinals) == 0 or (np.diff(ordinals) <= 0).any():
        raise ValueError("records are of days that rise")
    days, lows, highs = ordinals.astype(np.int64), low.astype(np.float64), high.astype(np.float64)
    for part in (days, lows, highs):
        part.setflags(write=False)
    digest = hashlib.sha256(days.tobytes() + lows.tobytes() + highs.tobytes()).hexdigest()
    return DailyRecords(days, lows, highs, digest)


def gaps(ordinals: Ints, present: Bools, *, longer_than: int = GAP_DAYS) -> list[tuple[date, date]]:
    """Runs of days without a reading, first and last day of each."""
    read = ordinals[present]
    jumps = np.flatnonzero(np.diff(read) > longer_than + 1)
    return [(date.fromordinal(int(read[i]) + 1), date.fromordinal(int(read[i + 1]) - 1)) for i in jumps]


def monthly_means(records: DailyRecords) -> tuple[tuple[float, ...], tuple[float, ...]] | None:
    """Mean daily minimum and maximum of each month, °C: months averaged first, then years, so that a month
    with gaps weighs as any other. ``None`` where a month has fewer than three whole Januaries and so on."""
    stamps = (records.ordinals - date(1970, 1, 1).toordinal()).astype("datetime64[D]").astype("datetime64[M]")
    months = stamps.astype(np.int64)
    means = []
    for values in (records.low, records.high):
        good = np.isfinite(values)
        base = int(months[0])
        sums = np.bincount(months[good] - base, weights=values[good], minlength=int(months[-1]) - base + 1)
        counts = np.bincount(months[good] - base, minlength=len(sums))
        whole = counts >= LEAST_MONTH_DAYS
        names = (np.arange(len(sums)) + base) % 12
        by_name = [sums[whole & (names == m)] / counts[whole & (names == m)] for m in range(12)]
        if any(len(month) < LEAST_MONTHS for month in by_name):
            return None
        means.append(tuple(round(float(month.mean()), 2) for month in by_name))
    return means[0], means[1]
