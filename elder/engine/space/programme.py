"""Choosing for several who ask for the same room, as a programme of whole numbers: its rows, its columns, its sums.

Rows: each spot with a capacity, week by week. Columns: each choice of each asker, in their order. What overflows is
weighed once a spot, at its worst week.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.space.alternatives import Asker
from elder.engine.space.floors import CUTTINGS, FLOOR, WHOLE
from elder.engine.space.occupancy import Capacity, Stay

WEEK: Final = 7
COST_OVER: Final = 40.0  # a cutting without room, at the worst week of its spot, outweighs any change (assumed)


class Programme:
    """What each choice costs and how it loads each spot in each week, and what a set of choices comes to."""

    def __init__(
        self, askers: Sequence[Asker], fixed: Iterable[Stay], capacity: Capacity, start: date, weeks: int
    ) -> None:
        self.start, self.weeks = start, weeks
        self.spots = {spot: i for i, spot in enumerate(capacity)}
        # What a floor lacks is weighed in cuttings, as what other spots lack is.
        self.weight = np.array([CUTTINGS / WHOLE if kind == FLOOR else 1.0 for _, kind in capacity])
        limits = np.repeat(np.array(list(capacity.values()), dtype=np.float64) * self.weight, weeks)
        base = self._loads([list(fixed)])[0]
        # What stands already may be over by itself; that is nobody's choice.
        self.spare = np.maximum(limits, base) - base
        choices = [choice for asker in askers for choice in asker.choices]
        self.loads = self._loads([choice.stays for choice in choices])
        self.costs = np.array([choice.cost for choice in choices])
        self.owner = np.repeat(np.arange(len(askers)), [len(asker.choices) for asker in askers])
        ends = np.cumsum([len(asker.choices) for asker in askers])
        self.columns = [range(end - len(asker.choices), end) for asker, end in zip(askers, ends.tolist(), strict=True)]

    def _loads(self, several: Sequence[Sequence[Stay]]) -> Floats:
        """Cuttings by spot and week for each set of stays; shape (sets, rows)."""
        loads = np.zeros((len(several), len(self.spots) * self.weeks))
        for i, stays in enumerate(several):
            for stay in stays:
                spot = self.spots.get((stay.place, stay.container))
                begin = max((stay.first - self.start).days // WEEK, 0)
                end = min((stay.last - self.start).days // WEEK, self.weeks - 1)
                if spot is not None and begin <= end:
                    load = stay.count * self.weight[spot]
                    loads[i, spot * self.weeks + begin : spot * self.weeks + end + 1] += load
        return loads

    def lacking(self, loads: Floats) -> Floats:
        """Cuttings without room, at the worst week of each spot, summed over spots; for each row of ``loads``."""
        over = np.maximum(loads - self.spare, 0).reshape(len(loads), len(self.spots), self.weeks)
        return np.asarray(over.max(axis=2).sum(axis=1))

    def left_by(self, chosen: Sequence[int]) -> float:
        """Cuttings that a choice, one column for each asker, leaves without room."""
        return float(self.lacking(self.loads[list(chosen)].sum(axis=0)[None])[0])

    def worth(self, chosen: Sequence[int]) -> float:
        """All that a choice costs, what it leaves without room included; the least is the best."""
        return float(self.costs[list(chosen)].sum()) + COST_OVER * self.left_by(chosen)

    def bettered(self, chosen: Sequence[int]) -> list[int]:
        """The same, bettered one asker at a time until no single change makes the whole any better."""
        chosen = list(chosen)
        total = self.loads[chosen].sum(axis=0)
        better = True
        while better:
            better = False
            for i, columns in enumerate(self.columns):
                without = total - self.loads[chosen[i]]
                worth = self.costs[list(columns)] + COST_OVER * self.lacking(without + self.loads[list(columns)])
                best = columns[int(np.argmin(worth))]
                if worth[best - columns[0]] < worth[chosen[i] - columns[0]] - 1e-9:
                    total, better = without + self.loads[best], True
                    chosen[i] = best
        return chosen
