"""How many, by when: counts, rooting time, ready by a day."""

from elder.engine.chance.counting import (
    MOST_CUTTINGS,
    CountLadder,
    Take,
    chance_at_least,
    chance_of,
    convolve_counts,
    count_ladder,
    count_pmf,
    count_quantiles,
    cuttings_needed,
    left_after,
    sure_number,
    take_nodes,
)
from elder.engine.chance.ready_by import Course, Raising, course_of, delayed, established_at, first_day_at, rooted_by
from elder.engine.chance.rooting_time import GIVE_UP_BELOW, DaysAt, Lognormal, fail_time, hope, units_to_stage

__all__ = [
    "GIVE_UP_BELOW",
    "MOST_CUTTINGS",
    "CountLadder",
    "Course",
    "DaysAt",
    "Lognormal",
    "Raising",
    "Take",
    "chance_at_least",
    "chance_of",
    "convolve_counts",
    "count_ladder",
    "count_pmf",
    "count_quantiles",
    "course_of",
    "cuttings_needed",
    "delayed",
    "established_at",
    "fail_time",
    "first_day_at",
    "hope",
    "left_after",
    "rooted_by",
    "sure_number",
    "take_nodes",
    "units_to_stage",
]
