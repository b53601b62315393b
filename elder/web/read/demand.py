"""What is asked of each mother plant: by wants still to be cut, and by what was cut from it already."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta

from elder.engine.mother.demand import Ask, Shortage, shortages
from elder.engine.mother.gives_today import full_of
from elder.web.batches.models import Entry
from elder.web.garden.models import Garden
from elder.web.read.families import seen_of
from elder.web.read.wants import Reckoning
from elder.web.say.words import about
from elder.web.stock.models import StockPlant


def asks_of_all(garden: Garden, reckonings: Iterable[Reckoning], today: date) -> dict[StockPlant, list[Ask]]:
    """For each mother of a garden, cuttings asked of it and those it gave lately."""
    mothers = {one.pk: one for one in StockPlant.objects.filter(garden=garden).prefetch_related("looks")}
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


def troubles(mother: StockPlant, asks: Iterable[Ask], today: date) -> list[str]:
    """Where more is asked of it than it has, from today on; or anything of one that gives nothing any more."""
    asked, seen = list(asks), seen_of(mother.looks.all())
    full = 0 if mother.ended_on or seen.health == "diseased" else full_of(seen, mother.gives)
    ahead = [ask for ask in asked if not ask.done]
    if not full:
        why = "is no more" if mother.ended_on else "proved diseased" if seen.health == "diseased" else "is too small"
        return [f"{mother.name} {why}: {ask.count} are asked of it on {about(ask.day, today)}" for ask in ahead]
    found = shortages(asked, gives=full, again_days=mother.again_days)
    return [shortage_words(mother, one, today) for one in found if one.day >= today]


def shortage_words(mother: StockPlant, short: Shortage, today: date) -> str:
    """One shortage in a sentence, with the way out."""
    lead = f"{mother.name}: {short.asked} asked on {about(short.day, today)}, it has {short.has} then"
    if short.begin_by >= today:
        return f"{lead}; begin cutting on {about(short.begin_by, today)}, a few at a time"
    return f"{lead}; a few at a time from then it gives all by {about(short.all_by, today)}"
