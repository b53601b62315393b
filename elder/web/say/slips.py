"""The slip that goes with a plant: what it is, its line, how to keep it alive, in the words of whoever gets it.

How a cutting is stood, potted and hardened is the handbook's; what else is said here is common practice of the trade.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.handbook.model import Method, Plant
from elder.web.formats.plant_file import PlantFile
from elder.web.say.plants import plant_words
from elder.web.say.units import temperature
from elder.web.say.words import counted, day_words, plural, stretch_words

MEDIA: Final = {
    "water": "Stand them in a jar of water at once, the bottom third bare and under. Change it every three days.",
    "mix": "Stick them today in loose damp mix, two thirds deep, a bag with a few holes set over them loosely.",
    "pot": "Pot them today in loose mix that drains, no deeper than they stood, and water once.",
    "bark": "Tie or lay them on damp bark, nodes touching it, and mist them every day.",
    "plug": "Stick them today in damp plugs, and set a clear cover over them loosely.",
    "clay": "Stick them today in wet expanded clay, with a finger of water below.",
    "growbed": "Stick them today in the wet bed, out of the sun.",
    "stick": "Stick them today in a deep pot, all but the top bud under. Which end is up matters.",
    "ground": "Stick them today in open ground, all but the top bud under, and firm them. Which end is up matters.",
}
PROTECTED: Final = {
    "yes": "Its variety is protected: it may not be propagated without a licence in many countries.",
    "licence": "Its variety is protected, and was propagated under a licence, which does not pass on with it.",
    "unknown": "Nobody has said whether its variety is protected: ask before you sell it or give it on.",
}
BEST_C: Final = 20.0  # what suits most while they root (common practice)
LIGHT: Final = {
    "full sun": "six hours of sun a day",
    "part sun": "three hours of sun a day, or more",
    "bright shade": "bright light without strong sun",
}


@dataclass(frozen=True)
class Slip:
    """What a slip says."""

    title: str
    latin: str
    many: str
    line: list[str]
    week: list[str]
    year: list[str]
    cautions: list[str]


def slip_of(file: PlantFile, plant: Plant, units: str, *, soil: bool) -> Slip:
    """A slip for so many of a plant."""
    method = next((one for one in plant.methods if one.slug == file.method), next(iter(plant.methods), None))
    stage = {"unrooted": "unrooted, fresh from the cut", "rooted": "rooted", "potted": "in pots"}[file.handed]
    cautions = [one.text for one in plant.cautions if one.at in ("eat", "plant", "share")]
    cautions += [PROTECTED[file.protected]] if file.variety and file.protected in PROTECTED else []
    return Slip(
        title=plant_words(plant.name, file.variety),
        latin=plant.latin,
        many=f"{plural(file.count, 'plant', 'plants') if file.handed != 'unrooted' else file.count}, {stage}",
        line=list(line_words(file)),
        week=list(_week(file, plant, method, units, soil=soil)),
        year=list(_year(plant, units)),
        cautions=list(dict.fromkeys(cautions)),
    )


def line_words(file: PlantFile) -> Iterable[str]:
    """Its line: what it was cut from and when, and how far back that goes."""
    if not file.line:
        yield "Where it came from before us nobody wrote down."
        return
    first = file.line[0]
    cut = f" on {_dated(file.cut_on)}" if file.cut_on else ""
    yield f"Cut{cut} from {first.name}{_since(first.since)}."
    for above, below in zip(file.line[1:], file.line, strict=False):
        day = f" on {_dated(above.cut_on)}" if above.cut_on else ""
        yield f"{below.name} was cut{day} from {above.name}{_since(above.since)}."
    if len(file.line) > 1:
        yield f"That makes it a clone of {counted(len(file.line))} generations."


def _dated(day: date) -> str:
    return f"{day_words(day, weekday=False)} {day.year}"


def _since(day: date | None) -> str:
    return f", which stood from {day.year}" if day else ""


def _week(file: PlantFile, plant: Plant, method: Method | None, units: str, *, soil: bool) -> Iterable[str]:
    if file.handed == "unrooted" and method is not None:
        yield from _to_strike(method, units)
    elif file.handed == "rooted":
        yield "Pot them today in loose damp mix, no deeper than they stood, the roots spread and not pressed."
        yield "Their roots are tender: keep the mix very wet for two days, then as any other. Shade for a week."
    else:
        yield "Water them at once, and stand them out of sun and wind for three days."
        if not soil:
            yield "They come without their soil: pot them today, and keep the mix very wet for two days."
    if plant.crops_before_frost or plant.frost_limit_c > -2:
        yield f"Not out at night while it may fall below {temperature(plant.frost_limit_c, units)}."
    yield "Keep them apart from your other plants for a fortnight, and look under the leaves."


def _to_strike(method: Method, units: str) -> Iterable[str]:
    if method.dry_days:
        dry = plural(method.dry_days, "day", "days")
        yield f"Let the cut dry for {dry} in airy shade before it touches anything wet."
    yield MEDIA.get(method.medium, MEDIA["mix"])
    yield f"Bright, never full sun; out of the wind; {temperature(BEST_C, units)} is best."
    days = stretch_words(round(method.rooting.early), round(method.rooting.late))
    sign = method.ready_sign
    yield f"Roots come in {days} at {temperature(method.rooting.at_c, units)}. Ready to pot: {sign}."


def _year(plant: Plant, units: str) -> Iterable[str]:
    soil = temperature(plant.least_soil_c, units)
    yield f"It wants {LIGHT[plant.light]} once it has roots, and ground of {soil} or more."
    harvest = stretch_words(plant.harvest_early_days, plant.harvest_late_days)
    yield f"{plant.harvest_word.capitalize()} about {harvest} after it is planted out."
    if plant.spreads:
        yield plant.spreads_note or "It spreads: keep it in a pot, and never tip its roots out in the wild."
    if plant.crops_before_frost:
        yield "It crops in one summer; frost ends it, unless a tip of it is kept indoors."
        return
    least = plant.rest_limit_c if plant.rest_limit_c is not None else plant.frost_limit_c
    yield f"Over winter it bears about {temperature(least, units)} in the ground, and less cold in a pot."
