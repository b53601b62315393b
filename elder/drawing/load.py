"""A load from above, to scale, the front to the left: round balls and pots, crates, what lies, each with its number."""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from typing import Final

from elder.drawing.floor import FloorPlan, Stand
from elder.drawing.scene import number
from elder.engine.year.load import Journey, Stowed, Vehicle

PX_PER_CM: Final = 2.6
TALLEST_PX: Final = 360.0
RIM_CM: Final = 0.8
ROUND_WITHIN: Final = 1.02  # sides this near to each other are a round pot or ball


def load_scene(journey: Journey, vehicle: Vehicle, signs: Mapping[Hashable, str], words: str) -> FloorPlan:
    """What stands on the floor. ``signs`` by the keys of things."""
    stands = tuple(
        Stand(
            _role(one),
            _outline(one),
            "",
            number(one.x_cm + one.long_cm / 2),
            number(one.y_cm + one.wide_cm / 2),
            signs.get(one.thing.key, ""),
        )
        for one in journey.stowed
    )
    long, wide = vehicle.long_cm, vehicle.wide_cm
    window = f"-4 -4 {number(long + 8)} {number(wide + 8)}"
    width = min(long * PX_PER_CM, TALLEST_PX * long / wide)
    return FloorPlan(number(long), number(wide), window, number(round(width)), words, stands)


def _role(one: Stowed) -> str:
    return "stow stow-lies" if one.lies else "stow stow-emptied" if one.emptied else "stow"


def _outline(one: Stowed) -> str:
    long, wide = one.long_cm - 2 * RIM_CM, one.wide_cm - 2 * RIM_CM
    is_round = not one.lies and max(long, wide) / max(min(long, wide), 1e-6) <= ROUND_WITHIN
    if is_round:
        r = min(long, wide) / 2
        x, y = one.x_cm + one.long_cm / 2 - r, one.y_cm + one.wide_cm / 2
        rim = f"a{number(r)} {number(r)} 0 1 0"
        return f"M{number(x)} {number(y)}{rim} {number(2 * r)} 0{rim} {number(-2 * r)} 0Z"
    return f"M{number(one.x_cm + RIM_CM)} {number(one.y_cm + RIM_CM)}h{number(long)}v{number(wide)}h{number(-long)}Z"
