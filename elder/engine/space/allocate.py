"""Fit them in: one choice for each want, such that no place holds more than it can in any week.

Least in extra cuttings, days held, days moved and places changed: a mixed-integer programme for scipy's HiGHS, held by
nodes and not by the clock, and beside what it found the least that any choice could come to.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np

from elder.engine.space.alternatives import Asker
from elder.engine.space.occupancy import Capacity, Stay
from elder.engine.space.programme import WEEK, Programme
from elder.engine.space.solving import ROUNDING, solved


@dataclass(frozen=True, eq=False)
class Fit:
    """What was chosen: for each asker the index of its choice (0: as it stands).

    ``left_over`` is the room still lacking, in cuttings at the worst week of each spot, and ``least_left_over`` the
    least that any choice leaves; ``cost`` what the changes cost, in cuttings. ``gap``, in cuttings likewise, is what a
    better choice could save at the most, room that lacks included: 0 where there is none better.
    """

    chosen: dict[Any, int]
    left_over: int
    cost: float
    least_left_over: int = 0
    gap: float = 0.0


def fit_in(askers: Sequence[Asker], fixed: Iterable[Stay], capacity: Capacity, *, start: date, days: int) -> Fit:
    """Choose one option for each asker so that every place has room, at the least cost.

    What stands already is ``fixed``. Weeks run from ``start``; a stay counts in each week it touches. Where
    no choice fits everything, what overflows is as little as can be.
    """
    if not askers or not capacity:  # nothing binds: each takes what is cheapest, which moves for light alone
        cheapest = {asker.key: int(np.argmin([one.cost for one in asker.choices])) for asker in askers}
        return Fit(cheapest, 0, sum(asker.choices[cheapest[asker.key]].cost for asker in askers))
    programme = Programme(askers, fixed, capacity, start, math.ceil(days / WEEK))
    answer = solved(programme)
    picks = zip(askers, answer.chosen, programme.columns, strict=True)
    return Fit(
        chosen={asker.key: column - columns[0] for asker, column, columns in picks},
        left_over=round(programme.left_by(answer.chosen)),
        cost=float(programme.costs[answer.chosen].sum()),
        least_left_over=math.floor(answer.least_left + ROUNDING),
        gap=programme.worth(answer.chosen) - answer.least_worth,
    )
