"""What a want could do instead, on other days and in other places, each with its cost beside the plan as it stands.
Chosen among in ``allocate``.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.chance.ready_by import first_day_at, rooted_by
from elder.engine.chance.rooting_time import units_to_stage
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import add_days
from elder.engine.place.running_units import daily_units
from elder.engine.place.warmth import Place
from elder.engine.plan.search import NEVER_TOO_LONG, standings_of
from elder.engine.plan.season_plan import CutDay, SeasonPlan
from elder.engine.space.occupancy import Key, Stay, stays_of

# What a change costs, in cuttings (assumed): any at all a fifth, days held a tenth each, days moved a
# fiftieth, a place a half.
COST_CHANGE, COST_HELD, COST_MOVED, COST_PLACE = 0.2, 0.1, 0.02, 0.5


WEIGHED_DAYS: Final = 260  # cut days before the target that are weighed: earlier ones are held too long anywhere


@dataclass(frozen=True)
class Choice:
    """One way to place a want: its cut day, count and places, what it costs beside the plan as it stands."""

    day: date
    places: tuple[Key, Key]
    count: int
    held_days: int
    stays: tuple[Stay, ...]
    cost: float


@dataclass(frozen=True, eq=False)
class Asker:
    """A want that asks for room: its plan, the day and places chosen so far, and what may be changed.

    ``choices[0]`` is the plan as it stands."""

    key: Key
    choices: tuple[Choice, ...]


def choices_for(
    plan: SeasonPlan,
    climate: Climate,
    now: tuple[date, tuple[Key, Key]],
    places: Mapping[Key, Place],
    *,
    most: int = 60,
) -> tuple[Choice, ...]:
    """Ways to place a want other than the one that stands (which comes first): other days, other places."""
    weigher = _Weigher(plan, climate, now, places)
    current = weigher.current()
    others = [choice for pair in weigher.pairs() for choice in weigher.at(pair) if (choice.day, choice.places) != now]
    others.sort(key=lambda choice: choice.cost)
    return current, *others[:most]


@dataclass(eq=False)
class _Weigher:
    """Weighs cut days at pairs of places for one want, its target and its ladder of counts held fast.

    Only the chance on the target day matters, so a pair costs one product of a matrix and a vector. Days run
    from ``start``: those that would be held far too long anywhere are not weighed.
    """

    plan: SeasonPlan
    climate: Climate
    now: tuple[date, tuple[Key, Key]]
    places: Mapping[Key, Place]

    def __post_init__(self) -> None:
        plan = self.plan
        last = min(plan.course.index(plan.target), len(plan) - 1)
        self.offset = max(last - WEIGHED_DAYS, 0)
        self.start = add_days(plan.start, self.offset)
        self.target = plan.course.index(plan.target) - self.offset
        self.wood = plan.wood[self.offset : last + 1]
        self.base = plan.option(self.now[0])
        self._grown: dict[Key, Floats] = {}
        self._rooted: dict[Key, Floats] = {}

    def current(self) -> Choice:
        """The plan as it stands."""
        (day, pair), base = self.now, self.base
        stays = self._stays(pair, self.count_now, day, base.rooted[1], base.rooted[2])
        return Choice(day, pair, self.count_now, base.held_days, stays, 0.0)

    @property
    def count_now(self) -> int:
        """How many are cut as the plan stands."""
        return self.base.count or self.plan.ladder.most

    def pairs(self) -> list[tuple[Key, Key]]:
        """Places worth trying: one of the two changed, or both to the same."""
        rooting, growing = self.now[1]
        if self.plan.method.direct:
            return [(key, key) for key, place in self.places.items() if place.standing == "ground"]
        pots = [key for key, place in self.places.items() if place.standing != "ground"]
        tried = [(rooting, growing), *((key, growing) for key in pots), *((rooting, key) for key in pots)]
        return list(dict.fromkeys([*tried, *((key, key) for key in pots)]))

    def at(self, pair: tuple[Key, Key]) -> list[Choice]:
        """The days worth offering at a pair of places: recommended, and both ends of what is open."""
        plan = self.plan
        rooted, units = self._rooted_at(pair[0]), self._units_at(pair[1])
        harden = plan.method.harden_days if plan.want.is_hardened else 0
        establish = units_to_stage(plan.method.establish, plan.plant.cardinals)
        end = self.target - harden
        if end < 0:
            return []
        ready = np.diff(rooted[:, : end + 1], axis=1, prepend=0.0) @ establish.cdf(units[end] - units[: end + 1])
        counts = np.where(self.wood, plan.ladder.counts(ready), 0)
        half_ready = _half_ready(first_day_at(rooted, 0.5), units, establish.median, harden)
        patience = NEVER_TOO_LONG if plan.method.direct else plan.plant.patience_days
        standing = standings_of(counts, half_ready, self.target, plan.ladder.least, patience)
        return [self._choice(pair, i, int(counts[i]), rooted[i], int(half_ready[i])) for i in self._telling(standing)]

    def _telling(self, standing: Ints) -> list[int]:
        """The last open day, and of the comfortable ones the first, the middle, the last and the recommended."""
        open_days = np.flatnonzero(standing != CutDay.CLOSED)
        comfortable = np.flatnonzero(standing == CutDay.COMFORTABLE)
        telling = {int(day) for day in open_days[-1:]}
        if len(comfortable):
            first, last = int(comfortable[0]), int(comfortable[-1])
            telling |= {first, (first + last) // 2, last, max(first, last - self.plan.want.slack_days)}
        return sorted(day for day in telling if standing[day] != CutDay.CLOSED)

    def _units_at(self, key: Key) -> Floats:
        """Running units at a growing place; shape (target + 1,)."""
        if key not in self._grown:
            daily = daily_units(self.places[key], self.climate, self.plan.plant.cardinals, self.start, self.target + 1)
            self._grown[key] = np.cumsum(daily)
        return self._grown[key]

    def _rooted_at(self, key: Key) -> Floats:
        if key not in self._rooted:
            plan, days = self.plan, self.target + 1
            units = daily_units(self.places[key], self.climate, plan.plant.cardinals, self.start, days)
            law = units_to_stage(plan.method.rooting, plan.plant.cardinals)
            self._rooted[key] = rooted_by(units, law, cut_days=len(self.wood), dry_days=plan.method.dry_days)
        return self._rooted[key]

    def _choice(self, pair: tuple[Key, Key], index: int, count: int, rooted: Floats, half_ready: int) -> Choice:
        now_day, now_pair = self.now
        cut = add_days(self.start, index)
        half, most = (int(first_day_at(rooted, level)) for level in (0.5, 0.9))
        dates = [add_days(self.start, day) if day >= 0 else None for day in (half, most)]
        held = max(self.target - half_ready, 0) if half_ready >= 0 else 0
        cost = (
            COST_CHANGE
            + max(count - self.count_now, 0)
            + COST_HELD * max(held - self.base.held_days, 0)
            + COST_MOVED * abs((cut - now_day).days)
            + COST_PLACE * sum(a != b for a, b in zip(pair, now_pair, strict=True))
        )
        return Choice(cut, pair, count, held, self._stays(pair, count, cut, *dates), cost)

    def _stays(
        self, pair: tuple[Key, Key], count: int, cut: date, half: date | None, most: date | None
    ) -> tuple[Stay, ...]:
        return stays_of(self.plan.method, pair, count, cut=cut, rooted=(half, most), out=self.plan.target)


def _half_ready(half_rooted: Ints, units: Floats, median: float, harden_days: int) -> Ints:
    """About when half are ready: half established of those potted when half have rooted; −1 for not in time."""
    potted = np.clip(half_rooted, 0, len(units) - 1)
    along = np.searchsorted(units, units[potted] + median)
    return np.where((half_rooted >= 0) & (along < len(units)), along + harden_days, -1).astype(np.int64)
