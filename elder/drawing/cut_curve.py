"""The cut-day curve: how many cuttings, against the day they are taken."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from elder.drawing.axis import TimeAxis, month_label
from elder.drawing.scene import Area, Mark, Scene, Shape, Stroke, Text, box, number, percent, polyline
from elder.drawing.soil_line import CUT_OPEN, standing_runs
from elder.engine.plan.curve import CutDay
from elder.engine.plan.season_plan import SeasonPlan

HEIGHT, TOP, FLOOR, READY_ROW = 196, 22, 136, 174
Height = Callable[[float], float]  # from a count to pixels down
READY_DATES = 9  # at most so many are written under the curve, none left of where the row is named
READY_FROM = 0.1
FIRST_LABEL = 0.012  # nearer to the left edge a day's label would be cut off
NAMES = {CutDay.EARLY: "early", CutDay.COMFORTABLE: "comfortable", CutDay.STRETCH: "stretch"}


@dataclass(frozen=True)
class CutCurve:
    """The drawing, and the days its left and right edges stand for (a slider lies over it)."""

    scene: Scene
    axis: TimeAxis


def curve_axis(plan: SeasonPlan) -> TimeAxis:
    """The days worth showing: from a little before the first that is worth a cut to a little after the
    last, the long early part cut short."""
    worth = np.flatnonzero((plan.standing == CutDay.COMFORTABLE) | (plan.standing == CutDay.STRETCH))
    if not len(worth):
        worth = np.flatnonzero(plan.standing)[-30:]
    first, last = int(worth[0]), int(worth[-1])
    pad = max(10, (last - first) // 4)
    start = plan.start + timedelta(days=max(first - pad, -7))
    return TimeAxis(start, plan.start + timedelta(days=min(last + max(pad // 2, 8), len(plan) - 1)))


def cut_curve(plan: SeasonPlan, chosen: date, *, words: str) -> CutCurve:
    """Draw it, with the chosen day marked."""
    axis = curve_axis(plan)
    top_count = plan.table.most
    floor_height = FLOOR - TOP

    def y(count: float) -> float:
        return FLOOR - floor_height * count / top_count

    shapes: list[Shape] = []
    for day in axis.mondays():
        shapes.append(Stroke("week", percent(axis.x(day)), str(FLOOR), percent(axis.x(day)), str(FLOOR + 4)))
    shapes += _scale(plan, y)
    for first, last, standing in standing_runs(plan.start, plan.standing):
        if last >= axis.start and first <= axis.end:
            shapes += _run(plan, axis, y, max(first, axis.start), min(last, axis.end), standing)
    shapes += _closed(plan, axis)
    shapes.append(Stroke("soil", "0%", str(FLOOR), "100%", str(FLOOR)))
    shapes += [*_dates(axis), *_ready_dates(plan, axis)]
    if axis.shows(plan.today):
        x = percent(axis.x(plan.today))
        shapes.append(Stroke("today", x, str(TOP - 6), x, str(FLOOR)))
    return CutCurve(Scene(HEIGHT, words, (*shapes, *_chosen(plan, axis, y, chosen))), axis)


def _scale(plan: SeasonPlan, y: Height) -> list[Shape]:
    """Rules at the least count, twice and three times it."""
    shapes: list[Shape] = []
    for times in (1, 2, 3):
        count = min(times * plan.fewest, plan.table.most)
        at = number(y(count))
        shapes.append(Stroke("rule", "0%", at, "100%", at))
        shapes.append(Text("rule-number", "0%", number(y(count) - 3), str(count), "start", "2"))
    return shapes


def _run(plan: SeasonPlan, axis: TimeAxis, y: Height, first: date, last: date, standing: CutDay) -> list[Shape]:
    """One stretch of equal standing: an area under a stepped edge, and its name."""
    begin, end = plan.index(first), plan.index(last)
    edge: list[tuple[float, float]] = []
    for i in range(begin, end + 1):
        day = plan.start + timedelta(days=i)
        left, right = _slot(axis, day)
        edge += [(left, y(int(plan.counts[i]))), (right, y(int(plan.counts[i])))]
    path = polyline([(edge[0][0], FLOOR), *edge, (edge[-1][0], FLOOR)], close=True)
    shapes: list[Shape] = [Area(f"curve-{standing.name.lower()}", path)]
    middle = (edge[0][0] + edge[-1][0]) / 2
    if edge[-1][0] - edge[0][0] > 0.07:
        shapes.append(
            Text(
                f"curve-name name-{standing.name.lower()}", percent(middle), str(HEIGHT - 4), NAMES[standing], "middle"
            )
        )
    return shapes


def _slot(axis: TimeAxis, day: date) -> tuple[float, float]:
    """A day's slot, centred on the day, held to the edges."""
    half = 0.5 / axis.days
    return max(axis.x(day) - half, 0.0), min(axis.x(day) + half, 1.0)


