"""A plan as a value: what each cut day is worth, and the whole curve."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Bools, Floats, Ints
from elder.engine.chance.count_table import CountTable
from elder.engine.chance.counting import Take
from elder.engine.chance.ready_by import CutDayChances, Raising, first_day_at, ready_from_cut
from elder.engine.climate.day_of_year import add_days
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import cached_property
from elder.engine.plan.curve import CutDay, CutDays
from elder.engine.plan.harvest import harvest_day
from elder.engine.plan.planting_windows import PlantingWindow
from elder.engine.plan.want import Want

QUANTILES = (0.1, 0.5, 0.9)
TAIL_DAYS: Final = 120  # beyond the target, for what is still coming on then
LEAST_FOLLOWED_DAYS: Final = 200  # how far one cut day is followed at the least


Dates = tuple[date | None, date | None, date | None]


@dataclass(frozen=True)
class CutOption:
    """One cut day: its count and chance, dates at 10, 50 and 90% (``None``: past what was reckoned),
    the day the plants go out, how long half of them wait for it, and what the day is worth. ``nights``: on which the
    pots would have to be carried in, the mean over the years; ``killed``: the share of years that kill it in the
    ground."""

    day: date
    standing: CutDay
    closed_by: str
    count: int
    chance: float
    rooted: Dates
    ready: Dates
    harvest: Dates
    plant_out: date
    held_days: int
    nights: float
    killed: float


@dataclass(frozen=True)
class Sooner:
    """What a day costs: with ``count`` cuttings, ready on ``day``."""

    count: int
    day: date


@dataclass(frozen=True)
class Missed:
    """A window that cannot be made: with ``count`` cuttings the ``chance`` of enough is the best that is left of it
    (0: none). ``only_early``: it could be made, but only by plants held far too long. ``last_cut``: the last day on
    which a cut would have made it, or would make it."""

    window: PlantingWindow
    chance: float = 0.0
    count: int = 0
    only_early: bool = False
    last_cut: date | None = None


@dataclass(frozen=True, eq=False)
class SeasonPlan:
    """The whole curve for one want. Arrays run over cut days from ``start``; shape (cut_days,).

    ``missed`` are windows that opened too soon to be made from today. ``target`` is the day the plants
    are to be ready; ``window`` the planting window it lies in (``None`` for plants kept in pots). ``exchange``: what
    sooner and later days would cost, where the target was Elder's to choose.
    """

    want: Want
    plant: Plant
    method: Method
    today: date
    target: date
    window: PlantingWindow | None
    missed: tuple[Missed, ...]
    table: CountTable
    roots: Take
    raising: Raising
    days: CutDays
    recommended: date
    exchange: tuple[Sooner, ...] = ()

    def __len__(self) -> int:
        return len(self.days.standing)

    @property
    def start(self) -> date:
        """The first cut day weighed."""
        return self.days.start

    @property
    def standing(self) -> Ints:
        """What each day is worth (``CutDay``)."""
        return self.days.standing

    @property
    def counts(self) -> Ints:
        """How many to cut; 0 where the day is closed."""
        return self.days.counts

    @property
    def ready(self) -> Floats:
        """The chance, in each scenario, that one which takes is ready; shape (scenarios, cut_days)."""
        return self.days.ready

    @property
    def wood(self) -> Bools:
        """Whether there is wood to cut."""
        return self.days.wood

    @property
    def take(self) -> Take:
        """The share that comes to stand: ``roots``, the share that roots at all, less what is lost after."""
        return self.table.take

    @property
    def fewest(self) -> int:
        """The fewest cuttings of any day that is not early; of any day, where all are."""
        offered = self.counts[self.standing > CutDay.EARLY]
        return int((offered if len(offered) else self.counts[self.counts > 0]).min())

    def index(self, day: date) -> int:
        """Where a day stands among the cut days; may lie outside them."""
        return (day - self.start).days

    @property
    def options(self) -> Iterator[CutOption]:
        """Every cut day in order."""
        return (self.option(add_days(self.start, i)) for i in range(len(self)))

    def days_of(self, standing: CutDay) -> list[date]:
        """The cut days of that standing."""
        return [add_days(self.start, int(i)) for i in np.flatnonzero(self.standing == standing)]

    @property
    def comfortable(self) -> tuple[date, date] | None:
        """First and last day of the comfortable run that the recommended day lies in or nearest before."""
        days = np.flatnonzero(self.standing == CutDay.COMFORTABLE)
        if not len(days):
            return None
        last = int(days[-1])
        return add_days(self.start, run_start(self.standing, last)), add_days(self.start, last)

    @property
    def open_until(self) -> date:
        """The last day on which a cut can still make it."""
        return add_days(self.start, int(np.flatnonzero(self.standing != CutDay.CLOSED)[-1]))

    @property
    def edges(self) -> tuple[str, str]:
        """What closes the comfortable days on each side: today, wood or patience; then wood or time."""
        span = self.comfortable
        if span is None:
            return "time", "time"
        before, after = (self.index(day) + step for day, step in zip(span, (-1, 1), strict=True))
        left = "today" if before < 0 else self._why_not(before)
        return left, "time" if after >= len(self) or self.wood[after] else "wood"

    def _why_not(self, index: int) -> str:
        return {CutDay.EARLY: "patience", CutDay.STRETCH: "time"}.get(CutDay(int(self.standing[index])), "wood")

    def option(self, day: date) -> CutOption:
        """What cutting on ``day`` means. Raises IndexError outside the days weighed."""
        index = self.index(day)
        if not 0 <= index < len(self):
            raise IndexError(f"{day} was not weighed")
        standing, count = CutDay(int(self.standing[index])), int(self.counts[index])
        followed = self.followed(day)
        ready = _dates(followed.mean_ready, day)
        return CutOption(
            day=day,
            standing=standing,
            closed_by=self._closed_by(index) if standing is CutDay.CLOSED else "",
            count=count,
            chance=self.table.chance(count or self.table.most, self.ready[:, index]),
            rooted=_dates(followed.mean_rooted, day),
            ready=ready,
            harvest=self._harvest(),
            plant_out=self.target,
            held_days=max((self.target - ready[1]).days, 0) if ready[1] else 0,
            nights=float(self.days.cold.nights[index]),
            killed=float(self.days.cold.killed[index]),
        )

    @cached_property
    def usual_ready(self) -> Ints:
        """About when half of those cut on each day are ready, in days from ``start``, in the year of the normals; −1
        for beyond what is drawn; shape (cut_days,)."""
        usual, many = self.raising.usual, len(self) + TAIL_DAYS
        places = usual.rooting_place, usual.growing_place
        rooting, growing = (usual.running(place, self.start, many)[0] for place in places)
        begun = rooting[np.minimum(np.arange(len(self)) + usual.dry_days, many)]
        rooted = np.searchsorted(rooting, begun + usual.rooting_law.median)
        potted = np.minimum(rooted + (usual.assumptions.look_every_days - 1) // 2, many)
        stands = usual_stands(usual, growing, potted) + usual.harden_days
        return np.where((rooted <= many) & (stands < many), stands, -1).astype(np.int64)

    def followed(self, day: date) -> CutDayChances:
        """What becomes of those cut on a day, well beyond the target."""
        days = max((self.target - day).days + TAIL_DAYS, LEAST_FOLLOWED_DAYS)
        return ready_from_cut(self.raising, day, days)

    def _closed_by(self, index: int) -> str:
        if not self.wood[index]:
            return "wood"
        if self.days.too_hot[index]:
            return "heat"
        if not self.days.too_cold[index]:
            return "time"
        return "killed" if self.days.cold.killed[index] else "cold"

    def _harvest(self) -> Dates:
        if self.window is None and self.want.purpose != "pot":
            return None, None, None
        plant = self.plant
        steps = (plant.harvest_early_days, plant.harvest_median_days, plant.harvest_late_days)
        climate = self.raising.climate
        first, middle, last = (harvest_day(plant, climate, self.target, days) for days in steps)
        return first, middle, last


def usual_stands(usual: Raising, growing: Floats, potted: Ints) -> Ints:
    """The day by which half of those potted on the days before ``potted`` stand, in the year of the normals; of
    ``growing``, the units gained before each day."""
    if usual.establish_law is None:
        return potted - 1
    return np.asarray(np.searchsorted(growing, growing[potted] + usual.establish_law.median) - 1, dtype=np.int64)


def _dates(chances: Floats, start: date) -> Dates:
    found = (int(first_day_at(chances, level)) for level in QUANTILES)
    early, middle, late = (add_days(start, i) if i >= 0 else None for i in found)
    return early, middle, late


def run_start(standing: Ints, last: int) -> int:
    """Where the run of equal standings that ends at ``last`` begins."""
    other = np.flatnonzero(standing[: last + 1] != standing[last])
    return int(other[-1]) + 1 if len(other) else 0
