"""How a store runs down: what is left of a thing week by week, as expected and nine times in ten, and where it is
short."""

from __future__ import annotations

import numpy as np

from elder.drawing.scene import Area, Mark, Scene, Shape, Stroke, Text, number, percent, polyline
from elder.engine.arrays import Floats

HEIGHT = 46
CEILING, FLOOR = 6, 40  # px: where the most there is stands, and the bottom where nothing is short
WORD_PX = 18  # above the floor line there is room for a word, however little is left


def level_scene(there: float, expected: Floats, sure: Floats, *, words: str, short_words: str = "") -> Scene:
    """``there`` is what stands there now; ``expected`` and ``sure`` what is asked by the end of each week; shape
    (weeks,). Above the floor what is left, pale between the two; below it what is short, hatched."""
    left, least = there - expected, there - sure
    weeks = len(expected)
    top = max(there, 1e-9)
    depth = max(float(-least.min(initial=0.0)), 0.0)
    floor = max(CEILING + (FLOOR - CEILING) * top / (top + depth), WORD_PX) if depth else float(FLOOR)

    def y(amount: float) -> float:
        scale = (floor - CEILING) / top if amount >= 0 else (FLOOR - floor) / depth if depth else 0.0
        return floor - amount * scale

    def steps(values: Floats) -> list[tuple[float, float]]:
        points = [(0.0, y(there))]
        for week, value in enumerate(values.tolist()):
            points += [(week / weeks, y(value)), ((week + 1) / weeks, y(value))]
        return points

    shapes: list[Shape] = []
    some = np.maximum(least, 0.0)
    if there > 0:
        shapes += [
            Area("level-haze", polyline([(0.0, floor), *steps(np.maximum(left, 0.0)), (1.0, floor)], close=True)),
            Area("level-left", polyline([(0.0, floor), *steps(some), (1.0, floor)], close=True)),
        ]
    if depth:
        below = [(0.0, floor)]
        for week, value in enumerate(np.minimum(least, 0.0).tolist()):
            below += [(week / weeks, y(value)), ((week + 1) / weeks, y(value))]
        shapes.append(Area("level-short", polyline([*below, (1.0, floor)], close=True)))
    shapes.append(Stroke("soil", "0%", number(floor), "100%", number(floor)))
    out = np.flatnonzero(least < -1e-9)
    if len(out):
        x = int(out[0]) / weeks
        shapes.append(Mark("level-out", percent(x), number(floor), "M0 -10V6"))
        if short_words:
            anchor = "end" if x > 0.6 else "start"
            dx = "-6" if x > 0.6 else "6"
            shapes.append(Text("level-word", percent(x), number(floor - 4), short_words, anchor, dx))
    return Scene(HEIGHT, words, tuple(shapes))
