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
from elder.engine.climate.day_of_year import doy0
from elder.engine.handbook.model import Method, Wood
from elder.engine.plan.wood import wood_in_season

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


def in_season(climate: Climate, wood: Wood, day: date, *, stock_indoors: bool) -> bool:
    """Whether a wood is there to cut on a day, by the climate."""
    return bool(wood_in_season(climate, wood, stock_indoors=stock_indoors)[doy0(day)])


def condition_on(
    method: Method, climate: Climate, day: date, *, stock_indoors: bool, seen: Iterable[str] = (), whole: bool = False
) -> Condition:
    """The condition of what is cut on a day: what was ``seen`` of it, and the season of its wood. A ``whole`` piece (a
    pup, a top) has none."""
    late = not whole and not in_season(climate, method.wood, day, stock_indoors=stock_indoors)
    return Condition.of([*seen, *(["out_of_season"] if late else [])])
