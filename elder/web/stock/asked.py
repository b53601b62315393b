"""What is asked of each mother plant: by wants still to be cut, and by what was cut from it already."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from elder.engine.stock import Ask, Shortage, shortages
from elder.web.season.reckoning import Reckoning
from elder.web.stock.models import StockPlant
from elder.web.ui.words import about


def asks_of(mother: StockPlant, reckonings: Iterable[Reckoning]) -> list[Ask]:
    """Cuttings asked of a mother, and those it has given."""
    found = []
    for item in reckonings:
        for batch in item.batches:
            if batch.row.stock_plant == mother.name and batch.row.want_id == item.row.pk:
                found.append(Ask(item.row.pk, batch.state.taken_on, batch.state.taken, done=True))
        if item.row.mother_id == mother.pk and not item.batches and item.option and item.to_cut:
            found.append(Ask(item.row.pk, item.option.day, item.to_cut))
    return found


def short_of(mother: StockPlant, reckonings: Iterable[Reckoning], today: date) -> list[Shortage]:
    """Where it is asked for more than it has, from today on."""
    found = shortages(asks_of(mother, reckonings), gives=mother.gives, again_days=mother.again_days)
    return [one for one in found if one.day >= today]


def shortage_words(mother: StockPlant, short: Shortage, today: date) -> str:
    """One shortage in a sentence, with the way out."""
    lead = f"{mother.name}: {short.asked} asked on {about(short.day, today)}, it has {short.has} then"
    if short.begin_by >= today:
        return f"{lead}; begin cutting on {about(short.begin_by, today)}, a few at a time"
    return f"{lead}; a few at a time from then it gives all by {about(short.all_by, today)}"
