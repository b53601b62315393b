"""When to cut and how many, for one want: every cut day of a year weighed at once."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.engine.arrays import Bools, Ints
from elder.engine.chance.counting import MOST_CUTTINGS, CountLadder, Take, count_ladder
from elder.engine.chance.ready_by import Course, course_of
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import add_days, doy0_range
from elder.engine.climate.frost_risk import last_safe_day
from elder.engine.handbook.model import Plant
from elder.engine.plan.planting_windows import PlantingWindow, planting_windows, struck_out_of_doors
from elder.engine.plan.season_plan import CutDay, SeasonPlan, run_start
from elder.engine.plan.want import Record, Want
from elder.engine.plan.wood import wood_in_season
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

CUT_DAYS = 366  # cut days weighed for one target
TAIL_DAYS = 120  # days beyond the last of them, for what is still coming on then
FAR_DAYS = 730  # how far ahead a date may lie
NEVER_TOO_LONG = 10_000  # days: what is struck where it stands waits in no pot
JUST_SHUT_DAYS = 90  # how long a window that has shut is still worth a word (assumed)


@dataclass(frozen=True)
class _Span:
    """Days among which the target may lie."""

    first: date
    last: date
    window: PlantingWindow | None


def plan_want(
    want: Want,
    setting: Setting,
    record: Record | None = None,
) -> SeasonPlan | Refusal:
    """Weigh every cut day for a want. Source: the soil-line model of docs/architecture.md."""
    setting, method = setting.grown, setting.method
    if not method.is_offered:
        return Refusal("rarely_a_plant", "method", {"caveat": method.caveat})
    if method.direct and setting.rooting_place.standing != "ground":
        return Refusal("needs_ground", "rooting_place", {"method": method.name})
    take = record.take if record else method.plant_take
    ladder = count_ladder(want.wanted, take, want.confidence)
    if ladder is None:
        return Refusal("too_many", "wanted", {"wanted": want.wanted, "most": MOST_CUTTINGS})
    bench = _Bench(want, setting, take, ladder)
    spans = list(_spans(want, setting.plant, setting.climate, setting.today))
    if not spans:
        return Refusal("no_window", "plant", {"plant": setting.plant.name})
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
    setting: Setting
    take: Take
    ladder: CountLadder

    def course(self, target: date) -> Course:
        """The course of a year of cut days that ends no sooner than ``target``."""
        start = max(self.setting.today, add_days(target, 1 - CUT_DAYS))
        return course_of(self.setting.raising(harden=self.want.is_hardened), start, CUT_DAYS, CUT_DAYS + TAIL_DAYS)

    def wood(self, start: date) -> Bools:
        return cuttable_days(self.want, self.setting, start, CUT_DAYS)

    def first_target(self, span: _Span, *, after: date | None = None) -> date | None:
        """The soonest day of a span that a cut from today can make: in comfort with the slack kept, else
        in comfort, else at a stretch. ``None`` where no cut can."""
        course = self.course(span.first)
        grid, wood = course.ready, self.wood(course.start)
        first = course.index(max(span.first, after or span.first))
        last = min(course.index(span.last), grid.shape[1] - 1)
        slack = self.want.slack_days if course.start == self.setting.today else 0
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
            plant=self.setting.plant,
            method=self.setting.method,
            today=self.setting.today,
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
        patience = NEVER_TOO_LONG if self.setting.method.direct else self.setting.plant.patience_days
        return standings_of(counts, course.half_ready, course.index(target), self.ladder.least, patience)


def cuttable_days(want: Want, setting: Setting, start: date, days: int) -> Bools:
    """Days from ``start`` on which there is wood to cut and somewhere to strike it; shape (days,)."""
    plant, method, climate = setting.plant, setting.method, setting.climate
    indoors = plant.stock_indoors if want.stock_indoors is None else want.stock_indoors
    season = wood_in_season(climate, method.wood, stock_indoors=indoors)
    if method.direct and method.wood != "dormant":
        # Struck where it stands, a green cutting meets the open ground on the day it is cut.
        season = season & struck_out_of_doors(plant, climate, want.accepted_risk)
    return np.asarray(season[doy0_range(start, days)])


def standings_of(counts: Ints, half_ready: Ints, target: int, least: int, patience_days: int) -> Ints:
    """What each cut day is worth (``CutDay``), from its count (0: closed) and the day half are ready (−1:
    never); shape of ``counts``."""
    held = np.where(half_ready >= 0, target - half_ready, 0)
    worth = np.where(counts == least, CutDay.COMFORTABLE, CutDay.STRETCH)
    worth = np.where(held > patience_days, CutDay.EARLY, worth)
    return np.where(counts > 0, worth, CutDay.CLOSED).astype(np.int64)


def recommended_index(standing: Ints, counts: Ints, slack_days: int) -> int:
    """The latest comfortable day less the slack, not leaving its run; else the stretch day with the
    least count, the earliest of several; else the latest early day."""
    comfortable = np.flatnonzero(standing == CutDay.COMFORTABLE)
    if len(comfortable):
        last = int(comfortable[-1])
        return max(last - slack_days, run_start(standing, last))
    stretch = np.flatnonzero(standing == CutDay.STRETCH)
    if len(stretch):
        return int(stretch[np.argmin(counts[stretch])])
    return int(np.flatnonzero(standing == CutDay.EARLY)[-1])


def _as_soon_as_safe(bench: _Bench, spans: list[_Span]) -> SeasonPlan | Refusal:
    missed: list[PlantingWindow] = []
    for span in spans:
        target = bench.first_target(span) if span.first <= span.last else None
        plan = bench.plan(target, span.window, missed) if target else None
        if plan:
            return plan
        if span.window:
            missed.append(span.window)
    return Refusal("never_ready", "plant", {"plant": bench.setting.plant.name, "wood": bench.setting.method.wood})


def _by_date(bench: _Bench, spans: list[_Span], by: date) -> SeasonPlan | Refusal:
    if by <= bench.setting.today:
        return Refusal("by_past", "by", {"by": by, "today": bench.setting.today})
    if (by - bench.setting.today).days > FAR_DAYS:
        return Refusal("by_too_far", "by", {"by": by, "latest": add_days(bench.setting.today, FAR_DAYS)})
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
