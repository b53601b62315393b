"""What a batch has shown of itself: its own speed and its own take, believed together after every look.

A grid of speeds and takes, each weighed by how likely it makes what was seen: those rooted between two looks, those
still waiting at the last, losses that were no accident, and how soon potted ones came to be hardened.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.batch.state import BatchState
from elder.engine.chance.counting import Take, take_nodes
from elder.engine.chance.rooting_time import Lognormal, fail_time, hope_of

SPEED_NODES: Final = 11
SPEED_REACH: Final = 2.6  # standard deviations on each side
MOST_TAKE_NODES: Final = 126  # cuttings whose take is averaged over exactly; of more, nearly
LATE_SHARE: Final = 0.3  # of those that stand established, so many are not put out to harden at once (assumed)
LEAST: Final = 1e-12  # a likelihood of none would say that what was seen cannot be


@dataclass(frozen=True, eq=False)
class Stages:
    """Where a batch has got to: units gained by the end of each day since the cut, where it roots and where it grows
    on, of shape (days,); the two laws, the second nothing where it goes out from where it rooted; days to harden; the
    day from which hardening is worth while, in days from the
    cut (``None``: not known)."""

    rooting_units: Floats
    growing_units: Floats
    rooting: Lognormal
    establish: Lognormal | None
    harden_days: int
    hardens_from: int | None = None

    def rooted(self, day: int, pace: Floats) -> Floats:
        """Of those that will root, the share that has by the end of a day, at each pace; nought before the cut."""
        return self.rooting.cdf(self.rooting_units[day] / pace) if day >= 0 else np.zeros(len(pace))

    def rooted_by_day(self, pace: Floats) -> Floats:
        """The same by the end of every day; shape (paces, days)."""
        return self.rooting.quick_cdf(self.rooting_units / pace[:, None])

    def failed(self, day: int, pace: Floats) -> Floats:
        """Of those that never will, the share that has shown it by the end of a day."""
        return fail_time(self.rooting).cdf(self.rooting_units[day] / pace) if day >= 0 else np.zeros(len(pace))

    def stands(self, potted: int, day: int, pace: Floats) -> Floats:
        """Of those potted on one day, the share established by the end of another."""
        if self.establish is None:
            return np.full(len(pace), float(day >= potted))
        gained = self.growing_units[day] - self.growing_units[potted] if day > potted else 0.0
        return self.establish.cdf(gained / pace)


@dataclass(frozen=True, eq=False)
class Belief:
    """Paces (what both medians are times) and takes, with the weight of each pair; shapes (paces,), (takes,) and
    (paces, takes). ``prior``: the weight of each take before anything was seen. ``logs``: those of pairs, before
    what still waits at the last look is counted."""

    pace: Floats
    shares: Floats
    prior: Floats
    logs: Floats
    weights: Floats

    @property
    def by_pace(self) -> Floats:
        """The weight of each pace; shape (paces,)."""
        return np.asarray(self.weights.sum(axis=1))


def belief_of(state: BatchState, take: Take, stages: Stages, speed_sd: float, cuttings: int = 0) -> Belief:
    """The belief after all that was seen; its takes are fine enough for so many ``cuttings`` together, at least the
    batch's own."""
    z = np.linspace(-SPEED_REACH, SPEED_REACH, SPEED_NODES) if speed_sd > 0 else np.zeros(1)
    pace = np.exp(speed_sd * z)
    shares, prior = take_nodes(take, int(np.clip(2 * max(state.taken, cuttings), 30, MOST_TAKE_NODES)))
    by_pace = -(z**2) / 2 + _rooted_logs(state, stages, pace) + _hardened_logs(state, stages, pace)
    by_take = np.log(np.maximum(prior, 1e-300)) + state.rooted_ever * np.log(np.maximum(shares, LEAST))
    by_take = by_take + state.lost_waiting * np.log(np.maximum(1 - shares, LEAST))
    logs = by_pace[:, None] + by_take
    seen = _day(state, state.last_look) if state.last_look else -1
    rooted, failed = stages.rooted(seen, pace), stages.failed(seen, pace)
    return Belief(pace, shares, prior, logs, weighed(logs, state.count("waiting"), shares, rooted, failed))


def weighed(logs: Floats, waiting: int, shares: Floats, rooted: Floats, failed: Floats) -> Floats:
    """Weights once so many are still waiting where those shares have rooted and failed; shapes (paces, takes) and
    (paces,), or with days in front."""
    undecided = shares * (1 - rooted[..., None]) + (1 - shares) * (1 - failed[..., None])
    found = logs + waiting * np.log(np.maximum(undecided, 1e-300))
    scaled = np.exp(found - found.max(axis=(-2, -1), keepdims=True))
    return np.asarray(scaled / scaled.sum(axis=(-2, -1), keepdims=True))


def hopes_of(shares: Floats, rooted: Floats, failed: Floats) -> Floats:
    """Chance that one still waiting will root yet, for each pace and take; shapes as for ``weighed``."""
    return hope_of(shares, rooted[..., None], failed[..., None])


def _day(state: BatchState, day: date) -> int:
    return (day - state.taken_on).days


def _look_before(state: BatchState, day: date) -> int:
    """The last look before a day, in days from the cut; −1 for none."""
    before = [look for look in state.looks if look < day]
    return _day(state, before[-1]) if before else -1


def _rooted_logs(state: BatchState, stages: Stages, pace: Floats) -> Floats:
    """Those seen rooted came to it between the look and the one before; shape (paces,)."""
    found = np.zeros(len(pace))
    for lot in state.rooted_seen:
        by, before = _day(state, lot.since), _look_before(state, lot.since)
        found += lot.count * np.log(np.maximum(stages.rooted(by, pace) - stages.rooted(before, pace), LEAST))
    return found


def _hardened_logs(state: BatchState, stages: Stages, pace: Floats) -> Floats:
    """Those put out to harden were established by then, and at the look before they were not, where it was time to
    harden already; those that still stand potted are hardly established; shape (paces,)."""
    found = np.zeros(len(pace))
    if stages.hardens_from is None or stages.establish is None:
        return found
    for gone in state.hardened:
        potted, before = _day(state, gone.potted_on), _look_before(state, gone.on)
        stood = stages.stands(potted, _day(state, gone.on), pace)
        if before >= max(stages.hardens_from, potted):
            stood = stood - (1 - LATE_SHARE) * stages.stands(potted, before, pace)
        found += gone.count * np.log(np.maximum(stood, LEAST))
    last = _day(state, state.last_look) if state.last_look else -1
    for lot in state.lots.get("potted", ()):
        if not lot.grown and last >= max(stages.hardens_from, _day(state, lot.since)):
            stood = stages.stands(_day(state, lot.since), last, pace)
            found += lot.count * np.log(LATE_SHARE * stood + 1 - stood)
    return found
