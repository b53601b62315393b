"""What lowers the take of cuttings: one rule for wood out of season, flower, wilt and what a look-over finds, used
wherever a take is planned with, promised or forecast."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method, Plant
from elder.engine.plan.wood import MotherHere, wood_days

# The share of the ordinary take that is left (assumed; that each costs something is common practice).
FACTORS: Final[dict[str, float]] = {"out_of_season": 0.45, "flowering": 0.6, "wilted": 0.75}


@dataclass(frozen=True)
class Condition:
    """What holds cuttings back, by name; of names that cost nothing none is kept."""

    reasons: tuple[str, ...] = ()

    @classmethod
    def of(cls, reasons: Iterable[str]) -> Condition:
        """The condition that these reasons make, each counted once."""
        given = set(reasons)
        return cls(tuple(name for name in FACTORS if name in given))

    @property
    def share(self) -> float:
        """Of the ordinary take, what is left."""
        return math.prod(FACTORS[name] for name in self.reasons)

    def lowers(self, take: Take) -> Take:
        """The take that is left."""
        return Take(take.mean * self.share, take.weight) if self.reasons else take


SOUND: Final = Condition()


WHOLE_FORMS: Final = frozenset(("pup", "division", "runner", "crown top", "slip", "leaf", "leaf with heel"))


@dataclass(frozen=True)
class CutFrom:
    """Where what is cut comes from: the plant, the climate, whether the mother stands indoors (``None``: as usual for
    the plant, or by her place) and what is known of her."""

    plant: Plant
    climate: Climate
    indoors: bool | None = None
    mother: MotherHere | None = None


def condition_on(method: Method, stock: CutFrom, day: date, *, seen: Iterable[str] = ()) -> Condition:
    """The condition of what is cut on a day: what was ``seen`` of it, flower on the mother, the season of its wood. A
    piece that is whole (a pup, a top) has no season."""
    reasons = list(seen)
    if stock.mother and stock.mother.in_flower(day):
        reasons.append("flowering")
    if method.form not in WHOLE_FORMS:
        there = wood_days(stock.plant, method.wood, stock.climate, (day, 1), indoors=stock.indoors, mother=stock.mother)
        reasons += [] if there[0] else ["out_of_season"]
    return Condition.of(reasons)
