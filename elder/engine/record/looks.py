"""What a batch told at each look, in the order of its warmth: what the record learns from."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from operator import attrgetter
from typing import NamedTuple

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
    gave_up: int = 0  # waited until then
    gone: int = 0  # by accident, or given away: nothing is known of them since the look before


def looks_of(state: BatchState, units: Floats) -> tuple[Look, ...]:
    """The looks at a batch as they were made. ``units``: gained by the end of each day since the cut; shape (days,).

    Begins with the cut itself. What was given up on is not known to have failed: it waited until that day. What went by
    accident or was given away unrooted says nothing after the look before, where it was waiting still.
    """
    days = _days_of(state)
    waiting, found = state.taken, [Look(0.0, 0, 0, state.taken)]
    for day in sorted(days):
        told = days[day]
        found[-1] = found[-1]._replace(waiting=max(found[-1].waiting - told.gone, 0))
        waiting -= told.rooted + told.lost + told.gave_up + told.gone
        at = min(max((day - state.taken_on).days, 0), len(units) - 1)
        found.append(Look(float(units[at]), told.rooted, told.lost, max(waiting, 0)))
    return tuple(found)


def _days_of(state: BatchState) -> dict[date, _Day]:
    """What was seen of those waiting on each day on which anything was."""
    days: defaultdict[date, _Day] = defaultdict(_Day)
    for seen in state.looks:
        days[seen] = _Day()
    for lot in state.rooted_seen:
        days[lot.since].rooted += lot.count
    for gone in state.losses:
        if gone.stage == "waiting":
            name = "lost" if gone.tells else "gave_up" if gone.why == "gave_up" else "gone"
            setattr(days[gone.on], name, getattr(days[gone.on], name) + gone.count)
    for lot in state.given_seen:
        days[lot.since].gone += 0 if lot.grown else lot.count
    return days


@dataclass(frozen=True)
class Tally:
    """Counts over some batches: cut, seen rooted, lost before they had roots, given up on, still waiting; ``left``: of
    which there is no word."""

    batches: int = 0
    cut: int = 0
    rooted: int = 0
    lost: int = 0
    waiting: int = 0
    left: int = 0
    gave_up: int = 0

    @property
    def settled(self) -> int:
        """How many have told whether they root, those that were waited for in vain among them."""
        return self.rooted + self.lost + self.gave_up


def tally_of(states: Sequence[BatchState]) -> Tally:
    """The counts of some batches."""
    gone = [one for state in states for one in state.losses if one.stage == "waiting"]
    cut, rooted = sum(state.taken for state in states), sum(state.rooted_ever for state in states)
    lost = sum(one.count for one in gone if one.tells)
    gave_up = sum(one.count for one in gone if one.why == "gave_up")
    waiting = sum(state.count("waiting") for state in states)
    return Tally(len(states), cut, rooted, lost, waiting, cut - rooted - lost - gave_up - waiting, gave_up)


_COUNTS = attrgetter("batches", "cut", "rooted", "lost", "waiting", "left", "gave_up")


def tallied(tallies: Iterable[Tally]) -> Tally:
    """The sum of some counts."""
    return Tally(*(sum(column) for column in zip(*map(_COUNTS, tallies), strict=True)))
