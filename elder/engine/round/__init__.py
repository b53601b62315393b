"""What a batch asks for day by day, what its signs mean, how it is potted, hardened and carried."""

from elder.engine.round.care import DEEDS, UNCOVER_STEPS, cares, minutes_of
from elder.engine.round.cold_nights import ColdNight, cold_nights, is_hot
from elder.engine.round.hardening import SEEDLING_DAYS, HardeningDay, hardening_ladder
from elder.engine.round.lifting import at_a_time, weight_limit_kg
from elder.engine.round.loads import Load, loads, stands, vessel_now, weight_kg
from elder.engine.round.milestones import Task, due
from elder.engine.round.potting import ladder, potting_of, ready_sign
from elder.engine.round.verdicts import Rule, facts_of, stage_of, table, too_long_cm, verdict

__all__ = [
    "DEEDS",
    "SEEDLING_DAYS",
    "UNCOVER_STEPS",
    "ColdNight",
    "HardeningDay",
    "Load",
    "Rule",
    "Task",
    "at_a_time",
    "cares",
    "cold_nights",
    "due",
    "facts_of",
    "hardening_ladder",
    "is_hot",
    "ladder",
    "loads",
    "minutes_of",
    "potting_of",
    "ready_sign",
    "stage_of",
    "stands",
    "table",
    "too_long_cm",
    "verdict",
    "vessel_now",
    "weight_kg",
    "weight_limit_kg",
]
