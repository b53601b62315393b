"""Daily minima and maxima of past years: what they say of frost and of the ordinary year.

Freeze dates are counted by gardening year (midwinter to midwinter), the last at or below a threshold
before midsummer and the first after it. A year with a gap of more than ten days in the month before or
after its date is left out, for the true date may lie in the gap.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Final

import numpy as np
from scipy.ndimage import median_filter

from elder.engine.arrays import Bools, Floats, Ints
from elder.engine.climate.frost import Frost, FrostDates

NORMAL_YEARS: Final = 30  # the length of a climatological normal (WMO-No. 1203, from memory)
LEAST_MONTH_DAYS: Final = 20  # a month with fewer readings does not speak for its year (assumed)
LEAST_MONTHS: Final = 3  # of each name, for a mean to be worth using (assumed)
GAP_DAYS: Final = 10  # a longer gap near a freeze date leaves its year out
NEAR_DAYS: Final = 30  # either side of the date: the two months around it
LEAST_SD_DAYS: Final = 1.0  # a spread of none would make a date certain (assumed)
LONE_SD_DAYS: Final = 14.0  # the spread when a single frosty year is all there is (assumed)
COLDEST_C, HOTTEST_C = -90.0, 60.0  # beyond the lowest and highest air temperatures on record, rounded outward
SCREEN_SIGMAS: Final = 6.0  # robust deviations from the season's own middle that make a reading suspect (assumed)
SCREEN_LEAST_C: Final = 12.0  # and at least so far off, °C (assumed)
MAD_TO_SIGMA: Final = 1.4826  # a normal law's sigma over its median absolute deviation; any handbook
SEASON_WINDOW: Final = 31  # days of the year looked at together when screening


@dataclass(frozen=True, eq=False)
class DailyRecords:
    """Readings by day: proleptic ordinals rising, minima and maxima °C (NaN where one is missing).

    Shapes (days,). Compared by ``digest``, since it stands in the key of every kept answer.
    """

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


def days_of_year(ordinals: Ints) -> Ints:
    """Day of a 365-day year, 0 = 1 January, for each ordinal; 29 February reads as 28 February."""
    stamps = (ordinals - date(1970, 1, 1).toordinal()).astype("datetime64[D]")
    years = stamps.astype("datetime64[Y]")
    doy = (stamps - years).astype(np.int64)
    year = years.astype(np.int64) + 1970
    leap = (year % 4 == 0) & ((year % 100 != 0) | (year % 400 == 0))
    return np.asarray(doy - (leap & (doy >= 59)), dtype=np.int64)


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
    return median_filter(middle, 5, mode="wrap"), np.maximum(spread, 1.0)


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


@lru_cache(maxsize=256)
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
