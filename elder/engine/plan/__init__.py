"""When to cut and how many: wants, planting windows, wood, the search over cut days."""

from elder.engine.plan.curve import Curves, CutDay, CutDays, cuttable_days, standings_of
from elder.engine.plan.lots import as_many_as, lot_sizes, plan_lots
from elder.engine.plan.material import STEMS, WHOLE, Material
from elder.engine.plan.overwinter import CarryPlan, carry_over
from elder.engine.plan.planting_windows import PlantingWindow, planting_windows
from elder.engine.plan.search import CUT_DAYS, plan_want
from elder.engine.plan.season_plan import CutOption, Missed, SeasonPlan, Sooner
from elder.engine.plan.seed_rival import SeedRival, seed_rival
from elder.engine.plan.want import Want
from elder.engine.plan.windfall import WindfallOption, cannot_be_struck, what_can_this_become
from elder.engine.plan.windfall_worth import Worth
from elder.engine.plan.wood import wood_in_season

__all__ = [
    "CUT_DAYS",
    "STEMS",
    "WHOLE",
    "CarryPlan",
    "Curves",
    "CutDay",
    "CutDays",
    "CutOption",
    "Material",
    "Missed",
    "PlantingWindow",
    "SeasonPlan",
    "SeedRival",
    "Sooner",
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
