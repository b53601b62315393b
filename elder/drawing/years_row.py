"""A crop that stands for years as one quiet row: its life along the soil line, its pots growing on it, the fruit to
come as a hill with its haze, and under the line the winters it comes in for."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.drawing.axis import TimeAxis
from elder.drawing.scene import Area, Mark, Scene, Shape, Stroke, Text, box, number, percent, polyline

FRUIT: Final = "M0 0v-8M-4-11a4 4 0 1 0 8 0a4 4 0 1 0-8 0Z"
SMALL: Final = 58
QUIET: Final = 46
LARGE: Final = 132
DAYS_A_YEAR: Final = 365


@dataclass(frozen=True)
class PotMark:
    """A pot: when, how many litres, whether it was done, and its size in words."""

    day: date
    litres: float
    done: bool
    said: str = ""


@dataclass(frozen=True)
class YearsRow:
    """What is drawn: from ``start`` to ``end``; ``fruit`` early, likely and late; ``winters`` from and to."""

    start: date
    end: date
    today: date
    since: date
    pots: Sequence[PotMark]
    fruit: tuple[date | None, date | None, date | None]
    winters: Sequence[tuple[date, date]]
    ended: date | None = None
    labelled: bool = True


def years_scene(row: YearsRow, words: str, *, height: int = SMALL) -> Scene:
    """The row."""
    axis = TimeAxis(row.start, row.end)
    line = round(height * 0.68)
    shapes: list[Shape] = [*_years(axis, height, row.labelled)]
    for first, last in row.winters:
        if last > row.start and first < row.end:
            shapes.append(Area("years-winter", box(axis.held(first), axis.held(last), line + 3, line + 9)))
    shapes += _hill(row, axis, line, height)
    end = axis.held(row.ended) if row.ended else 1.0
    since = axis.held(row.since)
    shapes.append(Stroke("years-soil", "0%", number(line), "100%", number(line)))
    shapes.append(Stroke("years-life", percent(since), number(line), percent(end), number(line)))
    if row.ended:  # who follows it stands on its roots
        shapes.append(Stroke("years-follows", percent(end), number(line), "100%", number(line)))
    for pot in row.pots:
        if axis.shows(pot.day):
            role = "years-pot years-pot-done" if pot.done else "years-pot"
            shapes.append(Mark(role, percent(axis.x(pot.day)), number(line), _pot(pot.litres, height)))
            if height >= LARGE:
                shapes.append(Text("years-litres", percent(axis.x(pot.day)), number(line + 32), pot.said, "middle"))
    x = percent(axis.x(row.today))
    shapes.append(Stroke("today", x, "14", x, number(line + 9)))
    return Scene(height, words, tuple(shapes))


def _years(axis: TimeAxis, height: int, labelled: bool) -> list[Shape]:
    shapes: list[Shape] = []
    for year in range(axis.start.year, axis.end.year + 1):
        day = date(year, 1, 1)
        if axis.shows(day):
            x = percent(axis.x(day))
            shapes.append(Stroke("month-line", x, "14" if labelled else "0", x, str(height)))
            if labelled and axis.x(day) < 0.96:
                shapes.append(Text("month", x, "11", str(year), "start", "3"))
    return shapes


def _hill(row: YearsRow, axis: TimeAxis, line: float, height: int) -> list[Shape]:
    """The fruit to come: a hill from early to late, highest where it is likeliest."""
    early, likely, late = row.fruit
    if early is None or early > row.end:
        return []
    top = line - 0.36 * height
    peak = axis.held(likely) if likely else 1.0
    right = axis.held(late) if late else 1.0
    left = axis.held(early)
    lead, tail = max((peak - left) / 2, 0.004), max((right - peak) / 2, 0.004)
    points = [(left - lead, line), (left, (line + top) / 2 + 4), (peak, top), (right, (line + top) / 2 + 4)]
    points.append((min(right + tail, 1.0), line))
    shapes: list[Shape] = [Area("years-fruit", polyline([(max(x, 0.0), y) for x, y in points], close=True))]
    if likely and axis.shows(likely):
        shapes.append(Mark("years-ripe", percent(peak), number(line), FRUIT))
    return shapes


def _pot(litres: float, height: int) -> str:
    """A pot as wide as the cube root of what it holds, stood on the line's lower side."""
    wide = (2.4 + 2.1 * math.pow(max(litres, 0.3), 1 / 3)) * (1.5 if height >= LARGE else 1.0)
    foot, deep = 0.72 * wide, 1.25 * wide
    return f"M{number(-wide)} 0H{number(wide)}L{number(foot)} {number(deep)}H{number(-foot)}Z"
