"""A line that is multiplied, along the soil line: under it the runners of each lot from its cut to where its plants
come up, thicker where more were cut; above it the plants, generation on generation, widening to the wanted number."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.drawing.axis import TimeAxis, month_label
from elder.drawing.scene import STRETCH, Area, Mark, Scene, Shape, Stroke, Text, box, number, percent, polyline

HEIGHT: Final = 268
SOIL: Final = 168.0
TOP: Final = 26.0
DEEPEST: Final = 66.0  # how far the longest runner dips, px
THICKEST: Final = 17.0
STRANDS: Final = 3  # generations are told apart up to so many, older ones and younger look alike
SHOOT: Final = "M0 0V-8M0 -3C-3 -4 -5 -6 -5 -9C-2 -8 0 -6 0 -3M0 -4C3 -5 5 -7 5 -10C2 -9 0 -7 0 -4"
CUT: Final = "M-4 0a4 4 0 1 0 8 0a4 4 0 1 0-8 0Z"
APART: Final = 0.035  # of the width: numbers nearer than this are not both said
AFTER: Final = 0.02  # of the width: past the day, so that what comes up on it is seen
SPARSE_MONTHS: Final = 14

Height = Callable[[float], float]  # how far down so many plants reach, px


@dataclass(frozen=True)
class Runner:
    """A lot: cut on a day, plants on another; how many cuttings; of which generation; whether it was cut."""

    cut: date
    plants: date
    count: int
    generation: int
    done: bool = False


@dataclass(frozen=True)
class Rise:
    """How many stand from a day on: by generation, and the 10–90% range of the whole."""

    day: date
    by_generation: tuple[float, ...]
    low: float
    high: float

    @property
    def whole(self) -> float:
        """All of them on average."""
        return sum(self.by_generation)


@dataclass(frozen=True)
class Widening:
    """What is drawn: from ``today`` to past ``by``; ``shut``: stretches in which nothing is cut."""

    today: date
    by: date
    wanted: int
    rises: Sequence[Rise]
    runners: Sequence[Runner]
    shut: Sequence[tuple[date, date]] = ()
    start: date | None = None

    @property
    def axis(self) -> TimeAxis:
        """From the first cut to a little past the day."""
        first = min([self.today, *(one.cut for one in self.runners)] if self.start is None else [self.start])
        days = max((self.by - first).days, 30)
        margin = max(days // 24, 2)
        return TimeAxis(_before(first, margin), _before(self.by, -margin * 2))


def _before(day: date, days: int) -> date:
    return date.fromordinal(day.toordinal() - days)


def widening_scene(shown: Widening, words: str, *, height: int = HEIGHT) -> Scene:
    """The drawing, its words for those who cannot see it."""
    axis = shown.axis
    soil = SOIL * height / HEIGHT
    top = max([shown.wanted * 1.08, *(one.high for one in shown.rises), 1.0])

    def y(plants: float) -> float:
        return soil - (soil - TOP) * plants / top

    shapes: list[Shape] = [Area("wide-soil", box(0, 1, soil, height))]
    shapes += [Area("wide-shut", box(axis.held(a), axis.held(b), TOP, soil)) for a, b in shown.shut if a < axis.end]
    shapes += _months(axis, height)
    shapes += _layers(shown, axis, y)
    shapes += _haze(shown, axis, y)
    shapes += _runners(shown, axis, soil, height)
    shapes += _posts(shown, axis, y, soil)
    return Scene(height, words, tuple(shapes))


def _months(axis: TimeAxis, height: int) -> list[Shape]:
    months = list(axis.months())
    every = max(math.ceil(len(months) / SPARSE_MONTHS), 1)  # an axis within one month begins none
    shapes: list[Shape] = []
    for i, day in enumerate(months[::every]):
        x = percent(axis.x(day))
        shapes.append(Stroke("month-line", x, "16", x, number(height)))
        if 0.01 < axis.x(day) < 0.95:
            named = month_label(day, with_year=day.month == 1 or i == 0, crowded=True)
            shapes.append(Text("month" if i % 2 == 0 else "month month-second", x, "12", named, "start", "3"))
    return shapes


def _stepped(points: list[tuple[float, float]], end: float) -> list[tuple[float, float]]:
    """Points joined by steps: what stands holds until the next comes up."""
    found: list[tuple[float, float]] = []
    for i, (x, y) in enumerate(points):
        if i:
            found.append((x, points[i - 1][1]))
        found.append((x, y))
    return [*found, (end, points[-1][1])] if points else []


def _haze(shown: Widening, axis: TimeAxis, y: Height) -> list[Shape]:
    end = axis.held(shown.by) + AFTER
    high = _stepped([(axis.held(one.day), y(one.high)) for one in shown.rises], end)
    low = _stepped([(axis.held(one.day), y(one.low)) for one in shown.rises], end)
    return [Area("wide-haze", polyline([*high, *reversed(low)], close=True))] if high else []


def _layers(shown: Widening, axis: TimeAxis, y: Height) -> list[Shape]:
    end = axis.held(shown.by) + AFTER
    shapes: list[Shape] = []
    generations = max((len(one.by_generation) for one in shown.rises), default=0)
    for generation in range(generations):
        upper = [(axis.held(one.day), y(sum(one.by_generation[: generation + 1]))) for one in shown.rises]
        lower = [(axis.held(one.day), y(sum(one.by_generation[:generation]))) for one in shown.rises]
        edge = [*_stepped(upper, end), *reversed(_stepped(lower, end))]
        shapes.append(Area(f"wide-gen wide-gen-{min(generation, STRANDS)}", polyline(edge, close=True)))
    return shapes


def _runners(shown: Widening, axis: TimeAxis, soil: float, height: int) -> list[Shape]:
    shapes: list[Shape] = []
    signs: list[Shape] = []
    most = max((one.count for one in shown.runners), default=1)
    longest = max((axis.x(one.plants) - axis.x(one.cut) for one in shown.runners), default=1.0)
    said = -1.0
    for one in sorted(shown.runners, key=lambda lot: lot.cut):
        left, right = axis.held(one.cut), axis.held(one.plants)
        thick = 2 + (THICKEST - 2) * math.sqrt(one.count / most)
        dip = (DEEPEST * (height - soil) / (HEIGHT - SOIL)) * math.sqrt(max((right - left) / max(longest, 1e-9), 0.05))
        role = f"wide-runner{' wide-runner-done' if one.done else ''}"
        shapes.append(Area(role, _crescent(left, right, soil, max(dip, thick + 2), thick)))
        signs.append(Mark("wide-shoot", percent(right), number(soil), SHOOT))
        signs.append(Mark("wide-cut wide-cut-done" if one.done else "wide-cut", percent(left), number(soil), CUT))
        if left - said > APART:
            signs.append(Text("wide-count", percent(left), number(soil + 17), str(one.count), "middle"))
            said = left
    return [*shapes, *signs]


def _crescent(left: float, right: float, soil: float, dip: float, thick: float) -> str:
    """A root that dips from the cut and comes up as plants: thin at both ends, as thick as what was cut between."""
    bend = 0.3 * (right - left)
    xs = [number(STRETCH * x) for x in (left, left + bend, right - bend, right)]
    deep, shallow = number(soil + 4 / 3 * dip), number(soil + 4 / 3 * (dip - thick))
    y = number(soil)
    return f"M{xs[0]} {y}C{xs[1]} {deep} {xs[2]} {deep} {xs[3]} {y}C{xs[2]} {shallow} {xs[1]} {shallow} {xs[0]} {y}Z"


def _posts(shown: Widening, axis: TimeAxis, y: Height, soil: float) -> list[Shape]:
    now, by, rule = percent(axis.x(shown.today)), percent(axis.x(shown.by)), number(y(shown.wanted))
    return [
        Stroke("wide-rule", "0%", rule, by, rule),
        Text("wide-rule-word", by, number(y(shown.wanted) - 6), f"{shown.wanted}", "end", "-5"),
        Stroke("wide-line", "0%", number(soil), "100%", number(soil)),
        Stroke("today", now, "16", now, number(soil + 6)),
        Stroke("wide-by", by, number(y(shown.wanted)), by, number(soil + 6)),
    ]
