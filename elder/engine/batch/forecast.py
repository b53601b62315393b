"""A batch under way: what can still come of it, from what it has shown and what is left.

Its own speed and take are believed together (``belief``). Ahead, potting is done at looks, a stage that is overdue
counts from today, and the counts of each speed are added up before they are averaged: a slow batch is slow in all.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass, field, replace
from datetime import date
from functools import partial
from typing import Final

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.batch.ahead import Ahead
from elder.engine.batch.belief import Belief, Stages, belief_of, hopes_of, weighed
from elder.engine.batch.drying import dried_days
from elder.engine.batch.sign_costs import waiting_kept
from elder.engine.batch.state import BatchState
from elder.engine.chance.counting import Take
from elder.engine.chance.ready_by import first_day_at
from elder.engine.chance.rooting_time import GIVE_UP_BELOW, fail_time, units_to_stage
from elder.engine.climate.day_of_year import add_days
from elder.engine.keeping import cached_property
from elder.engine.place.running_units import units_along
from elder.engine.place.warmth import Place
from elder.engine.setting import Setting

AHEAD_DAYS: Final = 400
PAST_DAYS: Final = 10  # how far past the end of hope it is still reckoned, for who draws it
OUTDOOR_SD: Final = 0.25  # log-sd of a batch's speed where the weather has a hand in it (assumed)


@dataclass(frozen=True, eq=False)
class BatchForecast:
    """The forecast of one batch from ``today``. Arrays run over days from ``start`` (the cut day).

    ``rooted_by``: chance of roots by each day of one that takes; ``hope`` is that of one still waiting, ``hopes`` the
    same on each day from the last look, should nothing more be seen.
    """

    start: date
    today: date
    rooted_by: Floats
    hope: float
    hopes: Floats
    hopes_from: date
    give_up_on: date | None
    next_look: date | None
    established_on: date | None
    ahead: Ahead
    _kept: dict[date, Floats] = field(default_factory=dict)

    def index(self, day: date) -> int:
        """Where a day stands, held to the days reckoned."""
        return int(np.clip((day - self.start).days, 0, len(self.rooted_by) - 1))

    @property
    def pace(self) -> float:
        """How many times the usual its days are believed to run: over 1 for a slow batch."""
        return float(self.ahead.belief.by_pace @ self.ahead.belief.pace)

    @property
    def rooting(self) -> Floats:
        """Expected number to root on each day, after the last look."""
        return self.ahead.rooting

    def ready_on(self, day: date) -> Floats:
        """The distribution of the number ready by a day; shape (taken + 1,). Planted and given away ones count."""
        if day not in self._kept:
            self._kept[day] = self.counts_on(np.array([self.index(day)]))[0]
        return self._kept[day]

    def counts_on(self, days: Ints) -> Floats:
        """The same on several days, counted from the cut; shape (days, taken + 1)."""
        return self.ahead.counts_on(np.clip(days, 0, len(self.rooted_by) - 1))

    @cached_property
    def expected(self) -> Floats:
        """Expected number ready by each day."""
        return self.ahead.expected()

    def root_day(self, share: float) -> date | None:
        """The day by which that share of those still waiting that will root have rooted."""
        total = self.rooting.sum()
        return _day_at(np.cumsum(self.rooting) / total, share, self.start) if total > 0 else None


@dataclass(frozen=True)
class Moves:
    """To which places a batch was carried and when: those still to be potted, and those potted."""

    rooting: tuple[tuple[date, Place], ...] = ()
    growing: tuple[tuple[date, Place], ...] = ()


STAYED: Final = Moves()


@dataclass(frozen=True)
class Aims:
    """What a batch is for, so far as it tells what was to be done and when: whether its plants are hardened, and the
    day they are to be ready (``None``: not known). ``standing``: only what still stands here counts, not what was
    planted out or given away. ``as_rooted``: they go as soon as they have roots, and are not potted here."""

    harden: bool = True
    ready_on: date | None = None
    standing: bool = False
    as_rooted: bool = False


PLAIN: Final = Aims()


def forecast(
    state: BatchState,
    setting: Setting,
    *,
    take: Take | None = None,
    moves: Moves = STAYED,
    aims: Aims = PLAIN,
) -> BatchForecast:
    """What can come of a batch from the setting's day on. ``take``: believed of it, else what the planner uses."""
    today, start = setting.today, state.taken_on
    age = (today - start).days
    stages = _stages(state, setting, moves, aims, age + AHEAD_DAYS)
    believe = partial(belief_of, state, take or setting.method.plant_take, stages, speed_sd_of(setting, moves))
    belief = believe(0)
    seen = (state.last_look - start).days if state.last_look else -1
    kept = waiting_kept(state.signs_now)
    counted = _still_here(state) if aims.standing else state
    gap = _gap(state, setting.assumptions.look_every_days)
    ahead = Ahead(counted, stages, belief, age, gap, kept, setting.after_roots, believe)
    rooted_by = np.asarray(belief.by_pace @ stages.rooted_by_day(belief.pace))
    later, below = _hopes_later(state, stages, belief, max(seen, 0), kept)
    give_up = add_days(start, max(seen, 0) + below) if below >= 0 else None
    return BatchForecast(
        start=start,
        today=today,
        rooted_by=rooted_by,
        hope=float((belief.weights * ahead.hopes).sum()),
        hopes=later,
        hopes_from=add_days(start, max(seen, 0)),
        give_up_on=give_up,
        next_look=_next_look(rooted_by, state, start),
        established_on=_established_on(state, stages, belief),
        ahead=ahead,
    )


