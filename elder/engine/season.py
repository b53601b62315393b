"""When to cut and how many, for one want: every cut day of a year weighed at once."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date
from enum import IntEnum
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from elder.engine.climate import Climate, add_days, doy0_range
from elder.engine.counting import MOST_CUTTINGS, CountLadder, Take, chance_at_least, count_ladder
from elder.engine.gate import PlantingWindow, last_safe_day, planting_windows
from elder.engine.handbook import Method, Plant
from elder.engine.raising import Course, Floats, course_of, first_day_at
from elder.engine.refusal import Refusal
from elder.engine.warmth import Place
from elder.engine.wood import wood_in_season

Ints = NDArray[np.int64]
Purpose = Literal["bed", "spare", "gift", "sale", "winter"]

CUT_DAYS = 366  # cut days weighed for one target
TAIL_DAYS = 120  # days beyond the last of them, for what is still coming on then
FAR_DAYS = 730  # how far ahead a date may lie
JUST_SHUT_DAYS = 90  # how long a window that has shut is still worth a word (assumed)
SLACK_DAYS = 7  # kept between the recommended day and the last comfortable one (assumed)
QUANTILES = (0.1, 0.5, 0.9)


class Standing(IntEnum):
    """What a cut day is worth."""

    CLOSED = 0
    EARLY = 1
    COMFORTABLE = 2
    STRETCH = 3


@dataclass(frozen=True)
class Want:
    """So many good plants, by a day (``None``: as soon as it is safe), this sure, for this."""

    wanted: int
    by: date | None = None
    confidence: float = 0.9
    purpose: Purpose = "bed"
    stock_indoors: bool | None = None
    accepted_risk: float = 0.10
    slack_days: int = SLACK_DAYS

    def __post_init__(self) -> None:
        if self.wanted < 1 or not 0 < self.confidence < 1 or not 0 < self.accepted_risk < 1:
            raise ValueError("a want is for one plant or more, with a chance strictly between 0 and 1")

    @property
    def is_hardened(self) -> bool:
        """Whether the plants are hardened off before their day; those carried through winter are not."""
        return self.purpose != "winter"


@dataclass(frozen=True)
class Record:
    """What the household's own batches say of a method, in place of the handbook's take."""

    take: Take


Dates = tuple[date | None, date | None, date | None]


@dataclass(frozen=True)
class CutOption:
    """One cut day: its count and chance, dates at 10, 50 and 90% (``None``: past what was reckoned),
    the day the plants go out, how long half of them wait for it, and what the day is worth."""

    day: date
    standing: Standing
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
    wood: NDArray[np.bool_] = field(repr=False)
    recommended: date = date.min

    def __len__(self) -> int:
        return len(self.standing)

    @property
    def options(self) -> Iterator[CutOption]:
        """Every cut day in order."""
        return (self.option(add_days(self.start, i)) for i in range(len(self)))

    def days_of(self, standing: Standing) -> list[date]:
        """The cut days of that standing."""
        return [add_days(self.start, int(i)) for i in np.flatnonzero(self.standing == standing)]

    @property
    def comfortable(self) -> tuple[date, date] | None:
        """First and last day of the comfortable run that the recommended day lies in or nearest before."""
        days = np.flatnonzero(self.standing == Standing.COMFORTABLE)
        if not len(days):
            return None
        last = int(days[-1])
        return add_days(self.start, _run_start(self.standing, last)), add_days(self.start, last)

    @property
    def open_until(self) -> date:
        """The last day on which a cut can still make it."""
        return add_days(self.start, int(np.flatnonzero(self.standing != Standing.CLOSED)[-1]))

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
        return {Standing.EARLY: "patience", Standing.STRETCH: "time"}.get(Standing(int(self.standing[index])), "wood")

    def option(self, day: date) -> CutOption:
        """What cutting on ``day`` means. Raises IndexError outside the days weighed."""
        index = self.course.index(day)
        if not 0 <= index < len(self):
            raise IndexError(f"{day} was not weighed")
        standing, count = Standing(int(self.standing[index])), int(self.counts[index])
        rooted, ready = self._dates(self.course.rooted[index]), self._dates(self.course.ready[index])
        reckoned = count or self.ladder.most
        chance = chance_at_least(self.want.wanted, reckoned, chance_ready=self.chance_ready[index], take=self.take)
        return CutOption(
            day=day,
            standing=standing,
            closed_by=self._closed_by(index) if standing is Standing.CLOSED else "",
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
        early, late = self.plant.harvest_early_days, self.plant.harvest_late_days
        steps = (early, round((early * late) ** 0.5), late)
        first, middle, last = (add_days(self.target, days) for days in steps)
        return first, middle, last


@dataclass(frozen=True)
class _Span:
    """Days among which the target may lie."""

    first: date
    last: date
    window: PlantingWindow | None


def plan_want(
    want: Want,
    plant: Plant,
    method: Method,
    climate: Climate,
    rooting_place: Place,
    growing_place: Place,
    today: date,
    record: Record | None = None,
) -> SeasonPlan | Refusal:
    """Weigh every cut day for a want. Source: the soil-line model of docs/architecture.md."""
    take = record.take if record else method.take
    ladder = count_ladder(want.wanted, take, want.confidence)
    if ladder is None:
        return Refusal("too_many", "wanted", {"wanted": want.wanted, "most": MOST_CUTTINGS})
    bench = _Bench(want, plant, method, climate, rooting_place, growing_place, today, take, ladder)
    spans = list(_spans(want, plant, climate, today))
    if not spans:
        return Refusal("no_window", "plant", {"plant": plant.name})
    return _by_date(bench, spans, want.by) if want.by else _as_soon_as_safe(bench, spans)


def _spans(want: Want, plant: Plant, climate: Climate, today: date) -> Iterator[_Span]:
    """Where the target may lie, soonest first: the planting windows, or any day for plants kept in pots."""
    if want.purpose == "winter":
        day = last_safe_day(climate, plant.frost_limit_c, accepted_risk=want.accepted_risk, after=today)
        while day and (day - today).days < FAR_DAYS:
            yield _Span(today if want.by else day, day, None)
            day = last_safe_day(climate, plant.frost_limit_c, accepted_risk=want.accepted_risk, after=add_days(day, 1))
    elif want.purpose == "bed":
        # One that has only just shut is named too, so that "too late this year" can be said.
        windows = planting_windows(
            plant,
            climate,
            accepted_risk=want.accepted_risk,
            start=add_days(today, -JUST_SHUT_DAYS),
            days=FAR_DAYS + JUST_SHUT_DAYS,
        )
        yield from (_Span(max(window.opens, today), window.shuts, window) for window in windows)
    else:
        yield _Span(today, add_days(today, FAR_DAYS), None)


@dataclass(frozen=True, eq=False)
class _Bench:
    """What stays the same while targets are tried."""

    want: Want
    plant: Plant
    method: Method
    climate: Climate
    rooting_place: Place
    growing_place: Place
    today: date
    take: Take
    ladder: CountLadder

    def course(self, target: date) -> Course:
        """The course of a year of cut days that ends no sooner than ``target``."""
        start = max(self.today, add_days(target, 1 - CUT_DAYS))
        days = CUT_DAYS + TAIL_DAYS
        places = self.rooting_place, self.growing_place
        harden = self.want.is_hardened
        return course_of(self.plant, self.method, self.climate, *places, start, CUT_DAYS, days, harden=harden)

    def wood(self, start: date) -> NDArray[np.bool_]:
        indoors = self.want.stock_indoors
        indoors = self.plant.stock_indoors if indoors is None else indoors
        season = wood_in_season(self.climate, self.method.wood, stock_indoors=indoors)
        return np.asarray(season[doy0_range(start, CUT_DAYS)])

    def first_target(self, span: _Span, *, after: date | None = None) -> date | None:
        """The soonest day of a span that a cut from today can make: in comfort with the slack kept, else
        in comfort, else at a stretch. ``None`` where no cut can."""
        course = self.course(span.first)
        grid, wood = course.ready, self.wood(course.start)
        first = course.index(max(span.first, after or span.first))
        last = min(course.index(span.last), grid.shape[1] - 1)
        slack = self.want.slack_days if course.start == self.today else 0
        rows = np.flatnonzero(wood)
        if not len(rows) or last < first:
            return None
        spell = grid[:, first : last + 1]
        comfort = self.ladder.chances[0]
        for wait in (slack, 0):
            hits = np.flatnonzero((spell[rows[rows >= rows[0] + wait]] >= comfort).any(axis=0))
            if len(hits):
                return add_days(course.start, first + int(hits[0]))
        # At a stretch: the soonest day of those that want the fewest cuttings.
        counts = self.ladder.counts(spell[rows].max(axis=0))
        if not counts.any():
            return None
        fewest = counts[counts > 0].min()
        return add_days(course.start, first + int(np.flatnonzero(counts == fewest)[0]))

    def plan(self, target: date, window: PlantingWindow | None, missed: list[PlantingWindow]) -> SeasonPlan | None:
        """The curve for one target; ``None`` where every day is closed."""
        course = self.course(target)
        wood, column = self.wood(course.start), course.ready[:, course.index(target)]
        counts = np.where(wood, self.ladder.counts(column), 0)
        standing = self._standings(course, counts, target)
        if not standing.any():
            return None
        return SeasonPlan(
            want=self.want,
            plant=self.plant,
            method=self.method,
            today=self.today,
            start=course.start,
            target=target,
            window=window,
            missed=tuple(missed),
            ladder=self.ladder,
            take=self.take,
            course=course,
            standing=standing,
            counts=counts,
            chance_ready=column,
            wood=wood,
            recommended=add_days(course.start, recommended_index(standing, counts, self.want.slack_days)),
        )

    def _standings(self, course: Course, counts: Ints, target: date) -> Ints:
        held = np.where(course.half_ready >= 0, course.index(target) - course.half_ready, 0)
        too_long = held > self.plant.patience_days
        worth = np.where(counts == self.ladder.least, Standing.COMFORTABLE, Standing.STRETCH)
        worth = np.where(too_long, Standing.EARLY, worth)
        return np.where(counts > 0, worth, Standing.CLOSED).astype(np.int64)


def recommended_index(standing: Ints, counts: Ints, slack_days: int) -> int:
    """The latest comfortable day less the slack, not leaving its run; else the stretch day with the
    least count, the earliest of several; else the latest early day."""
    comfortable = np.flatnonzero(standing == Standing.COMFORTABLE)
    if len(comfortable):
        last = int(comfortable[-1])
        return max(last - slack_days, _run_start(standing, last))
    stretch = np.flatnonzero(standing == Standing.STRETCH)
    if len(stretch):
        return int(stretch[np.argmin(counts[stretch])])
    return int(np.flatnonzero(standing == Standing.EARLY)[-1])


def _run_start(standing: Ints, last: int) -> int:
    """Where the run of equal standings that ends at ``last`` begins."""
    other = np.flatnonzero(standing[: last + 1] != standing[last])
    return int(other[-1]) + 1 if len(other) else 0


def _as_soon_as_safe(bench: _Bench, spans: list[_Span]) -> SeasonPlan | Refusal:
    missed: list[PlantingWindow] = []
    for span in spans:
        target = bench.first_target(span) if span.first <= span.last else None
        plan = bench.plan(target, span.window, missed) if target else None
        if plan:
            return plan
        if span.window:
            missed.append(span.window)
    return Refusal("never_ready", "plant", {"plant": bench.plant.name, "wood": bench.method.wood})


def _by_date(bench: _Bench, spans: list[_Span], by: date) -> SeasonPlan | Refusal:
    if by <= bench.today:
        return Refusal("by_past", "by", {"by": by, "today": bench.today})
    if (by - bench.today).days > FAR_DAYS:
        return Refusal("by_too_far", "by", {"by": by, "latest": add_days(bench.today, FAR_DAYS)})
    span = next((span for span in spans if span.first <= by <= span.last), None)
    if span is None:
        return _outside(bench, spans, by)
    missed = [other.window for other in spans if other.last < by and other.window]
    return bench.plan(by, span.window, missed) or _too_late(bench, spans, by)


def _outside(bench: _Bench, spans: list[_Span], by: date) -> Refusal:
    """A date on which the plant cannot be set out: the window before it, the one after, or the winter."""
    later = next((span for span in spans if span.first > by), None)
    earlier = next((span for span in reversed(spans) if span.last < by), None)
    said = {
        "by": by,
        "before": earlier and (earlier.window or earlier.last),
        "after": later and (later.window or later.last),
    }
    return Refusal("gate_shut" if earlier else "gate_not_open", "by", said)


def _too_late(bench: _Bench, spans: list[_Span], by: date) -> Refusal:
    """No cut from today makes the day: says the soonest day that one would."""
    for span in spans:
        if span.last >= by:
            found = bench.first_target(span, after=by)
            if found:
                return Refusal("too_late", "by", {"by": by, "soonest": found, "window": span.window})
    return Refusal("too_late", "by", {"by": by, "soonest": None, "window": None})
