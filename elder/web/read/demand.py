"""What is asked of each mother plant: by wants still to be cut, and by what was cut from it already."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from typing import Final

from elder.engine.mother.demand import CuttingsAsked
from elder.web.batches.models import Entry
from elder.web.garden.models import Garden
from elder.web.logbook.standing import hangs, once_looking
from elder.web.read.mothers import Known, costs_the_mother
from elder.web.read.wants import AS_THEY_ARE, Reckoning
from elder.web.stock.models import StockPlant

Asks = dict[StockPlant, list[CuttingsAsked]]
ASKS_BYTES: Final = 200  # of what is asked of one mother (measured, rounded)


def asks_here(garden: Garden, today: date, every: Iterable[Known], reckonings: list[Reckoning]) -> Asks:
    """What is asked of each mother; by wants as they are, made once as the garden stands."""
    rows = [one.row for one in every]
    if hangs(garden, (AS_THEY_ARE, today), reckonings):
        return once_looking(garden, ("asks", today), lambda: asks_of_all(rows, reckonings, today), each=ASKS_BYTES)
    return asks_of_all(rows, reckonings, today)


def asks_of_all(mothers_here: Iterable[StockPlant], reckonings: Iterable[Reckoning], today: date) -> Asks:
    """For each mother of a garden, cuttings asked of it and those it gave lately."""
    mothers = {one.pk: one for one in sorted(mothers_here, key=lambda one: one.name)}
    asks: Asks = {mother: [] for mother in mothers.values()}
    if not mothers:
        return asks
    since = today - timedelta(days=max(mother.again_days for mother in mothers.values()))
    garden = next(iter(mothers.values())).garden_id
    taken = Entry.objects.filter(batch__garden=garden, batch__mother__isnull=False, struck_by=None)
    taken = taken.filter(kind=Entry.Kind.TAKEN, on__gte=since)
    for pk, plant, method, on, count, want in taken.values_list(
        "batch__mother_id", "batch__plant", "batch__method", "on", "count", "batch__want"
    ):
        if costs_the_mother(plant, method):
            asks[mothers[pk or 0]].append(CuttingsAsked(want, on, count, done=True))
    for item in reckonings:
        mother = mothers.get(item.row.mother_id or 0)
        if not mother or item.batches or not costs_the_mother(item.row.plant, item.method.slug):
            continue
        if item.option and item.to_cut:
            asks[mother].append(CuttingsAsked(item.row.pk, item.option.day, item.to_cut))
    return asks
