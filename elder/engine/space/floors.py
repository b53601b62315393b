"""Places that are measured: what stands there takes a share of the floor, whatever its kind.

The share is reckoned as if the whole floor were of its kind, so that for one kind it is exact; kinds that stand side by
side may waste a strip between them, which the drawing of what stands there shows.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Final

from elder.engine.shed.packing import Floor, share_of
from elder.engine.space.occupancy import Key, Stay

FLOOR: Final = "floor"  # the kind of spot a measured place has
WHOLE: Final = 1000  # a whole floor, in the thousandths that stays are counted in
CUTTINGS: Final = 50.0  # a floor that overflows by a whole floor is as bad as so many cuttings without room (assumed)


def on_floors(stays: Iterable[Stay], floors: Mapping[Key, Floor]) -> tuple[Stay, ...]:
    """Stays, and for each at a measured place the share of its floor besides."""
    found = []
    for stay in stays:
        found.append(stay)
        if stay.place in floors and stay.filled:
            share = share_of(stay.filled.vessel, stay.filled.vessels, floors[stay.place])
            found.append(replace(stay, container=FLOOR, count=round(WHOLE * share)))
    return tuple(found)
