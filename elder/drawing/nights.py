"""The days ahead: each day's warmth from the low of its night to its high, and which nights are too cold."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from datetime import date

from elder.drawing.scene import Area, Scene, Shape, Stroke, Text, box, number, percent
from elder.engine.place.weather import DayAhead

HEIGHT = 100
TOP, BOTTOM = 18.0, 62.0
LOW_LINE, DAY_LINE = 79.0, 96.0  # where the lows and the days are written
BAR = 0.46  # of a day's width
RAIN_PX, RAIN_BAR = 34, 18.0  # px: added where it rains, and of them the deepest bar
LEAST_MM, MOST_MM = 0.5, 20.0  # rain that is drawn, and that which fills a bar


def nights_scene(
    ahead: Sequence[DayAhead],
    cold: Collection[date],
    *,
    words: str,
    day_words: Callable[[date], str],
    degrees: Callable[[float], str],
    rain: Callable[[float], str] = "{:.0f}".format,
) -> Scene:
    """One bar a day, from low to high; a cold night's foot is drawn in frost and hatched. Empty for no days."""
    if not ahead:
        return Scene(0, words)
    low = min(day.low_c for day in ahead)
    high = max(day.high_c for day in ahead)
    span = max(high - low, 6.0)

    def y(celsius: float) -> float:
        return BOTTOM - (BOTTOM - TOP) * (celsius - low) / span

    shapes: list[Shape] = []
    width = 1 / len(ahead)
    for i, day in enumerate(ahead):
        middle = (i + 0.5) * width
        left, right = middle - BAR * width / 2, middle + BAR * width / 2
        top, foot = y(day.high_c), y(day.low_c)
        shapes.append(Area("day-warmth", box(left, right, top, foot)))
        if day.day in cold:
            shapes.append(Area("night-cold", box(left, right, max(foot - 14, top), foot)))
        role = "night-low night-low-cold" if day.day in cold else "night-low"
        shapes += [
            Text("day-high", percent(middle), number(top - 5), degrees(day.high_c), "middle"),
            Text(role, percent(middle), number(LOW_LINE), degrees(day.low_c), "middle"),
            Text("day-number", percent(middle), number(DAY_LINE), day_words(day.day), "middle"),
        ]
    shapes += _rain(ahead, rain)
    if low < 0 < high:
        freezing = number(y(0.0))
        shapes.append(Stroke("freezing", "0%", freezing, "100%", freezing))
    wet = any(day.rain_mm >= LEAST_MM for day in ahead)
    return Scene(HEIGHT + (RAIN_PX if wet else 0), words, tuple(shapes))


def _rain(ahead: Sequence[DayAhead], said: Callable[[float], str]) -> list[Shape]:
    """Under the days their rain, as a bar that hangs down and how much it is; nothing for dry ones."""
    found: list[Shape] = []
    for i, day in enumerate(ahead):
        if day.rain_mm >= LEAST_MM:
            middle, width = (i + 0.5) / len(ahead), 0.3 / len(ahead)
            depth = min(day.rain_mm, MOST_MM) / MOST_MM * RAIN_BAR
            found.append(Area("rain-bar", box(middle - width / 2, middle + width / 2, HEIGHT + 2, HEIGHT + 2 + depth)))
            found.append(Text("rain-mm", percent(middle), number(HEIGHT + RAIN_PX - 2), said(day.rain_mm), "middle"))
    return found