def _still_here(state: BatchState) -> BatchState:
    """A state without what has left: planted out, or given away."""
    return replace(state, lots={**state.lots, "planted": ()}, given_seen=())


def speed_sd_of(setting: Setting, moves: Moves = STAYED) -> float:
    """How unlike in speed batches are: more so where either place is outdoors, for the weather is not known."""
    places = [setting.rooting_place, setting.stands_at, *(place for _, place in (*moves.rooting, *moves.growing))]
    sd = setting.assumptions.speed_sd
    return max(sd, OUTDOOR_SD) if sd > 0 and any(place.standing != "room" for place in places) else sd


def _stages(state: BatchState, setting: Setting, moves: Moves, aims: Aims, days: int) -> Stages:
    plant, method, climate = setting.plant, setting.method, setting.climate
    gained = units_along(setting.rooting_place, moves.rooting, climate, plant.cardinals, state.taken_on, days)
    gained[: dried_days(state, method, setting.today)] = 0.0
    carried = moves.rooting if method.route.stays else moves.growing
    warm = units_along(setting.stands_at, carried, climate, plant.cardinals, state.taken_on, days)
    method = method.handed_rooted if aims.as_rooted else method
    harden = method.harden_days if aims.harden else 0
    return Stages(
        rooting_units=np.cumsum(gained),
        growing_units=np.cumsum(warm),
        rooting=units_to_stage(method.rooting, plant.cardinals),
        establish=units_to_stage(method.grown_on, plant.cardinals) if method.grown_on else None,
        harden_days=harden,
        hardens_from=(aims.ready_on - state.taken_on).days - harden if aims.ready_on and harden else None,
    )


def _gap(state: BatchState, usual: int) -> int:
    """Days from one look to the next: the median of this batch's gaps and the garden's usual one. That before the
    first look says nothing: nobody looks before there can be roots."""
    gaps = [(later - look).days for look, later in itertools.pairwise(state.looks)]
    return max(round(float(np.median([*gaps, usual]))), 1)


# Hope is looked at so many days ahead first: for nearly every batch it has run out by then, and the rest of the year
# would cost four times as much.
NEAR_DAYS = 80


def _hopes_later(state: BatchState, stages: Stages, belief: Belief, seen: int, kept: float) -> tuple[Floats, int]:
    """Hope of one still waiting on each day from the last look, should nothing more be seen, as far as it is worth
    knowing; and the first day on which it is below one in ten, −1 for none. Nothing where none waits. ``kept``: the
    share of them that their signs leave."""
    waiting = state.count("waiting")
    if not waiting:
        return np.zeros(0), -1
    left = len(stages.rooting_units) - seen
    for reach in (NEAR_DAYS, left):
        units = stages.rooting_units[seen : seen + reach, None] / belief.pace
        if not state.looks:
            units[0] = 0.0  # nobody has looked: it is as it was cut
        rooted, failed = stages.rooting.cdf(units), fail_time(stages.rooting).cdf(units)
        weights = weighed(belief.logs, waiting, belief.shares, rooted, failed)
        hopes = np.asarray((weights * hopes_of(belief.shares, rooted, failed)).sum(axis=(1, 2))) * kept
        below = np.flatnonzero(hopes < GIVE_UP_BELOW)
        if len(below) and below[0] < reach - PAST_DAYS:
            break
    return hopes, int(below[0]) if len(below) else -1


def _established_on(state: BatchState, stages: Stages, belief: Belief) -> date | None:
    """When half of the oldest potted lot are established; the day it came, where it goes out from where it rooted."""
    lots = state.lots.get("potted", ()) or (state.lots.get("rooted", ()) if stages.establish is None else ())
    if not lots:
        return None
    if stages.establish is None or lots[0].grown:
        return lots[0].since
    since = (lots[0].since - state.taken_on).days
    gained = np.maximum(stages.growing_units - stages.growing_units[since], 0.0)
    stands = belief.by_pace @ stages.establish.quick_cdf(gained / belief.pace[:, None])
    return _day_at(np.asarray(stands), 0.5, state.taken_on)


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
