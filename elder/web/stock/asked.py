"""What is asked of each mother plant: by wants still to be cut, and by what was cut from it already."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta

from elder.engine.stock import Ask, Shortage, shortages
from elder.web.batches.models import Entry
from elder.web.garden.models import Garden
from elder.web.season.reckoning import Reckoning
from elder.web.stock.models import StockPlant
from elder.web.ui.words import about


def asks_of_all(garden: Garden, reckonings: Iterable[Reckoning], today: date) -> dict[StockPlant, list[Ask]]:
    """For each mother of a garden, cuttings asked of it and those it gave lately."""
    mothers = {mother.pk: mother for mother in StockPlant.objects.filter(garden=garden)}
    asks: dict[StockPlant, list[Ask]] = {mother: [] for mother in mothers.values()}
    if not mothers:
        return asks
    since = today - timedelta(days=max(mother.again_days for mother in mothers.values()))
    taken = Entry.objects.filter(batch__mother__in=mothers, kind=Entry.Kind.TAKEN, on__gte=since, struck_by=None)
    for pk, on, count, want in taken.values_list("batch__mother_id", "on", "count", "batch__want"):
        asks[mothers[pk or 0]].append(Ask(want, on, count, done=True))
    for item in reckonings:
        mother = mothers.get(item.row.mother_id or 0)
        if mother and not item.batches and item.option and item.to_cut:
            asks[mother].append(Ask(item.row.pk, item.option.day, item.to_cut))
    return asks


def short_of(mother: StockPlant, asks: Iterable[Ask], today: date) -> list[Shortage]:
    """Where it is asked for more than it has, from today on."""
    found = shortages(asks, gives=mother.gives, again_days=mother.again_days)
    return [one for one in found if one.day >= today]


def shortage_words(mother: StockPlant, short: Shortage, today: date) -> str:
    """One shortage in a sentence, with the way out."""
    lead = f"{mother.name}: {short.asked} asked on {about(short.day, today)}, it has {short.has} then"
    if short.begin_by >= today:
        return f"{lead}; begin cutting on {about(short.begin_by, today)}, a few at a time"
    return f"{lead}; a few at a time from then it gives all by {about(short.all_by, today)}"
