"""A place as the shelf, sill or bed it is: the sun on it by the clock today, and what stands there, to scale."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from elder.drawing.scene import Area, Mark, Scene, Shape, Stroke, Text, box, number, percent
from elder.engine.shed.vessels import Vessel

HEIGHT, BOARD, LABELS = 130, 94.0, (111.0, 124.0)  # px: of the drawing, its board, the two lines names stand on
STRIP_TOP, STRIP_FOOT = 3.0, 11.0  # the sun by the clock
CLOCK_FROM, CLOCK_TO = 4.0, 22.0  # hours that the strip spans
PX_PER_CM = 1.7
WIDEST_PX, TALLEST_PX = 62.0, 40.0
MOST_GROUPS, MOST_DRAWN = 5, 4
SPRIG = "M0 0v-13M0-5q-5-1-6-6q6 0 6 4M0-8q5-1 6-6q-6 0-6 4M0-11q-3-2-2-6q4 1 3 5"
Ground = Literal["board", "glass", "soil"]


@dataclass(frozen=True)
class OnShelf:
    """What a batch has standing there: its containers, none for a row in the ground; how many; its name."""

    vessel: Vessel | None
    count: int
    name: str


def shelf_scene(
    standing: Sequence[OnShelf],
    sun: Sequence[tuple[float, float, bool]],
    ground: Ground,
    *,
    words: str,
) -> Scene:
    """``sun``: from and to by the clock, in hours, and whether it is strong. What is more than five is said in a
    number."""
    shapes = [*_sun_strip(sun), *_ground(ground)]
    shown = list(standing[:MOST_GROUPS])
    columns = max(len(shown) + (len(standing) > len(shown)), 3)
    for i, one in enumerate(shown):
        # Names that would meet on a phone stand on two lines in turn.
        shapes += _group(one, (i + 0.5) / columns, 1 / columns, LABELS[i % 2 if columns > 3 else 0])
    if len(standing) > len(shown):
        more = len(standing) - len(shown)
        shapes.append(
            Text("shelf-name", percent((len(shown) + 0.5) / columns), number(LABELS[0]), f"{more} more", "middle")
        )
    return Scene(HEIGHT, words, tuple(shapes))


def _sun_strip(sun: Sequence[tuple[float, float, bool]]) -> list[Shape]:
    def x(hour: float) -> float:
        return min(max((hour - CLOCK_FROM) / (CLOCK_TO - CLOCK_FROM), 0.0), 1.0)

    shapes: list[Shape] = [Area("shelf-day", box(0, 1, STRIP_TOP, STRIP_FOOT))]
    for begin, end, strong in sun:
        role = "shelf-strong" if strong else "shelf-sun"
        shapes.append(Area(role, box(x(begin), x(end), STRIP_TOP, STRIP_FOOT)))
    for hour in (6, 9, 12, 15, 18, 21):
        at = percent(x(hour))
        shapes.append(Stroke("shelf-hour", at, number(STRIP_TOP), at, number(STRIP_FOOT + 2)))
        shapes.append(Text("shelf-clock", at, number(STRIP_FOOT + 13), str(hour), "middle"))
    return shapes


def _ground(ground: Ground) -> list[Shape]:
    if ground == "soil":
        return [
            Area("shelf-soil", box(0, 1, BOARD, BOARD + 6)),
            Stroke("shelf-edge", "0%", number(BOARD), "100%", number(BOARD)),
        ]
    found: list[Shape] = [Area("shelf-board", box(0, 1, BOARD, BOARD + 4))]
    if ground == "glass":
        found.append(Stroke("shelf-glass", "0%", "30", "100%", "30"))
        found += [
            Stroke("shelf-glass", percent(at), "30", percent(at), number(BOARD))
            for at in (0.003, 0.25, 0.5, 0.75, 0.997)
        ]
    return found


def _group(one: OnShelf, middle: float, width: float, label: float) -> list[Shape]:
    drawn = min(one.count, MOST_DRAWN)
    shapes: list[Shape] = []
    for i in range(drawn):
        x = percent(middle + (i - (drawn - 1) / 2) * width * 0.2)
        top = 0.0
        if one.vessel is not None:
            shapes.append(Mark("shelf-vessel", x, number(BOARD), outline_of(one.vessel)))
            top = _size(one.vessel)[2]
        shapes.append(Mark("shelf-sprig", x, number(BOARD - top), SPRIG))
    said = f"{one.count} {one.name}" if one.count > 1 else one.name
    shapes.append(Text("shelf-name", percent(middle), number(label), said, "middle"))
    return shapes


def _size(vessel: Vessel) -> tuple[float, float, float]:
    """Widths at the top and at the foot, and height, px."""
    shape = vessel.shape
    top = max(vessel.foot_cm) if vessel.foot else shape.top_cm
    base = getattr(shape, "base_cm", shape.top_cm) * top / shape.top_cm
    scale = min(PX_PER_CM, WIDEST_PX / max(top, base), TALLEST_PX / shape.height_cm)
    return top * scale, base * scale, shape.height_cm * scale


def outline_of(vessel: Vessel) -> str:
    """A container from the side, standing on its origin."""
    top, base, height = _size(vessel)
    return f"M{number(-base / 2)} 0L{number(-top / 2)} {number(-height)}H{number(top / 2)}L{number(base / 2)} 0Z"
