"""What lowers the take of cuttings: one rule for wood out of season, flower, wilt and what a look-over finds, used
wherever a take is planned with, promised or forecast."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from typing import Final

from elder.engine.chance.counting import Take
from elder.engine.chance.rooting_time import DaysAt
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.stems import stem_table
from elder.engine.plan.wood import MotherHere, wood_days
from elder.engine.setting import Setting

# The share of the ordinary take that is left (assumed; that each costs something is common practice).
SHARES: Final[dict[str, float]] = {"out_of_season": 0.45, "wilted": 0.75}
MOST_TAKE: Final = 0.99  # whatever the size, some are lost (assumed)
LEAST_SHARE: Final = 0.02  # next to nothing is still not nothing (assumed)


@dataclass(frozen=True)
class Cost:
    """What one reason costs: the share of the take that is left, how many times as long it roots, in words; and how
    many times as long it takes from roots to a plant."""

    share: float
    days: float = 1.0
    words: str = ""
    after: float = 1.0


# The size of the pieces is a choice: a longer one loses more water, and has more to grow on with (assumed).
SIZES: Final[dict[str, Cost]] = {
    "longer": Cost(0.93, 1.0, "longer pieces", 0.75),
    "shorter": Cost(1.04, 1.0, "shorter pieces", 1.33),
}
# What lying about has cost, by how it was kept (assumed; see ``material``).
LAIN: Final[dict[str, Cost]] = {
    "dry_for_a_day": Cost(0.5, 1.1, "it lay dry for a day"),
    "dry_for_days": Cost(0.1, 1.2, "it lay dry for days"),
    "days_in_a_bag": Cost(0.9, 1.05, "it was days in a bag"),
    "long_in_a_bag": Cost(0.6, 1.1, "it was long in a bag"),
    "long_in_water": Cost(0.9, 1.0, "it stood long in water"),
    "roots_dried": Cost(0.8, 1.1, "it began to dry out"),
    "wood_dried": Cost(0.5, 1.2, "its wood has dried"),
    "shrunken": Cost(0.85, 1.1, "it has shrunk"),
    "sweated": Cost(0.8, 1.0, "it sweated in its bag"),
    "wet_foot": Cost(0.8, 1.0, "its wound stood wet"),
}


def size_reasons(chosen: Mapping[str, str]) -> tuple[str, ...]:
    """The reason that lies in the size chosen, if it is not the usual. What is kept whole says so by its own length."""
    return tuple(name for name in SIZES if chosen.get("size") == name)


@lru_cache(maxsize=1)
def costs() -> Mapping[str, Cost]:
    """Every reason there is: the season and the wilt, and all that a look over the stem may find (assumed too)."""
    found = {rule["code"]: Cost(rule["take"], rule["days"], rule["cause"]) for rule in stem_table()["rules"]}
    return {**{name: Cost(share) for name, share in SHARES.items()}, **found, **SIZES, **LAIN}


@dataclass(frozen=True)
class Condition:
    """What holds cuttings back, by name; of names that cost nothing none is kept."""

    reasons: tuple[str, ...] = ()

    @classmethod
    def of(cls, reasons: Iterable[str]) -> Condition:
        """The condition that these reasons make, each counted once."""
        given = set(reasons)
        return cls(tuple(name for name in costs() if name in given))

    @property
    def share(self) -> float:
        """Of the ordinary take, what is left."""
        return max(math.prod(costs()[name].share for name in self.reasons), LEAST_SHARE)

    @property
    def days(self) -> float:
        """How many times as long it takes to root."""
        return math.prod(costs()[name].days for name in self.reasons)

    @property
    def after(self) -> float:
        """How many times as long it takes from roots to a plant."""
        return math.prod(costs()[name].after for name in self.reasons)

    def lowers(self, take: Take) -> Take:
        """The take that is left."""
        return Take(min(take.mean * self.share, MOST_TAKE), take.weight) if self.reasons else take

    def slowed(self, method: Method) -> Method:
        """The way with its days stretched, to root and after; whole days, the longest last."""
        if self.days == 1.0 and self.after == 1.0:
            return method
        after = _stretched(method.establish, self.after) if method.establish else None
        return replace(method, rooting=_stretched(method.rooting, self.days), establish=after)

    def under(self, setting: Setting) -> Setting:
        """A setting in which what is cut roots so much more slowly."""
        return replace(setting, method=self.slowed(setting.method))


def _stretched(days: DaysAt, times: float) -> DaysAt:
    if times == 1.0:
        return days
    early = max(round(days.early * times), 1)
    return DaysAt(early, max(math.ceil(days.late * times), early + 1), days.at_c)


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
