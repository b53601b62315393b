"""The nights of a garden's possible years: where they mostly lie, day by day, over the axis of a year."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.drawing.axis import TimeAxis
from elder.drawing.scene import Area, Scene, Shape, Stroke, Text, number, percent, polyline
from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import doy0_range

HEIGHT = 110
EVERY = 3  # days between points of an edge
SMOOTHED_DAYS = 31  # an edge drawn from a few dozen years trembles from day to day


@dataclass(frozen=True)
class Fan:
    """By day of year, as the person reads it (°C or °F): one night in ten is colder than ``low``, one warmer than
    ``high``; arrays of shape (365,). ``frost`` is where it freezes."""

    low: Floats
    middle: Floats
    high: Floats
    frost: float
    frost_words: str


def smoothed(by_day: Floats) -> Floats:
    """A running mean over a month, round the turn of the year."""
    reach = SMOOTHED_DAYS // 2
    around = np.concatenate((by_day[-reach:], by_day, by_day[:reach]))
    return np.convolve(around, np.ones(SMOOTHED_DAYS) / SMOOTHED_DAYS, mode="valid")


def fan_scene(axis: TimeAxis, today: date, fan: Fan, *, words: str) -> Scene:
    """Eight nights of ten as a band, the middle one as a line, and where it freezes."""
    low, middle, high = smoothed(fan.low), smoothed(fan.middle), smoothed(fan.high)
    top, foot = float(high.max()) + 1, min(float(low.min()), fan.frost) - 1
    days = doy0_range(axis.start, axis.days + 1)
    steps = np.unique(np.append(np.arange(0, axis.days + 1, EVERY), axis.days))

    def y(value: float) -> float:
        return 4 + (HEIGHT - 8) * (top - value) / (top - foot)

    def edge(by_day: Floats) -> list[tuple[float, float]]:
        return [(float(i) / axis.days, y(float(by_day[days[i]]))) for i in steps]

    at = number(y(fan.frost))
    shapes: list[Shape] = [
        Area("night-fan", polyline([*edge(high), *reversed(edge(low))], close=True)),
        Area("night-middle", polyline(edge(middle))),
        Stroke("accepted", "0%", at, "100%", at),
        Text("rule-number", "0%", number(y(fan.frost) - 3), fan.frost_words, "start", "3"),
    ]
    if axis.shows(today):
        x = percent(axis.x(today))
        shapes.append(Stroke("today", x, "0", x, str(HEIGHT)))
    return Scene(HEIGHT, words, tuple(shapes))
