"""A plant and its harvest in words."""

from __future__ import annotations

import re
from datetime import date

from elder.engine.handbook.model import Plant
from elder.engine.plan.season_plan import CutOption
from elder.web.say.words import about, month_words, stretch_words

FAR_HARVEST_DAYS = 300  # past this a harvest is said in months and years, and by season rather than day


def harvest_words(plant: Plant, option: CutOption, today: date) -> str:
    """When the first harvest comes: about a day, or for a long crop a span of months or years."""
    first, middle, last = option.harvest
    if first is None or middle is None or last is None:
        return ""
    if plant.harvest_late_days <= FAR_HARVEST_DAYS:
        return f"{plant.harvest_word} about {about(middle, today)}."
    span = stretch_words(plant.harvest_early_days, plant.harvest_late_days)
    return f"{plant.harvest_word} {span} later, {month_words(first)} to {month_words(last)}."


def way_words(form: str, name: str) -> str:
    """What is cut and how it is rooted: "softwood tip, jar of water". A name that speaks of the piece itself does not
    stand after it once more: "crown top, peeled and potted dry-ish", "dormant sticks lined out", "soft tips in mix"."""
    piece = form.split()[-1]
    if name.startswith(piece):
        return form + name.removeprefix(piece)
    return name if re.search(rf"\b{piece}", name) else f"{form}, {name}"


def plant_words(name: str, variety: str) -> str:
    """A plant and its variety."""
    return f"{name} ‘{variety}’" if variety else name
