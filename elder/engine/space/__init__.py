"""What stands where, and how to fit everything in."""

from elder.engine.space.allocate import Fit, fit_in
from elder.engine.space.alternatives import Asker, Choice, choices_for
from elder.engine.space.occupancy import Overflow, Spot, Stay, overflows, stays_of
from elder.engine.space.programme import COST_OVER

__all__ = [
    "COST_OVER",
    "Asker",
    "Choice",
    "Fit",
    "Overflow",
    "Spot",
    "Stay",
    "choices_for",
    "fit_in",
    "overflows",
    "stays_of",
]
