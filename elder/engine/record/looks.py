"""What a batch told at each look, in the order of its warmth: what the record learns from."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field
from datetime import date
from typing import NamedTuple

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.batch.state import BatchState


class Look(NamedTuple):
    """One look: ``units`` of warmth since the cut; ``rooted`` and ``lost`` new since the look before; still ``waiting``
    at it. Where ``waiting`` falls by more than was rooted and lost, nothing is known of the rest but that they waited
    until then: an accident, given away, given up on, or taken back."""

    units: float
    rooted: int
    lost: int
    waiting: int


@dataclass
class _Day:
    rooted: int = 0
    lost: int = 0
    left: int = 0  # of those waiting, without a word on whether they would have rooted


def looks_of(state: BatchState, units: Floats) -> tuple[Look, ...]:
    """The looks at a batch as they were made. ``units``: gained by the end of each day since the cut; shape (days,).

    Begins with the cut itself. What was given up on is not known to have failed: it waited until that day. Accidents
    and what was given away unrooted say nothing of roots either.
    """
    days: defaultdict[date, _Day] = defaultdict(_Day)
    for seen in state.looks:
        days[seen] = _Day()
    for lot in state.rooted_seen:
        days[lot.since].rooted += lot.count
    for gone in state.losses:
        if gone.stage != "waiting":
            continue
        if gone.tells:
            days[gone.on].lost += gone.count
        else:
            days[gone.on].left += gone.count
    for lot in state.given_seen:
        if not lot.grown:
            days[lot.since].left += lot.count
    waiting, found = state.taken, [Look(0.0, 0, 0, state.taken)]
    for day in sorted(days):
        told = days[day]
        waiting -= told.rooted + told.lost + told.left
        at = min(max((day - state.taken_on).days, 0), len(units) - 1)
        found.append(Look(float(units[at]), told.rooted, told.lost, max(waiting, 0)))
    return tuple(found)


@dataclass(frozen=True)
class Tally:
    """Counts over some batches: cut, seen rooted, lost before they had roots, and of neither a word yet."""

    batches: int = 0
    cut: int = 0
    rooted: int = 0
    lost: int = 0
    waiting: int = 0
    left: int = field(default=0)

    @property
    def settled(self) -> int:
        """How many have told whether they root."""
        return self.rooted + self.lost


def tally_of(batches: list[tuple[Look, ...]]) -> Tally:
    """The counts of some batches, each from its looks."""
    cut = sum(looks[0].waiting for looks in batches)
    rooted, lost = (int(np.sum([[getattr(look, name) for look in looks] for looks in batches and [sum(batches, ())]]))
                    if batches else 0 for name in ("rooted", "lost"))  # fmt: skip
    waiting = sum(looks[-1].waiting for looks in batches)
    return Tally(len(batches), cut, rooted, lost, waiting, cut - rooted - lost - waiting)
