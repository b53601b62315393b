"""How many, by when: counts, rooting time, ready by a day."""

from elder.engine.chance.count_table import CountTable, count_table
from elder.engine.chance.counting import (
    MOST_CUTTINGS,
    Take,
    chance_at_least,
    chance_of,
    convolve_counts,
    count_pmf,
    count_quantiles,
    cuttings_needed,
    left_after,
    sure_number,
    take_nodes,
)
from elder.engine.chance.ready_by import (
    CutDayChances,
    Raising,
    first_day_at,
    ready_by_target,
    ready_from_cut,
)
from elder.engine.chance.rooting_time import GIVE_UP_BELOW, DaysAt, Lognormal, fail_time, hope, units_to_stage

__all__ = [
    "GIVE_UP_BELOW",
    "MOST_CUTTINGS",
    "CountTable",
    "CutDayChances",
    "DaysAt",
    "Lognormal",
    "Raising",
    "Take",
    "chance_at_least",
    "chance_of",
    "convolve_counts",
    "count_pmf",
    "count_quantiles",
    "count_table",
    "cuttings_needed",
    "fail_time",
    "first_day_at",
    "hope",
    "left_after",
    "ready_by_target",
    "ready_from_cut",
    "sure_number",
    "take_nodes",
    "units_to_stage",
]
