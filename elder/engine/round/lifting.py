"""What may be lifted: the revised NIOSH lifting equation, in metres and kilograms.

Waters, Putz-Anderson & Garg 1994, "Applications Manual for the Revised NIOSH Lifting Equation", DHHS (NIOSH)
Publication 94-110 (from memory): RWL = 23 kg · HM · VM · DM · AM · FM · CM.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

LOAD_CONSTANT_KG: Final = 23.0
COUPLING: Final = {"good": (1.0, 1.0), "fair": (0.95, 1.0), "poor": (0.90, 0.90)}  # below and above 75 cm
# Lifts a minute → multiplier, for work of up to one hour, two, and eight; the hands below 75 cm (Table 5).
FREQUENCY: Final = (
    (0.2, 1.00, 0.95, 0.85), (0.5, 0.97, 0.92, 0.81), (1, 0.94, 0.88, 0.75), (2, 0.91, 0.84, 0.65),
    (3, 0.88, 0.79, 0.55), (4, 0.84, 0.72, 0.45), (5, 0.80, 0.60, 0.35), (6, 0.75, 0.50, 0.27),
    (7, 0.70, 0.42, 0.22), (8, 0.60, 0.35, 0.18), (9, 0.52, 0.30, 0.00), (10, 0.45, 0.26, 0.00),
    (11, 0.41, 0.00, 0.00), (12, 0.37, 0.00, 0.00),
)  # fmt: skip


@dataclass(frozen=True)
class Lift:
    """One way of lifting, lengths in cm: hands ahead of the ankles, hands above the floor at the start, the way up
    or down, the twist in degrees, lifts a minute, hours of it, and the grip (good, fair, poor)."""

    ahead_cm: float = 30.0
    height_cm: float = 10.0
    way_cm: float = 65.0
    twist_deg: float = 0.0
    a_minute: float = 0.5
    hours: float = 1.0
    grip: str = "fair"


FROM_THE_FLOOR: Final = Lift()  # a pot from the ground to a table, now and then, a rim to hold (assumed)


def weight_limit_kg(lift: Lift = FROM_THE_FLOOR) -> float:
    """The recommended weight limit. Raises ValueError for lengths or a grip that cannot be; 0 where nothing
    may be lifted that way."""
    if lift.ahead_cm < 0 or lift.height_cm < 0 or lift.grip not in COUPLING:
        raise ValueError("a lift has lengths of nought or more, and a good, fair or poor grip")
    if lift.ahead_cm > 63 or lift.height_cm > 175 or lift.way_cm > 175 or lift.twist_deg > 135:
        return 0.0
    horizontal = min(25 / max(lift.ahead_cm, 25), 1.0)
    vertical = 1 - 0.003 * abs(lift.height_cm - 75)
    distance = 0.82 + 4.5 / max(lift.way_cm, 25)
    twist = 1 - 0.0032 * lift.twist_deg
    grip = COUPLING[lift.grip][0 if lift.height_cm < 75 else 1]
    return LOAD_CONSTANT_KG * horizontal * vertical * distance * twist * _frequency(lift) * grip


def _frequency(lift: Lift) -> float:
    column = 1 if lift.hours <= 1 else 2 if lift.hours <= 2 else 3
    return next((row[column] for row in FREQUENCY if lift.a_minute <= row[0] + 1e-9), 0.0)


def at_a_time(each_kg: float, limit_kg: float) -> int:
    """How many pots one person carries at a time within the limit; 0 where one is already too heavy."""
    return math.floor(limit_kg / each_kg + 1e-9) if each_kg > 0 else 0
