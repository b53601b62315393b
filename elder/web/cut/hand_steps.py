"""What to do in the next hour with what is in the hand: first what only it wants, then as the cut sheet has it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from elder.engine.handbook.model import Plant
from elder.engine.plan.windfall import WindfallOption
from elder.web.cut.sheet import Facts, chosen_from, sheet_of
from elder.web.cut.wording import FIRST_WORDS
from elder.web.garden.access import GardenRequest

# Of the sheet: not the bench, not the choosing of a shoot that is cut already, nor what was said first.
LEFT_OUT: Final = frozenset(("take", "rescue", "drying", "disbud", "place"))
TITLES: Final = {"Cut as drawn": "Cut to length"}  # nothing is drawn beside the hand
PARTS_DONE: Final = ("Cut", "Treat", "Stick", "Place")


@dataclass(frozen=True)
class HandStep:
    """A step: in short, and in full."""

    title: str
    text: str


def hand_steps(option: WindfallOption, plant: Plant, place: str, request: GardenRequest) -> list[HandStep]:
    """The steps of a way for what is in the hand, with the sheet's own figures."""
    method, count = option.method, max(option.cuttings, 1)
    facts = Facts(count, count, "", place, "", None, request.today, request.today, request.user.units)
    parts = sheet_of(plant, method, chosen_from({}, plant, method), facts)
    return [HandStep("", FIRST_WORDS[step]) for step in option.steps] + [
        HandStep(TITLES.get(line.step.title, line.step.title), line.text)
        for part in parts
        if part.name in PARTS_DONE
        for line in part.lines
        if line.step.key not in LEFT_OUT and (line.step.key, line.chosen) != ("hormone", "none")  # nothing to do
    ]
