"""A batch under way: what can still come of it, reckoned from what is left.

Rooted ones stand at their stage; each one still waiting has its hope. What the batch has shown so far
also speaks about its take, so the belief is weighed anew (Bayes) before it is used: a batch just stuck
has exactly the chance it was planned with, and one that loses three of its first four does not.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import Final

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.batch.drying import dried_days
from elder.engine.batch.history import BatchState
from elder.engine.chance.counting import Take, count_pmf, take_nodes
from elder.engine.chance.ready_by import delayed, first_day_at
from elder.engine.chance.rooting_time import GIVE_UP_BELOW, Lognormal, fail_time, hope, units_to_stage
from elder.engine.climate.day_of_year import add_days
from elder.engine.place.running_units import units_along
from elder.engine.place.warmth import Place
from elder.engine.setting import Setting

AHEAD_DAYS = 400
PAST_DAYS = 10  # how far past the end of hope it is still reckoned, for who draws it


@dataclass(frozen=True, eq=False)
class BatchForecast:
    """The forecast of one batch from ``today``. Arrays run over days from ``start`` (the cut day).

    ``rooted_by``: chance of roots by each day of one that takes; ``units``: those gained by each day;
    ``hope`` is that of one still waiting, ``hopes`` the same on each day from the last look, should nothing
    more be seen. What a page of many batches does not ask for, ``pmf``, is reckoned when it is asked for.
    """

    start: date
    today: date
    units: Floats
    rooted_by: Floats
    hope: float
    hopes: Floats
    hopes_from: date
    give_up_on: date | None
    next_look: date | None
    established_on: date | None
    _course: _Prospects

    def index(self, day: date) -> int:
        """Where a day stands, held to the days reckoned."""
        return int(np.clip((day - self.start).days, 0, len(self.units) - 1))

    @cached_property
    def rooting(self) -> Floats:
        """Expected number to root on each day, after today."""
        return self._course.to_root * self.hope * self._course.state.count("waiting")

    @cached_property
    def pmf(self) -> Floats:
        """``pmf[d, j]``: chance that exactly j are ready by that day (planted and given away ones count)."""
        return self._course.ready_counts()

    def ready_on(self, day: date) -> Floats:
        """The distribution of the number ready by a day; shape (taken + 1,)."""
        return np.asarray(self.pmf[self.index(day)])

    @property
    def expected(self) -> Floats:
        """Expected number ready by each day."""
        return np.asarray(self.pmf @ np.arange(self.pmf.shape[1]))

    def root_day(self, share: float) -> date | None:
        """The day by which that share of those still waiting that will root have rooted."""
        return _day_at(np.cumsum(self._course.to_root), share, self.start)


@dataclass(frozen=True)
class Moves:
    """To which places a batch was carried and when: those still to be potted, and those potted."""

    rooting: tuple[tuple[date, Place], ...] = ()
    growing: tuple[tuple[date, Place], ...] = ()


STAYED: Final = Moves()


def forecast(
    state: BatchState,
    setting: Setting,
    *,
    take: Take | None = None,
    moves: Moves = STAYED,
    harden: bool = True,
) -> BatchForecast:
    """What can come of a batch from the setting's day on. ``take``: believed of it, else what the planner uses."""
    plant, method, climate, today = setting.plant, setting.method, setting.climate, setting.today
    take = take or method.plant_take
    start, age = state.taken_on, (today - state.taken_on).days
    days = age + AHEAD_DAYS
    rooting = units_to_stage(method.rooting, plant.cardinals)
    gained = units_along(setting.rooting_place, moves.rooting, climate, plant.cardinals, start, days)
    gained[: dried_days(state, method, today)] = 0.0
    units = np.cumsum(gained)
    rooted_by = rooting.cdf(units)
    warm = np.cumsum(units_along(setting.growing_place, moves.growing, climate, plant.cardinals, start, days))
    potting = _PotToReady(warm, units_to_stage(method.establish, plant.cardinals), method.harden_days if harden else 0)
    # Nobody has looked since the last look, so what is waiting is known to have been unrooted only then.
    seen = (state.last_look - start).days if state.last_look else 0
    seen_units = float(units[seen]) if state.last_look else 0.0
    shares, weights = _belief(state, take, seen_units, rooting)
    hopes = hope(seen_units, take=shares, rooting=rooting)
    to_root = _still_to_root(rooted_by, seen if state.last_look else -1)
    later, below = _hopes_later(state, take, units[seen:], rooting)
    return BatchForecast(
        start=start,
        today=today,
        units=units,
        rooted_by=rooted_by,
        hope=float(weights @ hopes),
        hopes=later,
        hopes_from=add_days(start, seen),
        give_up_on=add_days(start, seen + below) if below >= 0 else None,
        next_look=_next_look(rooted_by, state, start),
        established_on=potting.established_on(state),
        _course=_Prospects(state, potting, to_root, hopes, weights, age),
    )


@dataclass(frozen=True, eq=False)
class _Prospects:
    """What the number ready by each day is reckoned from."""

    state: BatchState
    potting: _PotToReady
    to_root: Floats
    hopes: Floats
    weights: Floats
    age: int

    def ready_counts(self) -> Floats:
        """The chance of each number ready by each day; shape (days, taken + 1)."""
        waiting = self.state.count("waiting")
        ready = self.potting.ready_of(self.to_root, self.age) if waiting else np.zeros(len(self.to_root))
        pmf = _mixture(waiting, self.hopes, self.weights, ready)
        for count, chances in _settled(self.state, self.potting, self.age):
            pmf = _add(pmf, count_pmf(count, chances))
        return pmf


