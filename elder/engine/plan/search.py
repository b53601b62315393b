"""When to cut and how many, for one want: every cut day of a year weighed at once."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Ints
from elder.engine.assumptions import Assumptions
from elder.engine.chance.count_table import count_table
from elder.engine.chance.counting import MOST_CUTTINGS, Take
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import add_days
from elder.engine.climate.frost_risk import last_safe_day
from elder.engine.handbook.model import Plant
from elder.engine.plan.curve import Curves, CutDay, CutDays
from elder.engine.plan.planting_windows import PlantingWindow, planting_windows
from elder.engine.plan.season_plan import Missed, SeasonPlan, run_start
from elder.engine.plan.soonest import best_by, exchange, soonest
from elder.engine.plan.want import Record, Want
from elder.engine.plan.wintering import keeps_at, too_cold_to_keep
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

CUT_DAYS: Final = 366  # cut days weighed for one target
FAR_DAYS: Final = 730  # how far ahead a date may lie
STANDS_IN_POT: Final = (
    "pot",
    "winter",
    "spare",
    "reserve",
)  # purposes that what goes straight into the ground cannot serve
JUST_SHUT_DAYS: Final = 90  # how long a window that has shut is still worth a word (assumed)


@dataclass(frozen=True)
class Span:
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
    setting, method = want.condition.under(setting.grown), setting.method
    if not method.is_offered:
        return Refusal("rarely_a_plant", "method", {"caveat": method.caveat})
    if method.direct and setting.rooting_place.standing != "ground":
        return Refusal("needs_ground", "rooting_place", {"method": method.name})
    if method.route.stays and want.purpose in STANDS_IN_POT:
        return Refusal("stands_in_no_pot", "method", {"method": method.name, "purpose": want.purpose})
    if want.purpose == "pot" and not keeps_at(
        setting.plant, setting.growing_place, setting.climate, want.accepted_risk
    ):
        return too_cold_to_keep(setting, want.accepted_risk)
    roots = want.condition.lowers(record.take if record else method.plant_take)
    table = count_table(want.wanted, roots.then(setting.after_roots), want.confidence)
    if table is None:
        return Refusal("too_many", "wanted", {"wanted": want.wanted, "most": MOST_CUTTINGS})
    search = _Search(Curves(want, setting, table), roots)
    spans = list(_spans(want, setting.plant, setting.climate, setting.today))
    if not spans:
        return Refusal("no_window", "plant", {"plant": setting.plant.name})
    return search.by_date(spans, want.by) if want.by else search.as_soon_as_safe(spans)


def _spans(want: Want, plant: Plant, climate: Climate, today: date) -> Iterator[Span]:
    """Where the target may lie, soonest first: the planting windows, or any day for plants kept in pots."""
    if want.purpose == "winter":
        day = last_safe_day(climate, plant.frost_limit_c, accepted_risk=want.accepted_risk, after=today)
        while day and (day - today).days < FAR_DAYS:
            yield Span(today if want.by else day, day, None)
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
        yield from (Span(max(window.opens, today), window.shuts, window) for window in windows)
    else:
        yield Span(today, add_days(today, FAR_DAYS), None)


def recommended_index(standing: Ints, counts: Ints, assumptions: Assumptions) -> int:
    """The latest comfortable day less the slack, not leaving its run; else the latest day that costs little more than
    the best, less the slack; −1 where nothing but early days is left."""
    good = standing == CutDay.COMFORTABLE
    if not good.any():
        open_ = standing == CutDay.STRETCH
        if not open_.any():
            return -1
        good = open_ & (counts <= assumptions.allowed(int(counts[open_].min())))
    last = int(np.flatnonzero(good)[-1])
    return max(last - assumptions.slack_days, run_start(good, last))


@dataclass(frozen=True, eq=False)
class _Search:
    """The search for a target and its plan."""

    curves: Curves
    roots: Take

    @property
    def want(self) -> Want:
        return self.curves.want

    @property
    def setting(self) -> Setting:
        return self.curves.setting

    def plan(self, target: date, window: PlantingWindow | None, missed: list[Missed]) -> SeasonPlan | None:
        """The curve for one target; ``None`` where no day but early ones is open."""
        today, assumptions = self.setting.today, self.setting.assumptions
        start = max(today, add_days(target, 1 - CUT_DAYS))
        days = self.curves.at(start, CUT_DAYS, target)
        index = recommended_index(days.standing, days.counts, assumptions)
        if index < 0:
            return None
        return SeasonPlan(
            want=self.want,
            plant=self.setting.plant,
            method=self.setting.method,
            today=today,
            target=target,
            window=window,
            missed=tuple(missed),
            table=self.curves.table,
            roots=self.roots,
            raising=self.curves.raising,
            days=days,
            recommended=add_days(start, index),
        )

    def soonest(self, span: Span, *, after: date | None = None) -> date | None:
        """The first target of a span worth its cuttings."""
        first = max(span.first, after or span.first)
        return soonest(self.curves, first, span.last) if first <= span.last else None

    def as_soon_as_safe(self, spans: list[Span]) -> SeasonPlan | Refusal:
        missed: list[Missed] = []
        for span in spans:
            target = self.soonest(span)
            plan = self.plan(target, span.window, missed) if target else None
            if plan:
                first, last = span.first, span.last
                return replace(plan, exchange=exchange(self.curves, plan.recommended, plan.target, first, last))
            if span.window:
                missed.append(self.missed(span.window, only_early=target is not None))
        return self._never_ready()

    def missed(self, window: PlantingWindow, *, only_early: bool) -> Missed:
        """What is left of a window that cannot be made, and the last cut that makes it."""
        start = add_days(window.shuts, 1 - CUT_DAYS)
        past = self.curves.at(start, CUT_DAYS, window.shuts)
        able = np.flatnonzero(past.standing > CutDay.EARLY)
        last = add_days(start, int(able[-1])) if len(able) else None
        chance, count = best_by(self.curves, window.shuts) if window.shuts > self.setting.today else (0.0, 0)
        return Missed(window, chance, count, only_early, last)

    def _never_ready(self) -> Refusal:
        plant, method = self.setting.plant, self.setting.method
        assumptions = self.setting.assumptions
        warm = replace(self.setting, assumptions=replace(assumptions, carry_nights=None))
        found = plan_want(self.want, warm) if assumptions.carry_nights is not None else None
        if isinstance(found, SeasonPlan):
            days = self.curves.at(found.start, CUT_DAYS, found.target)
            return Refusal("too_cold", "growing_place", {"by": None, "soonest": None} | self._cold_said(days))
        return Refusal("never_ready", "plant", {"plant": plant.name, "wood": method.wood})

    def _cold_said(self, days: CutDays) -> dict[str, object]:
        """What cold asks on the day that it asks least of, among those that nothing else closes."""
        able = np.flatnonzero(days.wood & (self.curves.table.counts(days.ready) > 0))
        least = able[np.lexsort((days.cold.nights[able], days.cold.killed[able]))[0]]
        nights, killed = round(float(days.cold.nights[least])), float(days.cold.killed[least])
        return {"nights": nights, "killed": killed, "most": self.setting.assumptions.carry_nights}

    def by_date(self, spans: list[Span], by: date) -> SeasonPlan | Refusal:
        today = self.setting.today
        if by <= today:
            return Refusal("by_past", "by", {"by": by, "today": today})
        if (by - today).days > FAR_DAYS:
            return Refusal("by_too_far", "by", {"by": by, "latest": add_days(today, FAR_DAYS)})
        span = next((span for span in spans if span.first <= by <= span.last), None)
        if span is None:
            return _outside(spans, by)
        missed = [Missed(other.window) for other in spans if other.last < by and other.window]
        return self.plan(by, span.window, missed) or self._too_late(spans, by)

    def _too_late(self, spans: list[Span], by: date) -> Refusal:
        """No cut from today makes the day: says why, and the soonest day that one would."""
        start = max(self.setting.today, add_days(by, 1 - CUT_DAYS))
        days = self.curves.at(start, CUT_DAYS, by)
        soonest = self._soonest_after(spans, by)
        if days.standing.any():
            return Refusal(
                "only_early", "by", {"by": by, "soonest": soonest, "patience": self.setting.plant.patience_days}
            )
        if (days.wood & days.too_cold & (self.curves.table.counts(days.ready) > 0)).any():
            return Refusal("too_cold", "by", {"by": by, "soonest": soonest} | self._cold_said(days))
        if (days.wood & days.too_hot & (self.curves.table.counts(days.ready) > 0)).any():
            return Refusal("too_hot", "by", {"by": by, "soonest": soonest})
        return Refusal("too_late", "by", {"by": by, "soonest": soonest})

    def _soonest_after(self, spans: list[Span], by: date) -> date | None:
        for span in spans:
            found = self.soonest(span, after=by) if span.last >= by else None
            if found and self.plan(found, span.window, []):
                return found
        return None


def _outside(spans: list[Span], by: date) -> Refusal:
    """A date on which the plant cannot be set out: the window before it, the one after, or the winter."""
    later = next((span for span in spans if span.first > by), None)
    earlier = next((span for span in reversed(spans) if span.last < by), None)
    said = {
        "by": by,
        "before": earlier and (earlier.window or earlier.last),
        "after": later and (later.window or later.last),
    }
    return Refusal("gate_shut" if earlier else "gate_not_open", "by", said)
