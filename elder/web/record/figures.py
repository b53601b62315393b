"""What became of batches, in counts: added up over any of them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Final

from elder.engine.record.looks import tally_of
from elder.engine.record.standing import AFTER_ROOTS
from elder.web.batches.models import Entry
from elder.web.read.told import Told

UNSAID: Final = "gift"  # what was given before anybody could say how


@dataclass
class Figures:
    """Cuttings and plants: cut, rooted, those that have told, stood ready, planted out, given by how, lost by cause,
    still in hand, and how many more are likely to come of those that wait."""

    batches: int = 0
    cut: int = 0
    rooted: int = 0
    settled: int = 0
    planted: int = 0
    standing: int = 0
    waiting: int = 0
    given: Counter[str] = field(default_factory=Counter)
    lost: Counter[str] = field(default_factory=Counter)
    lost_after: int = 0

    @property
    def plants(self) -> int:
        """All that became plants: planted out, given away or standing."""
        return self.planted + self.given.total() + self.standing


def figures(told: Iterable[Told]) -> Figures:
    """The counts of some batches."""
    found = Figures()
    for one in told:
        state = one.state
        found.batches += 1
        found.cut += state.taken
        found.rooted += state.rooted_ever
        found.settled += tally_of([state]).settled
        found.planted += state.count("planted")
        found.standing += state.count("potted") + state.count("hardening") + state.count("rooted")
        found.waiting += state.count("waiting")
        for how, count in given_by(one).items():
            found.given[how] += count
        for gone in state.losses:
            found.lost[gone.why or Entry.Why.UNKNOWN] += gone.count
            found.lost_after += gone.count if gone.stage != "waiting" else 0
    return found


def given_by(one: Told) -> Counter[str]:
    """How what was given as plants went; of what was given unrooted nothing."""
    struck = {entry.strikes for entry in one.history.entries if entry.strikes}
    found: Counter[str] = Counter()
    for entry in one.history.entries:
        if entry.kind == "given" and entry.key not in struck and entry.stage != "waiting":
            found[entry.deed or UNSAID] += entry.count
    grown = sum(lot.count for lot in one.state.given_seen if lot.grown)
    return found if found.total() == grown else Counter({UNSAID: grown}) if grown else Counter()


def coming(one: Told) -> float:
    """How many plants are likely still to come of those that wait: by the way's usual take, less what is lost after."""
    return one.state.count("waiting") * one.method.plant_take.mean * AFTER_ROOTS.mean
