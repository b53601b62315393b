"""What one mother plant can give today and when again: by its growth, its health, what was counted on it and what was
taken from it. Never more than a third of the foliage of a plant that is to go on; a plant at its end gives its pups
by the rule of its kind. All common practice of the trade.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Final, Literal

import numpy as np

from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import add_days
from elder.engine.handbook.model import Plant, PupRule
from elder.engine.plan.wood import MotherHere, wood_days

Growth = Literal["growing", "resting", "flowering", "fruiting", "fruited"]
Health = Literal["well", "hungry", "pests", "diseased"]

SHARE: Final = 3  # one shoot in so many may be taken (common practice)
HUNGRY_SHARE: Final = 0.5  # of that, from a plant that is yellow or has lately had pests (assumed)
FEW: Final = 2  # a mother that has so many again is worth going to (assumed)
YEAR_DAYS: Final = 366


@dataclass(frozen=True)
class MotherSeen:
    """A mother as it was last looked at: ``shoots`` fit to cut, ``pups`` and living ``stalks``, where counted."""

    on: date | None = None
    growth: Growth = "growing"
    health: Health = "well"
    shoots: int | None = None
    pups: int | None = None
    stalks: int | None = None


@dataclass(frozen=True)
class Giving:
    """``now`` cuttings today of ``full`` at its best; ``again_on`` the day it is worth going to again and ``full_on``
    when it has as many as ever (``None``: now, or never); ``keep`` pups that stay; ``why`` names what holds it back
    or how it was reckoned."""

    now: int
    full: int
    why: str
    again_on: date | None = None
    full_on: date | None = None
    keep: int = 0


@dataclass(frozen=True)
class Mother:
    """A mother plant: what it gives at a time and after how many days again (its own or the handbook's), the rule of
    its pups, the day it ended. Raises ValueError for one that gives nothing or never again."""

    gives: int
    again_days: int
    pups: PupRule | None = None
    ended_on: date | None = None

    def __post_init__(self) -> None:
        if self.gives < 1 or self.again_days < 1:
            raise ValueError("a mother gives at least one cutting, and again some day")


def giving(mother: Mother, seen: MotherSeen, taken: Iterable[tuple[date, int]], today: date) -> Giving:
    """What a mother gives today. ``taken``: what was cut from it and when."""
    gives, pups = mother.gives, mother.pups
    if mother.ended_on and mother.ended_on <= today:
        return Giving(0, 0, "ended")
    if seen.health == "diseased":
        return Giving(0, gives, "diseased")
    if pups and seen.pups is not None:
        return _of_pups(seen, taken, pups)
    why = seen.health if seen.health in ("hungry", "pests") else "usual" if seen.shoots is None else "third"
    full = full_of(seen, gives)
    if full == 0:
        return Giving(0, 0, "too_small")
    rate = full / mother.again_days
    level = _level(seen, taken, full, rate, today)
    now = math.floor(level + 1e-9)
    if now >= full:
        return Giving(full, full, why)
    worth = min(FEW, full)
    again = None if now >= worth else add_days(today, math.ceil((worth - level) / rate - 1e-9))
    return Giving(now, full, "just_cut", again, add_days(today, math.ceil((full - level) / rate - 1e-9)))


def full_of(seen: MotherSeen, gives: int) -> int:
    """What it gives at its best: a third of the shoots that were counted, else its usual number; half of that while
    it is hungry or not free of pests."""
    full = gives if seen.shoots is None else seen.shoots // SHARE
    return math.floor(full * HUNGRY_SHARE) if seen.health in ("hungry", "pests") else full


def _level(seen: MotherSeen, taken: Iterable[tuple[date, int]], full: int, rate: float, today: date) -> float:
    """What it has: full when its shoots were counted, or before anything was cut; less what was cut since, and evenly
    back."""
    level, last = float(full), None
    for day, count in sorted(taken):
        if day > today or (seen.shoots is not None and seen.on and day < seen.on):
            continue
        if last is not None:
            level = min(level + rate * (day - last).days, float(full))
        level, last = max(level - count, 0.0), day
    return level if last is None else min(level + rate * (today - last).days, float(full))


def _of_pups(seen: MotherSeen, taken: Iterable[tuple[date, int]], rule: PupRule) -> Giving:
    there = max((seen.pups or 0) - sum(count for day, count in taken if seen.on is None or day >= seen.on), 0)
    keep = pups_kept(rule, seen, there)
    return Giving(there - keep, there, "pups" if there > keep else "pups_kept", keep=keep)


def pups_kept(rule: PupRule, seen: MotherSeen, there: int) -> int:
    """How many pups stay on the mother. ``one_when_spent``: a spent mother keeps one on its old roots, a growing one
    none. ``clump``: so many stalks to a clump at most, and at least one follower of a stalk that has fruited."""
    if rule.kind == "one_when_spent":
        return min(rule.keep, there) if seen.growth == "fruited" else 0
    standing = seen.stalks if seen.stalks is not None else 1
    living = max(standing - (1 if seen.growth == "fruited" else 0), 0)
    return min(max(rule.keep - living, 1 if living == 0 else 0), there)


def takes_from(mother: Mother, giving: Giving, wanted: int, *, start: date, until: date) -> list[tuple[date, int]]:
    """So many taken from one mother as she gives them: all she has on the first day, then each time she has as many
    again as are worth going for, to ``until``; what is still wanting then is not there. Pups do not come again."""
    takes = [(start, min(giving.now, wanted))] if giving.now else []
    if not giving.full or giving.why in ("pups", "pups_kept", "ended", "diseased", "too_small"):
        return takes
    if not takes and giving.again_on:
        takes = [(giving.again_on, min(FEW, giving.full, wanted))]
    left = wanted - sum(count for _, count in takes)
    while takes and left > 0:
        count = min(giving.full, left)
        day = add_days(takes[-1][0], math.ceil(count * mother.again_days / giving.full - 1e-9))
        takes.append((day, count))
        left -= count
    return [(day, count) for day, count in takes if day <= until]


def wood_opens(plant: Plant, climate: Climate, today: date, mother: MotherHere | None = None) -> date | None:
    """The first day from today on which the wood of some way is in season; ``None`` where that is never."""
    open_ = np.zeros(YEAR_DAYS, dtype=bool)
    for way in plant.ways:
        open_ |= wood_days(plant, way.wood, climate, (today, YEAR_DAYS), mother=mother)
    found = np.flatnonzero(open_)
    return add_days(today, int(found[0])) if len(found) else None
