"""How a plant was found, in words: by another name, by its pieces, by kin, or only by being like what was typed."""

from __future__ import annotations

from collections.abc import Sequence

from elder.engine.handbook.finding import FoundPlant
from elder.web.say.words import listed


def found_words(found: FoundPlant) -> str:
    """Why this plant stands here; nothing where its name alone says so."""
    plant = found.plant
    if found.kin:
        raised = f"; it is raised {found.kin.sown}" if found.kin.sown else ""
        return f"the nearest relative of {found.kin.name} that Elder knows, by {found.kin.by}{raised}"
    if found.how == "piece":
        own = found.word == plant.cutting_one
        return f"cut as {plant.cutting_many}{'' if own else f', or {found.word} as some say'}"
    return "" if found.word in (plant.name, plant.latin) else f"also called {found.word}"


def nearest_words(found: Sequence[FoundPlant], typed: str) -> str:
    """What is said above plants that are not just what was asked for; nothing where they are."""
    if not found or found[0].how not in ("kin", "slip", "like"):
        return ""
    first = found[0]
    if first.how == "kin" and first.kin:
        return f"Elder has no {first.kin.name} of its own yet."
    if first.how == "slip":
        return f"Did you mean {first.word}?"
    return f"No plant is called “{typed}” here. Most like it: {listed(one.word for one in found)}."
