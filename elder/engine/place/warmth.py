"""Warmth where roots stand, in *units*: one unit is one day at the plant's best temperature.

Roots answer warmth along a curve, not a line, so a pot that swings between a cold night and a warm
noon gains more than the ground beside it on the same mean. Every day is therefore read at 24 hours.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal, TypeVar

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.climate.normals import daily_normals
from elder.engine.keeping import kept
from elder.engine.place.readings import Readings, filled
from elder.engine.place.solar_gain import SunShare

FloatOrArray = TypeVar("FloatOrArray", float, Floats)

HOURS = np.arange(24) + 0.5
WARMEST_HOUR = 15.0  # the usual sine day (assumed)
BEFORE_WARMEST = slice(int(WARMEST_HOUR) - 12, int(WARMEST_HOUR))  # the twelve hours to it, of ``HOURS``
ROOM_DAY = (7, 22)  # a heated room's day, from and until o'clock (assumed)
DIFFUSIVITY_M2_S = 0.5e-6  # thermal diffusivity of moist garden soil (Hillel, from memory)
DAY_S, YEAR_S = 86_400.0, 31_536_000.0
GROUND_DEPTH_M = 0.10  # where soil warmth for planting is read (common practice)


def damping_depth_m(period_s: float, diffusivity_m2_s: float = DIFFUSIVITY_M2_S) -> float:
    """Depth at which a temperature wave of that period has shrunk to 1/e: √(2κ/ω), metres."""
    return math.sqrt(diffusivity_m2_s * period_s / math.pi)


@dataclass(frozen=True)
class Cardinals:
    """The temperatures, °C, at which growth starts, runs best and stops."""

    t_min: float
    t_opt: float
    t_max: float

    def __post_init__(self) -> None:
        if not self.t_min < self.t_opt < self.t_max:
            raise ValueError("cardinal temperatures rise from least to best to greatest")


def beta_response(temperature_c: FloatOrArray, *, t_min: float, t_opt: float, t_max: float) -> FloatOrArray:
    """Relative rate at a temperature, 1 at ``t_opt`` and 0 outside ``t_min``..``t_max``.

    Yan & Hunt 1999, "An equation for modelling the temperature response of plants using only the
    cardinal temperatures", Annals of Botany 84: 607–614 (from memory). Floats or arrays.
    """
    temperature = np.asarray(temperature_c, dtype=np.float64)
    inside = np.clip(temperature, t_min, t_max)
    power = (t_opt - t_min) / (t_max - t_opt)
    rate = (t_max - inside) / (t_max - t_opt) * ((inside - t_min) / (t_opt - t_min)) ** power
    return float(rate) if np.ndim(temperature_c) == 0 else rate  # type: ignore[return-value]


def response(temperature_c: FloatOrArray, cardinals: Cardinals) -> FloatOrArray:
    """``beta_response`` with a plant's cardinals."""
    return beta_response(temperature_c, t_min=cardinals.t_min, t_opt=cardinals.t_opt, t_max=cardinals.t_max)


@dataclass(frozen=True)
class Place:
    """Where cuttings stand.

    ``room``: ``day_c`` from 07:00 to 22:00, ``night_c`` else. ``air``: a pot outdoors, the full swing.
    ``ground``: at ``depth_m``. A cover or glasshouse adds ``lift_day_c`` to the daily maximum and
    ``lift_night_c`` to the minimum; a heat mat never lets it below ``floor_c``. ``readings`` are those of
    a sensor that stands there: on the days it covers they hold, not the model. ``sun``: with its vents shut it warms by
    the sun of the day, ``lift_day_c`` being the mean of the year.
    """

    standing: Literal["room", "air", "ground"]
    day_c: float = 20.0
    night_c: float = 17.0
    depth_m: float = GROUND_DEPTH_M
    lift_day_c: float = 0.0
    lift_night_c: float = 0.0
    floor_c: float | None = None
    readings: Readings | None = None
    sun: SunShare | None = None

    def __hash__(self) -> int:
        """By what tells places apart as a rule; forty of them stand in one question."""
        return hash((self.standing, self.day_c, self.night_c, self.lift_day_c, self.floor_c))

    @property
    def modelled(self) -> Place:
        """The same place without its readings."""
        return replace(self, readings=None) if self.readings else self

    def lift_on(self, doy: int) -> float:
        """What the cover adds to a day's highest, °C, on a day of the year."""
        return self.lift_day_c * (float(self.sun.by_day[doy]) if self.sun else 1.0)

    @property
    def lifts(self) -> Floats:
        """The same for every day of the year; shape (365,)."""
        return self.lift_day_c * (self.sun.by_day if self.sun else np.ones(YEAR_DAYS))


