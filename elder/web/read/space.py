"""What stands where in a garden, what each place holds, where there is too little of it."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from elder.engine.space.occupancy import Key, Overflow, Spot, Stay, overflows
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Place
from elder.web.read.batches import batch_today
from elder.web.read.wants import Reckoning
from elder.web.season.models import Want

LOOKED_AHEAD_DAYS = 400  # how far ahead room is looked at


def capacities(places: Iterable[Place]) -> dict[Spot, int]:
    """How many cuttings each place holds, by kind of container."""
    return {(place.pk, kind): int(count) for place in places for kind, count in place.capacity.items()}


Stays = dict[Key, tuple[Stay, ...]]


def all_stays(reckonings: list[Reckoning], garden: Garden, today: date) -> Stays:
    """Everything that stands or will stand somewhere: by its want, or by its batch where no open want speaks for
    it."""
    return {item.row.pk: item.stays for item in reckonings} | loose_stays(garden, today)


def crowding(stays: Stays, places: Iterable[Place], today: date) -> list[Overflow]:
    """Where and when there is too little room from today on."""
    return overflows(stays, capacities(places), start=today, days=LOOKED_AHEAD_DAYS)


def loose_stays(garden: Garden, today: date) -> Stays:
    """Where living batches stand that no open want speaks for, by the batch: they take room all the same."""
    rows = (
        Batch.objects.filter(garden=garden, over_on=None)
        .exclude(want__in=Want.objects.filter(garden=garden, closed_on=None))
        .select_related("want", "rooting_place", "growing_place")
        .prefetch_related("entries")
    )
    found = {row: batch_today(row, garden, today, want=row.want) for row in rows}
    return {("batch", row.pk): item.stays for row, item in found.items() if item.stays}
