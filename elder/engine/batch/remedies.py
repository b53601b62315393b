"""A want that runs short: the ways out with their numbers. Cutting more is ``underway.top_up``."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.batch.forecast import Standing, chance_of
from elder.engine.chance.counting import convolve_counts
from elder.engine.climate.normals import add_days

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


def warmer(here: Standing, there: Standing, *, chance: float) -> Warmer | None:
    """What a move gains, by the day half of those that will root have; ``None`` for too little."""
    now, then = here.root_day(0.5), there.root_day(0.5)
    if now is None or then is None or (now - then).days < LEAST_GAIN_DAYS:
        return None
    return Warmer((now - then).days, chance)
