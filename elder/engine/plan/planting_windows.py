"""The gate: when a plant may be set out in open ground, and when it is too late to.

It opens when the frost risk at the plant's limit has fallen to the accepted risk and the ground is
warm enough; it shuts when a plant set out could no longer crop before frost comes back, or the frost,
the heat or cold ground itself shuts it. Worked out by day of year, then laid on the calendar.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.engine.arrays import Bools, Ints
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS, add_days, doy0_range
from elder.engine.climate.frost_risk import MIDSUMMER_POSITION, autumn_frost, spring_frost
from elder.engine.climate.normals import daily_normals, garden_year_position
from elder.engine.handbook.model import Plant
from elder.engine.keeping import kept
from elder.engine.place.warmth import soil_mean
from elder.engine.plan.wintering import stands_through

FIRST_YEAR_DAYS = 300  # a crop that takes longer has a winter to stand through first (assumed)


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


@dataclass(frozen=True, eq=False)
class PlantingYear:
    """What allows planting on each day of the year, by name; arrays of shape (365,)."""

    allows: dict[str, Bools]
    spring_position: int | None

    @property
    def open(self) -> Bools:
        """Days on which everything allows it."""
        return np.asarray(np.logical_and.reduce(list(self.allows.values())))


@kept
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
        allows["crop"] = position + plant.harvest_median_days <= end
    if not plant.crops_before_frost and plant.harvest_median_days > FIRST_YEAR_DAYS:
        allows["winter"] = always if stands_through(plant, climate, accepted_risk) else ~always
    return PlantingYear(allows, begin)


def struck_out_of_doors(plant: Plant, climate: Climate, accepted_risk: float) -> Bools:
    """Days of the year on which a green cutting may be struck in open ground: as planting, but for the crop."""
    allows = planting_year(plant, climate, accepted_risk).allows
    return np.asarray(np.logical_and.reduce([days for name, days in allows.items() if name != "crop"]))


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
