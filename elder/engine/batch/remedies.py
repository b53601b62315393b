"""A want that runs short: the ways out with their numbers. Cutting more is ``top_up``."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Bools, Floats
from elder.engine.batch.forecast import BatchForecast
from elder.engine.chance.count_table import READY_STEPS, STRETCH, Takes, histogram, takes_of
from elder.engine.chance.counting import MOST_CUTTINGS, Take, chance_of, convolve_counts
from elder.engine.climate.day_of_year import add_days

LATER_DAYS: Final = 120  # how much later is still looked at
TOLD: Final = 1e-9  # nearer than this to what was asked a chance is as much
LEAST_GAIN_DAYS: Final = 2  # a move that gains less is not worth the carrying (assumed)


def fewer(pmfs: Sequence[Floats], confidence: float) -> int:
    """The greatest number that is as sure as was asked for; 0 for none."""
    have = convolve_counts(list(pmfs))
    chances = np.cumsum(have[::-1])[::-1]
    sure = np.flatnonzero(chances >= confidence - 1e-12)
    return int(sure[-1]) if len(sure) else 0


def later(
    pmfs_on: Callable[[date], list[Floats]], wanted: int, confidence: float, *, target: date, shuts: date | None
) -> date | None:
    """The first day after the target on which the number wanted is as sure as was asked for; ``None`` where there
    is none within four months, or before the gate shuts."""
    last = LATER_DAYS if shuts is None else min(LATER_DAYS, (shuts - target).days)
    if last < 1 or chance_of(pmfs_on(add_days(target, last)), wanted) < confidence:
        return None
    low, high = 0, last  # more are ready on every later day, so the day is found by halving
    while high - low > 1:
        middle = (low + high) // 2
        if chance_of(pmfs_on(add_days(target, middle)), wanted) >= confidence:
            high = middle
        else:
            low = middle
    return add_days(target, high)


@dataclass(frozen=True)
class Warmer:
    """What moving those still waiting to another place gains: days, and the chance that becomes of it."""

    days: int
    chance: float


def warmer(here: BatchForecast, there: BatchForecast, *, chance: float) -> Warmer | None:
    """What a move gains, by the day half of those that will root have; ``None`` for too little."""
    now, then = here.root_day(0.5), there.root_day(0.5)
    if now is None or then is None or (now - then).days < LEAST_GAIN_DAYS:
        return None
    return Warmer((now - then).days, chance)


@dataclass(frozen=True)
class TopUp:
    """What would put a shortfall right: cut ``count`` more on ``day``. So many still do on every day with wood until
    ``lasts``; then it takes more, and ``until`` is the last day on which ``most`` do."""

    count: int
    day: date
    lasts: date
    until: date
    most: int


@dataclass(frozen=True, eq=False)
class CutsAhead:
    """What cutting more could do: from ``start`` on, by day, the chance in each scenario that one cut then and taking
    is ready in time, of shape (scenarios, days); whether it can be cut then; with the take."""

    start: date
    chance_ready: Floats
    can_cut: Bools
    take: Take


def top_up(
    pmfs: list[Floats],
    wanted: int,
    confidence: float,
    more: CutsAhead,
) -> TopUp | None:
    """The least extra cuttings that bring the chance to ``confidence``, cut on the first day that can.

    A day helps while three times the least extra count would do, or as many as anybody cuts. ``None`` where no day
    does.
    """
    takes, have = takes_of(more.take), convolve_counts(pmfs)
    # The chance of enough where j more take and all of those are ready: what is wanted less j is there already.
    there = np.append(np.cumsum(have[::-1])[::-1], 0.0)
    sure = there[np.clip(wanted - np.arange(MOST_CUTTINGS + 1), 0, len(have))]
    best = _least(takes, sure, confidence)
    if best is None:
        return None
    most = min(STRETCH * best, MOST_CUTTINGS)
    enough = _enough_with(have, wanted, most) @ histogram(more.chance_ready).T
    by_day = takes.of(np.array([most]), 0)[0] @ enough
    helps = np.flatnonzero(more.can_cut & (by_day >= confidence))
    if not len(helps):
        return None
    first, last = int(helps[0]), int(helps[-1])
    count = _least(takes, enough[:, first], confidence)
    if count is None:
        return None
    does = takes.of(np.array([count]), 0)[0] @ enough[: count + 1] >= confidence - TOLD
    later = np.flatnonzero(more.can_cut & ~does)
    later = later[later > first]  # days on which so many do not
    end = int(later[0]) if len(later) else len(does)
    lasts = int(np.flatnonzero((more.can_cut & does)[:end])[-1])
    day, lasting, until = (add_days(more.start, at) for at in (first, lasts, last))
    return TopUp(count, day, lasting, until, most)


def _least(takes: Takes, enough: Floats, confidence: float) -> int | None:
    """The least number of cuttings with which the chance is ``confidence``, by halving, for more never lower it;
    ``enough``: the chance where j of them take, of shape (greatest number + 1,)."""

    def chance(count: int) -> float:
        return float(takes.of(np.array([count]), 0)[0] @ enough[: count + 1])

    low, high = 1, len(enough) - 1
    if chance(high) < confidence - TOLD:
        return None
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if chance(middle) >= confidence - TOLD else (middle + 1, high)
    return high


def _enough_with(have: Floats, wanted: int, most: int) -> Floats:
    """The chance of ``wanted`` with j more that take, each ready with the chance of a step; shape (most + 1, steps).

    One after the other: each is ready or not, and the count there is, up to what is wanted, goes up by one or stays.
    """
    ready = READY_STEPS[:, None]
    counts = np.zeros((len(READY_STEPS), wanted + 1))
    counts[:, : min(wanted, len(have))] = have[:wanted]
    counts[:, wanted] = have[wanted:].sum()
    found = [counts[:, wanted]]
    for _ in range(most):
        gone_up = ready * counts
        counts = counts - gone_up
        counts[:, 1:] += gone_up[:, :-1]
        counts[:, wanted] += gone_up[:, wanted]
        found.append(counts[:, wanted])
    return np.array(found)
