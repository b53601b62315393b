"""The foot of a wall through the year: how far out from it the sun does not come."""

from __future__ import annotations

import math
from datetime import date

import numpy as np

from elder.drawing.axis import MONTH_NAMES
from elder.drawing.scene import Area, Scene, Shape, Stroke, Text, box, number, percent, polyline
from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import MONTH_DAYS, YEAR_DAYS

HEIGHT, WALL, FAR = 210, 26.0, 182.0  # px: of the drawing, of the wall's foot in it, of the furthest that is drawn
LEAST_M, MOST_M = 1.0, 12.0  # drawn at least so far out, and no further


def strip_scene(strip: Floats, today: date, *, distance: str, per_mark_m: float, words: str) -> Scene:
    """The wall lies along the top, the year runs along it, and what has no sun reaches down from its foot. ``strip``:
    m for every day of the year; a mark stands at every ``per_mark_m``, its number followed by ``distance``."""
    finite = strip[np.isfinite(strip)]
    reach = min(max(float(finite.max(initial=0.0)) * 1.08, LEAST_M), MOST_M)

    def y(metres: float) -> float:
        return WALL + (FAR - WALL) * min(metres, reach) / reach

    edge = [((i + 0.5) / YEAR_DAYS, y(float(strip[i]))) for i in range(0, YEAR_DAYS, 2)]
    whole = [(0.0, y(float(strip[0]))), *edge, (1.0, y(float(strip[-1])))]
    shapes: list[Shape] = [
        Area("strip-sun", box(0, 1, WALL, FAR)),
        Area("strip-shade", polyline([(0.0, WALL), *whole, (1.0, WALL)], close=True)),
        Area("strip-wall", box(0, 1, WALL - 12, WALL)),
    ]
    for i in range(1, math.floor(reach / per_mark_m) + 1):
        at = number(y(i * per_mark_m))
        shapes.append(Stroke("sky-height", "0%", at, "100%", at))
        shapes.append(Text("sky-degrees", "0%", number(y(i * per_mark_m) - 4), f"{i} {distance}", "start", "4"))
    first = 0
    for name, days in zip(MONTH_NAMES, MONTH_DAYS.tolist(), strict=True):
        shapes.append(Text("sky-compass", percent((first + days / 2) / YEAR_DAYS), number(FAR + 18), name, "middle"))
        first += days
    x = percent((today.timetuple().tm_yday - 0.5) / YEAR_DAYS)
    shapes.append(Stroke("today", x, number(WALL), x, number(FAR)))
    return Scene(HEIGHT, words, tuple(shapes))
