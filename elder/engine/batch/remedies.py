"""A want that runs short: the ways out with their numbers. Cutting more is ``top_up``."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Bools, Floats
from elder.engine.batch.forecast import BatchForecast
from elder.engine.chance.count_table import READY_STEPS, histogram
from elder.engine.chance.counting import MOST_CUTTINGS, Take, chance_at_least, chance_of, convolve_counts
from elder.engine.climate.day_of_year import add_days

LATER_DAYS: Final = 120  # how much later is still looked at
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
    """What would put a shortfall right: cut ``count`` more on ``day``; it helps until ``until``."""

    count: int
    day: date
    until: date


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

    A day helps while three times the least extra count would do. ``None`` where no day does.
    """
    take, start = more.take, more.start
    by_day = histogram(more.chance_ready)
    have = convolve_counts(pmfs)
    short = [wanted - j for j in range(min(wanted, len(have)))]
    enough = float(have[wanted:].sum())

    def chance(extra: int, days: Floats) -> Floats:
        parts = [have[wanted - n] * chance_at_least(n, extra, chance_ready=READY_STEPS, take=take) for n in short]
        return np.asarray(enough + days @ np.sum(parts, axis=0))

    def least(day: Floats) -> int | None:
        low, high = 1, MOST_CUTTINGS  # by halving, for more cuttings never lower a chance
        if float(chance(high, day)) < confidence - 1e-9:
            return None
        while low < high:
            middle = (low + high) // 2
            low, high = (low, middle) if float(chance(middle, day)) >= confidence - 1e-9 else (middle + 1, high)
        return high

    best = least((READY_STEPS == 1.0).astype(np.float64))
    if best is None:
        return None
    helps = np.flatnonzero(more.can_cut & (chance(3 * best, by_day) >= confidence))
    if not len(helps):
        return None
    first = int(helps[0])
    count = least(by_day[first])
    return TopUp(count, add_days(start, first), add_days(start, int(helps[-1]))) if count else None
