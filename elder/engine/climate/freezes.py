"""Freeze dates counted in daily minima, by gardening year (midwinter to midwinter): the last at or below a threshold
before midsummer and the first after it. A year with a gap of more than ten days in the month before or after its date
is left out, for the true date may lie in the gap.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import ClassVar, Final

import numpy as np

from elder.engine.arrays import Bools, Floats, Ints
from elder.engine.climate.frost import Frost, FrostDates
from elder.engine.climate.records import GAP_DAYS, DailyRecords
from elder.engine.keeping import cached_property, kept, kept_at

HALF_DAYS: Final = 183  # of a gardening year, either side of midsummer
NEAR_DAYS: Final = 30  # either side of the date: the two months around it
HALVES_BYTES: Final = 300_000  # of ninety years in halves (measured, rounded)


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


@dataclass(frozen=True, eq=False)
class _Halves:
    """One end of every gardening year a record touches, day by day. ``years``: those of their midsummers; ``first``:
    the ordinals of their first days; shapes (years,). ``low``: minima, NaN where there is none; shape (years, 183).
    ``holes``: the longest run of days without one; shape (years,)."""

    shared: ClassVar = True  # belongs to no one threshold's answer: sixty would be weighed with it

    years: Ints
    first: Ints
    low: Floats
    holes: Ints
    is_spring: bool


@dataclass(frozen=True, eq=False)
class _Ends:
    """The last freeze of every spring, or the first of every autumn, at one threshold. ``at``: which day of its half, 0
    where there is none; ``frosty``: whether there is one; ``left_out``: whether gaps hide it; shapes (years,)."""

    halves: _Halves
    at: Ints
    frosty: Bools
    left_out: Bools

    @property
    def positions(self) -> Ints:
        """The days of ``at``, counted from midwinter."""
        return self.at + (0 if self.halves.is_spring else HALF_DAYS)

    @property
    def law(self) -> FrostDates | None:
        """The normal law of the frosty years and the share of them; ``None`` where no year can be read, or where none
        has a frost."""
        dates = self.positions[self.frosty & ~self.left_out].astype(np.float64)
        if not len(dates):
            return None
        spread = float(dates.std(ddof=1)) if len(dates) > 1 else LONE_SD_DAYS
        share = len(dates) / int((~self.left_out).sum())
        return FrostDates(float(dates.mean()), max(spread, LEAST_SD_DAYS), share, len(dates))

    def one_by_one(self) -> tuple[FreezeYear, ...]:
        """Year by year."""
        columns = (self.halves.years, self.halves.first + self.at, self.positions, self.frosty, self.left_out)
        return tuple(
            FreezeYear(year, date.fromordinal(day) if frosty else None, position if frosty else None, left_out)
            for year, day, position, frosty, left_out in zip(*(column.tolist() for column in columns), strict=True)
        )


@dataclass(frozen=True, eq=False)
class FreezeCount:
    """Both ends of every year at one threshold, and the laws that follow (means as days since midwinter)."""

    threshold_c: float
    spring_ends: _Ends
    autumn_ends: _Ends

    @cached_property
    def spring(self) -> FrostDates | None:
        """The law of the last freeze in spring."""
        return self.spring_ends.law

    @cached_property
    def autumn(self) -> FrostDates | None:
        """The law of the first in autumn."""
        return self.autumn_ends.law

    @cached_property
    def spring_years(self) -> tuple[FreezeYear, ...]:
        """The last freeze of each spring."""
        return self.spring_ends.one_by_one()

    @cached_property
    def autumn_years(self) -> tuple[FreezeYear, ...]:
        """The first freeze of each autumn."""
        return self.autumn_ends.one_by_one()


@kept
def count_freezes(records: DailyRecords, threshold_c: float, midsummer_doy: int) -> FreezeCount:
    """Freeze dates at or below ``threshold_c``. ``midsummer_doy`` is the warmest day of the year, 0..364."""
    spring, autumn = _halves(records, midsummer_doy)
    return FreezeCount(threshold_c, _ends(spring, threshold_c), _ends(autumn, threshold_c))


@kept_at(HALVES_BYTES)
def _halves(records: DailyRecords, midsummer_doy: int) -> tuple[_Halves, _Halves]:
    """Spring and autumn of each gardening year the record touches, laid on a plain run of days, so that a gap is a hole
    and not a jump. The same for every threshold: a garden's plants ask for sixty."""
    years = np.arange(records.first.year - 1, records.last.year + 2)
    summers = np.array([date(year, 1, 1).toordinal() for year in years.tolist()]) + midsummer_doy
    start = int(summers[0]) - HALF_DAYS
    low = np.full(int(summers[-1]) + HALF_DAYS - start, np.nan)
    low[records.ordinals - start] = records.low
    return (
        _half(years, summers - HALF_DAYS, low, start, is_spring=True),
        _half(years, summers, low, start, is_spring=False),
    )


def _half(years: Ints, first: Ints, low: Floats, start: int, *, is_spring: bool) -> _Halves:
    days = low[first[:, None] - start + np.arange(HALF_DAYS)]
    touched = np.isfinite(days).any(axis=1)
    holes = np.array([_longest_hole(half) for half in days[touched]], dtype=np.int64)
    return _Halves(years[touched], first[touched], days[touched], holes, is_spring)


def _ends(halves: _Halves, threshold_c: float) -> _Ends:
    below = halves.low <= threshold_c
    frosty = np.any(below, axis=1)
    at = HALF_DAYS - 1 - np.argmax(below[:, ::-1], axis=1) if halves.is_spring else np.argmax(below, axis=1)
    at = np.where(frosty, at, 0)
    # No frost seen is believed only of a half-year that was watched; one seen, of one watched about that day.
    left_out = halves.holes > GAP_DAYS
    for i in np.flatnonzero(left_out & frosty):
        near = halves.low[i, max(at[i] - NEAR_DAYS, 0) : at[i] + NEAR_DAYS + 1]
        left_out[i] = _longest_hole(near) > GAP_DAYS
    return _Ends(halves, at, frosty, left_out)


def _longest_hole(window: Floats) -> int:
    missing = np.concatenate(([0], np.isnan(window).astype(int), [0]))
    edges = np.flatnonzero(np.diff(missing))
    return int((edges[1::2] - edges[::2]).max(initial=0))


def frost_of(records: DailyRecords, midsummer_doy: int, threshold_c: float = 0.0) -> Frost:
    """Both ends of the frosts as counted, their means as days of the year (0 = 1 January)."""
    counted = count_freezes(records, threshold_c, midsummer_doy)
    midwinter = (midsummer_doy + 182) % 365
    spring, autumn = (
        law and law.shifted((law.mean_doy + midwinter) % 365 - law.mean_doy) for law in (counted.spring, counted.autumn)
    )
    return Frost(spring, autumn, threshold_c)
