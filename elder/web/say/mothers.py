"""Where more is asked of a mother than it has, in words."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from elder.engine.mother.demand import CuttingsAsked, Shortage, shortages
from elder.engine.mother.gives_today import full_of
from elder.web.read.mothers import seen_of
from elder.web.say.words import about
from elder.web.stock.models import StockLook, StockPlant


def troubles(mother: StockPlant, looks: Iterable[StockLook], asks: Iterable[CuttingsAsked], today: date) -> list[str]:
    """Where more is asked of it than it has, from today on; or anything of one that gives nothing any more."""
    asked = list(asks)
    if not asked:
        return []
    seen = seen_of(looks)
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
