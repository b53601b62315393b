"""When to cut and how many: wants, planting windows, wood, the search over cut days."""

from elder.engine.plan.lots import as_many_as, lot_sizes, plan_lots
from elder.engine.plan.material import STEMS, WHOLE, Material
from elder.engine.plan.overwinter import CarryPlan, carry_over
from elder.engine.plan.planting_windows import PlantingWindow, planting_windows
from elder.engine.plan.search import CUT_DAYS, NEVER_TOO_LONG, TAIL_DAYS, cuttable_days, plan_want, standings_of
from elder.engine.plan.season_plan import CutDay, CutOption, SeasonPlan
from elder.engine.plan.seed_rival import SeedRival, seed_rival
from elder.engine.plan.want import Want
from elder.engine.plan.windfall import WindfallOption, Worth, cannot_be_struck, what_can_this_become
from elder.engine.plan.wood import wood_in_season

__all__ = [
    "CUT_DAYS",
    "NEVER_TOO_LONG",
    "STEMS",
    "TAIL_DAYS",
    "WHOLE",
    "CarryPlan",
    "CutDay",
    "CutOption",
    "Material",
    "PlantingWindow",
    "SeasonPlan",
    "SeedRival",
    "Want",
    "WindfallOption",
    "Worth",
    "as_many_as",
    "cannot_be_struck",
    "carry_over",
    "cuttable_days",
    "lot_sizes",
    "plan_lots",
    "plan_want",
    "planting_windows",
    "seed_rival",
    "standings_of",
    "what_can_this_become",
    "wood_in_season",
]
