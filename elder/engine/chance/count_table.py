"""How many to cut for one want, whatever the chances of being ready: tabulated once for every count.

With several scenarios the chance of enough plants is a mean over them, so no single chance of being ready tells the
count. For each count the chance of enough is tabulated over the chance of being ready; a cut day is then the histogram
of its scenarios over that table, and every count of every day comes of one product.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.special import xlogy

from elder.engine.arrays import Floats, Ints
from elder.engine.chance.counting import MOST_CUTTINGS, READ_SLACK, TIE_SLACK, Take
from elder.engine.keeping import kept

STRETCH: Final = 3  # times the least count: more is not worth the day
STEPS: Final = 256  # of the chance of being ready; read by cubics between, to 1e-6
AT_ONCE: Final = 16  # counts of the table that are asked of all days before it is halved
READY_STEPS: Final = np.arange(STEPS + 1) / STEPS


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

        Every so many counts at once, then by halving between two of them, for more cuttings never lower a chance: so it
        costs much the same however many are asked for.
        """
        days, asked = histogram(ready), self.confidence - READ_SLACK
        apart = -(-len(self.chances) // AT_ONCE)
        short = (days @ self.chances[::apart].T < asked).sum(axis=1)
        low = np.where(short > 0, (short - 1) * apart + 1, 0)
        high = np.minimum(short * apart, len(self.chances))
        while (low < high).any():
            middle = (low + high) // 2
            row = np.minimum(middle, len(self.chances) - 1)
            enough = np.einsum("ds,ds->d", days, self.chances[row]) >= asked
            high = np.where(enough, middle, high)
            low = np.where(enough, low, np.minimum(middle + 1, high))
        return np.where(low < len(self.chances), self.least + low, 0)

    def chance(self, count: int, ready: Floats) -> float:
        """The chance of enough of so many cuttings, exactly; ``ready`` is of shape (scenarios,)."""
        if count < self.wanted:
            return 0.0
        taking = takes_of(self.take).of(np.array([count]), self.wanted)[0]
        sure = np.clip(ready, 0.0, 1.0)  # sums of chances pass 1 by a last digit
        return float(np.clip(taking @ _enough_of(self.wanted, count, sure), 0.0, 1.0).mean())


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

    Of n cuttings j take, beta-binomially; of j at least ``wanted`` are ready where the last of them is number
    ``wanted`` … j, a sum of negative binomials. One product of the two is exact in the take and costs much the same for
    8 plants and for 300.
    """
    takes = takes_of(take)
    least = _least_count(takes, wanted, confidence)
    if least is None:
        return None
    counts = np.arange(least, min(STRETCH * least, MOST_CUTTINGS) + 1)
    chances = np.clip(takes.of(counts, wanted) @ _enough_of(wanted, int(counts[-1]), READY_STEPS), 0.0, 1.0)
    chances.setflags(write=False)
    return CountTable(wanted, take, confidence, least, chances)


@dataclass(frozen=True, eq=False)
class Takes:
    """ln of the chance that j of n take is ``of_all[n] + of_taking[j] + of_failing[n - j]``; each of shape (501,)."""

    of_all: Floats
    of_taking: Floats
    of_failing: Floats

    def of(self, counts: Ints, wanted: int) -> Floats:
        """The chance that ``wanted`` … of so many take; shape (counts, greatest count - wanted + 1)."""
        taking = np.arange(wanted, int(counts[-1]) + 1)
        failing = counts[:, None] - taking
        ln = self.of_all[counts][:, None] + self.of_taking[taking] + self.of_failing[np.maximum(failing, 0)]
        return np.asarray(np.exp(np.where(failing >= 0, ln, -np.inf)))


def takes_of(take: Take) -> Takes:
    """Rising factorials by running sums of logarithms, which lose nothing where the evidence is worth millions."""
    numbers = np.arange(MOST_CUTTINGS + 1)
    factorial = _running_logs(1.0)
    if math.isinf(take.weight) or take.mean in (0.0, 1.0):  # one take and no other: the binomial
        return Takes(factorial, xlogy(numbers, take.mean) - factorial, xlogy(numbers, 1 - take.mean) - factorial)
    alpha, beta = take.mean * take.weight, (1 - take.mean) * take.weight
    return Takes(
        factorial - _running_logs(take.weight), _running_logs(alpha) - factorial, _running_logs(beta) - factorial
    )


def _running_logs(first: float) -> Floats:
    """ln of first·(first + 1)·…, of none to 500 of them; shape (501,)."""
    return np.concatenate(([0.0], np.cumsum(np.log(first + np.arange(MOST_CUTTINGS)))))


def _least_count(takes: Takes, wanted: int, confidence: float) -> int | None:
    """The least count of which enough take, by halving: more cuttings never lower the chance."""
    low, high = wanted, MOST_CUTTINGS + 1
    while low < high:
        middle = (low + high) // 2
        enough = takes.of(np.array([middle]), wanted).sum() >= confidence - TIE_SLACK
        low, high = (low, middle) if enough else (middle + 1, high)
    return low if low <= MOST_CUTTINGS else None


def _enough_of(wanted: int, most: int, ready: Floats) -> Floats:
    """The chance that at least ``wanted`` of j that take are ready, for j from ``wanted`` to ``most`` and each chance
    of being ready; shape (most - wanted + 1, len(ready))."""
    factorial = _running_logs(1.0)
    more = np.arange(most - wanted + 1)
    ways = factorial[wanted - 1 + more] - factorial[wanted - 1] - factorial[more]
    ln = ways[:, None] + xlogy(wanted, ready) + xlogy(more[:, None], 1 - ready)
    return np.cumsum(np.exp(ln), axis=0)
