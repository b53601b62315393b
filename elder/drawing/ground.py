"""What lies behind every row of a season: months, today, and the cold wash of frost risk."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

import numpy as np

from elder.drawing.axis import TimeAxis, month_label
from elder.drawing.scene import Area, Scene, Shape, Stroke, Text, box, number, percent
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import doy0_range
from elder.engine.climate.frost_risk import frost_risk

WASH_STEPS = (0.02, 0.06, 0.10, 0.18, 0.27, 0.36, 0.46, 0.56, 0.66, 0.76, 0.86)  # risk of each further layer


CROWDED_DAYS = 330  # from here on an axis has little room between months
QUARTERLY_DAYS = 600  # and from here on only each third month is named


def ground_scene(axis: TimeAxis, today: date, climate: Climate, *, height: int) -> Scene:
    """Behind a row: layered cold, a line a month, today's post."""
    risk = frost_risk(climate, climate.frost.threshold_c)[doy0_range(axis.start, axis.days + 1)]
    shapes: list[Shape] = []
    for step in WASH_STEPS:
        runs = runs_of(risk > step)
        path = "".join(box(begin / axis.days, end / axis.days, 0, height) for begin, end in runs)
        if path:
            shapes.append(Area("wash", path))
    shapes += [_rule("month-line", axis.x(day), height) for day in named_months(axis) if day > axis.start]
    return Scene(height, "", tuple(shapes))


def runs_of(on: np.ndarray) -> list[tuple[int, int]]:
    """Where a run of True begins and the day after it ends, held to the array."""
    edges = np.flatnonzero(np.diff(np.concatenate(([0], on.astype(int), [0]))))
    return [(int(a), int(min(b, len(on) - 1))) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def named_months(axis: TimeAxis) -> list[date]:
    """First days of the months that are named: each, or on a long axis each third from January."""
    return [day for day in axis.months() if axis.days <= QUARTERLY_DAYS or day.month % 3 == 1]


def _rule(role: str, x: float, height: int) -> Stroke:
    return Stroke(role, percent(x), "0", percent(x), str(height))


def ruler_scene(axis: TimeAxis, today: date, *, day_words: Callable[[date], str]) -> Scene:
    """Above the rows: months by name, each let in as a notch in the ledge, and today."""
    height = 34
    months = [day for day in named_months(axis) if axis.x(day) < 0.94]
    shapes: list[Shape] = []
    for day in months:
        with_year = day.month == 1
        # Where there is little room every second month goes; January, with its year, stays.
        seldom = axis.days > QUARTERLY_DAYS
        role = "month" if (day.month == 1 if seldom else day.month % 2) else "month month-second"
        shapes.append(
            Text(
                role,
                percent(axis.x(day)),
                "13",
                month_label(day, with_year=with_year, crowded=axis.days > CROWDED_DAYS),
                "start",
                "3",
            )
        )
    shapes += [_notch(axis, day) for day in axis.months()]
    if axis.shows(today):
        anchor = "end" if axis.x(today) > 0.85 else "start"
        shapes.append(Stroke("today", percent(axis.x(today)), "18", percent(axis.x(today)), str(height)))
        shapes.append(
            Text(
                "today-word",
                percent(axis.x(today)),
                "28",
                "today",
                anchor,
                "-5" if anchor == "end" else "5",
            )
        )
    return Scene(height, f"Time from {day_words(axis.start)} to {day_words(axis.end)}", tuple(shapes))


def _notch(axis: TimeAxis, day: date) -> Stroke:
    x = percent(axis.x(day))
    return Stroke("notch", x, number(30), x, "34")
