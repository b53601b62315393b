"""What to do in the next hour with what is in the hand: the cut sheet's own steps, but for those that are past."""

from __future__ import annotations

from typing import Final

from elder.engine.handbook.model import Plant
from elder.engine.plan.material import Material
from elder.engine.plan.windfall import WindfallOption
from elder.web.cut.sheet import KEPT_WHOLE, Facts, SheetLine, chosen_from, question_key, sheet_of
from elder.web.garden.access import GardenRequest
from elder.web.read.kit import kit_of

# Of the sheet: the bench is taken as ready, and the shoot is chosen already.
LEFT_OUT: Final = frozenset(("take", "place"))
PARTS_DONE: Final = ("Cut", "Treat", "Stick", "Place")
SNAPPED: Final = {"stem": "snapped"}
UNCUT: Final = {"size": KEPT_WHOLE}


def treatment_of(material: Material) -> dict[str, str]:
    """The schools that what is in the hand has chosen by itself: a broken stem is recut above its break, and what is
    kept whole is not cut to length."""
    return (SNAPPED if material.piece == "broken stem" else {}) | (UNCUT if material.whole else {})


def hand_steps(
    option: WindfallOption, plant: Plant, material: Material, place: str, request: GardenRequest
) -> list[SheetLine]:
    """The steps of a way for what is in the hand, with the sheet's own figures and numbers."""
    method, count = option.method, max(option.cuttings, 1)
    seen = frozenset(option.flags)
    facts = Facts(
        count,
        count,
        "",
        place,
        "",
        None,
        request.today,
        request.today,
        request.user.units,
        seen,
        kit_of(request.garden),
    )
    given = {question_key(question): school for question, school in treatment_of(material).items()}
    parts = sheet_of(plant, method, chosen_from(given, plant, method), facts)
    return [
        line
        for part in parts
        if part.name in PARTS_DONE
        for line in part.lines
        if line.step.key not in LEFT_OUT and (line.step.key, line.chosen) != ("hormone", "none")  # nothing to do
    ]
