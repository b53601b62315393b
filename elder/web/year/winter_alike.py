"""What asks for no hands over winter, said together where it is of one kind and for one reason."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

from elder.web.read.winter import WinterLine
from elder.web.say.plants import plant_words
from elder.web.say.winter import DEEDS, reason_words
from elder.web.say.words import listed

NAMED: Final = 6  # of things alike so many are named


@dataclass(frozen=True)
class Alike:
    """Things of one kind of which the same becomes, for the same reason: what, whose, and why."""

    name: str
    whose: str
    deed: str
    why: str


def alike(lines: Iterable[WinterLine], units: str) -> list[Alike]:
    """Lines of which nothing is asked, those of one kind together."""
    kinds: dict[tuple[str, str, str], list[WinterLine]] = {}
    for line in lines:
        words = plant_words(line.standing.plant.name, line.standing.variety)
        kinds.setdefault((words, DEEDS[line.way].lower(), reason_words(line, units)), []).append(line)
    found = []
    for (words, deed, why), several in kinds.items():
        count = sum(line.standing.count for line in several)
        whose = [line.standing.name for line in several[:NAMED]]
        whose += [f"{len(several) - NAMED} more"] if len(several) > NAMED else []
        found.append(Alike(f"{count} × {words}" if count > 1 else words, listed(whose), deed, why))
    return found
