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
import scipy
from numpy.typing import ArrayLike
from scipy.special import bdtr, bdtrc, gammaln, xlog1py, xlogy

from elder.engine.arrays import Floats, Ints

MOST_BY_PRODUCTS = 500  # of more the numbers of ways fit no double, nor do the least of the powers
MOST_CUTTINGS = 500  # beyond this the answer is "not this way"
TIE_SLACK = 1e-12  # a chance that is exactly the confidence must not fail by rounding
READ_SLACK = 1e-6  # a chance read off a table or over scenarios is known no better
DRAWN_STEPS = 100  # of the chance of being ready, for drawing


@dataclass(frozen=True)
class Take:
    """The share of cuttings that root at all: its mean, and how many cuttings of evidence it is worth."""

    mean: float
    weight: float

    def __post_init__(self) -> None:
        if not 0 <= self.mean <= 1 or not self.weight > 0:
            raise ValueError("a take lies between 0 and 1 and has a positive weight")

    @property
    def square(self) -> float:
        """The mean of its square."""
        if math.isinf(self.weight):
            return self.mean**2
        return self.mean * (self.mean * self.weight + 1) / (self.weight + 1)

    def then(self, other: Take) -> Take:
        """The share that passes both, one after the other: the Beta of the product's mean and variance."""
        if other.mean == 1.0:
            return self
        mean = self.mean * other.mean
        variance = self.square * other.square - mean**2
        if variance <= 0 or mean in (0.0, 1.0):
            return Take(mean, math.inf)
        return Take(mean, mean * (1 - mean) / variance - 1)


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
    roots, vectors = scipy.linalg.eigh_tridiagonal(middle, np.sqrt(np.concatenate(([first], rest))))
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


def sure_number(count: int, *, chance_ready: ArrayLike, take: Take, confidence: float) -> int:
    """The greatest number of plants that ``count`` cuttings give with that confidence: ``cuttings_needed``
    turned round. Chances in several scenarios, of shape (scenarios,), are averaged over."""
    low, high = 0, count
    while low < high:
        middle = (low + high + 1) // 2
        chance = float(chance_at_least(middle, count, chance_ready=chance_ready, take=take).mean())
        low, high = (middle, high) if chance >= confidence - READ_SLACK else (low, middle - 1)
    return low


def count_pmf(count: int, chances: Floats) -> Floats:
    """P(exactly j of ``count``), j = 0..count, for each chance; shape (\\*chances.shape, count + 1). By running
    products up to so many: a fifth of what logarithms take."""
    j = np.arange(count + 1)
    choose = gammaln(count + 1) - gammaln(j + 1) - gammaln(count - j + 1)
    p = np.clip(np.asarray(chances, dtype=np.float64), 0.0, 1.0)
    if count > MOST_BY_PRODUCTS:
        return np.asarray(np.exp(choose + xlogy(j, p[..., None]) + xlog1py(count - j, -p[..., None])))
    return np.asarray(np.exp(choose) * _powers_of(p, count))


def _powers_of(p: Floats, count: int) -> Floats:
    """Of each chance p, p to the j times 1 − p to the rest, j = 0..count along a new last axis."""
    some, rest = np.empty((count + 1, *p.shape)), np.empty((count + 1, *p.shape))
    some[0] = rest[count] = 1.0
    for j in range(count):
        some[j + 1] = some[j] * p
        rest[count - j - 1] = rest[count - j] * (1 - p)
    some *= rest
    return np.ascontiguousarray(np.moveaxis(some, 0, -1))


def thinned(pmfs: Floats, chances: Floats) -> Floats:
    """The distribution of how many of a count are there, each by a chance of its own and independent of the others;
    (laws, counts) and (laws, days) to (laws, days, counts). By Horner's rule in 1 − c + cz, which is what each of them
    adds to the generating function of the count."""
    there, not_yet, most = chances, 1 - chances, pmfs.shape[-1] - 1
    found = np.zeros((most + 1, *chances.shape))
    found[0] = pmfs[:, most, None]
    for k in range(1, most + 1):
        come = found[:k] * there
        found[:k] *= not_yet
        found[1 : k + 1] += come
        found[0] += pmfs[:, most - k, None]
    return np.ascontiguousarray(np.moveaxis(found, 0, -1))


def count_quantiles(count: int, chance_ready: Floats, take: Take, levels: tuple[float, ...]) -> Ints:
    """Quantiles of the number ready, over scenarios of chances; (scenarios, days) to (len(levels), days).

    For drawing: at most 32 nodes, which for hundreds of cuttings may be one out; and chances of being ready are read
    at a hundred steps.
    """
    shares, weights = take_nodes(take, min(count, 62))
    step = np.linspace(0.0, 1.0, DRAWN_STEPS + 1)
    below = np.tensordot(weights, bdtr(np.arange(count + 1), count, (shares[:, None] * step)[..., None]), axes=1)
    at = np.clip(chance_ready, 0.0, 1.0) * DRAWN_STEPS
    row = np.minimum(at.astype(np.int64), DRAWN_STEPS - 1)
    part = (at - row)[..., None]
    cdf = ((1 - part) * below[row] + part * below[row + 1]).mean(axis=0)
    return np.asarray([(cdf < level - TIE_SLACK).sum(axis=-1) for level in levels], dtype=np.int64)


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
