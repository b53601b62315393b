"""What is promised to others: the chance that it can be kept, which batches to reserve for it, what to hand over."""

from __future__ import annotations

import itertools
from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.chance.counting import chance_of, convolve_counts

SLACK: Final = 1e-12  # exactly as sure as asked is sure enough
MOST_WEIGHED: Final = 12  # batches whose every choice is weighed; of more, the fullest are taken one by one


@dataclass(frozen=True, eq=False)
class Spare:
    """What a batch has to spare by a day: the chance of each number; shape (taken + 1,)."""

    key: Hashable
    counts: Floats

    @property
    def expected(self) -> float:
        """How many on average."""
        return float(self.counts @ np.arange(len(self.counts)))


@dataclass(frozen=True)
class Holding:
    """How a promise stands: the chance of all that is promised and what is kept for oneself besides (``chance``), of
    what is promised alone (``bare``), and how many come as surely as was asked (``sure``), kept ones set aside."""

    chance: float
    bare: float
    sure: int

    @property
    def helps(self) -> bool:
        """Whether giving up one's own share makes a difference one would feel."""
        return self.bare - self.chance > 0.03


def holding(pmfs: Sequence[Floats], promised: int, own: int, sure: float) -> Holding:
    """How a promise of so many stands, with so many kept for oneself, from independent sources. Raises ValueError
    for a promise of nothing, or a sureness that is none."""
    if promised < 1 or own < 0 or not 0 < sure < 1:
        raise ValueError("a promise is for one plant or more, with a chance strictly between 0 and 1")
    several = list(pmfs)
    return Holding(
        chance=chance_of(several, promised + own),
        bare=chance_of(several, promised),
        sure=max(surely(several, sure) - own, 0),
    )


def surely(pmfs: Sequence[Floats], sure: float) -> int:
    """The most that come at least as surely as asked."""
    at_least = np.cumsum(convolve_counts(list(pmfs))[::-1])[::-1]
    return int(np.flatnonzero(at_least >= sure - SLACK)[-1])


def to_reserve(have: Sequence[Floats], spares: Sequence[Spare], needed: int, sure: float) -> tuple[Spare, ...]:
    """The fewest batches to reserve besides what a promise has already, so that it is as sure as asked; of as many
    those that leave it surest. All that help where it cannot be made so sure."""
    useful = sorted((one for one in spares if one.expected > 0), key=lambda one: -one.expected)

    def chance(chosen: tuple[Spare, ...]) -> float:
        return chance_of([*have, *(one.counts for one in chosen)], needed)

    if chance(()) >= sure - SLACK:
        return ()
    for count in range(1, len(useful) + 1):
        choices = itertools.combinations(useful, count) if len(useful) <= MOST_WEIGHED else [tuple(useful[:count])]
        best = max(choices, key=chance)
        if chance(best) >= sure - SLACK:
            return best
    return tuple(useful)


def handed_from(standing: Sequence[tuple[Hashable, int]], count: int) -> dict[Hashable, int]:
    """From which batches so many are handed over, of what stands in each, in the order given; fewer where no more
    stand."""
    found: dict[Hashable, int] = {}
    for key, there in standing:
        part = min(there, count)
        if part > 0:
            found[key] = part
            count -= part
    return found
