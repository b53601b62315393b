"""A garden's year on one axis: warmth, what a day is worth to roots, daylight, frost, wood."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from elder.drawing.axis import TimeAxis
from elder.drawing.ground import runs_of
from elder.drawing.scene import Area, Mark, Scene, Shape, Stroke, Text, box, number, percent, polyline
from elder.engine.arrays import Bools, Floats
from elder.engine.climate.day_of_year import doy0_range
from elder.engine.climate.freezes import FreezeYear
from elder.engine.climate.frost import FrostDates

WARMTH_HEIGHT, WORTH_HEIGHT, LIGHT_HEIGHT, RISK_HEIGHT, WOOD_HEIGHT, FREEZE_HEIGHT = 150, 92, 64, 64, 46, 168
NAMED_AT = {"cover-line": (0.33, True), "pot-line": (0.42, True), "ground-line": (0.72, False)}
EVERY = 3  # days between points of a curve: smooth at any width


@dataclass(frozen=True)
class YearCurves:
    """What the warmth strip shows, by day of year, as the person reads it (°C or °F); arrays of shape (365,)."""

    air_low: Floats
    air_high: Floats
    pot: Floats
    ground: Floats
    rules: tuple[tuple[float, str], ...]


def _along(axis: TimeAxis, by_day: Floats) -> list[tuple[float, float]]:
    """(share of the axis, value) of a curve by day of year, every few days and at the last."""
    days = doy0_range(axis.start, axis.days + 1)
    steps = np.unique(np.append(np.arange(0, axis.days + 1, EVERY), axis.days))
    return [(float(i) / axis.days, float(by_day[days[i]])) for i in steps]


def _today(axis: TimeAxis, today: date, height: int) -> list[Shape]:
    if not axis.shows(today):
        return []
    x = percent(axis.x(today))
    return [Stroke("today", x, "0", x, str(height))]


def warmth_scene(axis: TimeAxis, today: date, curves: YearCurves, *, words: str) -> Scene:
    """The band of the air from its lowest to its highest, a pot's warmest hour, and the ground's mean."""
    top = max(float(curves.air_high.max()), float(curves.pot.max())) + 1
    foot = float(curves.air_low.min()) - 1
    height = WARMTH_HEIGHT

    def y(value: float) -> float:
        return 6 + (height - 12) * (top - value) / (top - foot)

    low, high, pot, ground = (
        [(x, y(v)) for x, v in _along(axis, curve)]
        for curve in (curves.air_low, curves.air_high, curves.pot, curves.ground)
    )
    shapes: list[Shape] = [Area("air-band", polyline([*high, *reversed(low)], close=True))]
    for value, said in curves.rules:
        if foot < value < top:
            at = number(y(value))
            shapes.append(Stroke("rule", "0%", at, "100%", at))
            shapes.append(Text("rule-number", "0%", number(max(y(value) - 3, 11)), said, "start", "3"))
    shapes += [Area("pot-line", polyline(pot)), Area("ground-line", polyline(ground))]
    shapes += [_name(pot, "a pot at its warmest hour", 0.4, above=True), _name(high, "air", 0.56, above=True)]
    shapes.append(_name(ground, "ground", 0.68, above=False))
    return Scene(height, words, (*shapes, *_today(axis, today, height)))


def _name(points: list[tuple[float, float]], words: str, share: float, *, above: bool) -> Text:
    """A curve's name beside its own line, at that share of the width."""
    x, y = points[round(share * (len(points) - 1))]
    return Text("curve-label", percent(x), number(max(y - 5, 11) if above else y + 14), words, "middle")


def worth_scene(axis: TimeAxis, today: date, strips: Sequence[tuple[str, str, Floats]], *, words: str) -> Scene:
    """What a day is worth to roots: (role, name, units a day) of each standing; 1 at the top."""
    height = WORTH_HEIGHT
    shapes: list[Shape] = []
    for share, said in ((1.0, "best"), (0.5, "half")):
        at = number(6 + (height - 10) * (1 - share))
        shapes.append(Stroke("rule", "0%", at, "100%", at))
        shapes.append(Text("rule-number", "0%", number(6 + (height - 10) * (1 - share) + 12), said, "start", "3"))
    for role, name, units in strips:
        points = [(x, 6 + (height - 10) * (1 - v)) for x, v in _along(axis, units)]
        shapes.append(Area(role, polyline(points)))
        # Each name stands on another part of the year, so that lines that run together can be told apart.
        share, above = NAMED_AT[role]
        shapes.append(_name(points, name, share, above=above))
    return Scene(height, words, (*shapes, *_today(axis, today, height)))


