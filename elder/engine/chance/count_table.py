"""How many to cut for one want, whatever the chances of being ready: tabulated once for every count.

With several scenarios the chance of enough plants is a mean over them, so no single chance of being ready tells the
count. For each count the chance of enough is tabulated over the chance of being ready; a cut day is then the histogram
of its scenarios over that table, and every count of every day comes of one product.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.chance.counting import (
    MOST_CUTTINGS,
    READ_SLACK,
    Take,
    chance_at_least,
    cuttings_needed,
    take_nodes,
)
from elder.engine.keeping import kept

STRETCH: Final = 3  # times the least count: more is not worth the day
STEPS: Final = 256  # of the chance of being ready; read by cubics between, to 1e-6
READY_STEPS: Final = np.arange(STEPS + 1) / STEPS
MOST_NODES: Final = 126  # so many cuttings are averaged over the take exactly; of more, to 1e-6


@dataclass(frozen=True, eq=False)
class CountTable:
    """For one want: the least count, and ``chances[i, j]``, the chance of enough of ``least`` + i cuttings where one
    that takes is ready with j / 256."""

    wanted: int
    take: Take
    confidence: float
    least: int
    chances: Floats

    @property
    def most(self) -> int:
        """The greatest count it holds."""
        return self.least + len(self.chances) - 1

    def chances_of(self, ready: Floats) -> Floats:
        """The chance of enough plants for every count, the mean over the scenarios; (scenarios, days) to (days,
        counts)."""
        return np.asarray(np.clip(histogram(ready) @ self.chances.T, 0.0, 1.0))

    def counts(self, ready: Floats) -> Ints:
        """The least count for each day; 0 where even the greatest will not do; (scenarios, days) to (days,).

        By halving, for more cuttings never lower a chance: so it costs much the same however many are asked for.
        """
        days, asked = histogram(ready), self.confidence - READ_SLACK
        low = np.zeros(len(days), dtype=np.int64)
        high = np.full(len(days), len(self.chances), dtype=np.int64)
        while (low < high).any():
            middle = (low + high) // 2
            row = np.minimum(middle, len(self.chances) - 1)
            enough = np.einsum("ds,ds->d", days, self.chances[row]) >= asked
            high = np.where(enough, middle, high)
            low = np.where(enough, low, np.minimum(middle + 1, high))
        return np.where(low < len(self.chances), self.least + low, 0)

    def chance(self, count: int, ready: Floats) -> float:
        """The chance of enough of so many cuttings, exactly; ``ready`` is of shape (scenarios,)."""
        return float(chance_at_least(self.wanted, count, chance_ready=ready, take=self.take).mean())


def histogram(ready: Floats) -> Floats:
    """How much of the scenarios lies at each step, for cubics through four steps; shape (days, steps + 1)."""
    scenarios, days = ready.shape
    at = np.clip(ready.T, 0.0, 1.0) * STEPS
    base = np.clip(at.astype(np.int64) - 1, 0, STEPS - 3)
    x = at - base
    weights = np.stack(
        (
            -(x - 1) * (x - 2) * (x - 3) / 6,
            x * (x - 2) * (x - 3) / 2,
            -x * (x - 1) * (x - 3) / 2,
            x * (x - 1) * (x - 2) / 6,
        )
    )
    cell = base + np.arange(days)[:, None] * (STEPS + 1)
    found = np.zeros(days * (STEPS + 1))
    for i in range(4):
        found += np.bincount((cell + i).ravel(), weights[i].ravel(), minlength=len(found))
    return np.asarray(found.reshape(days, STEPS + 1) / scenarios, dtype=np.float64)


@kept
def count_table(wanted: int, take: Take, confidence: float) -> CountTable | None:
    """The table from the least possible count to three times it; ``None`` past 500 cuttings.

    At least ``wanted`` of n are ready where the last of them is number ``wanted`` … n: a sum of negative binomials,
    each the one before times m(1−p)/(m−wanted+1).
    """
    least = cuttings_needed(wanted, chance_ready=1.0, take=take, confidence=confidence)
    if least is None:
        return None
    most = min(STRETCH * least, MOST_CUTTINGS)
    shares, weights = take_nodes(take, min(most, MOST_NODES))
    fails = 1 - READY_STEPS[:, None] * shares
    last = (READY_STEPS[:, None] * shares) ** wanted
    enough = np.array(last)
    chances = np.zeros((most - least + 1, STEPS + 1))
    for count in range(wanted, most + 1):
        if count >= least:
            chances[count - least] = enough @ weights
        last *= fails * (count / (count - wanted + 1))
        enough += last
    chances = np.clip(chances, 0.0, 1.0)
    chances.setflags(write=False)
    return CountTable(wanted, take, confidence, least, chances)
