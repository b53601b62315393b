"""Patience: hope of one still waiting, from the last look to the day it is no longer worth the place."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date, timedelta

from elder.drawing.axis import TimeAxis
from elder.drawing.scene import Area, Scene, Shape, Stroke, Text, number, percent, polyline

HEIGHT = 92
FLOOR, CEILING = 70.0, 8.0
PAST_DAYS = 6  # shown after the last day of hope
LABEL_ROOM = 0.17  # of the width: what a day's words take at 390 px


def patience_scene(
    hopes: Sequence[float],
    start: date,
    today: date,
    *,
    until: date,
    give_up_below: float,
    words: str,
    day_words: Callable[[date], str],
) -> Scene:
    """``hopes`` by day from ``start``, 0..1; drawn until a little after ``until``, the last day worth waiting."""
    end = max(until, today) + timedelta(days=PAST_DAYS)
    first = min(start, today)
    axis = TimeAxis(first, max(end, first + timedelta(days=10)))
    shown = list(hopes[: (axis.end - start).days + 1])
    days = [start + timedelta(days=i) for i in range(len(shown))]

    top = max([*shown, 2 * give_up_below])

    def y(hope: float) -> float:
        return FLOOR - (FLOOR - CEILING) * hope / top

    line = [(axis.x(day), y(hope)) for day, hope in zip(days, shown, strict=True)]
    shapes: list[Shape] = []
    worth = [point for point, day in zip(line, days, strict=True) if day <= until]
    if len(worth) > 1:
        shapes.append(Area("hope", polyline([(worth[0][0], FLOOR), *worth, (worth[-1][0], FLOOR)], close=True)))
    if len(line) > 1:
        shapes.append(Area("hope-line", polyline(line)))
    rule = number(y(give_up_below))
    shapes += [
        Stroke("rule", "0%", rule, "100%", rule),
        Text("rule-number", "100%", number(y(give_up_below) - 4), f"{round(10 * give_up_below)} in 10", "end"),
        Stroke("soil", "0%", number(FLOOR), "100%", number(FLOOR)),
        *_post("today", today, axis, "today"),
        *_post("give-up", until, axis, day_words(until)),
    ]
    if abs(axis.x(today) - axis.x(until)) < LABEL_ROOM:  # two words would lie on each other: today says itself
        shapes = [shape for shape in shapes if not (isinstance(shape, Text) and shape.words == "today")]
    return Scene(HEIGHT, words, tuple(shapes))


def _post(role: str, day: date, axis: TimeAxis, words: str) -> list[Shape]:
    x = axis.held(day)
    anchor = "start" if x < 0.12 else "end" if x > 0.88 else "middle"
    return [
        Stroke(role, percent(x), "4", percent(x), number(FLOOR)),
        Text("day-number", percent(x), number(FLOOR + 16), words, anchor),
    ]
