"""Two arms of a trial, judged as a statistician would: never more sure than the counts allow.

Sources: Newcombe 1998, Statistics in Medicine 17: 873–890, method 10, for the interval of the difference; Fisher's and
Boschloo's exact tests as scipy has them; the chance that one is better from independent Beta(1, 1) posteriors.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Final, Literal

import numpy as np
from scipy.special import betaincc, gammaln, ndtri

from elder.engine.arrays import Bools, Floats, Ints
from elder.engine.chance.counting import Take, count_pmf, take_nodes
from elder.engine.record.scoring import wilson

Verdict = Literal["too few", "leaning", "clear"]

MOST_EACH: Final = 500
LEVEL: Final = 0.05
POWER: Final = 0.80
CLEAR: Final = 0.975
LEANING: Final = 0.90
# Of what the normal approximation asks, where the search for the least begins: Fisher's test asks for more than that,
# but for small numbers, whose powers go up and down.
FAR_BELOW: Final = ((40.0, 0.6), (math.inf, 0.95))


@dataclass(frozen=True)
class Compared:
    """A beside B. ``chance_a_better``; the ``difference`` A − B and its 95% ``interval``; ``p``: Boschloo's, two-sided,
    ``fisher`` beside it; ``needed_each``: the fewest a side that would settle it, if the shares are as they look
    (``None``: more than 500, or the shares are equal)."""

    rooted: tuple[int, int]
    total: tuple[int, int]
    chance_a_better: float
    difference: float
    interval: tuple[float, float]
    p: float
    fisher: float
    needed_each: int | None

    def verdict(self, *, early: bool = False) -> Verdict:
        """In words; ``early``: looked at before the day that was set, when it leans at the most."""
        surest = max(self.chance_a_better, 1 - self.chance_a_better)
        if surest >= CLEAR and self.p <= LEVEL and not early:
            return "clear"
        return "leaning" if surest >= LEANING else "too few"


@lru_cache(maxsize=512)
def compare(rooted_a: int, total_a: int, rooted_b: int, total_b: int) -> Compared:
    """Two arms beside each other. Raises ValueError for an arm of nothing, or more rooted than there were."""
    from scipy.stats import boschloo_exact, fisher_exact  # it takes half a second to come, and few pages ask

    if not (0 <= rooted_a <= total_a and 0 <= rooted_b <= total_b and total_a and total_b):
        raise ValueError("an arm has one at least, and no more rooted than it had")
    table = np.array([[rooted_a, rooted_b], [total_a - rooted_a, total_b - rooted_b]])
    return Compared(
        rooted=(rooted_a, rooted_b),
        total=(total_a, total_b),
        chance_a_better=chance_better((rooted_a, total_a), (rooted_b, total_b)),
        difference=rooted_a / total_a - rooted_b / total_b,
        interval=newcombe((rooted_a, total_a), (rooted_b, total_b)),
        p=float(boschloo_exact(table, alternative="two-sided").pvalue),
        fisher=float(fisher_exact(table).pvalue),
        needed_each=needed_each(rooted_a / total_a, rooted_b / total_b),
    )


def chance_better(a: tuple[int, int], b: tuple[int, int]) -> float:
    """The chance that A's share is above B's, with flat priors; each ``(rooted, total)``.

    The survival of a Beta with whole parameters is a polynomial, so quadrature over the other's Beta is exact.
    """
    share_b = Take((b[0] + 1) / (b[1] + 2), b[1] + 2)
    nodes, weights = take_nodes(share_b, a[1] + 2)
    return float(np.clip(weights @ betaincc(a[0] + 1, a[1] - a[0] + 1, nodes), 0.0, 1.0))


def newcombe(a: tuple[int, int], b: tuple[int, int], confidence: float = 0.95) -> tuple[float, float]:
    """The interval of the difference of two shares by the hybrid of both Wilson intervals."""
    one, other = a[0] / a[1], b[0] / b[1]
    (low_a, high_a), (low_b, high_b) = wilson(*a, confidence), wilson(*b, confidence)
    low = one - other - math.hypot(one - low_a, high_b - other)
    return low, one - other + math.hypot(high_a - one, other - low_b)


@lru_cache(maxsize=512)
def needed_each(share_a: float, share_b: float) -> int | None:
    """The least number a side with which Fisher's two-sided test at 5% finds the difference with power 0.80."""
    if abs(share_a - share_b) < 1e-9:
        return None
    middle = (share_a + share_b) / 2
    spread = float(ndtri(1 - LEVEL / 2)) * math.sqrt(2 * middle * (1 - middle))
    spread += float(ndtri(POWER)) * math.sqrt(share_a * (1 - share_a) + share_b * (1 - share_b))
    about = (spread / (share_a - share_b)) ** 2
    first = max(int(next(share for bound, share in FAR_BELOW if about <= bound) * about), 2)
    return next((n for n in range(first, MOST_EACH + 1) if power(share_a, share_b, n) >= POWER), None)


def power(share_a: float, share_b: float, each: int) -> float:
    """The chance that Fisher's two-sided test at 5% tells two arms of ``each`` apart: every outcome is weighed."""
    chances = np.outer(_pmf(each, share_a), _pmf(each, share_b))
    return float(chances[_told_apart(each)].sum())


def _told_apart(each: int) -> Bools:
    """Which outcomes (rooted in A, rooted in B) the test tells apart. With arms of one size the law of one arm's count,
    given both together, is symmetric: both tails are twice one."""
    k = np.arange(each + 1)
    ways = _choose(each, k)
    together = k[:, None] + k[None, :]
    logs = ways[:, None] + ways[None, :]
    # Along one sum of both counts the tail of the smaller one runs down an antidiagonal: cumulate from its end.
    tails = np.zeros_like(logs)
    for i in range(each + 1):
        before = np.concatenate((tails[i - 1, 1:], [0.0])) if i else np.zeros(each + 1)
        tails[i] = before + np.exp(logs[i] - _choose(2 * each, together[i]))
    lower = np.where(k[:, None] <= k[None, :], tails, tails.T)
    return np.asarray((2 * lower <= LEVEL + 1e-12) & (k[:, None] != k[None, :]), dtype=bool)


def _choose(n: int, k: Ints) -> Floats:
    return np.asarray(gammaln(n + 1) - gammaln(k + 1) - gammaln(n - k + 1), dtype=np.float64)


def _pmf(n: int, share: float) -> Floats:
    """The binomial law of a count."""
    return np.asarray(count_pmf(n, np.array(share)))


def to_find(difference: float, share: float = 0.6) -> int | None:
    """How many an arm wants, for a difference one cares about between shares that lie about ``share``."""
    half = difference / 2
    middle = min(max(share, half + 0.005), 1 - half - 0.005)
    return needed_each(middle - half, middle + half)
