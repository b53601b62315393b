"""Made-up years bent until the frosts a gardener stated come out of them.

At each end of the frosts the spread of the nights is widened or narrowed; where that does not reach, the curve is moved
as well. What an end left blank means is read off the temperatures.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final, Literal

import numpy as np
import scipy
from scipy.special import ndtri

from elder.engine.arrays import Floats
from elder.engine.climate import made_up_years
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.climate.frost import FrostDates
from elder.engine.climate.made_up_years import WeatherLaw
from elder.engine.climate.normals import midwinter
from elder.engine.keeping import lent

MIDSUMMER: Final = YEAR_DAYS - YEAR_DAYS // 2  # 183 days after midwinter
LAW_YEARS: Final = 400  # from which laws are read
WIDEST: Final = 0.30  # how far the spread may be widened or narrowed (log), before the curve is moved
FURTHEST_C: Final = 4.0  # and how far the curve
HARDLY_C: Final = 1.0  # a curve moved by more hardly fits its frost dates, nor does a spread at its bound
RARE, USUAL = 0.15, 0.60  # shares of years with frost between which a blank date is taken for rare frost
AROUND: Final = {"spring": 90.0, "autumn": 275.0}  # where each end lies, days from midwinter, to place a date by

End = Literal["spring", "autumn"]
ENDS: Final[tuple[End, End]] = ("spring", "autumn")
Fit = Literal["fits", "hardly", "unknown", "none"]


@dataclass(frozen=True)
class SolvedEnd:
    """What one end of the frosts was solved to: the widening of the spread (log), the shift of the curve in °C, and
    whether dates and temperatures fit each other. ``unknown``: left blank where most years would have frost."""

    widen: float
    shift_c: float
    fit: Fit


@dataclass(frozen=True)
class SolvedYear:
    """Both ends of the frosts as solved."""

    spring: SolvedEnd
    autumn: SolvedEnd


def last_and_share(nights: Floats, limit_c: float, end: End) -> tuple[Floats, float]:
    """The last spring (first autumn) day at or below a limit in each year that has one, days from midwinter, and the
    share of such years."""
    frost = (nights[:, :MIDSUMMER] if end == "spring" else nights[:, MIDSUMMER:]) <= limit_c
    has = frost.any(axis=1)
    at = MIDSUMMER - 1 - frost[:, ::-1].argmax(axis=1) if end == "spring" else MIDSUMMER + frost.argmax(axis=1)
    return at[has].astype(np.float64), float(has.mean())


def _middle(nights: Floats, limit_c: float, end: End) -> float:
    """Half way between the mean of frosty years and the day one year of ten goes beyond; towards winter where fewer
    have frost at all."""
    days, _ = last_and_share(nights, limit_c, end)
    winter = 0.0 if end == "spring" else float(YEAR_DAYS)
    if not len(days):
        return winter
    every = np.concatenate((days, np.full(len(nights) - len(days), winter)))
    return float((days.mean() + np.quantile(every, 0.9 if end == "spring" else 0.1)) / 2)


def _stated_middle(dates: FrostDates, end: End) -> float:
    share = dates.share_of_years_with_frost
    beyond = float(ndtri(1 - 0.1 / share)) * dates.sd_days if share > 0.1 else 0.0
    return dates.mean_doy + (beyond if end == "spring" else -beyond) / 2


def _root(f: Callable[[float], float], bound: float) -> float | None:
    """Where a monotone step function crosses nought within a bound; nothing where it does not."""
    low, high = f(-bound), f(bound)
    if low == 0 or high == 0:
        return -bound if low == 0 else bound
    return float(scipy.optimize.brentq(f, -bound, bound, xtol=1e-4)) if low * high < 0 else None


@dataclass(frozen=True, eq=False)
class _Solver:
    """Finds the spread and the curve by which the stated frosts come out."""

    recipe: WeatherLaw
    noise: Floats
    limit_c: float

    def end(self, dates: FrostDates, end: End) -> SolvedEnd:
        aim = _stated_middle(dates, end)

        def off(widen: float, shift_c: float) -> float:
            return _middle(made_up_years.nights(self.recipe, self.noise, widen, shift_c), self.limit_c, end) - aim

        widen = _root(lambda x: off(x, 0.0), WIDEST)
        if widen is not None:
            return SolvedEnd(widen, 0.0, "fits")
        nearest = min((-WIDEST, WIDEST), key=lambda x: abs(off(x, 0.0)))
        shift = _root(lambda x: off(nearest, x), FURTHEST_C)
        if shift is None:
            shift = min((-FURTHEST_C, FURTHEST_C), key=lambda x: abs(off(nearest, x)))
        return SolvedEnd(nearest, shift, "hardly")

    def blank(self, widen: float, end: End) -> SolvedEnd:
        """An end left blank: the other end's spread; rarer frost where some years would have it; unknown where most
        would."""

        def share(t: float) -> float:
            nights = made_up_years.nights(self.recipe, self.noise, widen - 0.2 * t, 0.5 * t)
            return last_and_share(nights, self.limit_c, end)[1]

        if share(0.0) >= USUAL:
            return SolvedEnd(widen, 0.0, "unknown")
        if share(0.0) <= RARE:
            return SolvedEnd(widen, 0.0, "none")
        t = float(scipy.optimize.brentq(lambda x: share(x) - RARE, 0.0, 20.0, xtol=1e-3))
        return SolvedEnd(widen - 0.2 * t, 0.5 * t, "none")


@lent
def solved(climate: Climate) -> SolvedYear:
    """How the made-up years were bent so that the garden's stated frosts come out of them."""
    recipe = made_up_years.recipe_of(climate.normals)
    solver = _Solver(recipe, made_up_years.noise(recipe, LAW_YEARS, 0), climate.frost.threshold_c)
    ends = [solver.end(dates, end) if (dates := stated(climate, end)) else None for end in ENDS]
    spring = ends[0] or solver.blank(ends[1].widen if ends[1] else 0.0, "spring")
    return SolvedYear(spring, ends[1] or solver.blank(spring.widen, "autumn"))


def stated(climate: Climate, end: End) -> FrostDates | None:
    """One end of the stated frosts, its mean as days from midwinter; it may lie a little past either end of the year.
    ``None`` where none is stated."""
    dates = climate.frost.spring if end == "spring" else climate.frost.autumn
    if dates is None or dates.share_of_years_with_frost == 0:
        return None
    start, around = midwinter(climate.normals), AROUND[end]
    position = (dates.mean_doy - start - around + YEAR_DAYS / 2) % YEAR_DAYS + around - YEAR_DAYS / 2
    return dates.shifted(position - dates.mean_doy)
