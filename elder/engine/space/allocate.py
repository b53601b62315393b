"""Fit them in: one choice for each want, such that no place holds more than it can in any week.

Least in extra cuttings, days held, days moved and places changed: a mixed-integer programme for scipy's
HiGHS. It may stop at its time limit, so what it found is then bettered one want at a time until no single
change helps.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, Final

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_array, hstack

from elder.engine.arrays import Floats
from elder.engine.space.alternatives import Asker
from elder.engine.space.floors import CUTTINGS, FLOOR, WHOLE
from elder.engine.space.occupancy import Capacity, Stay

WEEK: Final = 7
COST_OVER: Final = 40.0  # a cutting without room, at the worst week of its spot, outweighs any change (assumed)
PATIENCE_S: Final = 2.0  # what the solver may take
GAP: Final = 0.01  # within a hundredth of the best is good enough


@dataclass(frozen=True, eq=False)
class Fit:
    """What was chosen: for each asker the index of its choice (0: as it stands). ``left_over`` is the room
    still lacking, in cuttings at the worst week of each spot; ``cost`` the total in cuttings."""

    chosen: dict[Any, int]
    left_over: int
    cost: float


def fit_in(askers: Sequence[Asker], fixed: Iterable[Stay], capacity: Capacity, *, start: date, days: int) -> Fit:
    """Choose one option for each asker so that every place has room, at the least cost.

    What stands already is ``fixed``. Weeks run from ``start``; a stay counts in each week it touches. Where
    no choice fits everything, what overflows is as little as can be.
    """
    if not askers or not capacity:  # nothing binds: each takes what is cheapest, which moves for light alone
        cheapest = {asker.key: int(np.argmin([one.cost for one in asker.choices])) for asker in askers}
        return Fit(cheapest, 0, sum(asker.choices[cheapest[asker.key]].cost for asker in askers))
    programme = _Programme(askers, fixed, capacity, start, math.ceil(days / WEEK))
    return programme.fit(programme.improved(programme.solved()))


class _Programme:
    """Rows: each spot with a capacity, week by week. Columns: each choice of each asker, in their order."""

    def __init__(
        self, askers: Sequence[Asker], fixed: Iterable[Stay], capacity: Capacity, start: date, weeks: int
    ) -> None:
        self.askers, self.start, self.weeks = askers, start, weeks
        self.spots = {spot: i for i, spot in enumerate(capacity)}
        # What a floor lacks is weighed in cuttings, as what other spots lack is.
        self.weight = np.array([CUTTINGS / WHOLE if kind == FLOOR else 1.0 for _, kind in capacity])
        self.limits = np.repeat(np.array(list(capacity.values()), dtype=np.float64) * self.weight, weeks)
        self.base = self._loads([list(fixed)])[0]
        # What stands already may be over by itself; that is nobody's choice.
        self.spare = np.maximum(self.limits, self.base) - self.base
        choices = [choice for asker in askers for choice in asker.choices]
        self.loads = self._loads([choice.stays for choice in choices])
        self.costs = np.array([choice.cost for choice in choices])
        ends = np.cumsum([len(asker.choices) for asker in askers])
        self.columns = [range(end - len(asker.choices), end) for asker, end in zip(askers, ends.tolist(), strict=True)]

    def _loads(self, several: Sequence[Sequence[Stay]]) -> Floats:
        """Cuttings by spot and week for each set of stays; shape (sets, rows)."""
        loads = np.zeros((len(several), len(self.limits)))
        for i, stays in enumerate(several):
            for stay in stays:
                spot = self.spots.get((stay.place, stay.container))
                begin = max((stay.first - self.start).days // WEEK, 0)
                end = min((stay.last - self.start).days // WEEK, self.weeks - 1)
                if spot is not None and begin <= end:
                    load = stay.count * self.weight[spot]
                    loads[i, spot * self.weeks + begin : spot * self.weeks + end + 1] += load
        return loads

    def solved(self) -> list[int]:
        """The column chosen for each asker, as far as the solver came; as it stands where it found nothing."""
        count, spots = len(self.costs), len(self.spots)
        # Only weeks that could overflow bind.
        most = np.sum([self.loads[list(columns)].max(axis=0) for columns in self.columns], axis=0)
        binding = np.flatnonzero(most > self.spare)
        slack = csr_array(
            (-np.ones(len(binding)), (np.arange(len(binding)), binding // self.weeks)), shape=(len(binding), spots)
        )
        owner = [i for i, columns in enumerate(self.columns) for _ in columns]
        one_each = csr_array((np.ones(count), (owner, np.arange(count))), shape=(len(self.askers), count + spots))
        room = hstack([csr_array(self.loads[:, binding].T), slack], format="csr")
        answer = milp(
            np.concatenate((self.costs, np.full(spots, COST_OVER))),
            integrality=np.concatenate((np.ones(count), np.zeros(spots))),
            bounds=Bounds(0, np.concatenate((np.ones(count), np.full(spots, np.inf)))),
            constraints=[LinearConstraint(one_each, 1, 1), LinearConstraint(room, -np.inf, self.spare[binding])],
            options={"time_limit": PATIENCE_S, "mip_rel_gap": GAP},
        )
        if answer.x is None:
            return [columns[0] for columns in self.columns]
        return [columns[int(np.argmax(answer.x[list(columns)]))] for columns in self.columns]

    def improved(self, chosen: list[int]) -> list[int]:
        """The same, bettered one asker at a time until no single change makes the whole any better."""
        chosen = list(chosen)
        total = self.loads[chosen].sum(axis=0)
        better = True
        while better:
            better = False
            for i, columns in enumerate(self.columns):
                without = total - self.loads[chosen[i]]
                worth = self.costs[list(columns)] + COST_OVER * self._lacking(without + self.loads[list(columns)])
                best = columns[int(np.argmin(worth))]
                if worth[best - columns[0]] < worth[chosen[i] - columns[0]] - 1e-9:
                    total, better = without + self.loads[best], True
                    chosen[i] = best
        return chosen

    def _lacking(self, loads: Floats) -> Floats:
        """Cuttings without room, at the worst week of each spot, summed over spots; for each row of ``loads``."""
        over = np.maximum(loads - self.spare, 0).reshape(len(loads), len(self.spots), self.weeks)
        return np.asarray(over.max(axis=2).sum(axis=1))

    def fit(self, chosen: list[int]) -> Fit:
        """The chosen columns as an answer."""
        left = float(self._lacking(self.loads[chosen].sum(axis=0)[None])[0])
        picks = zip(self.askers, chosen, self.columns, strict=True)
        by_key = {asker.key: column - columns[0] for asker, column, columns in picks}
        return Fit(by_key, round(left), float(self.costs[chosen].sum()))
