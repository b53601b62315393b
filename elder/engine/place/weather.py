"""The days ahead: what a weather service must answer, a simulated one, and what its answers mean for pots.

A day's ``low_c`` is the lowest of the night that follows it, so "tonight" is today's.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final, Protocol

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import doy0, doy0_range
from elder.engine.climate.normals import Normals, daily_normals
from elder.engine.keeping import kept
from elder.engine.place.warmth import Place

AHEAD_DAYS: Final = 10
PERSISTENCE: Final = 0.72  # of a day's departure that the next day keeps (assumed)
LOW_SD_C, HIGH_SD_C = 2.4, 2.6  # of ordinary days about their normal (assumed)
TOGETHER: Final = 0.55  # correlation of a day's two departures (assumed)
SPELLS_A_YEAR: Final = 9  # cold snaps and hot spells together (assumed)
SPELL_DAYS: Final = (2, 5)
SPELL_C: Final = {-1: (3.5, 7.0), 1: (4.0, 8.5)}  # how far a snap or a hot spell departs, °C (assumed)
# Of the simulated rain and wind (all assumed): a wet day after a dry and after a wet one, mm of it, the middle gust.
TURNS_WET, STAYS_WET, WET_DAY_MM = 0.3, 0.6, 6.0
GUST_KMH, GUST_SD, WET_GUST = 26.0, 0.35, 1.3
ERROR_C: Final = 0.45  # of a forecast a day ahead, growing with the root of the days (assumed)


@dataclass(frozen=True)
class DayAhead:
    """One day's highest and the lowest of the night that follows, outdoors, °C; its rain, mm; its strongest gust,
    km/h."""

    day: date
    high_c: float
    low_c: float
    rain_mm: float = 0.0
    gust_kmh: float = 0.0


class WeatherService(Protocol):
    """Where the days ahead come from."""

    def ahead(self, climate: Climate, *, today: date, days: int = AHEAD_DAYS) -> tuple[DayAhead, ...]:
        """Days from today, soonest first; fewer, or none, where they cannot be had."""


def wandering(chance: np.random.Generator, days: int, persistence: float = PERSISTENCE) -> Floats:
    """A standard first-order autoregression; shape (days,)."""
    steps = chance.standard_normal(days) * math.sqrt(1 - persistence**2)
    walk = np.empty(days)
    here = chance.standard_normal()
    for i, step in enumerate(steps):
        here = persistence * here + step
        walk[i] = here
    return walk


@dataclass(frozen=True)
class SimulatedWeather:
    """A stand-in for a weather service: invented days about the garden's normals, the same for the same seed.

    The weather of a day does not depend on when it is asked for; the forecast of it does, a little, and less the
    nearer it comes, as real ones do.
    """

    seed: int = 0

    def came(self, climate: Climate, day: date) -> tuple[float, float]:
        """A day's lowest and highest as they really come, °C."""
        low, high = _year(self.seed, climate.normals, day.year)[:, day.timetuple().tm_yday - 1]
        return float(low), float(high)

    def ahead(self, climate: Climate, *, today: date, days: int = AHEAD_DAYS) -> tuple[DayAhead, ...]:
        """Days from today, soonest first."""
        wrong = np.random.default_rng((self.seed, today.toordinal())).standard_normal((days, 2))
        found = []
        for i in range(days):
            day = today + timedelta(days=i)
            low, high = self.came(climate, day)
            miss = ERROR_C * math.sqrt(i)
            high, low = high + miss * float(wrong[i, 0]), low + miss * float(wrong[i, 1])
            rain, gust = (float(one[day.timetuple().tm_yday - 1]) for one in _wet_and_windy(self.seed, day.year))
            found.append(DayAhead(day, round(max(high, low + 0.5), 1), round(low, 1), round(rain, 1), round(gust)))
        return tuple(found)


@kept
def _year(seed: int, normals: Normals, year: int) -> Floats:
    """A calendar year's minima and maxima; shape (2, days)."""
    chance = np.random.default_rng((seed, year))
    start = date(year, 1, 1)
    days = (date(year + 1, 1, 1) - start).days
    low, high = (curve[doy0_range(start, days)] for curve in daily_normals(normals))
    shared, own = wandering(chance, days), wandering(chance, days)
    spells = _spells(chance, days)
    lows = low + LOW_SD_C * shared + spells
    highs = high + HIGH_SD_C * (TOGETHER * shared + math.sqrt(1 - TOGETHER**2) * own) + spells
    return np.stack([lows, np.maximum(highs, lows + 1.0)])


@kept
def _wet_and_windy(seed: int, year: int) -> tuple[Floats, Floats]:
    """A calendar year's rain, mm, and strongest gusts, km/h: wet days follow wet ones and blow harder; shape (366,)."""
    chance = np.random.default_rng((seed, year, 3))
    wet = np.empty(366, dtype=bool)
    here = False
    for i, draw in enumerate(chance.random(366)):
        here = draw < (STAYS_WET if here else TURNS_WET)
        wet[i] = here
    rain = np.where(wet, chance.exponential(WET_DAY_MM, 366) + 0.2, 0.0)
    gust = GUST_KMH * np.exp(GUST_SD * wandering(chance, 366, 0.5)) * np.where(wet, WET_GUST, 1.0)
    return rain, gust


def _spells(chance: np.random.Generator, days: int) -> Floats:
    """Departures of cold snaps and hot spells, °C; shape (days,)."""
    departures = np.zeros(days)
    for _ in range(chance.poisson(SPELLS_A_YEAR)):
        begin, length = int(chance.integers(0, days)), int(chance.integers(*SPELL_DAYS, endpoint=True))
        sign = -1 if chance.random() < 0.5 else 1
        departures[begin : begin + length] = sign * chance.uniform(*SPELL_C[sign])
    return departures


def night_at(place: Place, low_c: float) -> float:
    """The lowest of a night at a place, °C, when it is ``low_c`` outdoors."""
    if place.standing == "room":
        return place.night_c
    low = low_c + place.lift_night_c
    return low if place.floor_c is None else max(low, place.floor_c)


def noon_at(place: Place, day: DayAhead) -> float:
    """The highest of a day at a place, °C."""
    return place.day_c if place.standing == "room" else day.high_c + place.lift_on(doy0(day.day))
