"""Freeze dates counted in daily minima, by gardening year (midwinter to midwinter): the last at or below a threshold
before midsummer and the first after it. A year with a gap of more than ten days in the month before or after its date
is left out, for the true date may lie in the gap.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.climate.frost import Frost, FrostDates
from elder.engine.climate.records import GAP_DAYS, DailyRecords
from elder.engine.keeping import kept

NEAR_DAYS: Final = 30  # either side of the date: the two months around it


LEAST_SD_DAYS: Final = 1.0  # a spread of none would make a date certain (assumed)


LONE_SD_DAYS: Final = 14.0  # the spread when a single frosty year is all there is (assumed)


@dataclass(frozen=True)
class FreezeYear:
    """One end of one gardening year: the day of its last (or first) freeze, ``None`` where it had none;
    ``left_out`` where gaps hide it. ``year`` is that of the midsummer. ``position`` counts from midwinter."""

    year: int
    day: date | None
    position: int | None
    left_out: bool


@dataclass(frozen=True)
class FreezeCount:
    """Both ends of every year at one threshold, and the laws that follow (means as days since midwinter)."""

    threshold_c: float
    spring_years: tuple[FreezeYear, ...]
    autumn_years: tuple[FreezeYear, ...]
    spring: FrostDates | None
    autumn: FrostDates | None


@kept
def count_freezes(records: DailyRecords, threshold_c: float, midsummer_doy: int) -> FreezeCount:
    """Freeze dates at or below ``threshold_c``. ``midsummer_doy`` is the warmest day of the year, 0..364."""
    spring, autumn = _FreezeReader(records, threshold_c, midsummer_doy).years()
    return FreezeCount(threshold_c, tuple(spring), tuple(autumn), _law(spring), _law(autumn))


class _FreezeReader:
    """The record laid on a plain run of days, so that a gap is a hole and not a jump."""

    def __init__(self, records: DailyRecords, threshold_c: float, midsummer_doy: int) -> None:
        self.start = int(records.ordinals[0])
        self.low = np.full(int(records.ordinals[-1]) - self.start + 1, np.nan)
        self.low[records.ordinals - self.start] = records.low
        self.threshold_c = threshold_c
        self.records = records
        self.midsummer_doy = midsummer_doy

    def years(self) -> tuple[list[FreezeYear], list[FreezeYear]]:
        """Spring and autumn of each gardening year the record touches."""
        spring: list[FreezeYear] = []
        autumn: list[FreezeYear] = []
        for year in range(self.records.first.year - 1, self.records.last.year + 2):
            summer = date(year, 1, 1).toordinal() + self.midsummer_doy
            before, after = summer - 183, summer + 182
            for found, first, last, is_spring in ((spring, before, summer - 1, True), (autumn, summer, after, False)):
                half = self._half(year, first, last, before, is_spring=is_spring)
                if half:
                    found.append(half)
        return spring, autumn

    def _half(self, year: int, first: int, last: int, midwinter: int, *, is_spring: bool) -> FreezeYear | None:
        window = self._window(first, last)
        if not np.isfinite(window).any():
            return None
        frosts = np.flatnonzero(window <= self.threshold_c)
        if len(frosts):
            at = first + int(frosts[-1] if is_spring else frosts[0])
            near = (max(at - NEAR_DAYS, first), min(at + NEAR_DAYS, last))
            hidden = _longest_hole(self._window(*near)) > GAP_DAYS
            return FreezeYear(year, date.fromordinal(at), at - midwinter, hidden)
        # No frost seen: believed only of a half-year that was watched.
        return FreezeYear(year, None, None, _longest_hole(window) > GAP_DAYS)

    def _window(self, first: int, last: int) -> Floats:
        """Minima from one ordinal to another, NaN beyond the record."""
        window = np.full(last - first + 1, np.nan)
        begin, end = max(first, self.start), min(last, self.start + len(self.low) - 1)
        if begin <= end:
            window[begin - first : end - first + 1] = self.low[begin - self.start : end - self.start + 1]
        return window


def _longest_hole(window: Floats) -> int:
    missing = np.concatenate(([0], np.isnan(window).astype(int), [0]))
    edges = np.flatnonzero(np.diff(missing))
    return int((edges[1::2] - edges[::2]).max(initial=0))


def _law(years: list[FreezeYear]) -> FrostDates | None:
    """The normal law of the frosty years and the share of them; ``None`` where no year can be read, or where
    none has a frost."""
    read = [year for year in years if not year.left_out]
    dates = np.array([year.position for year in read if year.position is not None], dtype=float)
    if not len(dates):
        return None
    spread = float(dates.std(ddof=1)) if len(dates) > 1 else LONE_SD_DAYS
    return FrostDates(float(dates.mean()), max(spread, LEAST_SD_DAYS), len(dates) / len(read), len(dates))


def frost_of(records: DailyRecords, midsummer_doy: int, threshold_c: float = 0.0) -> Frost:
    """Both ends of the frosts as counted, their means as days of the year (0 = 1 January)."""
    counted = count_freezes(records, threshold_c, midsummer_doy)
    midwinter = (midsummer_doy + 182) % 365
    spring, autumn = (
        law and law.shifted((law.mean_doy + midwinter) % 365 - law.mean_doy) for law in (counted.spring, counted.autumn)
    )
    return Frost(spring, autumn, threshold_c)