def sine_day(low: Floats, high: Floats) -> Floats:
    """Hourly temperatures between a daily minimum and maximum, °C; shape (days, 24)."""
    wave = np.cos(2 * math.pi * (HOURS - WARMEST_HOUR) / 24)
    return np.asarray(((low + high) / 2)[:, None] + ((high - low) / 2)[:, None] * wave)


@kept
def hourly_temperatures(place: Place, climate: Climate) -> Floats:
    """Temperature where the roots stand, °C, by day of year and hour; shape (365, 24), read only."""
    hours = _room_hours(place) if place.standing == "room" else _outdoor_hours(place, climate)
    if place.floor_c is not None:
        hours = np.maximum(hours, place.floor_c)
    hours.setflags(write=False)
    return hours


def _room_hours(place: Place) -> Floats:
    by_day = np.abs(HOURS - sum(ROOM_DAY) / 2) < (ROOM_DAY[1] - ROOM_DAY[0]) / 2
    return np.tile(np.where(by_day, place.day_c, place.night_c), (YEAR_DAYS, 1))


def _outdoor_hours(place: Place, climate: Climate) -> Floats:
    depth = place.depth_m if place.standing == "ground" else 0.0
    low, high = daily_normals(climate.normals, ground_lag_days(depth))
    low, high = low + place.lift_night_c, high + place.lifts
    swing = (high - low) / 2 * math.exp(-depth / damping_depth_m(DAY_S))
    mean = (low + high) / 2
    return sine_day(mean - swing, mean + swing)


def ground_lag_days(depth_m: float) -> float:
    """Days by which the yearly wave reaches ``depth_m`` late: depth over its damping depth, in radians."""
    return YEAR_DAYS / (2 * math.pi) * depth_m / damping_depth_m(YEAR_S)


def soil_mean(climate: Climate, depth_m: float = GROUND_DEPTH_M) -> Floats:
    """Daily mean of open ground at a depth, °C; shape (365,)."""
    low, high = daily_normals(climate.normals, ground_lag_days(depth_m))
    return (low + high) / 2


@kept
def units_per_day(place: Place, climate: Climate, cardinals: Cardinals) -> Floats:
    """Units gained on each day of the year: the mean of the response over 24 hours; shape (365,)."""
    hours = hourly_temperatures(place, climate)
    # A room is the same every day; elsewhere it is as warm so long before the warmest hour as after it.
    told = hours[:1] if place.standing == "room" else hours[:, BEFORE_WARMEST]
    units: Floats = np.repeat(response(told, cardinals).mean(axis=1), YEAR_DAYS // len(told))
    units.setflags(write=False)
    return units


@kept
def units_read(readings: Readings, cardinals: Cardinals) -> tuple[Ints, Floats]:
    """Days that were read for long enough, as ordinals, and the units gained on each; shapes (days,)."""
    whole = readings.whole
    hours = np.array([filled(day) for day in readings.celsius[whole]]).reshape(-1, 24)
    units: Floats = response(hours, cardinals).mean(axis=1)
    return readings.ordinals[whole], units
