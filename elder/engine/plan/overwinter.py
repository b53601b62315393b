"""Carried through winter: a few plants kept over in the warm, and the bed cut from them in spring."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

from elder.engine.chance.counting import Take, cuttings_needed
from elder.engine.climate.day_of_year import add_days
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.plan.wintering import keeps_at, too_cold_to_keep
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

WINTER_KEEP: Final = Take(0.85, 10)  # how many of the plants kept indoors see the spring (assumed)
YOUNG_SHARE: Final = 0.5  # a plant of one winter gives half of what a grown one does (assumed)


@dataclass(frozen=True, eq=False)
class CarryPlan:
    """Two steps. ``first``: so many plants ready before autumn frost; ``mothers`` of them still wanted in
    spring, each giving ``gives`` cuttings; ``second``: the bed cut from those."""

    first: SeasonPlan
    second: SeasonPlan
    kept: int
    mothers: int
    gives: int


def carry_over(
    want: Want,
    setting: Setting,
) -> CarryPlan | Refusal:
    """A bed of ``want.wanted`` next year, by way of plants kept through the winter at ``growing_place``."""
    plant, climate, growing_place = setting.plant, setting.climate, setting.growing_place
    if not keeps_at(plant, growing_place, climate, want.accepted_risk):
        return too_cold_to_keep(setting, want.accepted_risk)
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
