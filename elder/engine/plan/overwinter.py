"""Carried through winter: a few plants kept over in the warm, and the bed cut from them in spring."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from datetime import date
from typing import Final

from elder.engine.chance.counting import Take, cuttings_needed
from elder.engine.climate.normals import Climate, add_days
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import Place, hourly_temperatures
from elder.engine.plan.search import plan_want
from elder.engine.plan.want import SeasonPlan, Want
from elder.engine.refusal import Refusal

WINTER_KEEP: Final = Take(0.85, 10)  # how many of the plants kept indoors see the spring (assumed)
YOUNG_SHARE: Final = 0.5  # a plant of one winter gives half of what a grown one does (assumed)
ABOVE_LIMIT_C: Final = 3.0  # kept this far above the frost limit where the handbook says nothing (assumed)


@dataclass(frozen=True, eq=False)
class CarryPlan:
    """Two steps. ``first``: so many plants ready before autumn frost; ``mothers`` of them still wanted in
    spring, each giving ``gives`` cuttings; ``second``: the bed cut from those."""

    first: SeasonPlan
    second: SeasonPlan
    kept: int
    mothers: int
    gives: int


def winter_least_c(plant: Plant) -> float:
    """The least temperature a plant bears while it is kept over, °C."""
    return plant.keep_above_c if plant.keep_above_c is not None else plant.frost_limit_c + ABOVE_LIMIT_C


def keeps_at(plant: Plant, place: Place, climate: Climate) -> bool:
    """Whether a place never falls below what the plant bears on an ordinary night of the year."""
    return float(hourly_temperatures(place, climate).min()) >= winter_least_c(plant)


def carry_over(
    want: Want,
    plant: Plant,
    method: Method,
    climate: Climate,
    rooting_place: Place,
    growing_place: Place,
    today: date,
) -> CarryPlan | Refusal:
    """A bed of ``want.wanted`` next year, by way of plants kept through the winter at ``growing_place``."""
    if not keeps_at(plant, growing_place, climate):
        least = float(hourly_temperatures(growing_place, climate).min())
        return Refusal("too_cold_to_keep", "growing_place", {"least": least, "keep": winter_least_c(plant)})
    places = climate, rooting_place, growing_place
    before = plan_want(replace(want, wanted=1, purpose="winter", by=None), plant, method, *places, today)
    if isinstance(before, Refusal):
        return Refusal("no_winter", "purpose", {"plant": plant.name}) if before.code == "no_window" else before
    spring = replace(want, purpose="bed", stock_indoors=True)
    second = plan_want(spring, plant, method, *places, add_days(before.target, 30))
    if isinstance(second, Refusal):
        return second
    gives = max(1, math.floor(plant.gives * YOUNG_SHARE))
    mothers = math.ceil(second.option(second.recommended).count / gives)
    kept = cuttings_needed(mothers, chance_ready=1.0, take=WINTER_KEEP, confidence=want.confidence)
    if kept is None:
        return Refusal("too_many", "wanted", {"wanted": want.wanted, "most": mothers})
    first = plan_want(replace(want, wanted=kept, purpose="winter", by=None), plant, method, *places, today)
    if isinstance(first, Refusal):
        return first
    return CarryPlan(first, second, kept, mothers, gives)
