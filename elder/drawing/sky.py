"""The sky as a place sees it: the sun's paths, what stands before them, the hours of today; and its sun as a year."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.drawing.axis import MONTH_NAMES
from elder.drawing.scene import Area, Mark, Scene, Shape, Stroke, Text, box, number, percent, polyline
from elder.engine.arrays import Bools, Floats
from elder.engine.climate.day_of_year import MONTH_DAYS, YEAR_DAYS
from elder.engine.place.light import FULL_SUN_H, Aspect, LightYear, lintel_height, seen, skyline_height, within
from elder.engine.place.sun import sun_path

HEIGHT, FOOT = 300, 270.0  # px: of the drawing, and of the horizon in it
ASIDE_DEG = 15.0  # drawn beyond what a window sees, on each side
LEAST_TOP_DEG, HEADROOM_DEG = 28.0, 7.0
DOT = "M-3.4 0a3.4 3.4 0 1 0 6.8 0a3.4 3.4 0 1 0-6.8 0Z"
COMPASS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")
PATH_STEP_MIN = 4
NAME_ROOM = 0.06  # of the width, kept free of names at either edge


@dataclass(frozen=True)
class SkyFrame:
    """The stretch of sky that is drawn: from an azimuth over so many degrees, up to an elevation."""

    left_deg: float
    span_deg: float
    top_deg: float

    def x(self, azimuth: float) -> float:
        """Where an azimuth stands, as a share of the width; those left of the frame come out beyond its right."""
        return ((azimuth - self.left_deg) % 360) / self.span_deg

    def y(self, elevation: float) -> float:
        """Where an elevation stands, px."""
        return FOOT - FOOT * min(max(elevation, 0.0), self.top_deg) / self.top_deg


@dataclass(frozen=True)
class DayPath:
    """One day's path in the drawing: its day, how it is drawn, its name, and the hours marked on it (azimuth,
    elevation, what the clock says)."""

    day: date
    role: str
    name: str
    hours: tuple[tuple[float, float, str], ...] = ()


def frame_of(aspect: Aspect, latitude: float, solstices: tuple[date, date]) -> SkyFrame:
    """What of the sky is drawn: before a window what it sees and a little aside, in the open all round, with the noon
    sun in the middle; as high as the sun comes there."""
    if aspect.facing_deg is None:
        left, span = (0.0 if latitude >= 0 else 180.0), 360.0
    else:
        span = min(2 * (aspect.half_angle_deg + ASIDE_DEG), 360.0)
        left = (aspect.facing_deg - span / 2) % 360
    highest = 0.0
    for day in solstices:
        path = sun_path(latitude, 0.0, day)
        inside = (path.azimuth[0] - left) % 360 <= span
        highest = max(highest, float(path.elevation[0][inside].max(initial=0.0)))
    return SkyFrame(left, span, min(max(highest + HEADROOM_DEG, LEAST_TOP_DEG), 90.0))


def sky_scene(
    aspect: Aspect, where: tuple[float, float], frame: SkyFrame, paths: Sequence[DayPath], *, words: str
) -> Scene:
    """The sky through a window or over a bed; ``where``: latitude and longitude. The sun's paths are strong where it
    reaches the place, and faint where something hides it."""
    shapes = [*_air(aspect, frame), *_grid(frame), *_skyline(aspect, frame)]
    for path in paths:
        shapes += [*_path(aspect, where, frame, path), *_marks(frame, path)]
    return Scene(HEIGHT, words, tuple(shapes))


def _across(frame: SkyFrame) -> Floats:
    return np.linspace(0, frame.span_deg, 181)


def _air(aspect: Aspect, frame: SkyFrame) -> Iterator[Shape]:
    """What the place sees, up to its lintel; the wall round a window is what is left dark."""
    yield Area("sky-wall" if aspect.facing_deg is not None else "sky-air", box(0, 1, 0, FOOT))
    if aspect.facing_deg is None:
        return
    across = _across(frame)
    azimuth = (frame.left_deg + across) % 360
    inside = within(aspect, azimuth)
    if not inside.any():
        return
    tops = lintel_height(aspect, azimuth)
    edge = [
        (float(at) / frame.span_deg, frame.y(float(top))) for at, top in zip(across[inside], tops[inside], strict=True)
    ]
    first, last = edge[0][0], edge[-1][0]
    yield Area("sky-air", polyline([(first, FOOT), *edge, (last, FOOT)], close=True))


def _grid(frame: SkyFrame) -> Iterator[Shape]:
    """Every quarter of the compass at the foot, and lines of height."""
    for i, name in enumerate(COMPASS):
        x = frame.x(45.0 * i)
        if 0.02 <= x <= 0.98:
            yield Text("sky-compass", percent(x), number(FOOT + 20), name, "middle")
            yield Stroke("sky-tick", percent(x), number(FOOT), percent(x), number(FOOT + 6))
    for height in range(15, int(frame.top_deg), 15):
        y = number(frame.y(height))
        yield Stroke("sky-height", "0%", y, "100%", y)
        yield Text("sky-degrees", "0%", number(frame.y(height) - 4), f"{height}°", "start", "4")


def _skyline(aspect: Aspect, frame: SkyFrame) -> Iterator[Shape]:
    """What stands before the place, trees lighter: they are bare in winter."""
    across = _across(frame)
    azimuth = (frame.left_deg + across) % 360

    def outline(points: tuple[tuple[float, float], ...]) -> str:
        heights = skyline_height(points, azimuth)
        top = [(float(at) / frame.span_deg, frame.y(float(h))) for at, h in zip(across, heights, strict=True)]
        return polyline([(0, FOOT), *top, (1, FOOT)], close=True)

    for tree in aspect.trees:
        yield Area("sky-tree", outline(tree.outline))
    yield Area("sky-line", outline(aspect.skyline))
    yield Stroke("sky-horizon", "0%", number(FOOT), "100%", number(FOOT))


def _path(aspect: Aspect, where: tuple[float, float], frame: SkyFrame, path: DayPath) -> Iterator[Shape]:
    sun = sun_path(*where, path.day, step_min=PATH_STEP_MIN)
    elevation, azimuth = sun.elevation[0], sun.azimuth[0]
    x = ((azimuth - frame.left_deg) % 360) / frame.span_deg
    drawn = (elevation > 0) & (x <= 1)
    reaches = drawn & seen(aspect, elevation, azimuth, path.day.timetuple().tm_yday - 1)
    for role, where_drawn in ((f"sun-hidden {path.role}", drawn), (f"sun-seen {path.role}", reaches)):
        for run in _runs(where_drawn, x):
            points = [(float(x[i]), frame.y(float(elevation[i]))) for i in run]
            yield Area(role, polyline(points))
    named = drawn & (x > NAME_ROOM) & (x < 1 - NAME_ROOM)
    if named.any():
        top = int(np.argmax(np.where(named, elevation, -90.0)))
        yield Text("sun-name", percent(float(x[top])), number(frame.y(float(elevation[top])) + 15), path.name, "middle")


def _runs(drawn: Bools, x: Floats) -> Iterator[list[int]]:
    """Stretches of steps that are drawn, parted where the frame's edge is crossed."""
    run: list[int] = []
    for i in np.flatnonzero(drawn).tolist():
        if run and (i != run[-1] + 1 or abs(x[i] - x[run[-1]]) > 0.5):
            if len(run) > 1:
                yield run
            run = []
        run.append(i)
    if len(run) > 1:
        yield run


