"""The record's drawings: shares as dots with bars on one axis, stated chances beside what came true, ranges with what
came, and the share rooted by each day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from elder.drawing.scene import Area, Mark, Scene, Shape, Stroke, Text, box, number, percent, polyline

DOT: Final = "M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0Z"
DIAMOND: Final = "M0 -5L5 0L0 5L-5 0Z"
BAR_PX: Final = 26
TENTHS: Final = 10


@dataclass(frozen=True)
class ShareBar:
    """A share with what it likely lies between, and another to hold it against (the handbook's); ``few``: too few for
    a share, so that only the other is drawn."""

    share: float
    low: float
    high: float
    book: float | None = None
    few: bool = False


def share_scene(bar: ShareBar, words: str) -> Scene:
    """One row: the handbook as a diamond, one's own as a dot on its bar; nought at the left, all at the right."""
    middle = BAR_PX / 2
    shapes: list[Shape] = [Stroke("share-rule", "0%", number(middle), "100%", number(middle))]
    shapes += [Stroke("share-tick", percent(i / TENTHS), "4", percent(i / TENTHS), str(BAR_PX - 4)) for i in (0, 5, 10)]
    if not bar.few:
        shapes.append(Area("share-bar", box(bar.low, bar.high, middle - 4, middle + 4)))
    if bar.book is not None:
        shapes.append(Mark("share-book", percent(bar.book), number(middle), DIAMOND))
    if not bar.few:
        shapes.append(Mark("share-mine", percent(bar.share), number(middle), DOT))
    return Scene(BAR_PX, words, tuple(shapes))


def share_axis(words: str = "") -> Scene:
    """The axis over the rows: from none to all, in tenths."""
    shapes: list[Shape] = []
    for i, said in ((0, "none"), (2, "2"), (4, "4"), (5, "half"), (6, "6"), (8, "8"), (10, "all")):
        anchor = "start" if i == 0 else "end" if i == TENTHS else "middle"
        shapes.append(Text("share-label", percent(i / TENTHS), "12", said, anchor))
    return Scene(16, words, tuple(shapes))


@dataclass(frozen=True)
class RangeCame:
    """One forecast that fell due: of so many cut, the range it stated, what was wanted and what came."""

    cut: int
    low: int
    high: int
    came: int

    @property
    def inside(self) -> bool:
        """Whether what came lay in the range."""
        return self.low <= self.came <= self.high


RANGES_PX: Final = 150
MOST_COLUMNS: Final = 60


def ranges_scene(due: Sequence[RangeCame], words: str) -> Scene:
    """The forecasts side by side in the order they fell due, each as a share of what was cut: the range as a pale band,
    what came as a dot, hollow where it lay outside."""
    shown = due[-MOST_COLUMNS:]
    foot, top = RANGES_PX - 12, 10
    shapes: list[Shape] = [Stroke("soil", "0%", number(foot), "100%", number(foot))]
    for i, one in enumerate(shown):
        x, half = (i + 0.5) / len(shown), 0.32 / len(shown)

        def y(count: float, of: int = one.cut) -> float:
            return foot - (foot - top) * count / of

        shapes.append(Area("range-band", box(x - half, x + half, y(one.high) - 2, y(one.low) + 2)))
        role = "range-came" if one.inside else "range-missed"
        shapes.append(Mark(role, percent(x), number(y(one.came)), DOT if one.inside else DIAMOND))
    return Scene(RANGES_PX, words, tuple(shapes))


@dataclass(frozen=True)
class StatedStep:
    """A step of stated chances: what was stated on the mean, what share came true, between what that likely lies."""

    stated: float
    came: float
    low: float
    high: float
    of: int


RELIABLE_PX: Final = 260


def reliability_scene(steps: Sequence[StatedStep], words: str) -> Scene:
    """Stated across, come true up: on the slanting line where what was said came true as often as it was said."""
    foot, top = RELIABLE_PX - 26, 8

    def y(share: float) -> float:
        return foot - (foot - top) * share

    shapes: list[Shape] = [
        Stroke("reliable-even", "0%", number(y(0)), "100%", number(y(1))),
        Stroke("soil", "0%", number(foot), "100%", number(foot)),
    ]
    for share, said in ((0.1, "1 in 10"), (0.5, "5 in 10"), (0.9, "9 in 10")):
        shapes.append(Text("share-label", percent(share), str(RELIABLE_PX - 8), said, "middle"))
        shapes.append(Stroke("share-tick", "0%", number(y(share)), "100%", number(y(share))))
        shapes.append(Text("share-label", "0%", number(y(share) - 4), said))
    for step in steps:
        shapes.append(Stroke("reliable-bar", percent(step.stated), number(y(step.low)), percent(step.stated),
                           number(y(step.high))))  # fmt: skip
        shapes.append(Mark("share-mine", percent(step.stated), number(y(step.came)), DOT))
        shapes.append(Text("share-label", percent(step.stated), number(y(step.came) + 4), str(step.of), dx="9"))
    return Scene(RELIABLE_PX, words, tuple(shapes))


@dataclass(frozen=True)
class ArmCurve:
    """The share of an arm rooted by each of some days; ``name`` stands at its end."""

    name: str
    days: tuple[float, ...]
    shares: tuple[float, ...]
    last: float


CURVES_PX: Final = 190
ARM_ROLES: Final = ("arm-a", "arm-b", "arm-c", "arm-d")
ARM_SIGNS: Final = (DOT, DIAMOND, "M-5 -5H5V5H-5Z", "M0 -6L6 5H-6Z")  # by shape as well as by colour


def curves_scene(arms: Sequence[ArmCurve], words: str) -> Scene:
    """The share rooted by each day, in steps, an arm a line; roots hang below the line of the soil."""
    end = max((arm.last for arm in arms), default=1.0) * 1.06 or 1.0
    ground, foot = 14.0, CURVES_PX - 22.0

    def y(share: float) -> float:
        return ground + (foot - ground) * share

    shapes: list[Shape] = [Stroke("soil", "0%", number(ground), "100%", number(ground))]
    for share, said in ((0.5, "half"), (1.0, "all")):
        shapes.append(Stroke("share-tick", "0%", number(y(share)), "100%", number(y(share))))
        shapes.append(Text("share-label", "0%", number(y(share) - 4), said))
    for i, arm in enumerate(arms):
        points, share = [(0.0, y(0.0))], 0.0
        for day, then in zip(arm.days, arm.shares, strict=True):
            points += [(day / end, y(share)), (day / end, y(then))]
            share = then
        points.append((arm.last / end, y(share)))
        role = ARM_ROLES[i % len(ARM_ROLES)]
        shapes.append(Area(f"arm {role}", polyline(points)))
        shapes.append(
            Mark(f"arm-sign {role}", percent(arm.last / end), number(y(share)), ARM_SIGNS[i % len(ARM_SIGNS)])
        )
        shapes.append(Text("arm-name", percent(arm.last / end), number(y(share) - 8), arm.name, "end", dx="-8"))
    step = next(size for size in (2, 5, 7, 14, 28, 56) if end / size <= 9)
    for day in range(step, int(0.95 * end) + 1, step):  # what stood nearer the edge would be cut off on a phone
        shapes.append(Text("share-label", percent(day / end), str(CURVES_PX - 6), f"day {day}", "middle"))
    return Scene(CURVES_PX, words, tuple(shapes))
