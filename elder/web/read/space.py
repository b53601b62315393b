"""What stands where in a garden, what each place holds, where there is too little of it."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import Final

from elder.engine.shed.packing import Floor
from elder.engine.space.floors import FLOOR, WHOLE, on_floors
from elder.engine.space.occupancy import Key, Overflow, Spot, Stay, overflows
from elder.web.garden.models import Garden, Place
from elder.web.logbook.standing import hangs, once_looking
from elder.web.read.batches import living
from elder.web.read.gardens import places_of
from elder.web.read.wants import AS_THEY_ARE, Reckoning

STAYS_BYTES: Final = 500  # of where one want's or batch's plants stand (measured, rounded)
LOOKED_AHEAD_DAYS: Final = 400  # how far ahead room is looked at


def capacities(places: Iterable[Place]) -> dict[Spot, int]:
    """How many cuttings each place holds, by kind of container; of one that is measured, its whole floor."""
    found: dict[Spot, int] = {}
    for place in places:
        if floor_of(place):
            found[(place.pk, FLOOR)] = WHOLE
        else:
            found |= {(place.pk, kind): int(count) for kind, count in place.capacity.items()}
    return found


def floor_of(place: Place) -> Floor | None:
    """The floor of a place that is measured."""
    return Floor(place.long_cm, place.wide_cm) if place.long_cm and place.wide_cm else None


def floors_of(places: Iterable[Place]) -> dict[Key, Floor]:
    """Those of all that are measured."""
    return {place.pk: floor for place in places if (floor := floor_of(place))}


Stays = dict[Key, tuple[Stay, ...]]


def all_stays(reckonings: list[Reckoning], garden: Garden, today: date) -> Stays:
    """Everything that stands or will stand somewhere: by its want, or by its batch where no open want speaks for
    it."""
    if hangs(garden, (AS_THEY_ARE, today), reckonings):
        return once_looking(garden, ("stays", today), lambda: _all_stays(reckonings, garden, today), each=STAYS_BYTES)
    return _all_stays(reckonings, garden, today)


def _all_stays(reckonings: list[Reckoning], garden: Garden, today: date) -> Stays:
    every = {item.row.pk: item.stays for item in reckonings} | loose_stays(garden, today)
    floors = floors_of(places_of(garden).values())
    return {who: on_floors(stays, floors) for who, stays in every.items()} if floors else every


def crowding(stays: Stays, places: Iterable[Place], today: date) -> list[Overflow]:
    """Where and when there is too little room from today on."""
    return overflows(stays, capacities(places), start=today, days=LOOKED_AHEAD_DAYS)


def loose_stays(garden: Garden, today: date) -> Stays:
    """Where living batches stand that no open want speaks for, by the batch: they take room all the same."""
    loose = [item for item in living(garden, today) if item.row.want is None or item.row.want.closed_on]
    return {("batch", item.row.pk): item.stays for item in loose if item.stays}