def _marks(frame: SkyFrame, path: DayPath) -> Iterator[Shape]:
    """The hours on a path, and its name at its highest point in the frame."""
    for azimuth, elevation, clock in path.hours:
        x = frame.x(azimuth)
        if elevation > 0 and x <= 1:
            yield Mark("sun-hour", percent(x), number(frame.y(elevation)), DOT)
            yield Text("sun-clock", percent(x), number(frame.y(elevation) - 8), clock, "middle")


YEAR_HEIGHT, YEAR_FOOT, YEAR_TOP = 150, 128.0, 12.0
LEAST_HOURS = 8.0
NAMED_FROM_H = 1.2  # hours an area is high where its name fits into it


def _named(year: LightYear, y: Callable[[float], float]) -> Iterator[Shape]:
    """Both areas by their names, where there is room for one."""
    for name, hours, under in (("sun", year.direct_h, year.strong_h), ("strong sun", year.strong_h, None)):
        room = hours - (under if under is not None else 0.0)
        widest = int(np.argmax(room))
        if room[widest] >= NAMED_FROM_H:
            middle = float(hours[widest] - room[widest] / 2)
            yield Text("sun-area", percent(widest / YEAR_DAYS), number(y(middle) + 4), name, "middle")


def year_scene(year: LightYear, today: date, *, words: str) -> Scene:
    """Hours of possible sun through the year, strong sun within them, and the six hours that sun lovers want."""
    most = max(LEAST_HOURS, float(year.direct_h.max()) + 0.5)

    def y(hours: float) -> float:
        return YEAR_FOOT - (YEAR_FOOT - YEAR_TOP) * hours / most

    def area(hours: Floats) -> str:
        top = [((i + 0.5) / YEAR_DAYS, y(float(hours[i]))) for i in range(0, YEAR_DAYS, 2)]
        return polyline([(0, YEAR_FOOT), (0, y(float(hours[0]))), *top, (1, y(float(hours[-1]))), (1, YEAR_FOOT)],
                        close=True)  # fmt: skip

    six = number(y(FULL_SUN_H))
    shapes: list[Shape] = [
        Area("sun-direct", area(year.direct_h)),
        Area("sun-strong", area(year.strong_h)),
        Stroke("sun-six", "0%", six, "100%", six),
        Text("sky-degrees", "0%", number(y(FULL_SUN_H) - 4), "6 hours", "start", "4"),
        *_named(year, y),
        Stroke("sky-horizon", "0%", number(YEAR_FOOT), "100%", number(YEAR_FOOT)),
    ]
    first = 0
    for name, days in zip(MONTH_NAMES, MONTH_DAYS.tolist(), strict=True):
        middle = (first + days / 2) / YEAR_DAYS
        shapes.append(Text("sky-compass", percent(middle), number(YEAR_FOOT + 17), name, "middle"))
        first += days
    x = percent((today.timetuple().tm_yday - 0.5) / YEAR_DAYS)
    shapes.append(Stroke("today", x, number(YEAR_TOP - 6), x, number(YEAR_FOOT)))
    return Scene(YEAR_HEIGHT, words, tuple(shapes))
