"""How many to cut: the chance that enough plants come of a batch, and the least batch that will do.

The take of a batch is not known, only believed: Beta(mean·weight, (1−mean)·weight). The chance that
at least N of n are ready is the binomial tail averaged over that belief. The tail is a polynomial of
degree n in the take, so Gauss–Jacobi quadrature with n/2 + 1 nodes gives the average exactly.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike
from scipy.linalg import eigh_tridiagonal
from scipy.optimize.elementwise import find_root
from scipy.special import bdtr, bdtrc, gammaln, xlog1py, xlogy

from elder.engine.arrays import Floats, Ints

MOST_CUTTINGS = 500  # beyond this the answer is "not this way"
TIE_SLACK = 1e-12  # a chance that is exactly the confidence must not fail by rounding
ROOT_WIDTH = 1e-9  # how closely a chance of being ready is found


@dataclass(frozen=True)
class Take:
    """The share of cuttings that root at all: its mean, and how many cuttings of evidence it is worth."""

    mean: float
    weight: float

    def __post_init__(self) -> None:
        if not 0 <= self.mean <= 1 or not self.weight > 0:
            raise ValueError("a take lies between 0 and 1 and has a positive weight")


@lru_cache(maxsize=512)
def take_nodes(take: Take, count: int) -> tuple[Floats, Floats]:
    """Takes and their weights that average any polynomial of degree ``count`` exactly over the belief."""
    if math.isinf(take.weight) or take.mean in (0.0, 1.0):
        return np.array([take.mean]), np.array([1.0])
    wanted = count // 2 + 1
    nodes = next(size for size in (8, 16, 32, 64, 128, 256) if size >= min(wanted, 256))
    return _beta_quadrature(take.mean * take.weight, (1 - take.mean) * take.weight, nodes)


def _beta_quadrature(alpha: float, beta: float, nodes: int) -> tuple[Floats, Floats]:
    """Gauss nodes and weights for Beta(alpha, beta) on 0..1, by the eigenvalues of the Jacobi matrix.

    Golub & Welsch 1969, Mathematics of Computation 23: 221–230 (from memory). scipy's own
    ``roots_sh_jacobi`` scales by 2**(alpha + beta) and overflows from about 1000 cuttings of evidence.
    """
    a, b = beta - 1, alpha - 1
    k = np.arange(1, nodes)
    s = 2 * k + a + b
    middle = np.concatenate(([(b - a) / (a + b + 2)], (b * b - a * a) / (s * (s + 2))))
    first = 4 * (1 + a) * (1 + b) / ((a + b + 2) ** 2 * (a + b + 3))
    j, sj = k[1:], s[1:]
    rest = 4 * j * (j + a) * (j + b) * (j + a + b) / (sj**2 * (sj + 1) * (sj - 1))
    roots, vectors = eigh_tridiagonal(middle, np.sqrt(np.concatenate(([first], rest))))
    return np.clip((roots + 1) / 2, 0.0, 1.0), vectors[0] ** 2


def chance_at_least(wanted: int, count: ArrayLike, *, chance_ready: ArrayLike, take: Take) -> Floats:
    """P(at least ``wanted`` of ``count`` are ready), arrays broadcasting; to better than 1e-4.

    ``chance_ready`` is the chance that one which takes is ready by the day. With 1 it is the
    beta-binomial.
    """
    n, q = np.broadcast_arrays(np.asarray(count, dtype=np.int64), np.asarray(chance_ready, dtype=np.float64))
    if wanted <= 0:
        return np.ones(n.shape)
    shares, weights = take_nodes(take, int(n.max(initial=1)))
    tail = bdtrc(wanted - 1, np.maximum(n, wanted)[..., None], shares * q[..., None])
    return np.asarray(np.where(n >= wanted, np.clip(tail @ weights, 0.0, 1.0), 0.0))


def cuttings_needed(wanted: int, *, chance_ready: float, take: Take, confidence: float) -> int | None:
    """The least number of cuttings that gives ``wanted`` with that confidence; ``None`` past 500."""

    def enough(count: int) -> bool:
        chance = chance_at_least(wanted, count, chance_ready=chance_ready, take=take)
        return bool(chance >= confidence - TIE_SLACK)

    if wanted <= 0:
        return 0
    low, high = wanted, max(wanted, 16)
    while not enough(high):
        if high >= MOST_CUTTINGS:
            return None
        low, high = high + 1, min(2 * high, MOST_CUTTINGS)
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if enough(middle) else (middle + 1, high)
    return high


def sure_number(count: int, *, chance_ready: float, take: Take, confidence: float) -> int:
    """The greatest number of plants that ``count`` cuttings give with that confidence: ``cuttings_needed``
    turned round."""
    low, high = 0, count
    while low < high:
        middle = (low + high + 1) // 2
        chance = float(chance_at_least(middle, count, chance_ready=chance_ready, take=take))
        low, high = (middle, high) if chance >= confidence - TIE_SLACK else (low, middle - 1)
    return low


@dataclass(frozen=True, eq=False)
class CountLadder:
    """For one want: the least count, and the chance of being ready that each count from there wants.

    ``least`` + i cuttings do where the chance is ``chances[i]`` or more; the chances fall.
    """

    least: int
    chances: Floats

    @property
    def most(self) -> int:
        """The greatest count on the ladder."""
        return self.least + len(self.chances) - 1

    def counts(self, chance_ready: ArrayLike) -> Ints:
        """The least count for each chance of being ready; 0 where even the greatest will not do."""
        step = np.searchsorted(-self.chances, -np.asarray(chance_ready, dtype=np.float64), side="left")
        return np.where(step < len(self.chances), self.least + step, 0).astype(np.int64)


@lru_cache(maxsize=1024)
def count_ladder(wanted: int, take: Take, confidence: float, stretch: float = 3.0) -> CountLadder | None:
    """The ladder from the least possible count to ``stretch`` times it; ``None`` past 500 cuttings.

    One root search for all counts at once; then a whole season of days is a look-up.
    """
    least = cuttings_needed(wanted, chance_ready=1.0, take=take, confidence=confidence)
    if least is None:
        return None
    counts = np.arange(least, min(int(stretch * least), MOST_CUTTINGS) + 1)

    def spare(chance_ready: Floats, count: Ints) -> Floats:
        return chance_at_least(wanted, count, chance_ready=chance_ready, take=take) - confidence + TIE_SLACK

    found = find_root(spare, (0.0, 1.0), args=(counts,), tolerances={"xatol": ROOT_WIDTH / 4, "xrtol": 0.0})
    # The upper end of the bracket: the lower one would fall short by rounding.
    return CountLadder(least, np.minimum(found.x + ROOT_WIDTH, 1.0))


def count_pmf(count: int, chances: Floats) -> Floats:
    """P(exactly j of ``count``), j = 0..count, for each chance; shape (\\*chances.shape, count + 1)."""
    j = np.arange(count + 1)
    choose = gammaln(count + 1) - gammaln(j + 1) - gammaln(count - j + 1)
    p = np.clip(np.asarray(chances, dtype=np.float64), 0.0, 1.0)[..., None]
    return np.asarray(np.exp(choose + xlogy(j, p) + xlog1py(count - j, -p)))


def count_quantiles(count: int, chance_ready: Floats, take: Take, levels: tuple[float, ...]) -> Ints:
    """Quantiles of the number ready for each chance; shape (len(levels), \\*chance_ready.shape).

    For drawing: at most 32 nodes, which for hundreds of cuttings may be one out.
    """
    shares, weights = take_nodes(take, min(count, 62))
    j = np.arange(count + 1)
    below = bdtr(j, count, (shares[:, None] * np.ravel(chance_ready))[..., None])
    cdf = np.tensordot(weights, below, axes=1)
    found = [(cdf < level - TIE_SLACK).sum(axis=-1) for level in levels]
    return np.asarray(found, dtype=np.int64).reshape(len(levels), *np.shape(chance_ready))


def convolve_counts(pmfs: list[Floats]) -> Floats:
    """The distribution of the sum of independent counts; shape (sum of counts + 1,)."""
    total = np.ones(1)
    for pmf in pmfs:
        total = np.convolve(total, pmf)
    return total


def left_after(pmf: Floats, taken: int) -> Floats:
    """The distribution of what is left of a count once ``taken`` of it have gone to others, nought at least."""
    if taken <= 0:
        return pmf
    left = np.zeros(max(len(pmf) - taken, 1))
    left[0] = pmf[: taken + 1].sum()
    left[1:] = pmf[taken + 1 :]
    return left


def chance_of(pmfs: list[Floats], wanted: int) -> float:
    """The chance that several independent batches together give ``wanted``."""
    return float(convolve_counts(pmfs)[wanted:].sum())
