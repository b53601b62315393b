"""Sentences for a windfall: what it can become, whether it is worth it, what to do in the next hour."""

from __future__ import annotations

from datetime import date

from elder.engine.handbook.model import Plant
from elder.engine.plan.windfall import WindfallOption, Worth
from elder.web.say.plants import FAR_HARVEST_DAYS
from elder.web.say.units import shown_length
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


def flags_words(option: WindfallOption) -> str:
    """What took from the take."""
    return "; ".join(FLAG_WORDS[flag] for flag in option.flags)


def step_words(step: str, option: WindfallOption, units: str) -> str:
    """One step of the next hour."""
    method = option.method
    length = shown_length(method.length_cm, units)
    words = {
        "recut_above_damage": "Recut below the break and above it, to sound wood, with a clean blade.",
        "keep_from_drying": "Stand it in water or a damp bag until you are at the bench.",
        "revive_in_water": (
            "Stand it to the neck in cool water in the shade for an hour; what has not picked up by then, leave."
        ),
        "pinch_flowers": "Pinch out every flower and bud.",
        "cut_to_length": f"Cut it into pieces of about {length}, just below a node; mark which end is up.",
        "flat_top_slanted_foot": f"Cut pieces of about {length}: flat above the top bud, slanted below the lowest.",
        "clean_off_fruit": (
            "Twist the top off, take away every scrap of fruit, and peel the lowest leaves until root bumps show."
        ),
        "leaves_off_pup": (
            "Take it with roots if it has any. Shorten long soft leaves so that it does not dry; a banana’s come off."
        ),
        "strip_lower": "Strip the leaves from the part that will be under.",
        "halve_big_leaves": "Halve the big leaves that stay.",
        "dip_if_you_use_it": "Dip the foot in hormone if you use it, by its label.",
        "callus": f"Lay it in airy shade for {plural(method.dry_days, 'day', 'days')} until the cut has skinned over.",
        "into_water": "Into a jar, the lower third under water, on a bright sill out of the sun.",
        "into_mix": "Make a hole first, stick it two thirds deep in moist loose mix, and water from below.",
        "into_plug": "One to a plug, under the dome.",
        "into_clay": "Into damp expanded clay, the foot just above the water.",
        "into_pot": "Pot it at the depth it stood, and water in.",
        "into_ground": "Straight into the ground, two thirds deep, firmed and watered; shade it for a week.",
        "cover_it": "Cover it, and air the cover once a day.",
        "label": "Label it: plant, mother, today’s date.",
    }
    return words[step]
