"""What was forecast on the day of the cut, behind what happened: the rise of plants then expected, as a broken line."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from elder.drawing.axis import TimeAxis
from elder.drawing.scene import Area, Shape, polyline


@dataclass(frozen=True)
class StatedRise:
    """The number expected to be ready on some days, counted from ``start``, as it was stated then."""

    start: date
    at: tuple[int, ...]
    expected: tuple[float, ...]


def stated_shapes(stated: StatedRise | None, axis: TimeAxis, *, line: int, rise: int, wanted: int) -> list[Shape]:
    """The broken line; the number wanted lies at four fifths of the rise, as in the row it stands behind."""
    if stated is None or not wanted:
        return []
    points = [
        (axis.x(day), line - rise * min(count / (1.25 * wanted), 1.12))
        for day, count in (
            (stated.start + timedelta(days=at), count) for at, count in zip(stated.at, stated.expected, strict=True)
        )
        if axis.shows(day)
    ]
    return [Area("ready-stated", polyline(points))] if len(points) > 1 else []