@dataclass(frozen=True, eq=False)
class _PotToReady:
    """From pot to ready at the growing place: its running units, the time to establish, days to harden."""

    warm: Floats
    establish: Lognormal
    harden_days: int

    def after(self, potted: Ints | int) -> Floats:
        """Chance of being ready by each day when potted on that day; shape (\\*potted.shape, days)."""
        begun = self.warm[np.asarray(potted)]
        return delayed(self.establish.cdf(self.warm - np.asarray(begun)[..., None]), self.harden_days)

    def ready_of(self, to_root: Floats, today: int) -> Floats:
        """Chance of being ready by each day of one that will root: none is potted before today."""
        later = np.arange(today + 1, len(to_root))
        unseen = to_root[: today + 1].sum()
        return np.asarray(unseen * self.after(today) + to_root[later] @ self.after(later))

    def ready_from(self, since: date, wait: int, start: date) -> Floats:
        """Ready for certain ``wait`` days after ``since``."""
        return (np.arange(len(self.warm)) >= (since - start).days + wait).astype(np.float64)

    def established_on(self, state: BatchState) -> date | None:
        """When half of the oldest potted lot are established."""
        if not state.count("potted"):
            return None
        half = int(first_day_at(self.after((state.lots["potted"][0].since - state.taken_on).days), 0.5))
        return add_days(state.taken_on, half - self.harden_days) if half >= 0 else None


def _still_to_root(rooted_by: Floats, seen: int) -> Floats:
    """Chance of rooting on each day for one that will root and had not by day ``seen`` (−1: never seen)."""
    to_root = np.diff(rooted_by, prepend=0.0)
    to_root[: seen + 1] = 0.0
    left = to_root.sum()
    return to_root / left if left > 0 else to_root


def _settled(state: BatchState, potting: _PotToReady, today: int) -> list[tuple[int, Floats]]:
    """Those that have rooted, by lot: how many, and their chance of being ready by each day."""
    start = state.taken_on
    lots = [(state.count("rooted"), potting.after(today))]
    lots += [(lot.count, potting.after((lot.since - start).days)) for lot in state.lots.get("potted", ())]
    lots += [
        (lot.count, potting.ready_from(lot.since, potting.harden_days, start))
        for lot in state.lots.get("hardening", ())
    ]
    gone = (*state.lots.get("planted", ()), *state.given_seen)
    lots += [(lot.count, potting.ready_from(lot.since, 0, start)) for lot in gone]
    return [(count, chances) for count, chances in lots if count]


def _belief(state: BatchState, take: Take, units: Floats | float, rooting: Lognormal) -> tuple[Floats, Floats]:
    """The takes, and their weights after what the batch has shown, were those waiting still so at ``units``.

    Shapes (nodes,) and (\\*units.shape, nodes).
    """
    shares, weights = take_nodes(take, max(2 * state.taken, 16))
    reached = np.asarray(units, dtype=np.float64)[..., None]
    survive, unfailed = 1 - rooting.cdf(reached), 1 - fail_time(rooting).cdf(reached)
    undecided = np.maximum(shares * survive + (1 - shares) * unfailed, 1e-300)
    logs = state.count("waiting") * np.log(undecided) + state.rooted_ever * np.log(np.maximum(shares, 1e-300))
    logs = logs + state.lost_waiting * np.log(np.maximum(1 - shares, 1e-300))
    weighed = weights * np.exp(logs - logs.max(axis=-1, keepdims=True))
    return shares, weighed / weighed.sum(axis=-1, keepdims=True)


def _mixture(count: int, hopes: Floats, weights: Floats, ready: Floats) -> Floats:
    """The number ready among those waiting, by day: shape (days, count + 1)."""
    if not count:
        return np.ones((len(ready), 1))
    return np.asarray(np.tensordot(weights, count_pmf(count, hopes[:, None] * ready), axes=1))


def _add(one: Floats, other: Floats) -> Floats:
    """The distribution of the sum of two independent counts, day by day."""
    total = np.zeros((one.shape[0], one.shape[1] + other.shape[1] - 1))
    for j in range(other.shape[1]):
        total[:, j : j + one.shape[1]] += one * other[:, j : j + 1]
    return total


# Hope is looked at so many days ahead first: for nearly every batch it has run out by then, and the rest of the year
# would cost four times as much.
NEAR_DAYS = 80


def _hopes_later(state: BatchState, take: Take, units: Floats, rooting: Lognormal) -> tuple[Floats, int]:
    """Hope of one still waiting at each of ``units``, should nothing more be seen, as far as it is worth knowing;
    and the first index at which it is below one in ten, −1 for none. Nothing where none waits."""
    if not state.count("waiting"):
        return np.zeros(0), -1
    for reach in (NEAR_DAYS, len(units)):
        near = units[:reach]
        shares, weights = _belief(state, take, near, rooting)
        hopes = np.asarray((weights * hope(near[:, None], take=shares, rooting=rooting)).sum(axis=1))
        below = np.flatnonzero(hopes < GIVE_UP_BELOW)
        if len(below) and below[0] < reach - PAST_DAYS:
            break
    return hopes, int(below[0]) if len(below) else -1


def _day_at(chances: Floats, level: float, start: date) -> date | None:
    found = int(first_day_at(chances, level))
    return add_days(start, found) if found >= 0 else None


def _next_look(rooted_by: Floats, state: BatchState, start: date) -> date | None:
    """When another tenth are likely rooted since the last look; the first look at one in ten."""
    if not state.count("waiting"):
        return None
    if state.last_look is None:
        return _day_at(rooted_by, 0.10, start)
    seen = float(rooted_by[(state.last_look - start).days])
    due = _day_at(rooted_by, max(seen + 0.10, 0.10), start) if seen < 0.90 else None
    return due or add_days(state.last_look, 7)
