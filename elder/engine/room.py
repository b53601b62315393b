"""Room: what stands where and when, where it overflows, and how to fit everything in.

Cuttings fill the containers of their way (jars, trays, pots …) at the rooting place from the cut until 9 in
10 are rooted, then pots at the growing place from when half are rooted until they go out. *Fit them in* is a
choice of one option for each want, least in extra cuttings, days held, days moved and places changed, such
that no place holds more than it can in any week; a mixed-integer programme for scipy's HiGHS.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_array, hstack

from elder.engine.climate import Climate, add_days
from elder.engine.handbook import Method
from elder.engine.plan import SeasonPlan, Standing
from elder.engine.raising import daily_units, established_at, first_day_at, ready_by_target, rooted_by
from elder.engine.rooting import units_to_stage
from elder.engine.season import NEVER_TOO_LONG, standings_of
from elder.engine.warmth import Place

Ints = NDArray[np.int64]
Key = Any  # whatever the caller tells its wants and places apart by
Spot = tuple[Key, str]  # a place and a kind of container

GROWN_IN: Final = "pot"  # what rooted plants stand in until they go out (common practice)
WEEK: Final = 7
# What a change costs, in cuttings (assumed): any at all a fifth, days held a tenth each, days moved a
# fiftieth, a place a half; a cutting without room outweighs any change.
COST_CHANGE, COST_HELD, COST_MOVED, COST_PLACE, COST_OVER = 0.2, 0.1, 0.02, 0.5, 40.0
PATIENCE_S: Final = 4.0  # what the solver may take
GAP: Final = 0.01  # within a hundredth of the best is good enough


@dataclass(frozen=True)
class Stay:
    """So many in one kind of container at a place, from a day to a day, ends included."""

    place: Key
    container: str
    first: date
    last: date
    count: int


def stays_of(
    method: Method,
    places: tuple[Key, Key],
    count: int,
    *,
    cut: date,
    half_rooted: date | None,
    most_rooted: date | None,
    out: date,
) -> tuple[Stay, ...]:
    """Where a batch stands from its cut until it goes ``out``. Struck where it is to stand, it fills its row."""
    if method.direct:
        return (Stay(places[0], method.container, cut, out, count),)
    rooting_ends = min(most_rooted or out, out)
    rooting = Stay(places[0], method.container, cut, max(rooting_ends, cut), count)
    if half_rooted is None or half_rooted > out:
        return (rooting,)
    return rooting, Stay(places[1], GROWN_IN, half_rooted, out, math.ceil(count * method.take.mean))


@dataclass(frozen=True)
class Overflow:
    """A spell in which a place is asked to hold more of a kind of container than it can."""

    place: Key
    container: str
    first: date
    last: date
    most: int
    holds: int
    who: tuple[Key, ...]


def overflows(
    stays: Mapping[Key, Iterable[Stay]], capacity: Mapping[Spot, int], *, start: date, days: int
) -> list[Overflow]:
    """Every spell of too little room from ``start`` on. ``stays`` by who they belong to; a spot without a
    capacity holds any number."""
    held: dict[Spot, Ints] = {}
    whose: dict[Spot, list[tuple[Key, int, int]]] = {}
    for who, several in stays.items():
        for stay in several:
            spot = (stay.place, stay.container)
            begin, end = max((stay.first - start).days, 0), min((stay.last - start).days + 1, days)
            if spot in capacity and begin < end:
                held.setdefault(spot, np.zeros(days, dtype=np.int64))[begin:end] += stay.count
                whose.setdefault(spot, []).append((who, begin, end))
    found = []
    for spot, counts in held.items():
        over = np.concatenate(([0], (counts > capacity[spot]).astype(int), [0]))
        edges = np.flatnonzero(np.diff(over))
        for begin, end in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
            who = tuple(dict.fromkeys(w for w, a, b in whose[spot] if a < end and b > begin))
            first, last = add_days(start, begin), add_days(start, end - 1)
            found.append(Overflow(*spot, first, last, int(counts[begin:end].max()), capacity[spot], who))
    return sorted(found, key=lambda one: (one.first, str(one.place)))


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
    """Weighs cut days at pairs of places for one want, its target and its ladder of counts held fast."""

    plan: SeasonPlan
    climate: Climate
    now: tuple[date, tuple[Key, Key]]
    places: Mapping[Key, Place]

    def __post_init__(self) -> None:
        self.target = self.plan.course.index(self.plan.target)
        last = max(int(np.flatnonzero(self.plan.standing != Standing.CLOSED)[-1]), self.target)
        self.days = np.arange(0, min(last, len(self.plan) - 1) + 1)
        self._rooted: dict[Key, NDArray[np.float64]] = {}

    def current(self) -> Choice:
        """The plan as it stands."""
        day, pair = self.now
        option = self.plan.option(day)
        count = option.count or self.plan.ladder.most
        rooted = option.rooted
        stays = stays_of(
            self.plan.method, pair, count, cut=day, half_rooted=rooted[1], most_rooted=rooted[2], out=self.plan.target
        )
        return Choice(day, pair, count, option.held_days, stays, 0.0)

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
        plan, method = self.plan, self.plan.method
        rooted = self._rooted_at(pair[0])
        grid = established_at(
            plan.plant, method.establish, self.climate, self.places[pair[1]], plan.start, self.target + 1
        )
        harden = method.harden_days if plan.want.is_hardened else 0
        ready = ready_by_target(rooted, grid, target=self.target, harden_days=harden)
        counts = np.where(plan.wood[self.days], plan.ladder.counts(ready), 0)
        half_ready = self._half_ready(rooted, grid, harden)
        standing = standings_of(counts, half_ready, self.target, plan.ladder.least, self._patience())
        open_days = np.flatnonzero(standing != Standing.CLOSED)
        if not len(open_days):
            return []
        comfortable = np.flatnonzero(standing == Standing.COMFORTABLE)
        telling = {int(open_days[-1])}
        if len(comfortable):
            first, last = int(comfortable[0]), int(comfortable[-1])
            telling |= {first, (first + last) // 2, last, max(first, last - plan.want.slack_days)}
        return [self._choice(pair, i, int(counts[i]), rooted[i], half_ready[i]) for i in sorted(telling) if counts[i]]

    def _patience(self) -> int:
        return NEVER_TOO_LONG if self.plan.method.direct else self.plan.plant.patience_days

    def _half_ready(self, rooted: NDArray[np.float64], grid: NDArray[np.float64], harden: int) -> Ints:
        """About when half are ready: half established of those potted when half have rooted."""
        half = first_day_at(rooted, 0.5)
        along = first_day_at(grid, 0.5)
        out = np.where(half >= 0, along[np.clip(half, 0, len(along) - 1)], -1)
        return np.where(out >= 0, out + harden, -1).astype(np.int64)

    def _rooted_at(self, key: Key) -> NDArray[np.float64]:
        if key not in self._rooted:
            plan = self.plan
            units = daily_units(self.places[key], self.climate, plan.plant, plan.start, self.target + 1)
            law = units_to_stage(plan.method.rooting, plan.plant.cardinals)
            self._rooted[key] = rooted_by(units, law, cut_days=len(self.days), dry_days=plan.method.dry_days)
        return self._rooted[key]

    def _choice(
        self, pair: tuple[Key, Key], index: int, count: int, rooted: NDArray[np.float64], half_ready: np.int64
    ) -> Choice:
        plan, (now_day, now_pair) = self.plan, self.now
        cut = add_days(plan.start, index)
        half, most = (int(first_day_at(rooted, level)) for level in (0.5, 0.9))
        dates = [add_days(plan.start, day) if day >= 0 else None for day in (half, most)]
        held = max(self.target - int(half_ready), 0) if half_ready >= 0 else 0
        base = plan.option(now_day)
        extra = count - (base.count or plan.ladder.most)
        changed = sum(a != b for a, b in zip(pair, now_pair, strict=True))
        cost = (
            COST_CHANGE
            + max(extra, 0)
            + COST_HELD * max(held - base.held_days, 0)
            + COST_MOVED * abs((cut - now_day).days)
            + COST_PLACE * changed
        )
        stays = stays_of(plan.method, pair, count, cut=cut, half_rooted=dates[0], most_rooted=dates[1], out=plan.target)
        return Choice(cut, pair, count, held, stays, cost)


@dataclass(frozen=True, eq=False)
class Fit:
    """What *fit them in* chose: for each asker the index of its choice (0: as it stands). ``left_over`` is the
    room still lacking, in cuttings at the worst week of each spot; ``cost`` the total in cuttings."""

    chosen: dict[Key, int]
    left_over: int
    cost: float


def fit_in(
    askers: Sequence[Asker], fixed: Iterable[Stay], capacity: Mapping[Spot, int], *, start: date, days: int
) -> Fit:
    """Choose one option for each asker so that every place has room, at the least cost.

    What stands already is ``fixed``. Weeks run from ``start``; a stay counts in each week it touches. Where
    no choice fits everything, what overflows is as little as can be.
    """
    if not askers or not capacity:
        return Fit({asker.key: 0 for asker in askers}, 0, 0.0)
    weeks = math.ceil(days / WEEK)
    loads = _Loads(start, weeks, capacity)
    base = np.zeros(loads.size)
    for stay in fixed:
        loads.add(base, stay)
    columns = [(asker, i) for asker in askers for i in range(len(asker.choices))]
    rows, cols, values = [], [], []
    for column, (asker, i) in enumerate(columns):
        load = np.zeros(loads.size)
        for stay in asker.choices[i].stays:
            loads.add(load, stay)
        for row in np.flatnonzero(load).tolist():
            rows.append(row)
            cols.append(column)
            values.append(float(load[row]))
    return _solve(askers, columns, loads, base, csr_array((values, (rows, cols)), shape=(loads.size, len(columns))))


@dataclass(frozen=True)
class _Loads:
    """Rows of the programme: each spot with a capacity, week by week."""

    start: date
    weeks: int
    capacity: Mapping[Spot, int]

    @property
    def size(self) -> int:
        return len(self.capacity) * self.weeks

    @property
    def limits(self) -> NDArray[np.float64]:
        return np.repeat(np.array(list(self.capacity.values()), dtype=float), self.weeks)

    def add(self, load: NDArray[np.float64], stay: Stay) -> None:
        """Put a stay on the weeks it touches."""
        spot = (stay.place, stay.container)
        if spot not in self.capacity:
            return
        row = list(self.capacity).index(spot) * self.weeks
        begin = max((stay.first - self.start).days // WEEK, 0)
        end = min((stay.last - self.start).days // WEEK, self.weeks - 1)
        if begin <= end:
            load[row + begin : row + end + 1] += stay.count


def _solve(
    askers: Sequence[Asker],
    columns: list[tuple[Asker, int]],
    loads: _Loads,
    base: NDArray[np.float64],
    matrix: csr_array,
) -> Fit:
    """Binary choices, and one slack a spot for what does not fit."""
    count, spots = len(columns), len(loads.capacity)
    # Only weeks that can overflow bind; what stands already may be over by itself and then binds nobody.
    most = np.asarray(matrix.sum(axis=1)).ravel() + base
    binding = np.flatnonzero((most > loads.limits) & (matrix.sum(axis=1) > 0))
    place_of_row = binding // loads.weeks
    slack = csr_array((-np.ones(len(binding)), (np.arange(len(binding)), place_of_row)), shape=(len(binding), spots))
    one_each = csr_array(
        (
            np.ones(count),
            ([askers.index(asker) for asker, _ in columns], np.arange(count)),
        ),
        shape=(len(askers), count + spots),
    )
    room = hstack([matrix[binding], slack], format="csr")
    limits = np.maximum(loads.limits[binding], base[binding]) - base[binding]
    costs = np.concatenate(([asker.choices[i].cost for asker, i in columns], np.full(spots, COST_OVER)))
    answer = milp(
        costs,
        integrality=np.concatenate((np.ones(count), np.zeros(spots))),
        bounds=Bounds(0, np.concatenate((np.ones(count), np.full(spots, np.inf)))),
        constraints=[LinearConstraint(one_each, 1, 1), LinearConstraint(room, -np.inf, limits)],
        options={"time_limit": PATIENCE_S, "mip_rel_gap": GAP},
    )
    if answer.x is None:  # out of time before any answer: leave everything as it stands
        return Fit({asker.key: 0 for asker in askers}, -1, 0.0)
    taken = np.flatnonzero(answer.x[:count] > 0.5)
    chosen = {columns[int(i)][0].key: columns[int(i)][1] for i in taken}
    over = float(answer.x[count:].sum())
    return Fit(chosen, round(over), float(costs[:count] @ answer.x[:count]))
