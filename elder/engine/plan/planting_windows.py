"""The gate: when a plant may be set out in open ground, and when it is too late to.

It opens when the frost risk at the plant's limit has fallen to the accepted risk and the ground is
warm enough; it shuts when a plant set out could no longer crop before frost comes back, or the frost,
the heat or cold ground itself shuts it. Worked out by day of year, then laid on the calendar.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date
from functools import lru_cache

import numpy as np

from elder.engine.arrays import Bools, Floats, Ints
from elder.engine.climate.frost import FrostDates, shift_for_limit
from elder.engine.climate.normals import (
    YEAR_DAYS,
    Climate,
    add_days,
    daily_normals,
    doy0_range,
    garden_year_position,
    midsummer,
)
from elder.engine.climate.records import count_freezes
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import soil_mean

MIDSUMMER_POSITION = YEAR_DAYS - YEAR_DAYS // 2  # 183 days after midwinter


@dataclass(frozen=True)
class PlantingWindow:
    """A stretch of days on which a plant may be set out, ends included.

    ``opened_by`` and ``shut_by`` name what holds on the far side of each end (frost, soil, heat, crop;
    empty where nothing does). ``frost_safe`` and ``soil_warm`` are the two dates that open it.
    """

    opens: date
    shuts: date
    opened_by: tuple[str, ...]
    shut_by: tuple[str, ...]
    frost_safe: date | None
    soil_warm: date | None


@lru_cache(maxsize=512)
def spring_frost(climate: Climate, limit_c: float) -> FrostDates | None:
    """Last spring frost for a plant hurt at ``limit_c``, its mean as days since midwinter."""
    if climate.daily_records:
        return count_freezes(climate.daily_records, limit_c, midsummer(climate.normals)).spring
    return _for_limit(climate, climate.frost.spring, limit_c)


@lru_cache(maxsize=512)
def autumn_frost(climate: Climate, limit_c: float) -> FrostDates | None:
    """First autumn frost for a plant hurt at ``limit_c``, its mean as days since midwinter."""
    if climate.daily_records:
        return count_freezes(climate.daily_records, limit_c, midsummer(climate.normals)).autumn
    return _for_limit(climate, climate.frost.autumn, limit_c)


def _for_limit(climate: Climate, dates: FrostDates | None, limit_c: float) -> FrostDates | None:
    if dates is None or dates.share_of_years_with_frost == 0:
        return None
    position = _position(climate, dates.mean_doy, spring=dates is climate.frost.spring)
    low, _high = daily_normals(climate.normals)
    doy = round(dates.mean_doy) % YEAR_DAYS
    slope = float(low[(doy + 1) % YEAR_DAYS] - low[doy - 1]) / 2
    to_summer = MIDSUMMER_POSITION - position
    shifted = shift_for_limit(
        dates,
        limit_c,
        threshold_c=climate.frost.threshold_c,
        slope_c_per_day=slope,
        latest_shift=to_summer - math.copysign(1, to_summer),
    )
    return shifted.shifted(position - dates.mean_doy)


def _position(climate: Climate, doy: float, *, spring: bool) -> float:
    """Days since midwinter of a mean date; a spring one may lie just before it, an autumn one just after."""
    start = (midsummer(climate.normals) + YEAR_DAYS // 2) % YEAR_DAYS
    around = 90.0 if spring else 275.0
    return (doy - start - around + YEAR_DAYS / 2) % YEAR_DAYS + around - YEAR_DAYS / 2


@lru_cache(maxsize=512)
def frost_risk(climate: Climate, limit_c: float) -> Floats:
    """By day of year: before midsummer the risk that frost still comes, after it that it has come; (365,)."""
    position = garden_year_position(climate.normals, np.arange(YEAR_DAYS))
    spring, autumn = spring_frost(climate, limit_c), autumn_frost(climate, limit_c)
    nothing = np.zeros(YEAR_DAYS)
    before = spring.risk_from(position) if spring else nothing
    after = autumn.risk_before(position) if autumn else nothing
    return np.where(position < MIDSUMMER_POSITION, before, after)


@dataclass(frozen=True, eq=False)
class PlantingYear:
    """What allows planting on each day of the year, by name; arrays of shape (365,)."""

    allows: dict[str, Bools]
    spring_position: int | None

    @property
    def open(self) -> Bools:
        """Days on which everything allows it."""
        return np.asarray(np.logical_and.reduce(list(self.allows.values())))


@lru_cache(maxsize=512)
def planting_year(plant: Plant, climate: Climate, accepted_risk: float) -> PlantingYear:
    """The planting year of one plant in one climate at one accepted frost risk."""
    position = garden_year_position(climate.normals, np.arange(YEAR_DAYS))
    spring, autumn = (ends(climate, plant.frost_limit_c) for ends in (spring_frost, autumn_frost))
    begin = spring.safe_after(accepted_risk) if spring else None
    end = autumn.safe_until(accepted_risk) if autumn else None
    always = np.ones(YEAR_DAYS, dtype=bool)
    # Each end binds only on its own side of midsummer: a hardy plant's limit may lie past midwinter.
    autumn_half = position >= MIDSUMMER_POSITION
    allows = {
        "frost": (always if begin is None else (position >= begin) | autumn_half)
        & (always if end is None else (position <= end) | ~autumn_half),
        "soil": soil_mean(climate) >= plant.least_soil_c,
    }
    if plant.heat_limit_c is not None:
        allows["heat"] = daily_normals(climate.normals)[1] <= plant.heat_limit_c
    if plant.crops_before_frost and end is not None:
        allows["crop"] = position + harvest_median_days(plant) <= end
    return PlantingYear(allows, begin)


def struck_out_of_doors(plant: Plant, climate: Climate, accepted_risk: float) -> Bools:
    """Days of the year on which a green cutting may be struck in open ground: as planting, but for the crop."""
    allows = planting_year(plant, climate, accepted_risk).allows
    return np.asarray(np.logical_and.reduce([days for name, days in allows.items() if name != "crop"]))


def harvest_median_days(plant: Plant) -> int:
    """Days from planting out to first harvest that half the plants keep to."""
    return round(math.sqrt(plant.harvest_early_days * plant.harvest_late_days))


def planting_windows(
    plant: Plant, climate: Climate, *, accepted_risk: float, start: date, days: int
) -> list[PlantingWindow]:
    """The windows that are open on any of ``days`` days from ``start``, whole, in order."""
    year = planting_year(plant, climate, accepted_risk)
    first, total = add_days(start, -YEAR_DAYS), days + 2 * YEAR_DAYS
    doy = doy0_range(first, total)
    is_open = year.open[doy]
    edges = np.flatnonzero(np.diff(np.concatenate(([0], is_open.astype(int), [0]))))
    runs = zip(edges[::2].tolist(), (edges[1::2] - 1).tolist(), strict=True)
    return [
        _window(year, climate, first, doy, begin, end)
        for begin, end in runs
        if end >= YEAR_DAYS and begin < YEAR_DAYS + days
    ]


def _window(year: PlantingYear, climate: Climate, first: date, doy: Ints, begin: int, end: int) -> PlantingWindow:
    def closed_by(index: int) -> tuple[str, ...]:
        if not 0 <= index < len(doy):
            return ()
        return tuple(name for name, days in year.allows.items() if not days[doy[index]])

    opens = add_days(first, begin)
    into_year = int(garden_year_position(climate.normals, int(doy[begin])))
    new_year = add_days(opens, -into_year)
    soil_by_position = year.allows["soil"][np.argsort(garden_year_position(climate.normals, np.arange(YEAR_DAYS)))]
    frozen_spring = year.spring_position is not None and year.spring_position > 0
    return PlantingWindow(
        opens=opens,
        shuts=add_days(first, end),
        opened_by=closed_by(begin - 1),
        shut_by=closed_by(end + 1),
        frost_safe=add_days(new_year, year.spring_position or 0) if frozen_spring else None,
        soil_warm=None if soil_by_position.all() else add_days(new_year, int(np.argmax(soil_by_position))),
    )


def last_safe_day(climate: Climate, limit_c: float, *, accepted_risk: float, after: date) -> date | None:
    """The next day on or after ``after`` that is the last before autumn frost takes a plant of that limit."""
    autumn = autumn_frost(climate, limit_c)
    end = autumn.safe_until(accepted_risk) if autumn else None
    if end is None:
        return None
    position = garden_year_position(climate.normals, doy0_range(after, 2 * YEAR_DAYS))
    hits = np.flatnonzero(position == min(end, YEAR_DAYS - 1))
    return add_days(after, int(hits[0]))
