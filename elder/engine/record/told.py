"""How likely one batch's looks are (or those of several that share their luck), for each mean take, likeness of batches
and median: its own take and speed integrated out.

With its take s a batch's likelihood is s^rooted·(1 − s)^lost times, for each that was still waiting when it was last
seen, s·S + (1 − s)·S_fail: a polynomial in s and 1 − s, every power of which a Beta averages in closed form. So nothing
is lost by it, whatever the take.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np
from scipy.special import expit, gammaln, ndtr

from elder.engine.arrays import Floats
from elder.engine.keeping import kept
from elder.engine.record.looks import Look

if TYPE_CHECKING:
    from elder.engine.record.learning import Prior

Together = tuple[Look, ...]
LEAST: Final = 1e-12  # a likelihood of none would say that what was seen cannot be
TINY: Final = 1e-300
SPEED_REACH: Final = 3.2  # standard deviations of speed on each side
STEP: Final = 0.025  # of the log of a batch's own median


@dataclass(frozen=True)
class Grid:
    """The nodes the likelihood is reckoned at: logits of the mean take, and the median in its prior's sds."""

    logits: tuple[float, ...] = tuple(np.linspace(-8.0, 8.0, 43))
    medians: int = 21
    reach: float = 3.6

    @property
    def offsets(self) -> tuple[float, ...]:
        """The medians, in standard deviations of their prior's log."""
        return tuple(np.linspace(-self.reach, self.reach, self.medians))


GRID: Final = Grid()


class Asking:
    """A prior by its identity: to tell it apart for each of a thousand batches by its values would cost more than all
    the rest."""

    def __init__(self, prior: Prior) -> None:
        self.prior = prior


@kept
def asked_of(prior: Prior) -> Asking:
    """The one that stands for a prior."""
    return Asking(prior)


@kept
def told(asked: Asking, batches: tuple[Together, ...]) -> Floats:
    """The log-likelihood of batches that share one draw of the take; shape (takes, κ, medians), read only, kept: one
    more look at one batch leaves all others as they were."""
    prior = asked.prior
    power = np.ones((1, GRID.medians))
    scale, rooted, lost = 0.0, 0, 0
    for looks in batches:
        one, logs = _polynomial(prior, looks)
        power = _product(power, one)
        scale += logs
        rooted += sum(look.rooted for look in looks)
        lost += sum(look.lost for look in looks)
    left = len(power) - 1
    logs_by = _beta_logs(prior.alike, rooted + left, lost + left, rooted + lost + left)
    j = np.arange(left + 1)
    shares = logs_by[0][rooted + j] + logs_by[1][lost + left - j] - logs_by[2][rooted + lost + left]
    most = shares.max(axis=0)
    mixed = np.tensordot(np.exp(shares - most).transpose(1, 2, 0), power, axes=1)
    found = (np.log(np.maximum(mixed, TINY)) + most[..., None] + scale).astype(np.float32)
    found.setflags(write=False)
    return np.asarray(found)


def _polynomial(prior: Prior, looks: Together) -> tuple[Floats, float]:
    """A batch's coefficients of s^j (1 − s)^(left − j), its own speed averaged out, for each median; shape
    (left + 1, medians), and the log they are to be scaled by."""
    thetas, kernel = _speeds(prior.median_log_sd, prior.speed_sd)
    units = np.array([look.units for look in looks])
    rooted_by, failed_by = _laws(prior, units, thetas)
    logs = np.zeros(len(thetas))
    power = np.ones((1, len(thetas)))
    before = np.zeros(len(thetas)), np.zeros(len(thetas))
    waiting = looks[0].waiting + looks[0].rooted + looks[0].lost if looks else 0
    for i, look in enumerate(looks):
        now = rooted_by[i], failed_by[i]
        for count, after, earlier in ((look.rooted, now[0], before[0]), (look.lost, now[1], before[1])):
            if count:
                logs += count * np.log(np.maximum(after - earlier, LEAST))
        left = max(waiting - look.rooted - look.lost - look.waiting, 0)
        left += look.waiting if i == len(looks) - 1 else 0
        if left:
            power = _product(power, _binomial(left, 1 - now[0], 1 - now[1]))
        before, waiting = now, look.waiting
    most = float(logs.max())
    return np.maximum((power * np.exp(logs - most)) @ kernel, TINY), most


def _laws(prior: Prior, units: Floats, thetas: Floats) -> tuple[Floats, Floats]:
    """Of those that will root, the share that has by each look; of the others, the share that has failed; shapes
    (looks, thetas)."""
    logs = np.log(np.maximum(units, TINY))[:, None] - np.log(prior.rooting.median)
    rooted = ndtr((logs - thetas) / prior.rooting.sigma)
    late = ndtr((logs - thetas - np.log(prior.failing.ratio)) / prior.failing.sigma)
    early = -np.expm1(-units / prior.rooting.median)[:, None]
    return rooted, (1 - prior.failing.any_time) * late + prior.failing.any_time * early


@kept
def _speeds(median_log_sd: float, speed_sd: float) -> tuple[Floats, Floats]:
    """Logs of a batch's own median over the prior's, and how much each way's median makes of them; shapes (thetas,) and
    (thetas, medians)."""
    medians = np.array(GRID.offsets) * median_log_sd
    if speed_sd < STEP:
        return medians, np.eye(len(medians))
    end = medians[-1] + SPEED_REACH * speed_sd
    thetas = np.linspace(-end, end, 2 * int(np.ceil(end / STEP)) + 1)
    kernel = np.exp(-(((thetas[:, None] - medians) / speed_sd) ** 2) / 2)
    return thetas, kernel / kernel.sum(axis=0)


@kept
def _pochhammer(alike: tuple[float, ...], most: int) -> tuple[Floats, Floats, Floats]:
    """Logs of the rising factorials of mean·κ, (1 − mean)·κ and κ; shapes (most + 1, takes, κ)."""
    kappa = np.array(alike)
    logits = np.array(GRID.logits)[:, None]
    found = []
    for share in (expit(logits), expit(-logits), np.ones_like(logits)):
        finite = np.where(np.isinf(kappa), 1.0, kappa)
        rises = np.log(share * finite + np.arange(most)[:, None, None])
        # One take for all batches: the rising factorial over κ^k comes to the share's own power.
        rises = np.where(np.isinf(kappa), np.log(share), rises)
        found.append(np.concatenate((np.zeros((1, *rises.shape[1:])), np.cumsum(rises, axis=0))))
    return found[0], found[1], found[2]


def _beta_logs(alike: tuple[float, ...], *most: int) -> tuple[Floats, Floats, Floats]:
    """The rising factorials up to the greatest count asked for; reckoned in hundreds, so that few are kept."""
    return _pochhammer(alike, (max(most) // 128 + 1) * 128)


def _binomial(count: int, one: Floats, other: Floats) -> Floats:
    """The coefficients of (s·one + (1 − s)·other)^count; shape (count + 1, thetas)."""
    j = np.arange(count + 1)[:, None]
    choose = gammaln(count + 1) - gammaln(j + 1) - gammaln(count - j + 1)
    logs = choose + j * np.log(np.maximum(one, TINY)) + (count - j) * np.log(np.maximum(other, TINY))
    return np.asarray(np.exp(np.maximum(logs, np.log(TINY))))


def _product(one: Floats, other: Floats) -> Floats:
    """Two polynomials' product, at each point of the other axis."""
    if len(one) < len(other):
        one, other = other, one
    found = np.zeros((len(one) + len(other) - 1, one.shape[1]))
    for j in range(len(other)):
        found[j : j + len(one)] += one * other[j]
    return found
