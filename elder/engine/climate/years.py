"""Possible years: the one source of everything that differs from year to year.

Recorded gardening years where there are enough complete ones; else made-up ones, bent so that the stated frosts come
out. From them come frost at any limit, nights below a limit, the lowest night of a winter and the spread of warmth.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import ClassVar, Final

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.climate import made_up_years
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.climate.frost import FrostDates
from elder.engine.climate.frost_fit import LAW_YEARS, MIDSUMMER, End, last_and_share, solved, stated
from elder.engine.climate.normals import midwinter
from elder.engine.climate.recorded_years import recorded_years
from elder.engine.keeping import cached_property, kept

WALKED_YEARS: Final = 20  # for plans, where each year is walked through
BLEND_DAYS: Final = 60  # over which spring's values give way to autumn's, and back
LEAST_SD_DAYS: Final = 1.0  # a spread of none would make a date certain (assumed)
LONE_SD_DAYS: Final = 14.0  # the spread where a single year has frost at a limit (assumed)


@dataclass(frozen=True, eq=False)
class PossibleYears:
    """Daily minima and maxima, °C; shapes (years, 365), by days from midwinter; read only. ``recorded``: they were."""

    shared: ClassVar = True  # belongs to no one answer

    t_min: Floats
    t_max: Floats
    recorded: bool

    def __len__(self) -> int:
        return len(self.t_min)

    @property
    def following(self) -> Ints:
        """The year that each is followed by at midwinter; shape (years,). Made-up years come in two mirrored halves,
        and each half runs on in itself."""
        half = len(self) if self.recorded else (len(self) + 1) // 2
        row = np.arange(len(self))
        upper = half + (row + 1 - half) % max(len(self) - half, 1)
        return np.where(row < half, (row + 1) % half, upper)

    @cached_property
    def lowest(self) -> Floats:
        """The lowest night of each winter: from one midsummer to the next; shape (years,), read only."""
        found: Floats = np.minimum(self.t_min[:, MIDSUMMER:].min(axis=1), self.t_min[:, :MIDSUMMER].min(axis=1))
        found.setflags(write=False)
        return found


def _smoothstep(x: Floats) -> Floats:
    held = np.clip(x, 0.0, 1.0)
    return np.asarray(held * held * (3 - 2 * held))


@lru_cache(maxsize=1)
def _autumnal() -> Floats:
    """How much of autumn's value holds on each day: nothing in spring, all of it in autumn; shape (365,)."""
    day = np.arange(YEAR_DAYS, dtype=np.float64)
    at_summer = _smoothstep((day - MIDSUMMER) / BLEND_DAYS + 0.5)
    after_winter = _smoothstep(day / BLEND_DAYS + 0.5)
    before_winter = _smoothstep((day - YEAR_DAYS) / BLEND_DAYS + 0.5)
    return np.asarray(np.where(day < MIDSUMMER / 2, 1 - after_winter, at_summer - before_winter))


@kept
def possible_years(climate: Climate, count: int = WALKED_YEARS) -> PossibleYears:
    """So many possible years of a garden: recorded ones where there are enough, else made up; kept."""
    recorded = recorded_years(climate.daily_records, midwinter(climate.normals)) if climate.daily_records else None
    if recorded is not None:
        chosen = np.unique(np.round(np.linspace(0, len(recorded[0]) - 1, min(count, len(recorded[0])))).astype(int))
        return _kept(recorded[0][chosen], recorded[1][chosen], recorded=True)
    recipe, ends = made_up_years.recipe_of(climate.normals), solved(climate)
    autumnal = _autumnal()
    widen = ends.spring.widen + autumnal * (ends.autumn.widen - ends.spring.widen)
    shift = ends.spring.shift_c + autumnal * (ends.autumn.shift_c - ends.spring.shift_c)
    by_night, by_day = (made_up_years.noise(recipe, count, which) for which in (0, 1))
    night = made_up_years.nights(recipe, by_night, widen, shift)
    return _kept(night, made_up_years.days(recipe, night, by_night, by_day, widen), recorded=False)


def _kept(t_min: Floats, t_max: Floats, *, recorded: bool) -> PossibleYears:
    for part in (t_min, t_max):
        part.setflags(write=False)
    return PossibleYears(t_min, t_max, recorded)


@lru_cache(maxsize=512)
def law_at(climate: Climate, limit_c: float, end: End) -> FrostDates | None:
    """The last spring (first autumn) frost at any limit, its mean in days from midwinter: the stated dates moved as the
    possible years move from their threshold to that limit. ``None`` where no year has it."""
    dates = stated(climate, end)
    if dates and limit_c == climate.frost.threshold_c:
        return dates
    years = possible_years(climate, LAW_YEARS).t_min
    days, share = last_and_share(years, limit_c, end)
    if not len(days):
        return None
    known, known_share = last_and_share(years, climate.frost.threshold_c, end)
    if dates is None or not len(known):
        return FrostDates(float(days.mean()), _spread(days), share)
    return FrostDates(
        dates.mean_doy + float(days.mean() - known.mean()),
        max(dates.sd_days * _spread(days) / _spread(known), LEAST_SD_DAYS),
        min(dates.share_of_years_with_frost * share / known_share, 1.0),
        dates.years,
    )


def _spread(days: Floats) -> float:
    """The spread of dates; never none, as it would be where it freezes every night up to midsummer."""
    return max(float(days.std(ddof=1)), LEAST_SD_DAYS) if len(days) > 1 else LONE_SD_DAYS


def nights_below(years: PossibleYears, limit_c: float, positions: Ints) -> Floats:
    """How many of some nights, by days from midwinter, fall below a limit in each year; shape (years,)."""
    return np.asarray((years.t_min[:, positions % YEAR_DAYS] < limit_c).sum(axis=1), dtype=np.float64)
