"""From rooted to ready: every cut day of a season at once, exactly, on the day grid.

For a cutting taken on day c, with p(c, k) the chance that it is ready to pot on day k and E(k, l) the
chance that one potted on day k is established by day l, the chance of being ready by l + harden is
the sum over k of p(c, k)·E(k, l): a matrix product. Nothing is simulated.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from functools import lru_cache

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.chance.rooting_time import DaysAt, Lognormal, units_to_stage
from elder.engine.climate.climate import Climate
from elder.engine.place.running_units import daily_units
from elder.engine.place.warmth import Cardinals, Place


@dataclass(frozen=True, eq=False)
class Course:
    """What becomes of a cutting taken on each day, given that it takes.

    ``rooted[c, d]`` and ``ready[c, d]``: chance of being rooted (ready to pot), and of being ready to
    plant out, by ``start`` + d when cut on ``start`` + c. Shapes (cut_days, days); read only.
    ``ready`` counts hardening in where there is any. ``half_ready[c]``: the day index on which half are
    ready, −1 for never.
    """

    start: date
    rooted: Floats
    ready: Floats
    half_ready: Ints

    def index(self, day: date) -> int:
        """Where ``day`` stands on the grid; may lie outside it."""
        return (day - self.start).days


def rooted_by(units: Floats, rooting: Lognormal, *, cut_days: int, dry_days: int) -> Floats:
    """Chance of roots by each day for each cut day; shape (cut_days, days).

    Units count from ``dry_days`` after the cut, that day included.
    """
    total = np.concatenate(([0.0], np.cumsum(units)))
    begin = np.minimum(np.arange(cut_days) + dry_days, len(units))
    return rooting.cdf(total[None, 1:] - total[begin][:, None])


def established_by(units: Floats, establish: Lognormal) -> Floats:
    """Chance that one potted on day k is established by day l, counting from k + 1; shape (days, days)."""
    total = np.cumsum(units)
    return establish.cdf(total[None, :] - total[:, None])


@lru_cache(maxsize=96)
def established_at(
    cardinals: Cardinals, establish: DaysAt, climate: Climate, place: Place, start: date, days: int
) -> Floats:
    """``established_by`` for a growing place, kept since methods and rooting places share it; read only."""
    grid = established_by(daily_units(place, climate, cardinals, start, days), units_to_stage(establish, cardinals))
    grid.setflags(write=False)
    return grid


@dataclass(frozen=True)
class Raising:
    """What becomes of a cutting at a pair of places: its plant's cardinals, the days to its two stages, the days it
    dries and is hardened."""

    cardinals: Cardinals
    rooting: DaysAt
    establish: DaysAt
    dry_days: int
    harden_days: int
    climate: Climate
    rooting_place: Place
    growing_place: Place


@lru_cache(maxsize=48)
def course_of(raising: Raising, start: date, cut_days: int, days: int) -> Course:
    """The course of every cut day from ``start``. Kept, since every want of one kind shares it."""
    cardinals, climate = raising.cardinals, raising.climate
    rooted = rooted_by(
        daily_units(raising.rooting_place, climate, cardinals, start, days),
        units_to_stage(raising.rooting, cardinals),
        cut_days=cut_days,
        dry_days=raising.dry_days,
    )
    established = established_at(cardinals, raising.establish, climate, raising.growing_place, start, days)
    by_day = np.diff(rooted, axis=1, prepend=0.0)
    ready = delayed(by_day @ established, raising.harden_days)
    for grid in (rooted, ready):
        grid.setflags(write=False)
    return Course(start, rooted, ready, first_day_at(ready, 0.5))


def delayed(by_day: Floats, days: int) -> Floats:
    """The same chances ``days`` later along the last axis, nought before."""
    if days == 0:
        return by_day
    moved = np.zeros_like(by_day)
    moved[..., days:] = by_day[..., :-days]
    return moved


def first_day_at(chances: Floats, level: float) -> Ints:
    """First index along the last axis where a rising chance reaches ``level``; −1 where it never does."""
    reached = chances >= level
    return np.where(reached.any(axis=-1), reached.argmax(axis=-1), -1).astype(np.int64)
