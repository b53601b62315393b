"""What a batch uses at each of its steps: containers, mix by parts, plugs, labels, hormone, covers, stakes.

Things are named by key: ``mix:light`` in litres as it stands, ``part:perlite`` in litres as poured, ``vessel:jar``,
``plug``, ``label``, ``cover``, ``stake`` by the piece, ``powder`` in grams and ``gel`` in millilitres.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from typing import Final

from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.routes import SOLUTION, WITH_ROOTS
from elder.engine.shed.containers import POT, potted_in, stuck_in
from elder.engine.shed.kit import USUAL, AsTreated, Kit
from elder.engine.shed.mix import mix_for, usual_recipe

MIX: Final = "mix:"
PART: Final = "part:"
VESSEL: Final = "vessel:"
LABEL, PLUG, COVER, STAKE, POWDER, GEL = "label", "plug", "cover", "stake", "powder", "gel"
POWDER_G_EACH: Final = 0.05  # of powder that clings to one foot (assumed)
GEL_ML_EACH: Final = 0.2  # of gel (assumed)
SPARE: Final = 2.0  # tip out so many times that, for the dish keeps half (assumed)
GROUND: Final = ("row", "grow bed")  # no container that is bought
COVERED: Final = ("closed", "loose")
Uses = Mapping[str, float]


def powder_g(cuttings: int) -> float:
    """Powder to tip out for so many, g."""
    return SPARE * POWDER_G_EACH * cuttings


def gel_ml(cuttings: int) -> float:
    """Gel to squeeze out for so many, ml."""
    return SPARE * GEL_ML_EACH * cuttings


def is_kept(what: str) -> bool:
    """Whether a thing comes back to the shed once what stood in it has gone on: containers, covers, stakes."""
    return what.startswith(VESSEL) or what in (COVER, STAKE)


def uses_at_sticking(plant: Plant, method: Method, count: int, treated: AsTreated = USUAL) -> dict[str, float]:
    """What ``count`` cuttings use when they are stuck."""
    found: defaultdict[str, float] = defaultdict(float)
    if count < 1:
        return dict(found)
    filled = stuck_in(plant, method, count, treated.chosen, treated.kit)
    found[LABEL] = filled.vessels
    if filled.kind not in GROUND:
        found[VESSEL + filled.vessel.key] = filled.vessels
        if method.cover in COVERED and treated.chosen.get("cover") != "none":
            found[COVER] = filled.vessels
    recipe = usual_recipe(plant, method, "root", treated.chosen, treated.kit)
    if recipe:
        found[MIX + recipe.key] = filled.vessel.filled_l * filled.vessels
    elif method.medium == "plug":
        found[PLUG] = count
    elif method.medium == "clay":
        found[PART + "clay"] = filled.vessel.filled_l * filled.vessels
    school = treated.chosen.get("hormone") or _hormone_start(method)
    if school == "powder":
        found[POWDER] = powder_g(count)
    elif school == "gel":
        found[GEL] = gel_ml(count)
    return dict(found)


def _hormone_start(method: Method) -> str:
    """The school of hormone that a way begins with; none where its file names none."""
    return next((one.school for one in method.schools if one.question == "hormone" and one.start), "")


def uses_at_potting(
    plant: Plant, method: Method, count: int, treated: AsTreated = USUAL, *, staked: bool = False
) -> dict[str, float]:
    """What ``count`` plants use when they are potted; nothing where they stay in what they rooted in."""
    found: defaultdict[str, float] = defaultdict(float)
    stays = method.route is WITH_ROOTS and POT not in treated.chosen
    if count < 1 or stays or not method.route.establishes:
        return dict(found)
    filled = potted_in(plant, method, count, treated)
    if filled.kind in GROUND:
        return dict(found)
    found[VESSEL + filled.vessel.key] = filled.vessels
    if method.route is SOLUTION:
        found[PART + "clay"] = filled.vessel.filled_l * filled.vessels
        return dict(found)
    recipe = usual_recipe(plant, method, "pot", treated.chosen, treated.kit)
    if recipe:
        found[MIX + recipe.key] = filled.vessel.filled_l * filled.vessels
    if staked:
        found[STAKE] = count
    return dict(found)


def with_parts(uses: Mapping[str, float], kit: Kit) -> dict[str, float]:
    """The same with each mix as the parts it is poured from; a recipe nobody knows any more asks for nothing."""
    found: defaultdict[str, float] = defaultdict(float)
    for what, amount in uses.items():
        if not what.startswith(MIX):
            found[what] += amount
        elif recipe := kit.mix(what.removeprefix(MIX)):
            for part, litres in mix_for(recipe.shares, amount).items():
                found[PART + part] += litres
    return dict(found)
