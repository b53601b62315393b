"""A plan as a value: what each cut day is worth, and the whole curve."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date
from enum import IntEnum

import numpy as np

from elder.engine.arrays import Bools, Floats, Ints
from elder.engine.chance.counting import CountLadder, Take, chance_at_least
from elder.engine.chance.ready_by import Course, first_day_at
from elder.engine.climate.day_of_year import add_days
from elder.engine.handbook.model import Method, Plant
from elder.engine.plan.planting_windows import PlantingWindow
from elder.engine.plan.want import Want

QUANTILES = (0.1, 0.5, 0.9)


class CutDay(IntEnum):
    """What a cut day is worth."""

    CLOSED = 0
    EARLY = 1
    COMFORTABLE = 2
    STRETCH = 3


Dates = tuple[date | None, date | None, date | None]


@dataclass(frozen=True)
class CutOption:
    """One cut day: its count and chance, dates at 10, 50 and 90% (``None``: past what was reckoned),
    the day the plants go out, how long half of them wait for it, and what the day is worth."""

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


@dataclass(frozen=True, eq=False)
class SeasonPlan:
    """The whole curve for one want. Arrays run over cut days from ``start``; shape (cut_days,).

    ``missed`` are windows that opened too soon to be made from today. ``target`` is the day the plants
    are to be ready; ``window`` the planting window it lies in (``None`` for plants kept in pots).
    """

    want: Want
    plant: Plant
    method: Method
    today: date
    start: date
    target: date
    window: PlantingWindow | None
    missed: tuple[PlantingWindow, ...]
    ladder: CountLadder
    take: Take
    course: Course
    standing: Ints
    counts: Ints
    chance_ready: Floats
    wood: Bools = field(repr=False)
    recommended: date = date.min

    def __len__(self) -> int:
        return len(self.standing)

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
        before, after = (self.course.index(day) + step for day, step in zip(span, (-1, 1), strict=True))
        left = "today" if before < 0 else self._why_not(before)
        return left, "time" if after >= len(self) or self.wood[after] else "wood"

    def _why_not(self, index: int) -> str:
        return {CutDay.EARLY: "patience", CutDay.STRETCH: "time"}.get(CutDay(int(self.standing[index])), "wood")

    def option(self, day: date) -> CutOption:
        """What cutting on ``day`` means. Raises IndexError outside the days weighed."""
        index = self.course.index(day)
        if not 0 <= index < len(self):
            raise IndexError(f"{day} was not weighed")
        standing, count = CutDay(int(self.standing[index])), int(self.counts[index])
        rooted, ready = self._dates(self.course.rooted[index]), self._dates(self.course.ready[index])
        reckoned = count or self.ladder.most
        chance = chance_at_least(self.want.wanted, reckoned, chance_ready=self.chance_ready[index], take=self.take)
        return CutOption(
            day=day,
            standing=standing,
            closed_by=self._closed_by(index) if standing is CutDay.CLOSED else "",
            count=count,
            chance=float(chance),
            rooted=rooted,
            ready=ready,
            harvest=self._harvest(),
            plant_out=self.target,
            held_days=max((self.target - ready[1]).days, 0) if ready[1] else 0,
        )

    def _closed_by(self, index: int) -> str:
        return "time" if self.wood[index] else "wood"

    def _dates(self, chances: Floats) -> Dates:
        found = (int(first_day_at(chances, level)) for level in QUANTILES)
        early, middle, late = (add_days(self.start, i) if i >= 0 else None for i in found)
        return early, middle, late

    def _harvest(self) -> Dates:
        if self.window is None:
            return None, None, None
        plant = self.plant
        steps = (plant.harvest_early_days, plant.harvest_median_days, plant.harvest_late_days)
        first, middle, last = (add_days(self.target, days) for days in steps)
        return first, middle, last


def run_start(standing: Ints, last: int) -> int:
    """Where the run of equal standings that ends at ``last`` begins."""
    other = np.flatnonzero(standing[: last + 1] != standing[last])
    return int(other[-1]) + 1 if len(other) else 0
