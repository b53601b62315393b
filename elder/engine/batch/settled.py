"""What came of a batch that is over: its counts are known, and nothing need be believed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.batch.state import BatchState
from elder.engine.keeping import cached_property


@dataclass(frozen=True, eq=False)
class Settled:
    """Answers what a forecast answers, of a batch that is over. ``standing``: what has left does not count."""

    state: BatchState
    standing: bool = False

    @property
    def start(self) -> date:
        """The day it was cut."""
        return self.state.taken_on

    @cached_property
    def _came(self) -> Ints:
        """On which days, counted from the cut, plants had gone out, or were given away as such; one of each."""
        if self.standing:
            return np.zeros(0, dtype=np.int64)
        lots = [*self.state.lots.get("planted", ()), *(lot for lot in self.state.given_seen if lot.grown)]
        return np.sort(np.repeat([(lot.since - self.start).days for lot in lots], [lot.count for lot in lots]))

    @cached_property
    def expected(self) -> Floats:
        """How many by each day from the cut, to the last on which one came."""
        return self.came_by(np.arange(int(self._came.max(initial=0)) + 1))

    @property
    def rooting(self) -> Floats:
        """None roots any more; shape (days,)."""
        return np.zeros(len(self.expected))

    def came_by(self, days: Ints) -> Floats:
        """How many had come by each of some days; shape (days,)."""
        return np.searchsorted(self._came, days, side="right").astype(np.float64)

    def index(self, day: date) -> int:
        """Where a day stands, counted from the cut."""
        return max((day - self.start).days, 0)

    def counts_on(self, days: Ints) -> Floats:
        """The number by each of some days, which is certain; shape (days, taken + 1)."""
        return np.asarray(np.eye(self.state.taken + 1)[self.came_by(days).astype(np.int64)])

    def ready_on(self, day: date) -> Floats:
        """The same by one day; shape (taken + 1,)."""
        found = np.zeros(self.state.taken + 1)
        found[np.searchsorted(self._came, self.index(day), side="right")] = 1.0
        return found
