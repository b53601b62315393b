"""How much a floor holds: one kind packed as close as it goes, several kinds side by side. Lengths in cm.

Round pots stand in a square grid or in each other's gaps, rows up to 0.866 of a pot apart, whichever takes more;
boxes in straight blocks, turned or not, or in four blocks about a corner each, as tiles are laid round a gap.
Several kinds stand kind by kind along the longer side, as people set them; where that
does not hold them all, rectangles are fitted by rectpack (round ones by the square about them).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Final

import rectpack

from elder.engine.keeping import kept
from elder.engine.shed.vessels import Vessel

ROW_APART: Final = math.sqrt(3) / 2  # of rows that stand in each other's gaps, in widths of a pot
SLACK_CM: Final = 1e-6  # what exactly fits, fits
MOST_PACKED: Final = 2000  # containers of a kind on one floor; nobody's shelf holds more
FEW: Final = 40  # boxes that are laid round a gap too: with more of them the gap is little, and the search long
MOST_FITTED: Final = 120  # containers that are fitted as rectangles: the time for it grows with the square of them
GRAIN: Final = 10  # rectpack works in whole numbers: millimetres


@dataclass(frozen=True)
class Floor:
    """A floor to stand things on, cm by cm. Raises ValueError for a side of nought."""

    long_cm: float
    wide_cm: float

    def __post_init__(self) -> None:
        if not (self.long_cm > 0 and self.wide_cm > 0):
            raise ValueError("a floor has two sides")

    @property
    def turned(self) -> Floor:
        """The same, lying the other way."""
        return Floor(self.wide_cm, self.long_cm)


@dataclass(frozen=True)
class Set:
    """One container on a floor: its near left corner, the floor it takes, what and whose it is."""

    x_cm: float
    y_cm: float
    long_cm: float
    wide_cm: float
    vessel: Vessel
    owner: Hashable = None

    @property
    def turned(self) -> Set:
        """The same on a floor that lies the other way."""
        return replace(self, x_cm=self.y_cm, y_cm=self.x_cm, long_cm=self.wide_cm, wide_cm=self.long_cm)


@dataclass(frozen=True)
class Several:
    """So many containers of one kind that belong together."""

    vessel: Vessel
    count: int
    owner: Hashable = None


@dataclass(frozen=True)
class Arrangement:
    """What stands on a floor, and what found no room, by group."""

    floor: Floor
    placed: tuple[Set, ...]
    left: tuple[Several, ...]


def holds(vessel: Vessel, floor: Floor) -> int:
    """How many of one kind a floor holds."""
    return len(packed(vessel, floor))


@kept
def packed(vessel: Vessel, floor: Floor) -> tuple[Set, ...]:
    """One kind on a whole floor, as many as go, from the left."""
    ways = [_straight(vessel, floor), tuple(one.turned for one in _straight(vessel, floor.turned))]
    most = _count(floor.long_cm * floor.wide_cm, vessel.foot_cm[0] * vessel.foot_cm[1])
    if not vessel.is_round and max(map(len, ways)) < most <= FEW:
        ways.append(_round_a_gap(vessel, floor))
    if vessel.is_round:
        ways += [_in_gaps(vessel, floor), tuple(one.turned for one in _in_gaps(vessel, floor.turned))]
    best = max(ways, key=len)
    return tuple(sorted(best, key=lambda one: (one.x_cm, one.y_cm)))


def _count(room_cm: float, each_cm: float) -> int:
    return max(int((room_cm + SLACK_CM) / each_cm), 0)


def _block(vessel: Vessel, at: tuple[float, float], size: tuple[float, float], foot: tuple[float, float]) -> list[Set]:
    columns, rows = _count(size[0], foot[0]), _count(size[1], foot[1])
    if columns * rows > MOST_PACKED:
        rows = max(MOST_PACKED // columns, 1) if columns <= MOST_PACKED else 1
    return [
        Set(at[0] + i * foot[0], at[1] + j * foot[1], *foot, vessel)
        for i in range(min(columns, MOST_PACKED))
        for j in range(rows)
    ]


def _straight(vessel: Vessel, floor: Floor) -> tuple[Set, ...]:
    """In a grid; boxes also so many columns one way and the rest of the floor turned."""
    foot = vessel.foot_cm
    turned = (foot[1], foot[0])
    best: list[Set] = []
    for columns in range(_count(floor.long_cm, foot[0]) + 1):
        edge = columns * foot[0]
        found = _block(vessel, (0.0, 0.0), (edge, floor.wide_cm), foot)
        found += _block(vessel, (edge, 0.0), (floor.long_cm - edge, floor.wide_cm), turned)
        best = max(best, found, key=len)
        if foot[0] == foot[1] and best:
            return tuple(_block(vessel, (0.0, 0.0), (floor.long_cm, floor.wide_cm), foot))
    return tuple(best)


def _round_a_gap(vessel: Vessel, floor: Floor) -> tuple[Set, ...]:
    """Boxes in four blocks, each in a corner and turned against its neighbours, so that a gap is left between them."""
    foot = vessel.foot_cm
    turned = (foot[1], foot[0])
    best: list[Set] = []
    across, up = _count(floor.long_cm, foot[0]), _count(floor.wide_cm, foot[1])
    sides, tops = range(1, across + 1), range(1, up + 1)
    for near, far, low, high in itertools.product(sides, sides, tops, range(1, _count(floor.wide_cm, foot[0]) + 1)):
        x1, x3, y1, y2 = near * foot[0], floor.long_cm - far * foot[0], low * foot[1], high * foot[0]
        if (x1 > x3 + SLACK_CM and y1 > y2 + SLACK_CM) or (x3 > x1 + SLACK_CM and y2 > y1 + SLACK_CM):
            continue  # blocks that lie across from each other would overlap
        found = _block(vessel, (0.0, 0.0), (x1, y1), foot)
        found += _block(vessel, (x1, 0.0), (floor.long_cm - x1, y2), turned)
        found += _block(vessel, (x3, y2), (floor.long_cm - x3, floor.wide_cm - y2), foot)
        found += _block(vessel, (0.0, y1), (x3, floor.wide_cm - y1), turned)
        best = max(best, found, key=len)
    return tuple(best)


def _in_gaps(vessel: Vessel, floor: Floor) -> tuple[Set, ...]:
    """Round ones in rows, each in the gaps of the one before: as close as they go, or one row more than that with its
    pots further apart, where the rows are too near for full gaps."""
    across = vessel.foot_cm[0]
    room = floor.wide_cm - across
    if room < -SLACK_CM:
        return ()
    full = _count(room, across * ROW_APART) + 1
    return max((_zigzag(vessel, floor, rows) for rows in (full, full + 1)), key=len)


def _zigzag(vessel: Vessel, floor: Floor, rows: int) -> tuple[Set, ...]:
    """So many rows, evenly over the floor but no further apart than full gaps; none where every other would touch."""
    across = vessel.foot_cm[0]
    apart = min((floor.wide_cm - across) / (rows - 1), across * ROW_APART) if rows > 1 else 0.0
    if rows > 2 and apart < across / 2 - SLACK_CM:
        return ()
    # Half the way from one pot of a row to its next, so that a pot of the next row touches both.
    half = max(math.sqrt(max(across**2 - apart**2, 0.0)), across / 2) if rows > 1 else across / 2
    found = []
    for row in range(min(rows, MOST_PACKED)):
        start = half if row % 2 else 0.0
        for i in range(min(_count(floor.long_cm - start - across, 2 * half) + 1, MOST_PACKED // rows + 1)):
            if start + i * 2 * half + across <= floor.long_cm + SLACK_CM:
                found.append(Set(start + i * 2 * half, row * apart, across, across, vessel))
    return tuple(found)


def arrange(groups: Iterable[Several], floor: Floor) -> Arrangement:
    """Stand groups on a floor: kind by kind along its longer side; by rectangles, where that takes more."""
    wanted = [group for group in groups if group.count > 0]
    along = floor if floor.long_cm >= floor.wide_cm else floor.turned
    best = _by_kind(wanted, along)
    many = sum(group.count for group in wanted)
    if best.left and many <= MOST_FITTED and len({group.vessel for group in wanted}) > 1:
        fitted = _by_rectangles(wanted, along)
        best = max(best, fitted, key=lambda one: len(one.placed))
    if along is floor:
        return best
    return Arrangement(floor, tuple(one.turned for one in best.placed), best.left)


def _by_kind(groups: Sequence[Several], floor: Floor) -> Arrangement:
    """The largest kinds first, each from where the one before ends."""
    kinds = list(dict.fromkeys(group.vessel for group in groups))
    kinds.sort(key=lambda vessel: -max(vessel.foot_cm))
    placed: list[Set] = []
    left: list[Several] = []
    edge = 0.0
    for vessel in kinds:
        owners = [group.owner for group in groups if group.vessel == vessel for _ in range(group.count)]
        room = floor.long_cm - edge
        spots = packed(vessel, Floor(room, floor.wide_cm)) if room > SLACK_CM else ()
        stands = [replace(spot, x_cm=spot.x_cm + edge, owner=owner) for spot, owner in zip(spots, owners, strict=False)]
        placed += stands
        left += _without_room(vessel, owners[len(stands) :])
        edge = max((one.x_cm + one.long_cm for one in stands), default=edge)
    return Arrangement(floor, tuple(placed), tuple(left))


def _by_rectangles(groups: Sequence[Several], floor: Floor) -> Arrangement:
    packer = rectpack.newPacker(rotation=True)
    packer.add_bin(int(floor.long_cm * GRAIN), int(floor.wide_cm * GRAIN))
    every = [group for group in groups for _ in range(min(group.count, MOST_PACKED))]
    for i, group in enumerate(every):
        packer.add_rect(*(math.ceil(side * GRAIN - SLACK_CM) for side in group.vessel.foot_cm), rid=i)
    packer.pack()
    placed, there = [], set()
    for _, x, y, long, wide, i in packer.rect_list():
        there.add(i)
        placed.append(Set(x / GRAIN, y / GRAIN, long / GRAIN, wide / GRAIN, every[i].vessel, every[i].owner))
    left = [
        one for i, group in enumerate(every) if i not in there for one in _without_room(group.vessel, [group.owner])
    ]
    return Arrangement(floor, tuple(placed), tuple(left))


def _without_room(vessel: Vessel, owners: Sequence[Hashable]) -> list[Several]:
    return [Several(vessel, owners.count(owner), owner) for owner in dict.fromkeys(owners)]


def share_of(vessel: Vessel, count: int, floor: Floor) -> float:
    """What share of a floor so many take, were it all of their kind; over 1 where not even one has room."""
    most = holds(vessel, floor)
    return count / most if most else float(count) + 1.0
