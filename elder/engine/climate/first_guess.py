"""A first guess of a garden's year where little is known: twelve months from four figures, frost dates from the months.

The year between the coldest and the warmest month follows half a cosine down and half a cosine up, nights and days each
for themselves (assumed). At two recorded stations (daily records of Brussels 1976–2005 and North Yorkshire 1991–2021,
files of the aquacrop package) the months so drawn lie 0.6 °C from the recorded ones (root mean square), 1.5 °C at most,
and the frost dates so guessed up to 15 days early in spring and 9 late in autumn.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from elder.engine.climate import made_up_years
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.climate.frost_fit import ENDS, LAW_YEARS, RARE, End, last_and_share
from elder.engine.climate.normals import Normals, midwinter

JANUARY, JULY, MONTHS = 0, 6, 12
NIGHTS_LAG, DAYS_LAG = 0.45, 0.15  # months by which the turn of the year trails, fitted to the two stations
LATE: Final = 0.9  # the one year in ten


@dataclass(frozen=True)
class FourFigures:
    """Mean night and day of the coldest and of the warmest month, °C, and which months those are, 0 = January.

    Raises ValueError where a night lies above its day, the warmest month is not the warmer, or they are one month.
    """

    cold_night: float
    cold_day: float
    warm_night: float
    warm_day: float
    coldest: int = JANUARY
    warmest: int = JULY

    def __post_init__(self) -> None:
        if self.cold_night > self.cold_day or self.warm_night > self.warm_day:
            raise ValueError("a night lies above its day")
        if self.cold_night > self.warm_night or self.cold_day > self.warm_day:
            raise ValueError("the coldest month is warmer than the warmest")
        if self.coldest == self.warmest:
            raise ValueError("the coldest and the warmest month are one month")


def usual_months(latitude: float) -> tuple[int, int]:
    """The coldest and the warmest month by the hemisphere alone, 0 = January."""
    return (JANUARY, JULY) if latitude >= 0 else (JULY, JANUARY)


def months_of(four: FourFigures) -> Normals:
    """Twelve months of nights and days from four figures, which the coldest and the warmest month have to the tenth."""
    nights = _year(four, four.cold_night, four.warm_night, NIGHTS_LAG)
    days = _year(four, four.cold_day, four.warm_day, DAYS_LAG)
    return Normals(nights, tuple(max(low, high) for low, high in zip(nights, days, strict=True)))


def _year(four: FourFigures, cold: float, warm: float, lag: float) -> tuple[float, ...]:
    shares = [_share(four, month - lag) for month in range(MONTHS)]
    bottom, top = shares[four.coldest], shares[four.warmest]
    return tuple(round(cold + (share - bottom) / (top - bottom) * (warm - cold), 1) for share in shares)


def _share(four: FourFigures, month: float) -> float:
    """How far the year has come from its coldest to its warmest, 0..1, at a month that may be a fraction."""
    warming = (four.warmest - four.coldest) % MONTHS
    since = (month - four.coldest) % MONTHS
    turn = since / warming if since <= warming else 1 + (since - warming) / (MONTHS - warming)
    return (1 - math.cos(math.pi * turn)) / 2


@dataclass(frozen=True)
class GuessedFrost:
    """The average last (or first) frost and the one year in ten beyond it, days of the year 0..364."""

    mean_doy: int
    extreme_doy: int


def guessed_frost(normals: Normals, end: End, *, limit_c: float = 0.0) -> GuessedFrost | None:
    """Frost dates as years made up from the months alone have them; ``None`` where hardly a year has frost."""
    recipe = made_up_years.recipe_of(normals)
    nights = made_up_years.nights(recipe, made_up_years.noise(recipe, LAW_YEARS, 0), 0.0, 0.0)
    days, share = last_and_share(nights, limit_c, end)
    if share <= RARE:
        return None
    beyond = float(np.quantile(days, LATE if end == "spring" else 1 - LATE))
    mean, extreme = (_doy(normals, at) for at in (float(days.mean()), beyond))
    return GuessedFrost(mean, extreme if extreme != mean else (mean + (1 if end == "spring" else -1)) % YEAR_DAYS)


def guessed_frosts(normals: Normals) -> tuple[GuessedFrost | None, GuessedFrost | None]:
    """Both ends of the frosts, spring first."""
    spring, autumn = (guessed_frost(normals, end) for end in ENDS)
    return spring, autumn


def _doy(normals: Normals, from_midwinter: float) -> int:
    return (round(from_midwinter) + midwinter(normals)) % YEAR_DAYS
