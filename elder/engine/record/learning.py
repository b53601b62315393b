"""A gardener's own take and days, from looks as they were made, with honest weight.

Every batch draws its own take, Beta(mean·κ, (1 − mean)·κ), and its own speed about the way's median. What is not known
(the mean take, κ: how alike batches are, and the median) lies on a grid; what each batch draws for itself is integrated
out. The handbook is the prior. Model: section 9 of the design; cure models with interval censoring go back to Farewell
1982, Biometrics 38: 1041–1046 (from memory).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Final

import numpy as np
import scipy
from scipy.special import expit

from elder.engine.arrays import Floats
from elder.engine.chance.counting import Take
from elder.engine.chance.rooting_time import Lognormal
from elder.engine.keeping import cached_property
from elder.engine.record.looks import Look
from elder.engine.record.told import GRID, Together, asked_of, told

SPECIAL_CUTTINGS: Final = 10  # the general counts for no more than so many cuttings of the special (assumed)
FINE_TAKES: Final = 321
FINE_MEDIANS: Final = 85
INTERVAL: Final = (0.05, 0.95)  # 90%, unless a name says otherwise
MOST_SHARE: Final = 0.999
LEAST_LOG: Final = -700.0  # of a weight beside the greatest
# Takes and κ whose best median is so far below the best of all are passed over, in logs: between two nodes a spline may
# stand higher than at either, yet not by that.
FAR_BELOW: Final = 80.0


@dataclass(frozen=True)
class Failing:
    """When one that will never root shows it: ``ratio`` times the rooting median, with a log-spread ``sigma``; but a
    share ``any_time`` rots or collapses at any time, whatever the median (all assumed). Without that share a few that
    rotted in their first days would say that the batch is twice as fast as it is."""

    ratio: float = 2.0
    sigma: float = 0.5
    any_time: float = 0.2


@dataclass(frozen=True)
class Prior:
    """What is believed before a garden's own batches: the ``take`` of a way (mean, and how many cuttings it is worth),
    its ``rooting`` in units of warmth, how far out that median may be and how unlike batches are (log-sd).
    ``alike``: values of κ, each as likely."""

    take: Take
    rooting: Lognormal
    median_log_sd: float = 0.30
    speed_sd: float = 0.20
    alike: tuple[float, ...] = (4.0, 8.0, 16.0, 32.0, 64.0)
    failing: Failing = field(default_factory=Failing)


@dataclass(frozen=True, eq=False)
class Learned:
    """What is believed after them. ``takes`` and ``take_chances``: the mean take, and the chance of each; ``medians``
    and ``median_chances``: the median in units of warmth; shapes (321,) and (85,). ``take``: what the planner averages
    over, the take of the next batch. ``mean_take``: the way's own, without what batches differ by."""

    prior: Prior
    takes: Floats
    take_chances: Floats
    medians: Floats
    median_chances: Floats
    take: Take
    mean_take: Take

    @cached_property
    def take_interval(self) -> tuple[float, float]:
        """In which the mean take lies with 9 in 10."""
        return _interval(self.takes, self.take_chances)

    @cached_property
    def median(self) -> float:
        """The median, in units of warmth."""
        return float(np.exp(self.median_chances @ np.log(self.medians)))

    @cached_property
    def median_interval(self) -> tuple[float, float]:
        """In which it lies with 9 in 10."""
        return _interval(self.medians, self.median_chances)

    @cached_property
    def median_log_sd(self) -> float:
        """How far out it may still be."""
        logs = np.log(self.medians)
        mean = self.median_chances @ logs
        return float(np.sqrt(self.median_chances @ (logs - mean) ** 2))

    @property
    def rooting(self) -> Lognormal:
        """The rooting time as it is believed now."""
        return Lognormal(self.median, self.prior.rooting.sigma)

    @property
    def pace(self) -> float:
        """How many times the prior's days one's own are: under 1 for sooner."""
        return self.median / self.prior.rooting.median

    @property
    def yours(self) -> float:
        """Of the weight behind the take, the share that is one's own batches'."""
        return float(np.clip(1 - self.prior.take.weight / self.mean_take.weight, 0.0, 1.0))

    @property
    def days_yours(self) -> float:
        """Of what is known of the days, the share that is one's own batches'."""
        if self.prior.median_log_sd <= 0:
            return 0.0
        return float(np.clip(1 - (self.median_log_sd / self.prior.median_log_sd) ** 2, 0.0, 1.0))

    def as_prior(self, speed_sd: float | None = None) -> Prior:
        """As the prior of the special: worth ten cuttings of it at most."""
        speed = self.prior.speed_sd if speed_sd is None else speed_sd
        least_sd = float(np.hypot(self.prior.rooting.sigma / np.sqrt(SPECIAL_CUTTINGS), speed))
        return replace(
            self.prior,
            take=Take(self.mean_take.mean, min(self.mean_take.weight, SPECIAL_CUTTINGS)),
            rooting=self.rooting,
            median_log_sd=max(self.median_log_sd, least_sd),
            speed_sd=speed,
        )


