"""Mix in words: litres or quarts and gallons of each part, whole packs, and what wants care."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from typing import Final

from elder.engine.handbook.model import Method, Plant
from elder.engine.shed.containers import Filling
from elder.engine.shed.kit import Kit
from elder.engine.shed.mix import mix_for, usual_recipe
from elder.engine.shed.recipes import Recipe, mix_parts
from elder.web.say.units import US, gallons_of, quarts_of
from elder.web.say.words import listed

GALLON_FROM_QT: Final = 8  # from so many quarts gallons are read more easily (common practice)
CAUTIONS: Final = {
    "dust": "Wet dry parts before you pour them, outdoors or by an open window, and do not breathe their dust.",
    "compost": "Bagged compost can carry legionella: open it away from your face, keep it damp, and wash your hands.",
    "sulphur": "Sulphur by its own label: gloves, no dust in the eyes, and weeks before it works. Test before you add.",
}


def poured(litres: float, units: str) -> str:
    """A volume to measure out, rounded up so that nothing is short: "1.9 litres", "2.1 qt", "3.5 gal"."""
    if units == US:
        quarts = quarts_of(litres)
        if quarts < GALLON_FROM_QT:
            return f"{_up(quarts):g} qt"
        return f"{_up(gallons_of(litres)):g} gal"
    amount = _up(litres)
    return f"{amount:g} {'litre' if amount == 1 else 'litres'}"


def _up(value: float) -> float:
    """To the tenth above; to the half above from ten on."""
    step = 10 if value < 10 else 2
    return math.ceil(value * step - 1e-6) / step


def parts_words(litres: Mapping[str, float], units: str, names: Mapping[str, str] | None = None) -> str:
    """So much of each: "1.9 litres peat-free, 1 litre perlite"."""
    return listed(f"{poured(amount, units)} {part_name(part, names)}" for part, amount in litres.items())


def part_name(part: str, names: Mapping[str, str] | None = None) -> str:
    """A part as it is called; a household's own by its own name."""
    known = mix_parts().get(part)
    return known.short if known else (names or {}).get(part, part)


def mix_words(plant: Plant, method: Method, filled: Filling, chosen: Mapping[str, str], kit: Kit, units: str) -> str:
    """The mix for what is filled: its recipe, and so much of each; nothing where they stand in none."""
    recipe = usual_recipe(plant, method, "root", chosen, kit)
    return recipe_words(recipe, filled.vessel.filled_l * filled.vessels, units) if recipe else ""


def recipe_words(recipe: Recipe, litres: float, units: str) -> str:
    """ "Light mix by 2 : 1 : 1: 1.9 litres peat-free, …"."""
    name = recipe.name[:1].upper() + recipe.name[1:]
    if len(recipe.parts) == 1:
        return f"{name}, {poured(sum(mix_for(recipe.shares, litres).values()), units)} poured"
    return f"{name}, poured loose: {parts_words(mix_for(recipe.shares, litres), units)}"


def mix_cautions(parts: Iterable[str]) -> list[str]:
    """What wants care with these parts, once each."""
    known = [mix_parts()[part] for part in parts if part in mix_parts()]
    said = []
    if any(part.dusty for part in known):
        said.append(CAUTIONS["dust"])
    if any(part.compost for part in known):
        said.append(CAUTIONS["compost"])
    return said
