"""How likely one batch's looks are (or those of several that share their luck), for each mean take, likeness of batches
and median: its own take and speed integrated out.

With its take s a batch's likelihood is s^rooted·(1 − s)^lost times, for each that was still waiting when it was last
seen, s·S + (1 − s)·S_fail: a polynomial in s and 1 − s, every power of which a Beta averages in closed form. So nothing
is lost by it, whatever the take. Of a batch of which none was left waiting it is a single power, and what it says of
the take is apart from what it says of the median: most batches are such, and are added up without a grid of all three.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import chain
from typing import TYPE_CHECKING, Final

import numpy as np
from scipy.special import expit, gammaln, ndtr

from elder.engine.arrays import Floats, Ints
from elder.engine.keeping import kept, kept_growing
from elder.engine.record.looks import Look

if TYPE_CHECKING:
    from elder.engine.record.learning import Prior

Together = tuple[Look, ...]
Group = tuple[Together, ...]
LEAST: Final = 1e-12  # a likelihood of none would say that what was seen cannot be
TINY: Final = 1e-300
SPEED_REACH: Final = 3.2  # standard deviations of speed on each side
STEP: Final = 0.025  # of the log of a batch's own median
MOST_KNOWN: Final = 4_000  # batches that are known by one prior
KNOWN_BYTES: Final = 200_000  # about what a prior puts on of those (assumed)


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


@dataclass(frozen=True, eq=False)
class _One:
    """What one batch told. ``power``: coefficients of s^j (1 − s)^(left − j), its own speed averaged out, for each
    median; shape (left + 1, medians); ``scale``: the log they are to be scaled by; and its counts."""

    power: Floats
    scale: float
    rooted: int
    lost: int


class Asking:
    """A prior by its identity: to tell it apart for each of a thousand batches by its values would cost more than all
    the rest. ``known``: what batches told, by their looks: one more look at one leaves all others as they were."""

    def __init__(self, prior: Prior) -> None:
        self.prior = prior
        self.known: dict[Together, _One] = {}
        self._last: tuple[list[Group], Floats, Floats] | None = None

    def ones(self, batches: Sequence[Together]) -> list[_One]:
        """What each told; those that are not known yet all at once."""
        if len(self.known) > MOST_KNOWN:
            self.known = {}
        known = self.known  # another thread may begin anew meanwhile
        new = list(dict.fromkeys(looks for looks in batches if looks not in known))
        if new:
            known.update(zip(new, _ones(self.prior, new), strict=True))
        return [known[looks] for looks in batches]

    def settled(self, groups: list[Group]) -> tuple[Floats, Floats]:
        """What groups say of which none was left waiting: of each take and κ, and of each median; logs, of shapes
        (takes, κ) and (medians,). The last are kept: for each batch that lives the others are asked without it."""
        last = self._last
        if last is None or last[0] != groups:
            self._last = last = (groups, *self._settled(groups))
        return last[1], last[2]

    def _settled(self, groups: list[Group]) -> tuple[Floats, Floats]:
        parts = [self.ones(group) for group in groups]
        rooted, lost = np.array([(sum(one.rooted for one in of), sum(one.lost for one in of)) for of in parts]).T
        logs_by = _beta_logs(self.prior.alike, int((rooted + lost).max()))
        of_take = _added(logs_by[0], rooted) + _added(logs_by[1], lost) - _added(logs_by[2], rooted + lost)
        every = list(chain.from_iterable(parts))
        of_median = np.log(np.array([one.power[0] for one in every])).sum(axis=0) + sum(one.scale for one in every)
        return of_take, of_median


@kept_growing(KNOWN_BYTES)
def asked_of(prior: Prior) -> Asking:
    """The one that stands for a prior."""
    return Asking(prior)


def told(asked: Asking, groups: Sequence[Group]) -> Floats:
    """The log-likelihood of batches, in groups that each share one draw of the take; shape (takes, κ, medians)."""
    ones = asked.ones(list(chain.from_iterable(groups)))
    ends = np.cumsum([len(group) for group in groups]).tolist()
    settled, total = [], np.zeros((len(GRID.logits), len(asked.prior.alike), GRID.medians))
    for group, end in zip(groups, ends, strict=True):
        if all(len(one.power) == 1 for one in ones[end - len(group) : end]):
            settled.append(group)
        else:
            total += _mixed(asked, group)
    if settled:
        of_take, of_median = asked.settled(settled)
        total += of_take[..., None] + of_median
    return total


def _added(logs: Floats, at: Ints) -> Floats:
    """The sum of the rows of a table at some places, each as often as it is named."""
    often = np.bincount(at)
    named = np.flatnonzero(often)
    return np.asarray(np.tensordot(often[named].astype(np.float64), logs[named], axes=1))


@kept
def _mixed(asked: Asking, batches: Group) -> Floats:
    """The log-likelihood of batches that share one draw of the take, some of which were left waiting; shape (takes, κ,
    medians), read only."""
    prior, ones = asked.prior, asked.ones(batches)
    power = np.ones((1, GRID.medians))
    for one in ones:
        power = _product(power, one.power)
    scale, rooted = sum(one.scale for one in ones), sum(one.rooted for one in ones)
    lost, left = sum(one.lost for one in ones), len(power) - 1
    logs_by = _beta_logs(prior.alike, rooted + lost + left)
    j = np.arange(left + 1)
    shares = logs_by[0][rooted + j] + logs_by[1][lost + left - j] - logs_by[2][rooted + lost + left]
    most = shares.max(axis=0)
    mixed = np.tensordot(np.exp(shares - most).transpose(1, 2, 0), power, axes=1)
    found = (np.log(np.maximum(mixed, TINY)) + most[..., None] + scale).astype(np.float32)
    found.setflags(write=False)
    return np.asarray(found)


def _ones(prior: Prior, batches: Sequence[Together]) -> Iterator[_One]:
    """What each of some batches told: the laws of all their looks at once."""
    thetas, kernel = _speeds(prior.median_log_sd, prior.speed_sd)
    looks = list(chain.from_iterable(batches))
    laws = _laws(prior, np.array([look.units for look in looks]), thetas)
    ends = np.cumsum([len(one) for one in batches])
    begins = ends - [len(one) for one in batches]
    logs = np.zeros((len(looks), len(thetas)))
    for counts, by in zip(([look.rooted for look in looks], [look.lost for look in looks]), laws, strict=True):
        at = np.flatnonzero(counts)
        before = np.where(np.isin(at, begins)[:, None], 0.0, by[at - 1])
        logs[at] += np.array(counts)[at, None] * np.log(np.maximum(by[at] - before, LEAST))
    for one, begin, end in zip(batches, begins.tolist(), ends.tolist(), strict=True):
        log = logs[begin:end].sum(axis=0)
        scale = float(log.max())
        power = _waiting(one, *(by[begin:end] for by in laws)) * np.exp(log - scale)
        rooted, lost = sum(look.rooted for look in one), sum(look.lost for look in one)
        yield _One(np.maximum(power @ kernel, TINY), scale, rooted, lost)


def _waiting(looks: Together, rooted_by: Floats, failed_by: Floats) -> Floats:
    """The coefficients of s^j (1 − s)^(left − j) of those of a batch that were left waiting, for each speed; shape
    (left + 1, thetas)."""
    power = np.ones((1, rooted_by.shape[1]))
    waiting = looks[0].waiting + looks[0].rooted + looks[0].lost if looks else 0
    for i, look in enumerate(looks):
        left = max(waiting - look.rooted - look.lost - look.waiting, 0)
        left += look.waiting if i == len(looks) - 1 else 0
        if left:
            power = _product(power, _binomial(left, 1 - rooted_by[i], 1 - failed_by[i]))
        waiting = look.waiting
    return power


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


def _beta_logs(alike: tuple[float, ...], most: int) -> tuple[Floats, Floats, Floats]:
    """The rising factorials up to the greatest count asked for; reckoned in hundreds, so that few are kept."""
    return _pochhammer(alike, (most // 128 + 1) * 128)


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
