"""A floor from above, to scale: what stands on it, whose it is, what found no room. One unit is one centimetre."""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from dataclasses import dataclass

from elder.drawing.scene import number
from elder.engine.shed.packing import Arrangement, Set

PX_PER_CM = 7.0  # on a large screen; smaller where it has less
TALLEST_PX = 420.0
RIM_CM = 0.35  # of floor left to see between neighbours


@dataclass(frozen=True)
class Stand:
    """One container from above: its outline, the cells in it, the sign of whose it is; ``role``: how it is drawn."""

    role: str
    d: str
    cells: str
    x: str
    y: str
    sign: str


@dataclass(frozen=True)
class FloorPlan:
    """A drawing to scale: its sides, cm, the window it is seen through, how wide that is on a large screen, px; what it
    shows in words, and what stands there."""

    long: str
    wide: str
    window: str
    width_px: str
    words: str
    stands: tuple[Stand, ...]


def floor_plan(
    arrangement: Arrangement, *, signs: Mapping[Hashable, str], words: str, tried: Hashable = None
) -> FloorPlan:
    """What stands on a floor. ``signs`` by owner; what belongs to ``tried`` is drawn as not there yet."""
    floor = arrangement.floor
    stands = tuple(
        Stand(
            "stand-tried" if one.owner == tried and tried is not None else "stand",
            _outline(one),
            _cells(one),
            number(one.x_cm + one.long_cm / 2),
            number(one.y_cm + one.wide_cm / 2),
            signs.get(one.owner, ""),
        )
        for one in arrangement.placed
    )
    long, wide = floor.long_cm, floor.wide_cm
    window = f"-1 -1 {number(long + 2)} {number(wide + 2)}"
    width = min(long * PX_PER_CM, TALLEST_PX * long / wide)
    return FloorPlan(number(long), number(wide), window, number(round(width)), words, stands)


def _outline(one: Set) -> str:
    long, wide = one.long_cm - 2 * RIM_CM, one.wide_cm - 2 * RIM_CM
    if one.vessel.is_round:
        r = min(long, wide) / 2
        x, y = one.x_cm + one.long_cm / 2 - r, one.y_cm + one.wide_cm / 2
        rim = f"a{number(r)} {number(r)} 0 1 0"
        return f"M{number(x)} {number(y)}{rim} {number(2 * r)} 0{rim} {number(-2 * r)} 0Z"
    return f"M{number(one.x_cm + RIM_CM)} {number(one.y_cm + RIM_CM)}h{number(long)}v{number(wide)}h{number(-long)}Z"


def _cells(one: Set) -> str:
    """Lines between the cells of a tray."""
    if one.vessel.cells < 2:
        return ""
    ratio = one.long_cm / one.wide_cm
    across = max(round((one.vessel.cells * ratio) ** 0.5), 1)
    down = max(round(one.vessel.cells / across), 1)
    upright = (
        f"M{number(one.x_cm + one.long_cm * i / across)} {number(one.y_cm + RIM_CM)}v{number(one.wide_cm - 2 * RIM_CM)}"
        for i in range(1, across)
    )
    level = (
        f"M{number(one.x_cm + RIM_CM)} {number(one.y_cm + one.wide_cm * i / down)}h{number(one.long_cm - 2 * RIM_CM)}"
        for i in range(1, down)
    )
    return "".join((*upright, *level))
