"""How a line grows: the same lots walked through many possible seasons at once, each lot with its own take.

Each season draws a take for every lot and the plants that come of it; all seasons go through one day together as an
array. The draws come from a frozen stream, and the takes of a lot are spread evenly over its belief (one from each of
as many equal shares of it), so that the same question always has the same answer and the mean take is right.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from functools import lru_cache
from typing import Final

import numpy as np
from scipy.special import betaincinv

from elder.engine.arrays import Floats, Ints
from elder.engine.chance.counting import Take
from elder.engine.climate.day_of_year import add_days
from elder.engine.year.line import FREE, NEVER, Bench, CutGroup, CutLot, Line, Rooting

SEASONS: Final = 4096  # walked at once: a chance is known to about half in a hundred (assumed)
SEED: Final = 1917


@lru_cache(maxsize=64)
def _spread_takes(take: Take, seasons: int) -> Floats:
    """One take from the middle of each of so many equal shares of the belief, ascending; shape (seasons,)."""
    if take.mean in (0.0, 1.0) or np.isinf(take.weight):
        return np.full(seasons, take.mean)
    levels = (np.arange(seasons) + 0.5) / seasons
    return np.asarray(betaincinv(take.mean * take.weight, (1 - take.mean) * take.weight, levels))


@dataclass(eq=False)
class _Ready:
    """The plants that may be cut on a day: clones in each season, by generation on average, and first mothers with the
    takes they have left."""

    clones: Ints
    means: dict[int, float] = field(default_factory=lambda: defaultdict(float))
    firsts: list[CutGroup] = field(default_factory=list)


@dataclass(frozen=True, eq=False)
class Came:
    """The plants of one lot, and the day they stand. In each season, shape (seasons,): the ``counts`` that came, of so
    many ``cuttings``, each with the chance ``takes``; and the ``mean`` that comes of it."""

    on: date
    counts: Ints
    mean: float
    cuttings: Ints
    takes: Floats

    def thinned(self, most: int) -> Ints:
        """How many come where no more than so many were cut; shape (seasons,)."""
        draw = np.random.RandomState(SEED)
        return np.asarray(draw.binomial(np.minimum(self.cuttings, most), self.takes), dtype=np.int64)


@dataclass(frozen=True, eq=False)
class Grown:
    """A line walked to a day. ``first``: plants that stood at the start; ``cut`` what came of each lot, in their order,
    and ``under_way`` of what was rooting already; ``uncut``: plants left uncut at the end, on average; ``exact``:
    whether averages are exact, and not those of the seasons walked."""

    first: int
    lots: tuple[CutLot, ...]
    cut: tuple[Came, ...]
    under_way: tuple[Came, ...]
    uncut: float
    exact: bool

    @property
    def came(self) -> tuple[Came, ...]:
        """What came of everything."""
        return (*self.under_way, *self.cut)

    def plants(self, day: date, *, lots: int | None = None) -> Ints:
        """How many stand on a day in each season, with the first so many lots cut (else all); shape (seasons,)."""
        total = np.full(SEASONS, self.first, dtype=np.int64)
        for one in (*self.under_way, *self.cut[:lots]):
            if one.on <= day:
                total += one.counts
        return total

    def expected(self, day: date) -> float:
        """How many stand on a day on average."""
        by_then = (one for one in self.came if one.on <= day)
        return self.first + sum(one.mean if self.exact else float(one.counts.mean()) for one in by_then)

    def chance(self, wanted: int, day: date) -> float:
        """The chance of so many at least on a day."""
        return float((self.plants(day) >= wanted).mean())

    def sure(self, day: date, confidence: float = 0.9) -> int:
        """The greatest number that stands on a day with that confidence."""
        return int(np.quantile(self.plants(day), 1 - confidence, method="lower"))


class _Walk:
    """One walk of all seasons through the days of a line."""

    def __init__(self, line: Line, start: date, by: date, bench: Bench, *, exact: bool) -> None:
        self.line, self.start, self.bench, self.exact = line, start, bench, exact
        self.last = (by - start).days
        self.last_useful = next((day for day in range(self.last, -1, -1) if line.plant_on(day) <= self.last), -1)
        self.draw = np.random.RandomState(SEED)
        self.ready: dict[int, _Ready] = {}
        self.came: list[Came] = []
        self.lots: list[CutLot] = []
        self.rooting: list[tuple[int, Ints]] = []  # (until, cuttings) of what roots now, where room is short
        self.uncut = 0.0
        self.closed = {(day - start).days for day in bench.closed_days}
        if bench.last_on is not None:
            self.stop = (bench.last_on - start).days
        else:
            self.stop = NEVER

    def at(self, day: int) -> _Ready:
        """What may be cut on the first open day from one on."""
        while day in self.closed:
            day += 1
        return self.ready.setdefault(day, _Ready(np.zeros(SEASONS, dtype=np.int64)))

    def add_clones(self, day: int, counts: Ints, means: dict[int, float]) -> None:
        """So many plants may be cut from a day on."""
        if day > self.last:
            return
        here = self.at(day)
        here.clones = here.clones + counts
        for generation, mean in means.items():
            here.means[generation] += mean

    def add_firsts(self, day: int, group: CutGroup) -> None:
        """Some first mothers may be cut from a day on, unless they are spent."""
        if group.count and group.takes != 0 and day <= self.last:
            self.at(day).firsts.append(group)

    def stands(self, day: int, came: Came, means: dict[int, float]) -> None:
        """So many plants stand from a day on, and may be cut in their time."""
        self.came.append(came)
        self.add_clones(day + self.line.first_take_days, came.counts, means)

    def go(self) -> None:
        """Cut on every day on which there is something to cut that still makes it."""
        while self.ready:
            day = min(self.ready)
            here = self.ready.pop(day)
            if self.line.plant_on(day) <= self.last and day <= self.stop:
                self._cut(day, here)
            elif day < self.last_useful and day < self.stop:
                self._wait(day, here)
            else:
                self.uncut += sum(here.means.values()) + sum(group.count for group in here.firsts)

    def _wait(self, day: int, here: _Ready) -> None:
        """What would not make it now is cut on the first day that does: from autumn it may take longer than from
        spring."""
        later = next(one for one in range(day + 1, self.last_useful + 1) if self.line.plant_on(one) <= self.last)
        self.add_clones(later, here.clones, here.means)
        for group in here.firsts:
            self.add_firsts(later, group)

    def _cut(self, day: int, here: _Ready) -> None:
        line = self.line
        cut, left = self._kept_back(day, here.clones)
        share = self._share(day) if self.exact else float(cut.mean()) / max(float(here.clones.mean()), 1e-12)
        firsts = sum(group.count for group in here.firsts)
        of_firsts = sum(group.count * (line.gives if group.gives is None else group.gives) for group in here.firsts)
        cuttings = cut * line.gives + of_firsts
        room = self._room(day, cuttings)
        held = np.zeros(SEASONS, dtype=np.int64)
        if room is not None:
            # What finds no room is cut from fewer plants; the others wait until some comes free.
            held = np.minimum(-(-(cuttings - room) // line.gives), cut)
            cut, cuttings = cut - held, room
        means = {generation: mean * share * line.gives for generation, mean in here.means.items()}
        if firsts:
            means[0] = means.get(0, 0.0) + of_firsts
        if not self.exact:
            scale = float(cuttings.mean()) / max(sum(means.values()), 1e-12)
            means = {generation: mean * scale for generation, mean in means.items()}
        self.uncut += float(left.mean())
        self._write(day, cuttings, means, float(cut.mean()) + firsts)
        self._regrow(day, here, (cut, held), share)

    def _write(self, day: int, cuttings: Ints, means: dict[int, float], plants_cut: float) -> None:
        """The lot of a day, what comes of it, and who may be cut for it."""
        total = sum(means.values())
        if total < 1e-9:
            return
        on = self.line.plant_on(day)
        by_generation = tuple(sorted(means.items()))
        self.lots.append(CutLot(self.date_of(day), total, plants_cut, by_generation, self.date_of(on)))
        if self.bench.room is not None:
            self.rooting.append((on, cuttings))
        takes = self.draw.permutation(_spread_takes(self.line.take, SEASONS))
        counts = cuttings if self.line.take.mean == 1.0 else self.draw.binomial(cuttings, takes)
        came = {generation + 1: mean * self.line.take.mean for generation, mean in means.items()}
        counts = np.asarray(counts, dtype=np.int64)
        self.stands(on, Came(self.date_of(on), counts, sum(came.values()), cuttings, takes), came)

    def _regrow(self, day: int, here: _Ready, clones: tuple[Ints, Ints], share: float) -> None:
        """What was cut may be cut again in its time; what found no room as soon as there is some."""
        cut, held = clones
        means = {generation: mean * share for generation, mean in here.means.items()}
        if held.any() and day < self.stop:
            whole = max(float((cut + held).mean()), 1e-12)
            waiting = {generation: mean * float(held.mean()) / whole for generation, mean in means.items()}
            means = {generation: mean - waiting[generation] for generation, mean in means.items()}
            self.add_clones(min(until for until, _ in self.rooting if until > day), held, waiting)
        self.add_clones(day + self.line.again_days, cut, means)
        for group in here.firsts:
            again = self.line.again_days if group.again_days is None else group.again_days
            left = None if group.takes is None else group.takes - 1
            self.add_firsts(day + again, replace(group, takes=left))

    def _room(self, day: int, cuttings: Ints) -> Ints | None:
        """What of some cuttings has room to root; ``None`` where all has."""
        most: Ints | None = None
        if self.bench.room is not None:
            standing = sum((counts for until, counts in self.rooting if until > day), np.zeros(SEASONS, dtype=np.int64))
            most = np.minimum(cuttings, np.maximum(self.bench.room - standing, 0))
        if day == self.stop and self.bench.last_most is not None:
            most = np.minimum(cuttings if most is None else most, self.bench.last_most)
        return most

    def _is_end(self, day: int) -> bool:
        """Whether what is cut on a day is cut for the last time."""
        return day + self.line.again_days > self.last_useful

    def _share(self, day: int) -> float:
        return 1 - self.bench.keep_uncut if self._is_end(day) else 1.0

    def _kept_back(self, day: int, clones: Ints) -> tuple[Ints, Ints]:
        """Of the clones that could be cut on a day, those that are and those left uncut."""
        keep = self.bench.keep_uncut
        if not keep or not self._is_end(day):
            return clones, np.zeros_like(clones)
        left = np.rint(clones * keep) if keep < 1 else np.minimum(clones, max(round(keep - self.uncut), 0))
        left = np.asarray(left, dtype=np.int64)
        return clones - left, left

    def date_of(self, day: int) -> date:
        """The date of a day of the walk."""
        return add_days(self.start, day)


def grow(
    line: Line,
    standing: Sequence[CutGroup],
    *,
    start: date,
    by: date,
    bench: Bench = FREE,
    rooting: Sequence[Rooting] = (),
) -> Grown:
    """A line from ``start`` to ``by``: everything that can be cut is, on the first open day, while it still makes it.
    Plants that stand are counted whether they are cut or not."""
    exact = bench.room is None and bench.keep_uncut < 1 and bench.last_most is None
    walk = _Walk(line, start, by, bench, exact=exact)
    for group in standing:
        day = max((group.cut_from - start).days, 0)
        if group.generation:
            walk.add_clones(day, np.full(SEASONS, group.count, dtype=np.int64), {group.generation: float(group.count)})
        else:
            walk.add_firsts(day, group)
    for lot in rooting:
        counts, mean = _drawn(lot.chances, walk.draw), _mean(lot.chances)
        whole = np.full(SEASONS, len(lot.chances) - 1, dtype=np.int64)
        walk.stands(
            max((lot.plant_on - start).days, 0),
            Came(max(lot.plant_on, start), counts, mean, whole, counts / np.maximum(whole, 1)),
            {lot.generation: mean},
        )
    walk.go()
    first = sum(group.count for group in standing)
    came = tuple(walk.came)
    return Grown(first, tuple(walk.lots), came[len(rooting) :], came[: len(rooting)], walk.uncut, exact)


def _mean(chances: Sequence[float]) -> float:
    return float(np.arange(len(chances)) @ np.array(chances))


def _drawn(chances: Sequence[float], draw: np.random.RandomState) -> Ints:
    """How many come of a lot in each season, as often as their chances say; shape (seasons,)."""
    levels = (np.arange(SEASONS) + 0.5) / SEASONS
    total = np.cumsum(chances) / np.sum(chances)
    return np.asarray(draw.permutation(np.searchsorted(total, levels)), dtype=np.int64)
