"""From what is believed of a batch to the number ready on each day: looks to come, potting at them, and hardening."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.batch.belief import LATE_SHARE, Belief, Stages, hopes_of
from elder.engine.batch.state import BatchState, Lot
from elder.engine.chance.counting import Take, count_pmf, thinned
from elder.engine.keeping import cached_property

LEAST: Final = 1e-300  # of a weight, where it is divided by
ALL_DAYS: Final = "waiting_by_day"
LEAST_MASS: Final = 1e-7  # looks at which fewer come to be potted are passed over


@dataclass(frozen=True, eq=False)
class Ahead:
    """What the number ready by each day is reckoned from. Days are counted from the cut; ``gap``: days between looks;
    ``kept``: of those waiting, the share that their signs leave; ``stands``: of those that have roots, the share that
    comes to stand; ``believe``: the belief with takes fine enough for so many cuttings together."""

    state: BatchState
    stages: Stages
    belief: Belief
    today: int
    gap: int
    kept: float
    stands: Take
    believe: Callable[[int], Belief]

    @cached_property
    def survivals(self) -> tuple[float, ...]:
        """Shares of the rooted that may come to stand, each as likely: two that have its mean and its spread."""
        mean = self.stands.mean
        sd = math.sqrt(max(self.stands.square - mean**2, 0.0))
        return (mean - sd, min(mean + sd, 1.0)) if sd > 0 else (mean,)

    @property
    def seen(self) -> int:
        """The last look; −1 for none."""
        return (self.state.last_look - self.state.taken_on).days if self.state.last_look else -1

    @cached_property
    def hopes(self) -> Floats:
        """Chance that one still waiting will root, for each pace and take."""
        pace = self.belief.pace
        rooted, failed = self.stages.rooted(self.seen, pace), self.stages.failed(self.seen, pace)
        return hopes_of(self.belief.shares, rooted, failed) * self.kept

    @cached_property
    def rooting(self) -> Floats:
        """Expected number to root on each day after the last look; shape (days,)."""
        by_day = self.stages.rooted_by_day(self.belief.pace)
        new = np.diff(by_day, axis=1, prepend=0.0)
        new[:, : self.seen + 1] = 0.0
        total = new.sum(axis=1, keepdims=True)
        share = np.divide(new, total, out=np.zeros_like(new), where=total > 0)
        will = (self.belief.weights * self.hopes).sum(axis=1)
        return np.asarray(will @ share * self.state.count("waiting"))

    @cached_property
    def looks(self) -> tuple[Ints, Floats]:
        """The looks to come, and for each pace the share of those that will root that is found and potted at each;
        shapes (looks,) and (paces, looks)."""
        days = np.arange(self.next_look, len(self.stages.rooting_units), self.gap)
        pace = self.belief.pace
        rooted = self.stages.rooting.cdf(self.stages.rooting_units[days] / pace[:, None])
        before = self.stages.rooted(self.seen, pace)[:, None]
        found = np.diff(np.concatenate((before, rooted), axis=1), axis=1)
        share = np.divide(found, 1 - before, out=np.zeros_like(found), where=before < 1)
        worth = share.max(axis=0) > LEAST_MASS
        return days[worth], share[:, worth]

    @property
    def next_look(self) -> int:
        """The first look to come: a gap after the last, and not before today."""
        return max(self.today, max(self.seen, 0) + self.gap)

    @property
    def is_seen_to(self) -> bool:
        """Whether some were put out to harden today: then those that were not do not stand, and today is over."""
        return any((gone.on - self.state.taken_on).days == self.today for gone in self.state.hardened)

    def _hardening_begun(self, days: Ints) -> Ints:
        """The day on which hardening has to begin for plants to be ready on each of ``days``: at a look, on the day the
        round itself asks for it, or today, where it is overdue; −1 where that would be before today. Where nothing is
        hardened, the day itself."""
        begun = days - self.stages.harden_days
        if not self.stages.harden_days:
            return begun
        looks = self.next_look + (begun - self.next_look) // self.gap * self.gap
        found = np.where(begun >= self.next_look, looks, -1)
        for asked in (self.today, self.stages.hardens_from):
            if asked is not None and asked >= self.today + self.is_seen_to:
                found = np.where(begun >= asked, np.maximum(found, asked), found)
        return found

    def _stands(self, potted: Ints, begun: Ints) -> Floats:
        """Established by each day on which hardening begins, for each pace and day of potting; shape (paces, potted,
        begun)."""
        if self.stages.establish is None:  # from where it rooted, at the look that finds it
            stood = (begun >= potted[:, None]).astype(np.float64)
            return np.broadcast_to(stood, (len(self.belief.pace), *stood.shape))
        held = np.maximum(begun, 0)
        gained = self.stages.growing_units[held] - self.stages.growing_units[potted][:, None]
        gained = np.where(begun > potted[:, None], gained, 0.0)
        return self.stages.establish.quick_cdf(gained / self.belief.pace[:, None, None])

    def _all_stand_on(self, potted: int) -> int:
        """A day on which whatever was potted by one day is established, however slow; past the end where none is."""
        if self.stages.establish is None:
            return potted
        units = self.stages.growing_units
        most = self.stages.establish.surely * float(self.belief.pace.max())
        return int(np.searchsorted(units, units[potted] + most)) + 1

    def _of_waiting(self, days: Ints) -> Floats:
        """Chance of being ready by each day of one that will root; shape (paces, days). Read off those of all
        days where they are known: whoever draws a batch asks for them, and after that for some of them again."""
        if ALL_DAYS in vars(self):
            return self.waiting_by_day[:, days]
        looks, share = self.looks
        # At looks, and none after all of them are plants: far fewer than days.
        begun = np.minimum(self._hardening_begun(days), self._all_stand_on(looks.max(initial=0)))
        begun, each = np.unique(begun, return_inverse=True)
        return np.asarray(np.einsum("pl,pld->pd", share, self._stands(looks, begun))[:, each])

    @cached_property
    def waiting_by_day(self) -> Floats:
        """The same for every day that is followed; shape (paces, days)."""
        return self._of_waiting(np.arange(len(self.stages.rooting_units)))

    def _survives(self, since: int, survival: float) -> Floats:
        """Of those potted on a day that live today, the share that comes to stand: the further they have come, the
        surer. What is lost is lost along the same law that the others come to stand by; shape (paces, 1)."""
        if survival >= 1.0:
            return np.ones((len(self.belief.pace), 1))
        come = self.stages.stands(since, self.today, self.belief.pace)[:, None]
        return np.asarray(survival / (survival + (1 - survival) * (1 - come)))

    def _of_potted(self, since: int, days: Ints) -> Floats:
        """The same of one potted on a day that does not harden yet: it begins today at the soonest, and where it was
        time to harden at the last look it is hardly established."""
        begun = self._hardening_begun(days)
        stood = self._stands(np.array([since]), begun)[:, 0]
        opens = self.stages.hardens_from
        if self.stages.establish and opens is not None and self.seen >= max(opens, since):
            then = self.stages.stands(since, self.seen, self.belief.pace)[:, None]
            left = np.maximum(LATE_SHARE * then + 1 - then, 1e-12)
            later = (LATE_SHARE * then + np.maximum(stood - then, 0.0)) / left
            stood = np.where(begun >= self.seen, later, 0.0)
        return stood

    def _settled(self, days: Ints, survival: float) -> list[tuple[int, Floats]]:
        """Those that have rooted, by lot: how many, and their chance of being ready by each day; (paces, days)."""
        state, start, found = self.state, self.state.taken_on, []
        if state.count("rooted"):
            stood = self._stands(np.array([self.today]), self._hardening_begun(days))[:, 0]
            found.append((state.count("rooted"), survival * stood))
        potted, lifted = _parted(state.lots.get("potted", ()))
        for lot in potted:
            since = (lot.since - start).days
            found.append((lot.count, self._survives(since, survival) * self._of_potted(since, days)))
        hardening, grown = _parted(state.lots.get("hardening", ()))
        gone = [lot for lot in state.given_seen if lot.grown]  # one given away unrooted is no plant yet
        later = [(lot, self.stages.harden_days) for lot in hardening]
        later += [(lot, 0) for lot in (*state.lots.get("planted", ()), *lifted, *grown, *gone)]
        for lot, wait in later:
            sure = (days >= (lot.since - start).days + wait).astype(np.float64)
            found.append((lot.count, np.broadcast_to(sure, (len(self.belief.pace), len(days)))))
        return [(count, chances) for count, chances in found if count]

    @cached_property
    def _will_stand(self) -> dict[float, Floats]:
        """The weight of each number of those waiting that will root and come to stand, for each pace, where so many of
        the rooted do; shapes (paces, waiting + 1)."""
        waiting, weights = self.state.count("waiting"), self.belief.weights
        return {
            survival: np.einsum("pt,ptn->pn", weights, count_pmf(waiting, survival * self.hopes))
            for survival in self.survivals
        }

    def counts_on(self, days: Ints) -> Floats:
        """The chance of each number ready by each of some days; shape (days, living and gone + 1)."""
        return np.asarray(np.mean([self._counts(days, survival) for survival in self.survivals], axis=0))

    def _counts(self, days: Ints, survival: float) -> Floats:
        """The same where so many of the rooted come to stand."""
        counts = np.broadcast_to(self.belief.by_pace[:, None, None], (len(self.belief.pace), len(days), 1))
        if self.state.count("waiting"):
            counts = thinned(self._will_stand[survival], self._of_waiting(days))
        for count, chances in self._settled(days, survival):
            counts = _added(counts, count_pmf(count, chances))
        return np.asarray(counts.sum(axis=0))

    def by_take(self, days: Ints, cuttings: int) -> tuple[Floats, Floats, Floats]:
        """What the batch makes of each take, fine enough for so many cuttings: the weight before and after, of shape
        (takes,), and the chance of each number ready by each day were that its take; shape (takes, days, counts)."""
        finer = replace(self, belief=self.believe(cuttings))
        both = [finer._by_take(days, survival) for survival in self.survivals]
        after = finer.belief.weights.sum(axis=0)
        counts = np.mean(both, axis=0)
        return finer.belief.prior, after, counts / np.maximum(after, LEAST)[:, None, None]

    def _by_take(self, days: Ints, survival: float) -> Floats:
        """The weight of each number ready by each day, take by take, where so many of the rooted come to stand."""
        weights = self.belief.weights
        chance = survival * self.hopes[..., None] * self._of_waiting(days)[:, None]
        counts = weights[..., None, None] * count_pmf(self.state.count("waiting"), chance)
        for count, chances in self._settled(days, survival):
            counts = _added(counts, count_pmf(count, chances)[:, None])
        return np.asarray(counts.sum(axis=0))

    def expected(self) -> Floats:
        """The expected number ready by each day that is followed; shape (days,)."""
        will = (self.belief.weights * self.hopes).sum(axis=1)
        waiting, days = self.state.count("waiting"), np.arange(len(self.stages.rooting_units))
        coming = waiting * (will @ self.waiting_by_day) if waiting else np.zeros(len(days))
        totals = []
        for survival in self.survivals:
            settled = (count * (self.belief.by_pace @ chances) for count, chances in self._settled(days, survival))
            totals.append(survival * coming + sum(settled, np.zeros(len(days))))
        return np.asarray(np.mean(totals, axis=0))


def _parted(lots: tuple[Lot, ...]) -> tuple[list[Lot], list[Lot]]:
    """Those that came to their stage as cuttings, and those that were plants already."""
    return [lot for lot in lots if not lot.grown], [lot for lot in lots if lot.grown]


def _added(one: Floats, other: Floats) -> Floats:
    """The distribution of the sum of two counts that are independent at each pace and day; along the last axis."""
    ahead = np.broadcast_shapes(one.shape[:-1], other.shape[:-1])
    total = np.zeros((*ahead, one.shape[-1] + other.shape[-1] - 1))
    for j in range(other.shape[-1]):
        total[..., j : j + one.shape[-1]] += one * other[..., j : j + 1]
    return total