def _closed(plan: SeasonPlan, axis: TimeAxis) -> list[Shape]:
    """Closed days: a low hatch on the floor, so that nothing there is not mistaken for few."""
    shapes: list[Shape] = []
    open_days = [(first, last) for first, last, _ in standing_runs(plan.start, plan.standing)]
    at = axis.start
    day = timedelta(days=1)
    for first, last in [*open_days, (axis.end + day, axis.end + day)]:
        if first > at and at <= axis.end:
            left, right = _slot(axis, at)[0], _slot(axis, min(first - day, axis.end))[1]
            shapes.append(Area("curve-closed", box(left, right, FLOOR - 9, FLOOR)))
            if right - left > 0.09:
                shapes.append(Text("curve-name", percent((left + right) / 2), str(HEIGHT - 4), "closed", "middle"))
        at = max(at, last + day)
    return shapes


def _dates(axis: TimeAxis) -> list[Shape]:
    """Day numbers on Mondays, months where they begin."""
    shapes: list[Shape] = []
    every = max(1, axis.days // 70 + 1)
    seen_month = 0
    for i, day in enumerate(axis.mondays()):
        if i % every or not FIRST_LABEL < axis.x(day) <= 0.97:
            continue
        new_month = day.month != seen_month
        words = f"{day.day} {month_label(day, with_year=False)}" if new_month else str(day.day)
        seen_month = day.month
        shapes.append(Text("day-number", percent(axis.x(day)), str(FLOOR + 17), words, "middle"))
    return shapes


def _ready_dates(plan: SeasonPlan, axis: TimeAxis) -> list[Shape]:
    """Under the days of the cut, about when those plants would be ready."""
    shapes: list[Shape] = [Text("ready-name", "0%", str(READY_ROW), "ready", "start", "2")]
    first, last = (plan.index(day) for day in (axis.start, axis.end))
    shown = [i for i in range(max(first, 0), min(last, len(plan) - 1) + 1) if plan.standing[i]]
    shown = [i for i in shown if plan.usual_ready[i] >= 0 and axis.x(plan.start + timedelta(days=i)) > READY_FROM]
    many = min(max(READY_DATES * len(shown) // axis.days, 2), len(shown))
    for i in np.unique(np.linspace(0, len(shown) - 1, many).round().astype(int)) if shown else ():
        day = plan.start + timedelta(days=shown[i])
        ready = plan.start + timedelta(days=int(plan.usual_ready[shown[i]]))
        words = f"{ready.day} {month_label(ready, with_year=False)}"
        shapes.append(Text("ready-number", percent(axis.x(day)), str(READY_ROW), words, "middle"))
    return shapes


def _chosen(plan: SeasonPlan, axis: TimeAxis, y: Height, chosen: date) -> list[Shape]:
    """The chosen day: a rule, its mark at its count, the count beside it."""
    index = plan.index(chosen)
    if not axis.shows(chosen):
        return []
    count = int(plan.counts[index]) if 0 <= index < len(plan) else 0
    x, at = percent(axis.x(chosen)), y(count)
    shapes: list[Shape] = [Stroke("chosen", x, number(TOP - 8), x, str(FLOOR + 6))]
    shapes.append(Mark("cut-planned", x, number(at), CUT_OPEN))
    near_right = axis.x(chosen) > 0.9
    label = f"cut {count}" if count else "closed"
    shapes.append(
        Text(
            "chosen-count",
            x,
            number(max(at - 9, 12)),
            label,
            "end" if near_right else "start",
            "-8" if near_right else "8",
        )
    )
    return shapes
