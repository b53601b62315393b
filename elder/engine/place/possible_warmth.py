"""Units gained at a place in each of the possible years: what a plan is walked through."""

from __future__ import annotations

import math
from datetime import date

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS, doy0_range
from elder.engine.climate.normals import Normals, garden_year_position
from elder.engine.climate.years import PossibleYears, possible_years
from elder.engine.keeping import kept
from elder.engine.place.running_units import daily_units, overwritten
from elder.engine.place.warmth import (
    DAY_S,
    HOURS,
    WARMEST_HOUR,
    Cardinals,
    Place,
    damping_depth_m,
    ground_lag_days,
    response,
    units_per_day,
)

SETTLING_DAYS = 30  # whose mean the ground is taken to start from
# The sine day is the same before and after its warmest hour: half the samples do.
HALF_DAY = np.unique(np.round(np.cos(2 * math.pi * (HOURS - WARMEST_HOUR) / 24), 12))


def year_count(climate: Climate, years: int) -> int:
    """How many years are walked: one is the year of the normals; of recorded ones there may be fewer than asked."""
    return 1 if years == 1 else len(possible_years(climate, years))


@kept
def along_years(normals: Normals, start: date, days: int) -> tuple[Ints, Ints]:
    """Of each day from ``start`` its days from midwinter, and how many midwinters lie between; shapes (days,)."""
    position = garden_year_position(normals, doy0_range(start, days))
    turned = np.concatenate(([0], np.cumsum(np.diff(position) < 0)))
    return position, turned


def walked(by_position: Floats, years: PossibleYears, position: Ints, turned: Ints) -> Floats:
    """Values of the possible years along a stretch of days: after midwinter each goes on with the year that follows
    it; shapes (years, 365) and (days,) to (years, days)."""
    row = np.arange(len(years))
    rows = [row]
    for _ in range(int(turned[-1])):
        row = years.following[row]
        rows.append(row)
    return np.asarray(by_position[np.stack(rows)[turned].T, position])


def lifts_by_position(place: Place, normals: Normals) -> Floats:
    """What a cover adds to each day's highest, °C, by days from midwinter; shape (365,)."""
    lifts = np.empty(YEAR_DAYS)
    lifts[garden_year_position(normals, np.arange(YEAR_DAYS))] = place.lifts
    return lifts


@kept
def units_of_years(place: Place, climate: Climate, cardinals: Cardinals, years: int) -> Floats:
    """Units gained on each day of each possible year, by days from midwinter; shape (years, 365), read only."""
    possible = possible_years(climate, years)
    if place.standing == "room":
        units = np.tile(units_per_day(place, climate, cardinals), (len(possible), 1))
    else:
        low, high = possible.t_min + place.lift_night_c, possible.t_max + lifts_by_position(place, climate.normals)
        mean, swing = (low + high) / 2, np.maximum(high - low, 0.0) / 2
        if place.standing == "ground":
            mean = _lagged(mean, ground_lag_days(place.depth_m))
            swing = swing * math.exp(-place.depth_m / damping_depth_m(DAY_S))
        hours = mean[..., None] + swing[..., None] * HALF_DAY
        units = response(hours if place.floor_c is None else np.maximum(hours, place.floor_c), cardinals).mean(axis=-1)
    units.setflags(write=False)
    return units


def _lagged(mean: Floats, lag_days: float) -> Floats:
    """What the ground makes of a run of daily means: it follows them with a time constant of ``lag_days``."""
    from scipy.signal import lfilter  # it takes half a second to come, and few pages ask

    if lag_days <= 0:
        return mean
    share = 1 - math.exp(-1 / lag_days)
    run = mean.ravel()
    settled, _ = lfilter([share], [1, share - 1], run, zi=[(1 - share) * run[:SETTLING_DAYS].mean()])
    return np.asarray(settled).reshape(mean.shape)


@kept
def running_units(place: Place, climate: Climate, cardinals: Cardinals, years: int, start: date, days: int) -> Floats:
    """Units gained in each year before each day from ``start``, nought before the first; shape (years, days + 1),
    read only. What a sensor read there holds in every year."""
    if years == 1:
        units = daily_units(place, climate, cardinals, start, days)[None]
    else:
        position, turned = along_years(climate.normals, start, days)
        by_position = units_of_years(place.modelled, climate, cardinals, years)
        units = walked(by_position, possible_years(climate, years), position, turned)
        units = overwritten(units, place, cardinals, start)
    total = np.zeros((len(units), days + 1))
    np.cumsum(units, axis=1, out=total[:, 1:])
    total.setflags(write=False)
    return total
