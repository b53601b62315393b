"""Room at a place over time: how much of one kind of container is asked for, against what there is."""

from __future__ import annotations

import itertools
from datetime import timedelta

import numpy as np

from elder.drawing.axis import TimeAxis
from elder.drawing.scene import Area, Scene, Shape, Stroke, Text, box, number, percent, polyline
from elder.engine.arrays import Ints

HEIGHT = 34
FLOOR, CEILING = 30, 6


def crowding_scene(axis: TimeAxis, loads: Ints, capacity: int, *, words: str, said: str = "") -> Scene:
    """``loads`` by day from the axis's start; shape (axis.days + 1,). What passes the rule is drawn apart.
    ``said``: the most of it in words, where that is no count."""
    top = max(int(loads.max(initial=0)), capacity, 1)

    def y(count: float) -> float:
        return FLOOR - (FLOOR - CEILING) * count / top

    shapes: list[Shape] = []
    breaks = np.flatnonzero(np.diff(loads)) + 1
    bounds = [0, *breaks.tolist(), len(loads)]
    edge: list[tuple[float, float]] = []
    for begin, end in itertools.pairwise(bounds):
        left, right = begin / axis.days, min(end, axis.days) / axis.days
        load = int(loads[begin])
        edge += [(left, y(min(load, capacity))), (right, y(min(load, capacity)))]
        if load > capacity:
            shapes.append(Area("load-over", box(left, right, y(load), y(capacity))))
    shapes.insert(0, Area("load-held", polyline([(0.0, FLOOR), *edge, (1.0, FLOOR)], close=True)))
    rule = number(y(capacity))
    shapes.append(Stroke("load-rule", "0%", rule, "100%", rule))
    peak = axis.start + timedelta(days=int(np.argmax(loads)))
    x = min(max(axis.x(peak), 0.02), 0.9)
    shapes.append(
        Text(
            "load-count",
            percent(x),
            number(max(y(top) + 10, 12)),
            said or f"{int(loads.max(initial=0))} of {capacity}",
            "start",
            "4",
        )
    )
    shapes.append(Stroke("soil", "0%", str(FLOOR), "100%", str(FLOOR)))
    return Scene(HEIGHT, words, tuple(shapes))
