"""The ball of roots a plant is dug with: how wide and deep, how heavy, and how much water it wants afterwards.

That a ball is about ten times as wide as the stem is thick, that a small shrub's follows its height, and that it is two
thirds as deep as wide is common practice of nurseries; the weights are reckoned from them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

STEMS_WIDE: Final = 10.0  # a ball is so many stems wide, the stem measured a hand above the ground (common practice)
# A bushy plant's height, cm, and the ball it is dug with, cm across (common practice).
HEIGHTS_CM: Final = (20.0, 45.0, 60.0, 90.0, 120.0, 150.0, 180.0, 240.0)
BALLS_CM: Final = (15.0, 25.0, 30.0, 35.0, 40.0, 45.0, 55.0, 70.0)
DEEP_SHARE: Final = 0.67  # as deep as wide (common practice: about two thirds)
FULLNESS: Final = 0.75  # of the cylinder about it: a ball narrows to its foot (assumed)
SOIL_KG_L: Final = 1.5  # a litre of moist garden soil (from memory: 1.3 to 1.7)
TOP_KG_M: Final = 1.2  # of a shrub's top for each metre of its height (assumed)
WATER_SHARE: Final = 0.3  # of the ball's litres that a deep watering brings (assumed)
LEAST_WATER_L: Final = 5.0  # less only wets the top (assumed)


@dataclass(frozen=True)
class Ball:
    """A ball of roots: across and deep, cm; the plant's weight with it, kg."""

    across_cm: float
    deep_cm: float
    kg: float

    @property
    def litres(self) -> float:
        """The soil in it."""
        return FULLNESS * math.pi / 4 * self.across_cm**2 * self.deep_cm / 1000

    @property
    def water_l(self) -> float:
        """Litres at one deep watering, to the next half."""
        return max(math.ceil(2 * WATER_SHARE * self.litres) / 2, LEAST_WATER_L)


def ball_of(height_cm: float, stem_cm: float) -> Ball:
    """The ball of a plant of a height with a stem so thick, both cm: by its stem or its height, whichever asks for
    more. Raises ValueError for what has no height."""
    if height_cm <= 0 or stem_cm < 0:
        raise ValueError("a plant has a height, and a stem of nought or more")
    across = max(STEMS_WIDE * stem_cm, float(np.interp(height_cm, HEIGHTS_CM, BALLS_CM)))
    deep = DEEP_SHARE * across
    soil = Ball(across, deep, 0.0).litres * SOIL_KG_L
    return Ball(across, deep, soil + TOP_KG_M * height_cm / 100)
