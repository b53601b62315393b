"""Sentences for a windfall: what it can become, whether it is worth it, what to do in the next hour."""

from __future__ import annotations

from datetime import date

from elder.engine.handbook.model import Plant
from elder.engine.plan.condition import costs
from elder.engine.plan.light_needs import Suited
from elder.engine.plan.windfall import WindfallOption
from elder.engine.plan.windfall_worth import Worth
from elder.web.say.light import fit_words
from elder.web.say.plants import FAR_HARVEST_DAYS
from elder.web.say.words import about, month_words, odds, plural

WORTH_WORDS = {
    Worth.THIS_YEAR: "Worth it this year",
    Worth.STANDS: "Ready next season, standing in its pot",
    Worth.KEPT: "Only as a plant kept indoors",
    Worth.TOO_LATE: "Too late this year",
}
FLAG_WORDS = {
    "flowering": "it is in flower, which roots worse",
    "wilted": "it has wilted, which costs some",
    "out_of_season": "its wood is not in season, which costs more than half",
}


def option_words(option: WindfallOption, plant: Plant, today: date) -> tuple[str, str]:
    """What comes of a way: how many by when in bold, then the rest."""
    ready = option.plant_out or option.ready
    if option.worth is Worth.KEPT and option.plant_out is None and option.ready:
        strong = f"{_number(option)} ready in pots about {about(option.ready, today)}."
        return strong, "It has no season in open ground here; keep it under cover."
    if option.worth is Worth.TOO_LATE or ready is None:
        return (
            "Nothing worth a place this year.",
            "It would be ready after the season shuts, and no place here keeps it through winter.",
        )
    where = "kept in its pot until" if option.worth is Worth.KEPT else "out by"
    strong = f"{_number(option)} {where} {about(ready, today)}."
    parts = [f"Rooted about {about(option.rooted, today)}"] if option.rooted else []
    if option.worth is Worth.THIS_YEAR and option.harvest:
        long = plant.harvest_late_days > FAR_HARVEST_DAYS
        parts.append(
            f"{plant.harvest_word} about {month_words(option.harvest) if long else about(option.harvest, today)}"
        )
    elif option.worth is Worth.STANDS:
        parts.append(f"half are ready about {about(option.ready, today)}" if option.ready else "")
    if round(option.nights):
        parts.append(f"to be carried in on about {plural(round(option.nights), 'night', 'nights')}")
    rest = "; ".join(part for part in parts if part)
    return strong, f"{rest}." if rest else ""


def _number(option: WindfallOption) -> str:
    """How many, as surely as can be said."""
    likely = round(option.likely)
    if option.cuttings == 1:
        return f"One plant, {odds(option.likely)}"
    if option.sure == 0:
        return f"About {likely} of {option.cuttings}" if likely else f"Perhaps one of {option.cuttings}"
    if option.sure >= likely:
        return f"{plural(option.sure, 'plant', 'plants')} of {option.cuttings}"
    return f"Likely {likely} plants of {option.cuttings}, {option.sure} at least,"


def light_reason(option: WindfallOption) -> str:
    """Why the light of its places does not suit a way, where it does not."""
    if option.light.standing < Suited.NOT:
        return ""
    return f"Not the light for it: {fit_words(option.light)}."


def flags_words(option: WindfallOption) -> str:
    """What took from the take."""
    return "; ".join(FLAG_WORDS.get(flag) or costs()[flag].words for flag in option.flags)