def learn(prior: Prior, batches: Sequence[Sequence[Look]], *, together: Sequence[object] = ()) -> Learned:
    """What the looks at some batches make of a prior; with none it is the prior itself.

    ``together``, of the same length where given, names the luck a batch shares: batches of one name draw one take
    between them, each its own speed. Raises ValueError for names of another length.
    """
    if together and len(together) != len(batches):
        raise ValueError("every batch has a name for its luck, or none has")
    found: dict[object, list[Together]] = {}
    for i, looks in enumerate(batches):
        found.setdefault(together[i] if together else i, []).append(tuple(looks))
    return _learned(prior, told(asked_of(prior), [tuple(group) for group in found.values()]))


def _learned(prior: Prior, total: Floats) -> Learned:
    """The posterior on a fine grid; where it is too narrow for that, on a finer one about its middle."""
    logits = np.linspace(GRID.logits[0], GRID.logits[-1], FINE_TAKES)
    offsets = np.linspace(-GRID.reach, GRID.reach, FINE_MEDIANS)
    by_median_first = np.ascontiguousarray(np.moveaxis(total, 2, 0))
    for _ in range(4):
        by_alike, by_median = _weights(prior, by_median_first, logits, offsets)
        by_take = by_alike.sum(axis=1)
        logits, wide = _closer(logits, by_take, (GRID.logits[0], GRID.logits[-1]))
        offsets, slow = _closer(offsets, by_median, (-GRID.reach, GRID.reach))
        if wide and slow:
            break
    takes = expit(logits)
    mean = float(by_take @ takes)
    square = float((takes**2) @ by_take)
    kappa = np.array(prior.alike)
    within = np.where(np.isinf(kappa), 0.0, 1 / (1 + kappa))
    spread = float((by_alike * (takes * (1 - takes))[:, None] * within).sum())
    return Learned(
        prior=prior,
        takes=takes,
        take_chances=by_take,
        medians=prior.rooting.median * np.exp(offsets * prior.median_log_sd),
        median_chances=by_median,
        take=_take_of(mean, square - mean**2 + spread),
        mean_take=_take_of(mean, square - mean**2),
    )


def _weights(prior: Prior, total: Floats, logits: Floats, offsets: Floats) -> tuple[Floats, Floats]:
    """The posterior of each take and κ, and that of each median; shapes (takes, κ) and (medians,). ``total``: what was
    told; shape (medians, takes, κ), as rows that are long are gone through five times as fast as short ones."""
    by_take = _spline(GRID.logits, tuple(logits)) @ total
    a, b = prior.take.mean * prior.take.weight, (1 - prior.take.mean) * prior.take.weight
    # log m and log (1 − m) of a logit x are −log(1 + e^−x) and −log(1 + e^x); the step from m to x is m(1 − m).
    logs = -a * np.logaddexp(0, -logits) - b * np.logaddexp(0, logits)
    by_take += logs[:, None]
    rows = by_take.reshape(len(by_take), -1)
    most = (rows - (np.square(GRID.offsets) / 2)[:, None]).max(axis=0)
    likely = np.flatnonzero(most >= most.max() - FAR_BELOW)
    finer = _spline(GRID.offsets, tuple(offsets)) @ rows[:, likely]  # one product, not many
    finer -= (offsets**2 / 2)[:, None]
    # In place, and no lower than a double holds in full: a megabyte anew and less than that cost three times as much.
    finer -= finer.max()
    np.exp(np.maximum(finer, LEAST_LOG, out=finer), out=finer)
    finer /= finer.sum()
    by_alike = np.zeros(rows.shape[1])
    by_alike[likely] = finer.sum(axis=0)
    return by_alike.reshape(by_take.shape[1:]), finer.sum(axis=1)


@lru_cache(maxsize=64)
def _spline(nodes: tuple[float, ...], at: tuple[float, ...]) -> Floats:
    """The matrix that reads a cubic spline through values at ``nodes`` at other points."""
    return np.asarray(_through(nodes)(np.array(at)))


@lru_cache(maxsize=8)
def _through(nodes: tuple[float, ...]) -> scipy.interpolate.CubicSpline:
    """The splines through one at a node and none at the others, node by node."""
    return scipy.interpolate.CubicSpline(nodes, np.eye(len(nodes)))


def _closer(points: Floats, chances: Floats, ends: tuple[float, float]) -> tuple[Floats, bool]:
    """The points again, or as many about the middle where all that is likely lies between a few of them."""
    mean = float(points @ chances)
    sd = float(np.sqrt(max(float(chances @ (points - mean) ** 2), 1e-12)))
    step = float(points[1] - points[0])
    if sd >= 1.5 * step:
        return points, True
    reach = max(8 * sd, 6 * step)
    return np.linspace(max(mean - reach, ends[0]), min(mean + reach, ends[1]), len(points)), False


def _take_of(mean: float, variance: float) -> Take:
    """The Beta of that mean and variance."""
    mean = float(np.clip(mean, 1 - MOST_SHARE, MOST_SHARE))
    return Take(mean, max(mean * (1 - mean) / max(variance, 1e-12) - 1, 0.1))


def _interval(points: Floats, chances: Floats) -> tuple[float, float]:
    below = np.cumsum(chances) - chances / 2
    low, high = np.interp(INTERVAL, below, points)
    return float(low), float(high)
