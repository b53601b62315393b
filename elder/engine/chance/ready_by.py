"""From cut to ready over the possible years: for one target every cut day at once, for one cut day every target.

A cutting roots along its own law of warmth, waits for the next look, is potted, establishes along a second law, and is
hardened. In one scenario (a possible year, a speed of the batch) the chance of being ready by a day is a sum over the
days on which it may root; a chance on a page is the mean over the scenarios. Nothing is simulated.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.assumptions import Assumptions
from elder.engine.chance.rooting_time import SATURATED_Z, TABLE_Z, DaysAt, Lognormal, units_to_stage
from elder.engine.chance.scenarios import Scenarios, scenarios
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import add_days
from elder.engine.keeping import cached_property, kept
from elder.engine.place.possible_warmth import running_units
from elder.engine.place.warmth import Cardinals, Place

GROUPS: Final = 12  # parts a scenario's days are gathered in; within 0.0008 of all days in the mean over scenarios
NEAR: Final = 16_384  # numbers of eight bytes that a processor keeps at hand (assumed)
LEAST_MASS: Final = 1e-300  # below which nothing is left to be shared out
# Finer at both ends, where a law's tail is cut by another's: equal parts err up to 0.016 in a scenario, these 0.003.
PARTS: Final = np.sin(np.pi / 2 * np.linspace(0.0, 1.0, GROUPS + 1)) ** 2


@dataclass(frozen=True)
class Establishing:
    """What becomes of one from the day it is potted: the same wherever it rooted, and shared between those places.
    Without ``days`` it is not potted, and stands as soon as it is seen to have roots."""

    cardinals: Cardinals
    days: DaysAt | None
    climate: Climate
    place: Place
    assumptions: Assumptions

    @cached_property
    def law(self) -> Lognormal | None:
        """Units from potted to established."""
        return units_to_stage(self.days, self.cardinals) if self.days else None


@dataclass(frozen=True)
class Raising:
    """What becomes of a cutting at a pair of places: its plant's cardinals, the days to its two stages, the days it
    dries and is hardened, and what is assumed of years, speeds and looks."""

    cardinals: Cardinals
    rooting: DaysAt
    establish: DaysAt | None
    dry_days: int
    harden_days: int
    climate: Climate
    rooting_place: Place
    growing_place: Place
    assumptions: Assumptions

    @cached_property
    def rooting_law(self) -> Lognormal:
        """Units to ready to pot."""
        return units_to_stage(self.rooting, self.cardinals)

    @property
    def establish_law(self) -> Lognormal | None:
        """Units from potted to established."""
        return self.establishing.law

    @cached_property
    def establishing(self) -> Establishing:
        """The part of it that comes after the pot."""
        return Establishing(self.cardinals, self.establish, self.climate, self.growing_place, self.assumptions)

    @cached_property
    def usual(self) -> Raising:
        """The same in the year of the normals, with batches of the usual speed: for days, not for chances."""
        return replace(self, assumptions=replace(self.assumptions, years=1, speed_sd=0.0))

    def running(self, place: Place, start: date, days: int) -> Floats:
        """Units gained at a place before each day, in each year; shape (years, days + 1)."""
        return running_units(place, self.climate, self.cardinals, self.assumptions.years, start, days)

    def scenarios(self, target: date) -> Scenarios:
        """The scenarios weighed for a target."""
        return scenarios(self.climate, self.assumptions, target)


@dataclass(frozen=True, eq=False)
class CutDayChances:
    """What becomes of a cutting taken on ``start``, given that it takes: the chance, in each scenario, of having
    rooted and of being ready by each day from ``start``; shapes (scenarios, days)."""

    start: date
    rooted: Floats
    ready: Floats

    @cached_property
    def mean_rooted(self) -> Floats:
        """The mean over the scenarios; shape (days,)."""
        return np.asarray(self.rooted.mean(axis=0))

    @cached_property
    def mean_ready(self) -> Floats:
        """The mean over the scenarios; shape (days,)."""
        return np.asarray(self.ready.mean(axis=0))

    def ready_on(self, day: date) -> Floats:
        """The chance of being ready by a day, in each scenario; held to the days reckoned."""
        return np.asarray(self.ready[:, min(max((day - self.start).days, 0), self.ready.shape[1] - 1)])


@kept
def ready_by_target(raising: Raising, start: date, cut_days: int, target: date, step: int = 1) -> Floats:
    """The chance, in each scenario, that one cut on each day from ``start`` is ready by the target; shape (scenarios,
    cut_days), read only; of every ``step``-th day alone where asked. Kept, since every want of one kind shares it."""
    chosen = raising.scenarios(target)
    days = np.arange(0, cut_days, step)
    ready = np.zeros((len(chosen), len(days)))
    end = (target - start).days - raising.harden_days  # the last day on which it may come to stand
    if end >= 0:
        places, masses = _last_chances(raising.establishing, target, start, end)
        cuts = int(np.searchsorted(days, end, side="right"))
        rooting = raising.running(raising.rooting_place, start, end + 1)
        pace = chosen.pace[:, None]
        nodes = _between(rooting, chosen.year, places) / pace
        begun = rooting[chosen.year[:, None], np.minimum(days[:cuts] + raising.dry_days, end + 1)] / pace
        cdf, certain_at = _cdf_of(raising.rooting_law, chosen)
        # Cut long before, all that will have rooted: only the days after those are worth the sums.
        certain = (nodes[:, :1] - begun >= certain_at).all(axis=0) if nodes.size else np.ones(cuts, bool)
        first = cuts if certain.all() else int(np.argmin(certain))
        ready[:, :first] = masses.sum(axis=1)[:, None]
        ready[:, first:cuts] = _summed(nodes, masses, begun[:, first:], cdf)
    ready.setflags(write=False)
    return ready


def _summed(nodes: Floats, masses: Floats, begun: Floats, cdf: Callable[[Floats], Floats]) -> Floats:
    """The masses that have rooted between their cut and their node; shapes (scenarios, nodes) twice, (scenarios, cuts).
    Several nodes at once, as many as stay near the processor: one at a time costs more in calls than in sums."""
    ready = np.zeros(begun.shape)
    at_once = max(NEAR // max(begun.size, 1), 1)
    for first in range(0, nodes.shape[1], at_once):
        part = slice(first, first + at_once)
        gained = nodes[:, part, None] - begun[:, None, :]
        ready += np.matmul(masses[:, None, part], cdf(gained))[:, 0]
    return ready


@kept
def _last_chances(side: Establishing, target: date, start: date, end: int) -> tuple[Floats, Floats]:
    """When one has to have rooted to stand by ``end``, in days from ``start`` to the close of that day, and the share
    of each; shapes (scenarios, nodes), read only."""
    chosen = scenarios(side.climate, side.assumptions, target)
    if side.law is None:
        stands = np.ones((len(chosen), end + 1))
    else:
        growing = running_units(side.place, side.climate, side.cardinals, side.assumptions.years, start, end + 1)
        growing = growing[chosen.year]
        stands = _cdf_of(side.law, chosen)[0]((growing[:, -1:] - growing[:, 1:]) / chosen.pace[:, None])
    looks = side.assumptions.look_every_days
    # One rooted on day k is potted at a look, on any day from k to k + looks − 1.
    ahead = np.cumsum(np.concatenate((stands, np.zeros((len(chosen), looks))), axis=1)[:, ::-1], axis=1)[:, ::-1]
    potted = (ahead[:, :-looks] - ahead[:, looks:]) / looks
    lost = np.maximum(potted - np.concatenate((potted[:, 1:], np.zeros((len(chosen), 1))), axis=1), 0.0)
    days, masses = _gathered(lost, np.broadcast_to(np.arange(1.0, end + 2), lost.shape))
    for part in (days, masses):
        part.setflags(write=False)
    return days, masses


def _between(running: Floats, year: Ints, days: Floats) -> Floats:
    """Running units at days that may lie between two; shapes (years, days + 1), (scenarios,) and (scenarios, nodes)."""
    whole = np.minimum(days.astype(np.int64), running.shape[1] - 2)
    low, row = running[year[:, None], whole], year[:, None]
    return np.asarray(low + (days - whole) * (running[row, whole + 1] - low))


@kept
def ready_from_cut(raising: Raising, cut: date, days: int) -> CutDayChances:
    """What becomes of one cut on a day, for ``days`` days from it. Years are ranked as for the middle of them."""
    chosen = raising.scenarios(add_days(cut, days // 3))
    pace, harden = chosen.pace[:, None], raising.harden_days
    rooting = raising.running(raising.rooting_place, cut, days)[chosen.year]
    begun = rooting[:, min(raising.dry_days, days)][:, None]
    rooted = _cdf_of(raising.rooting_law, chosen)[0]((rooting[:, 1:] - begun) / pace)
    by_day = np.diff(rooted, axis=1, prepend=0.0)
    looks = raising.assumptions.look_every_days
    total = np.cumsum(by_day, axis=1)
    before = np.concatenate((np.zeros((len(chosen), looks)), total[:, :-looks]), axis=1) if looks < days else 0 * total
    potted = (total - before) / looks
    ready, law = np.zeros_like(rooted), raising.establish_law
    stands = ready[:, harden:]
    if law is None:
        stands[:] = np.cumsum(potted, axis=1)[:, : stands.shape[1]]
    else:
        growing = raising.running(raising.growing_place, cut, days)[chosen.year][:, 1:]
        _established(stands, growing, _gathered(potted, growing), law, chosen)
    for grid in (rooted, ready):
        grid.setflags(write=False)
    return CutDayChances(cut, rooted, ready)


def _established(
    stands: Floats, growing: Floats, gathered: tuple[Floats, Floats], law: Lognormal, chosen: Scenarios
) -> None:
    """Fill in the share that stands by each day; shapes (scenarios, days) twice, and (scenarios, parts) twice."""
    nodes, masses = gathered
    pace, gained = chosen.pace[:, None], growing[:, : stands.shape[1]]
    if nodes.size and gained.size:
        cdf, certain_at = _cdf_of(law, chosen)
        # Before the first part is potted nothing stands; long after the last, all that will.
        begins = int(np.argmax((gained > nodes[:, :1]).any(axis=0)))
        certain = ((gained - nodes[:, -1:]) / pace >= certain_at).all(axis=0)
        ends = int(np.argmax(certain)) if certain.any() else stands.shape[1]
        if len(chosen) == 1:  # not gathered, a node a day: one look-up for all of them instead of one each
            stands[0, begins:ends] = masses[0] @ cdf((gained[0, begins:ends] - nodes[0][:, None]) / pace[0])
        else:
            for node, mass in zip(nodes.T, masses.T, strict=True):
                stands[:, begins:ends] += mass[:, None] * cdf((gained[:, begins:ends] - node[:, None]) / pace)
        stands[:, ends:] = masses.sum(axis=1)[:, None]


def _gathered(masses: Floats, units: Floats) -> tuple[Floats, Floats]:
    """Masses that lie along units, gathered in parts: the mean units of each part, and its mass; shapes (scenarios,
    parts). A single scenario is kept whole, for the worked example."""
    if len(masses) == 1:
        kept = np.flatnonzero(masses[0] > 0)
        return units[:, kept], masses[:, kept]
    none = np.zeros((len(masses), 1))
    mass = np.concatenate((none, np.cumsum(masses, axis=1)), axis=1)
    moment = np.concatenate((none, np.cumsum(masses * units, axis=1)), axis=1)
    total = np.maximum(mass[:, -1:], LEAST_MASS)
    # Each scenario's shares run on from those before it, so that one look-up serves all.
    row = np.arange(len(masses))[:, None]
    inner = np.interp((row + PARTS[1:-1]).ravel(), (row + mass / total).ravel(), moment.ravel())
    cut = np.concatenate((none, inner.reshape(len(masses), -1), moment[:, -1:]), axis=1)
    each = mass[:, -1:] * np.diff(PARTS)
    return np.divide(np.diff(cut, axis=1), each, out=np.zeros_like(each), where=each > 0), each


def _cdf_of(law: Lognormal, chosen: Scenarios) -> tuple[Callable[[Floats], Floats], float]:
    """A law's distribution, exact for a single scenario and from a table for many; and the units from which it is 1."""
    if len(chosen) == 1:
        return law.cdf, law.reach(SATURATED_Z)
    return law.quick_cdf, law.reach(TABLE_Z)


def first_day_at(chances: Floats, level: float) -> Ints:
    """First index along the last axis where a rising chance reaches ``level``; −1 where it never does."""
    reached = chances >= level
    return np.where(reached.any(axis=-1), reached.argmax(axis=-1), -1).astype(np.int64)