def daylight_scene(axis: TimeAxis, today: date, hours: Floats, *, words: str, ends: tuple[str, str]) -> Scene:
    """Day length as a hill from 0 to 24 hours, with its longest and shortest day said."""
    height = LIGHT_HEIGHT
    points = [(x, height - 2 - (height - 16) * v / 24) for x, v in _along(axis, hours)]
    shapes: list[Shape] = [
        Area("daylight", polyline([(0.0, height - 2), *points, (1.0, height - 2)], close=True)),
    ]
    for peak, said in zip((min, max), ends, strict=True):
        x, y = peak(points, key=lambda point: point[1])
        anchor = "end" if x > 0.85 else "start" if x < 0.15 else "middle"
        shapes.append(Text("curve-label", percent(x), number(y - 4), said, anchor))
    return Scene(height, words, (*shapes, *_today(axis, today, height)))


def risk_scene(
    axis: TimeAxis, today: date, risk: Floats, *, accepted: float, marks: Sequence[tuple[date, str]], words: str
) -> Scene:
    """Frost risk through the year, the accepted risk as a rule, and the days on which it is crossed."""
    height = RISK_HEIGHT

    def y(share: float) -> float:
        return 8 + (height - 12) * (1 - share)

    points = [(x, y(v)) for x, v in _along(axis, risk)]
    shapes: list[Shape] = [
        Area("risk", polyline([(0.0, y(0)), *points, (1.0, y(0))], close=True)),
        Stroke("accepted", "0%", number(y(accepted)), "100%", number(y(accepted))),
    ]
    for day, said in marks:
        if axis.shows(day):
            x = percent(axis.x(day))
            near_end = axis.x(day) > 0.8
            shapes.append(Stroke("post-open", x, number(y(0.9)), x, number(y(0))))
            shapes.append(
                Text("curve-label", x, number(y(0.55)), said, "end" if near_end else "start", "-5" if near_end else "5")
            )
    return Scene(height, words, (*shapes, *_today(axis, today, height)))


def phase_scene(axis: TimeAxis, today: date, phases: Sequence[tuple[str, Bools]], *, words: str) -> Scene:
    """When something is so, by day of year, as bars; (role, days) of each, one under another."""
    height = WOOD_HEIGHT * len(phases)
    shapes: list[Shape] = []
    for row, (role, by_day) in enumerate(phases):
        on = by_day[doy0_range(axis.start, axis.days + 1)]
        top = WOOD_HEIGHT * row + 17
        for begin, end in runs_of(on):
            shapes.append(Area(role, box(begin / axis.days, end / axis.days, top, top + 12)))
    return Scene(height, words, (*shapes, *_today(axis, today, height)))


@dataclass(frozen=True)
class FreezePicture:
    """One end of the year's frosts: the years counted, the law drawn through them, the risk accepted."""

    years: tuple[FreezeYear, ...]
    law: FrostDates
    accepted: float
    spring: bool


def freeze_scene(picture: FreezePicture, axis: TimeAxis, *, midwinter: date, words: str, safe: str) -> Scene:
    """Dots for years, oldest lowest; over them the curve of the risk, and the day it meets what is accepted.

    ``midwinter`` is the day from which the law counts.
    """
    height, floor = FREEZE_HEIGHT, FREEZE_HEIGHT - 4
    offset = (axis.start - midwinter).days
    law = picture.law
    days = np.arange(0, axis.days + 1)
    risk = law.risk_from(days + offset) if picture.spring else law.risk_before(days + offset)
    curve = [(float(i) / axis.days, 10 + (floor - 10) * (1 - float(risk[i]))) for i in days]
    shapes: list[Shape] = [Area("risk", polyline([(0.0, floor), *curve, (1.0, floor)], close=True))]
    shapes.append(Area("risk-edge", polyline(curve)))
    at = number(10 + (floor - 10) * (1 - picture.accepted))
    shapes.append(Stroke("accepted", "0%", at, "100%", at))
    seen = [year for year in picture.years if year.position is not None and not year.left_out]
    for i, year in enumerate(seen):
        x = ((year.position or 0) - offset) / axis.days
        if 0 <= x <= 1:
            y = floor - 6 - (floor - 26) * (i / max(len(seen) - 1, 1))
            shapes.append(Mark("freeze-dot", percent(x), number(y), "M-3.2 0a3.2 3.2 0 1 0 6.4 0a3.2 3.2 0 1 0-6.4 0Z"))
    day = law.safe_after(picture.accepted) if picture.spring else law.safe_until(picture.accepted)
    if day is not None and 0 <= day - offset <= axis.days:
        x = (day - offset) / axis.days
        shapes.append(Stroke("post-open", percent(x), "6", percent(x), str(floor)))
        anchor, dx = ("end", "-6") if x > 0.6 else ("start", "6")
        shapes.append(Text("safe-day", percent(x), "17", safe, anchor, dx))
    shapes.append(Stroke("soil", "0%", str(floor), "100%", str(floor)))
    return Scene(height, words, tuple(shapes))


def freeze_axis(law: FrostDates, midwinter: date) -> TimeAxis:
    """Four spreads either side of the mean, at least three weeks."""
    reach = max(4 * law.sd_days, 21)
    start = midwinter + timedelta(days=round(law.mean_doy - reach))
    return TimeAxis(start, start + timedelta(days=round(2 * reach)))
