"""Carried through winter: a few plants kept over in the warm, and the bed cut from them in spring."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.chance.counting import Take, cuttings_needed
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import add_days
from elder.engine.climate.frost_fit import LAW_YEARS
from elder.engine.climate.years import possible_years
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

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


def lowest_nights(place: Place, climate: Climate) -> Floats:
    """The lowest night of each possible winter at a place, °C; shape (years,)."""
    if place.standing == "room":
        return np.array([min(place.night_c, place.day_c)])
    low = possible_years(climate, LAW_YEARS).lowest + place.lift_night_c
    return low if place.floor_c is None else np.maximum(low, place.floor_c)


def keeps_at(plant: Plant, place: Place, climate: Climate, accepted_risk: float = 0.10) -> bool:
    """Whether a plant in leaf comes through the winter at a place: by the lowest night, at the accepted risk."""
    return float((lowest_nights(place, climate) < winter_least_c(plant)).mean()) <= accepted_risk


def carry_over(
    want: Want,
    setting: Setting,
) -> CarryPlan | Refusal:
    """A bed of ``want.wanted`` next year, by way of plants kept through the winter at ``growing_place``."""
    plant, climate, growing_place = setting.plant, setting.climate, setting.growing_place
    if not keeps_at(plant, growing_place, climate, want.accepted_risk):
        least = float(np.quantile(lowest_nights(growing_place, climate), want.accepted_risk))
        return Refusal("too_cold_to_keep", "growing_place", {"least": least, "keep": winter_least_c(plant)})
    before = plan_want(replace(want, wanted=1, purpose="winter", by=None), setting)
    if isinstance(before, Refusal):
        return Refusal("no_winter", "purpose", {"plant": plant.name}) if before.code == "no_window" else before
    spring = replace(want, purpose="bed", stock_indoors=True)
    second = plan_want(spring, setting.asked_on(add_days(before.target, 30)))
    if isinstance(second, Refusal):
        return second
    gives = max(1, math.floor(plant.gives * YOUNG_SHARE))
    mothers = math.ceil(second.option(second.recommended).count / gives)
    kept = cuttings_needed(mothers, chance_ready=1.0, take=WINTER_KEEP, confidence=want.confidence)
    if kept is None:
        return Refusal("too_many", "wanted", {"wanted": want.wanted, "most": mothers})
    first = plan_want(replace(want, wanted=kept, purpose="winter", by=None), setting)
    if isinstance(first, Refusal):
        return first
    return CarryPlan(first, second, kept, mothers, gives)
