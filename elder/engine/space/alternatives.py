"""What a want could do instead, on other days and in other places, each with its cost beside the plan as it stands.
Chosen among in ``allocate``.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Bools, Ints
from elder.engine.chance.ready_by import Raising
from elder.engine.chance.rooting_time import Z_ONE_IN_TEN
from elder.engine.climate.day_of_year import add_days
from elder.engine.place.light import PlaceLight
from elder.engine.place.warmth import Place
from elder.engine.plan.curve import Curves, CutDay, cuttable_days
from elder.engine.plan.light_needs import Suited, fit_on, need_of, pair_fits
from elder.engine.plan.season_plan import SeasonPlan, usual_stands
from elder.engine.setting import Setting
from elder.engine.shed.kit import PLAIN, AsTreated, Kit
from elder.engine.space.occupancy import Key, Stay, stays_of

# What a change costs, in cuttings (assumed): any at all a fifth, days held a tenth each, days moved a
# fiftieth, a place a half.
COST_CHANGE, COST_HELD, COST_MOVED, COST_PLACE = 0.2, 0.1, 0.02, 0.5
# Standing where the light does not suit is as bad as so many cuttings more (assumed); it moves no chance.
COST_LIGHT: Final = 3.0


STEP_DAYS: Final = 3  # from one cut day weighed to the next: moving a want is not a matter of a day
LATE_DAYS: Final = 30  # half are ready so much after the target in the usual year: no count makes up for it
STARTS_STEPS: Final = 10  # steps between the days on which the weighing of a pair may begin
MOST_CHOICES: Final = 60  # the cheapest, that one want is fitted in by
WEIGHED_DAYS: Final = 260  # cut days before the target that are weighed: earlier ones are held too long anywhere


Lights = Mapping[Key, PlaceLight | None]  # of places, by their keys; those left out are not described
NO_LIGHTS: Final[Lights] = {}


@dataclass(frozen=True)
class Choice:
    """One way to place a want: its cut day, count and places, what it costs beside the plan as it stands, and at how
    many of its places the light does not suit."""

    day: date
    places: tuple[Key, Key]
    count: int
    held_days: int
    stays: tuple[Stay, ...]
    cost: float
    unsuited: int = 0


@dataclass(frozen=True, eq=False)
class Asker:
    """A want that asks for room: its plan, the day and places chosen so far, and what may be changed.

    ``choices[0]`` is the plan as it stands."""

    key: Key
    choices: tuple[Choice, ...]


def choices_for(
    plan: SeasonPlan,
    setting: Setting,
    now: tuple[date, tuple[Key, Key]],
    places: Mapping[Key, Place],
    *,
    kit: Kit = PLAIN,
    lights: Lights = NO_LIGHTS,
) -> tuple[Choice, ...]:
    """Ways to place a want other than the one that stands (which comes first): other days, other places."""
    weigher = _Weigher(plan, setting, now, places, kit, lights)
    current = weigher.current()
    others = [choice for pair in weigher.pairs() for choice in weigher.at(pair) if (choice.day, choice.places) != now]
    others.sort(key=lambda choice: choice.cost)
    return current, *others[:MOST_CHOICES]


@dataclass(eq=False)
class _Weigher:
    """Weighs cut days at pairs of places for one want, its target and its table of counts held fast.

    Only the chance on the target day matters, so a pair costs one column. Days run from ``start``: those that would be
    held far too long anywhere are not weighed.
    """

    plan: SeasonPlan
    setting: Setting
    now: tuple[date, tuple[Key, Key]]
    places: Mapping[Key, Place]
    kit: Kit
    lights: Lights

    def __post_init__(self) -> None:
        plan = self.plan
        last = min(plan.index(plan.target), len(plan) - 1)
        self.start = add_days(plan.start, max(last - WEIGHED_DAYS, 0))
        self.target = (plan.target - self.start).days
        self.setting = plan.want.condition.under(self.setting)
        self.curves = Curves(plan.want, self.setting, plan.table)
        days = min(self.target + 1, len(plan))
        self.steps = np.arange(-(-days // STEP_DAYS))
        self.wood = cuttable_days(plan.want, self.setting, self.start, days)[::STEP_DAYS]
        self.base = plan.option(self.now[0])

    def current(self) -> Choice:
        """The plan as it stands."""
        (day, pair), base = self.now, self.base
        stays, dim = self._stays(pair, self.count_now, day, base.rooted[1], base.rooted[2]), self._unsuited(pair, day)
        return Choice(day, pair, self.count_now, base.held_days, stays, COST_LIGHT * dim, dim)

    @property
    def count_now(self) -> int:
        """How many are cut as the plan stands."""
        return self.base.count or self.plan.table.most

    def pairs(self) -> list[tuple[Key, Key]]:
        """Places worth trying: one of the two changed, or both to the same."""
        rooting, growing = self.now[1]
        if self.plan.method.direct:
            return [(key, key) for key, place in self.places.items() if place.standing == "ground"]
        pots = [key for key, place in self.places.items() if place.standing != "ground"]
        if self.plan.method.route.stays:
            return list(dict.fromkeys([(rooting, growing), *((key, growing) for key in pots)]))
        tried = [(rooting, growing), *((key, growing) for key in pots), *((rooting, key) for key in pots)]
        return list(dict.fromkeys([*tried, *((key, key) for key in pots)]))

    def at(self, pair: tuple[Key, Key]) -> list[Choice]:
        """The days worth offering at a pair of places: recommended, and both ends of what is open."""
        if self.target < self.curves.raising.harden_days:
            return []
        setting = replace(self.setting, rooting_place=self.places[pair[0]], growing_place=self.places[pair[1]])
        curves = self.curves.elsewhere(setting)
        rooted, half_ready = self._dates_there(curves.raising)
        worth = np.flatnonzero(self._in_question(half_ready))
        if not len(worth):
            return []
        # Begun at the same few days for every pair, so that what was reckoned for one place serves the next.
        first, end = int(worth[0]) // STARTS_STEPS * STARTS_STEPS, int(worth[-1]) + 1
        start, days = add_days(self.start, first * STEP_DAYS), (end - 1 - first) * STEP_DAYS + 1
        early = self.target - half_ready[first:end] > self.patience - STEP_DAYS
        cut_days = curves.at(start, days, self.plan.target, STEP_DAYS, early)
        steps = self._telling(cut_days.standing)
        return [
            self._choice(pair, first + step, int(cut_days.counts[step]), rooted[first + step], half_ready[first + step])
            for step in steps
            if not self._cooks(pair[0], add_days(self.start, (first + step) * STEP_DAYS))
        ]

    def _unsuited(self, pair: tuple[Key, Key], cut: date) -> int:
        """At how many of a pair of places the light does not suit: where it roots on the day of the cut, where it grows
        on half-way to its target."""
        half_way = add_days(cut, max((self.plan.target - cut).days // 2, 0))
        lights = self.lights.get(pair[0]), self.lights.get(pair[1])
        fits = pair_fits(lights, (self.plan.plant, self.plan.method), self.setting.climate, (cut, half_way))
        return sum(one.standing >= Suited.NOT for one in fits)

    def _cooks(self, key: Key, cut: date) -> bool:
        """Whether a closed cover would stand in the sun there."""
        need = need_of(self.plan.plant, self.plan.method, "unrooted")
        return fit_on(self.lights.get(key), self.setting.climate, need, cut).standing == Suited.SHUT_OUT

    def _in_question(self, half_ready: Ints) -> Bools:
        """Steps on which there is wood, and of which half would neither be ready far too late nor wait far too long."""
        wait = self.target - half_ready
        return np.asarray(self.wood & (wait >= -LATE_DAYS) & (wait <= self.patience))

    @property
    def patience(self) -> int:
        """Days it would wait in its pot; those that need not wait have all there are."""
        waits = self.curves.is_held and not self.plan.method.direct
        return self.setting.plant.patience_days if waits else self.target

    def _telling(self, standing: Ints) -> list[int]:
        """The last open step, and of the comfortable ones the first, the middle, the last and the recommended."""
        open_days = np.flatnonzero(standing != CutDay.CLOSED)
        comfortable = np.flatnonzero(standing == CutDay.COMFORTABLE)
        telling = {int(day) for day in open_days[-1:]}
        if len(comfortable):
            first, last = int(comfortable[0]), int(comfortable[-1])
            slack = -(-self.setting.assumptions.slack_days // STEP_DAYS)
            telling |= {first, (first + last) // 2, last, max(first, last - slack)}
        return sorted(day for day in telling if standing[day] != CutDay.CLOSED)

    def _dates_there(self, raising: Raising) -> tuple[Ints, Ints]:
        """Of each step, when half and 9 in 10 have rooted and about when half are ready, in the year of the normals; in
        days from ``start``, beyond the target where later; shapes (steps, 2) and (steps,)."""
        usual, days = raising.usual, self.target + LATE_DAYS + 1
        places = usual.rooting_place, usual.growing_place
        rooting, growing = (usual.running(place, self.start, days)[0] for place in places)
        law, gap = usual.rooting_law, usual.assumptions.look_every_days
        begun = rooting[np.minimum(self.steps * STEP_DAYS + usual.dry_days, days)]
        wanted = law.median * np.exp(law.sigma * Z_ONE_IN_TEN * np.arange(2))
        rooted = np.searchsorted(rooting, begun[:, None] + wanted) - 1
        potted = np.minimum(rooted[:, 0] + (gap - 1) // 2 + 1, days)
        stands = usual_stands(usual, growing, potted)
        return rooted.astype(np.int64), (stands + usual.harden_days).astype(np.int64)

    def _choice(self, pair: tuple[Key, Key], step: int, count: int, rooted: Ints, half_ready: int) -> Choice:
        now_day, now_pair = self.now
        cut = add_days(self.start, step * STEP_DAYS)
        half, most = (add_days(self.start, int(day)) if day <= self.target else None for day in rooted)
        held, dim = max(self.target - int(half_ready), 0), self._unsuited(pair, cut)
        cost = (
            COST_CHANGE
            + max(count - self.count_now, 0)
            + COST_HELD * max(held - self.base.held_days, 0)
            + COST_MOVED * abs((cut - now_day).days)
            + COST_PLACE * sum(a != b for a, b in zip(pair, now_pair, strict=True))
            + COST_LIGHT * dim
        )
        return Choice(cut, pair, count, held, self._stays(pair, count, cut, half, most), cost, dim)

    def _stays(
        self, pair: tuple[Key, Key], count: int, cut: date, half: date | None, most: date | None
    ) -> tuple[Stay, ...]:
        return stays_of(
            self.plan.plant,
            self.plan.method,
            pair,
            count,
            cut=cut,
            rooted=(half, most),
            out=self.plan.target,
            treated=AsTreated(kit=self.kit, for_good=self.plan.want.purpose == "pot"),
        )
