"""Shapes, in the order they are drawn. Every number is already a string, so no locale can touch it."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, field

STRETCH = 1000.0  # width of the layer that stretches
TENTH = 0.1  # of a pixel: nearer than that nothing is told apart


@dataclass(frozen=True)
class Area:
    """A path in the stretching layer: x 0..1000, y in pixels."""

    role: str
    d: str
    kind: str = "area"


@dataclass(frozen=True)
class Stroke:
    """A straight line between two points; x in percent."""

    role: str
    x1: str
    y1: str
    x2: str
    y2: str
    kind: str = "line"


@dataclass(frozen=True)
class Mark:
    """A small sign that keeps its shape wherever it stands; ``d`` is drawn about its own origin."""

    role: str
    x: str
    y: str
    d: str
    kind: str = "mark"


@dataclass(frozen=True)
class Text:
    """Words at a point; ``anchor`` start, middle or end; ``dx`` a nudge in pixels."""

    role: str
    x: str
    y: str
    words: str
    anchor: str = "start"
    dx: str = "0"
    kind: str = "text"


Shape = Area | Stroke | Mark | Text


@dataclass(frozen=True)
class Scene:
    """A drawing: its height in pixels, what it shows in words (for those who cannot see it), its shapes."""

    height: int
    words: str
    shapes: tuple[Shape, ...] = field(default=())

    @property
    def areas(self) -> tuple[Area, ...]:
        """The shapes of the stretching layer, which lies beneath."""
        return tuple(shape for shape in self.shapes if isinstance(shape, Area))

    @property
    def signs(self) -> tuple[Shape, ...]:
        """The shapes that keep their form, which lie on top."""
        return tuple(shape for shape in self.shapes if not isinstance(shape, Area))


def number(value: float) -> str:
    """A number as markup wants it: a point, at most two places, no trailing noughts."""
    return f"{value:.2f}".rstrip("0").rstrip(".") or "0"


def percent(share: float) -> str:
    """A share of the width."""
    return f"{number(100 * share)}%"


def polyline(points: Iterable[tuple[float, float]], *, close: bool = False) -> str:
    """A path through (share of width, pixels down) points in the stretching layer, to a tenth of a pixel: what lies
    nearer than that to a straight line between others is left out."""
    steps = " ".join(f"{_tenth(x)} {_tenth(y)}" for x, y in straightened((STRETCH * x, y) for x, y in points))
    return f"M{steps}{'Z' if close else ''}" if steps else ""


def _tenth(value: float) -> str:
    return f"{round(value, 1) + 0.0:.1f}".removesuffix(".0")  # and no "-0"


def straightened(points: Iterable[tuple[float, float]], within: float = TENTH) -> list[tuple[float, float]]:
    """The points without those that a straight line between their neighbours passes within a distance of, up or down;
    both ends stay, and so does each place at which the line turns back or goes straight up.

    The slopes that a line from the last kept point may have narrow with each point that it is to pass by (O'Rourke
    1981, Communications of the ACM 24: 574–578, from memory).
    """
    kept: list[tuple[float, float]] = []
    held: tuple[float, float] | None = None
    way, least, most = 0.0, -math.inf, math.inf
    for point in points:
        if not kept:
            kept.append(point)
            continue
        step = point[0] - kept[-1][0]
        if held is not None and not (
            (point[0] - held[0]) * way > 0 and least <= (point[1] - kept[-1][1]) / step <= most
        ):
            kept.append(held)
            held, least, most = None, -math.inf, math.inf
            step = point[0] - kept[-1][0]
        if step == 0:
            kept.append(point)
            continue
        rise, give = (point[1] - kept[-1][1]) / step, within / abs(step)
        held, way, least, most = point, step, max(least, rise - give), min(most, rise + give)
    return [*kept, held] if held is not None else kept


def box(left: float, right: float, top: float, bottom: float) -> str:
    """A rectangle in the stretching layer."""
    return polyline([(left, top), (right, top), (right, bottom), (left, bottom)], close=True)
