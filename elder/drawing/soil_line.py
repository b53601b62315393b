"""The soil line: one row that says what a batch does, below the ground and above it.

Below: roots, as a band that hangs deepest where they are likeliest, and short strokes for those seen.
Above: plants, rising towards the thin rule of the number wanted. On it: what happens to hands. The
gate is a post where planting out opens and a second where it shuts.
"""

from __future__ import annotations

import itertools
import random
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from elder.drawing.axis import TimeAxis
from elder.drawing.scene import Area, Mark, Scene, Shape, Stroke, Text, box, number, percent, polyline
from elder.drawing.stated import StatedRise, stated_shapes
from elder.engine.batch.outlook import Outlook
from elder.engine.plan.curve import CutDay

CUT_OPEN = "M-5 0a5 5 0 1 0 10 0a5 5 0 1 0-10 0Z"
POT = "M-5-6h10l-2 8h-6Z"
STEPS = "M-6 1h4v-3h4v-3h4"
SPADE = "M0-9v8M-3-1h6v4l-3 3l-3-3Z"
FRUIT = "M0 0v-12M-4-15a4 4 0 1 0 8 0a4 4 0 1 0-8 0Z"
# The same signs for rows too low for them.
CUT_SMALL = "M-4 0a4 4 0 1 0 8 0a4 4 0 1 0-8 0Z"
FRUIT_SMALL = "M0 0v-7M-3-10a3 3 0 1 0 6 0a3 3 0 1 0-6 0Z"
FORECAST_DAYS = 75  # past the day a batch is for, in pots, its forecast is drawn this far
SMALL_RISE = 18  # pixels: below this the small signs are used
CROSS = "M-3 2l6 6M3 2l-6 6"
MARKS = {"potted": POT, "hardening": STEPS, "planted": SPADE, "harvested": FRUIT}


@dataclass(frozen=True)
class Sizes:
    """Pixels of a row: its height, where the line lies, how far plants rise and roots hang."""

    height: int
    line: int
    rise: int
    hang: int
    ribbon: int  # where the ribbon of cut days lies, from the top; 0 for none


ROW = Sizes(70, 42, 32, 18, 65)
COMPACT = Sizes(34, 22, 17, 9, 0)
SMALL = Sizes(25, 17, 13, 7, 0)
STRIP = Sizes(46, 28, 20, 10, 42)
LARGE = Sizes(188, 106, 82, 52, 179)


@dataclass(frozen=True)
class CutMark:
    """A cut: when, how many, and whether it was really taken."""

    day: date
    count: int
    taken: bool


@dataclass(frozen=True)
class Happening:
    """Something on the line on a day: a kind of ``MARKS``, and how many."""

    day: date
    kind: str
    count: int = 0


@dataclass(frozen=True)
class RowPicture:
    """All that one soil line shows. A value, so that what was drawn before need not be drawn again.

    ``wanted`` 0 leaves its rule out. ``ribbon`` runs are (first day, last day, standing); ``gates`` are
    (opens, shuts); ``roots_seen`` and ``losses`` are (day, how many).
    """

    wanted: int
    words: str
    cuts: tuple[CutMark, ...] = ()
    outlook: Outlook | None = None
    gates: tuple[tuple[date, date], ...] = ()
    target: date | None = None
    ribbon: tuple[tuple[date, date, CutDay], ...] = ()
    roots_seen: tuple[tuple[date, int], ...] = ()
    losses: tuple[tuple[date, int], ...] = ()
    happenings: tuple[Happening, ...] = ()
    harvest: date | None = None
    give_up: date | None = None
    stated: StatedRise | None = None


def soil_line(picture: RowPicture, axis: TimeAxis, today: date, sizes: Sizes) -> Scene:
    """Draw one row."""
    pen = _Pen(picture, axis, today, sizes)
    shapes = [
        *pen.gates(),
        *pen.roots(),
        *stated_shapes(picture.stated, axis, line=sizes.line, rise=sizes.rise, wanted=picture.wanted),
        *pen.plants(),
        *pen.wanted(),
        *pen.ribbon(),
        *pen.ground_line(),
        *pen.seen(),
        *pen.marks(),
    ]
    return Scene(sizes.height, picture.words, tuple(shapes))


def standing_runs(start: date, standings: np.ndarray) -> tuple[tuple[date, date, CutDay], ...]:
    """Runs of open cut days from an array of standings, closed ones left out."""
    breaks = np.flatnonzero(np.diff(standings)) + 1
    bounds = [0, *breaks.tolist(), len(standings)]
    runs = ((a, b - 1, CutDay(int(standings[a]))) for a, b in itertools.pairwise(bounds))
    day = timedelta(days=1)
    return tuple((start + a * day, start + b * day, kind) for a, b, kind in runs if kind is not CutDay.CLOSED)


@dataclass(frozen=True, eq=False)
class _Pen:
    picture: RowPicture
    axis: TimeAxis
    today: date
    sizes: Sizes

    def gates(self) -> list[Shape]:
        """The open bed between its posts; each post only where it lies on the axis."""
        top, line = self.sizes.line - self.sizes.rise, self.sizes.line
        shapes: list[Shape] = []
        for opens, shuts in self.picture.gates:
            if shuts < self.axis.start or opens > self.axis.end:
                continue
            shapes.append(Area("bed", box(self.axis.held(opens), self.axis.held(shuts), top, line)))
            if self.axis.shows(opens):
                x = percent(self.axis.x(opens))
                shapes.append(Stroke("post-open", x, str(top - 2), x, str(line)))
            if self.axis.shows(shuts):
                x = percent(self.axis.x(shuts))
                shapes.append(Stroke("post-shut", x, str(top - 2), x, str(line)))
        return shapes

    def roots(self) -> list[Shape]:
        """The band that hangs, and hair roots in it where the band is deep enough to hold them."""
        outlook = self.picture.outlook
        if outlook is None or outlook.rooting.max(initial=0.0) <= 0.001:
            return []
        depth = outlook.rooting / outlook.rooting.max() * self.sizes.hang
        days = np.flatnonzero(depth > 0.02 * self.sizes.hang)
        line, width = self.sizes.line, self.axis.days
        begin = (outlook.start - self.axis.start).days
        points = [((begin + int(i)) / width, line + float(depth[i])) for i in days]
        points = [(min(max(x, 0.0), 1.0), y) for x, y in points]
        closed = [(points[0][0], float(line)), *points, (points[-1][0], float(line))]
        return [Area("root-band", polyline(closed, close=True)), Area("root-hair", self._hairs(points))]

    def _hairs(self, points: list[tuple[float, float]]) -> str:
        """Short wandering strokes: texture that says roots without colour. The same every time."""
        chance = random.Random(17)  # noqa: S311 - texture, not a secret
        gap = 0.006 if self.sizes.hang > 30 else 0.009
        strokes, last = [], -1.0
        for x, y in points:
            if x - last < gap or y - self.sizes.line < 4:
                continue
            last = x
            reach = (y - self.sizes.line) * chance.uniform(0.55, 0.95)
            bend = chance.uniform(-2.4, 2.4)
            strokes.append(
                f"M{number(1000 * x)} {self.sizes.line}q{number(bend)} {number(reach / 2)} 0 {number(reach)}"
            )
        return "".join(strokes)

    def plants(self) -> list[Shape]:
        """Expected ready, with its haze; solid up to today, pale after."""
        outlook = self.picture.outlook
        if outlook is None:
            return []
        days = [outlook.start + timedelta(days=int(i)) for i in outlook.at]
        last = min(self.axis.end, self._forecast_end())
        shown = [i for i, day in enumerate(days) if day <= last]
        if not shown or outlook.high.max(initial=0.0) <= 0:
            return []
        xs = [self.axis.held(days[i]) for i in shown]
        high, low, middle = (
            [self._rise(float(curve[i])) for i in shown] for curve in (outlook.high, outlook.low, outlook.expected)
        )
        haze = [*zip(xs, high, strict=True), *reversed(list(zip(xs, low, strict=True)))]
        rise = list(zip(xs, middle, strict=True))
        shapes: list[Shape] = [Area("haze", polyline(haze, close=True)), Area("ready-forecast", polyline(rise))]
        counted = [point for point, i in zip(rise, shown, strict=True) if days[i] <= self.today]
        if len(counted) > 1 and counted[-1][1] < self.sizes.line - 1:
            shapes.append(Area("ready-counted", polyline(counted)))
        return shapes

    def _rise(self, plants: float) -> float:
        """How far down a number of plants lies: the rule of the number wanted is at four fifths."""
        share = min(plants / (1.25 * self.picture.wanted), 1.12)
        return self.sizes.line - self.sizes.rise * share

    def wanted(self) -> list[Shape]:
        """The thin rule of the number wanted."""
        if not self.picture.wanted:
            return []
        y = number(self._rise(self.picture.wanted))
        first = min([cut.day for cut in self.picture.cuts] or [self.today])
        left, right = self.axis.held(first), self._rule_end()
        if right <= left:
            return []
        shapes: list[Shape] = [Stroke("wanted", percent(left), y, percent(right), y)]
        if self.sizes.ribbon:
            at_edge = right > 0.93
            y_text = number(self._rise(self.picture.wanted) + (-4 if at_edge else 4))
            anchor, dx = ("end", "-2") if at_edge else ("start", "4")
            shapes.append(Text("wanted-number", percent(right), y_text, str(self.picture.wanted), anchor, dx))
        return shapes

    def _gate_end(self) -> date | None:
        """When the gate shuts behind the day the plants are to go out."""
        target = self.picture.target
        return next((shuts for opens, shuts in self.picture.gates if target and opens <= target <= shuts), None)

    def _rule_end(self) -> float:
        end = self._gate_end() or (self.picture.target or self.today) + timedelta(days=30)
        return min(self.axis.held(end), 0.97)

    def _forecast_end(self) -> date:
        """Past its gate, or long past its day, how many are ready says nothing more."""
        if self.picture.target is None:
            return self.axis.end
        return self._gate_end() or self.picture.target + timedelta(days=FORECAST_DAYS)

    def ribbon(self) -> list[Shape]:
        """Cut days: solid where comfortable, hatched where a stretch, an outline where early."""
        if not self.sizes.ribbon:
            return []
        y = self.sizes.ribbon
        shapes: list[Shape] = []
        for first, last, standing in self.picture.ribbon:
            left, right = self.axis.held(first), self.axis.held(last + timedelta(days=1))
            if right > left:
                role = f"cut-{standing.name.lower()}"
                shapes.append(Area(role, box(left, right, y - 2.5, y + 2.5)))
        return shapes

    def ground_line(self) -> list[Shape]:
        """The line itself, and today's rule through it."""
        y = str(self.sizes.line)
        shapes: list[Shape] = [Stroke("soil", "0%", y, "100%", y)]
        if self.axis.shows(self.today):
            x = percent(self.axis.x(self.today))
            shapes.append(Stroke("today", x, "0", x, str(self.sizes.height)))
        return shapes

    def seen(self) -> list[Shape]:
        """A stroke below for each seen rooted, a cross for each loss, side by side within their day."""
        shapes: list[Shape] = []
        length = self.sizes.hang * 0.75
        for day, count in self.picture.roots_seen:
            if self.axis.shows(day):
                d = "".join(f"M{number(2.6 * i)} 1v{number(length)}" for i in range(min(count, 12)))
                shapes.append(Mark("root-seen", percent(self.axis.x(day)), str(self.sizes.line), d))
        for day, _count in self.picture.losses:
            if self.axis.shows(day):
                shapes.append(Mark("loss", percent(self.axis.x(day)), str(self.sizes.line), CROSS))
        if self.picture.give_up and self.sizes.ribbon and self.axis.shows(self.picture.give_up):
            x = percent(self.axis.x(self.picture.give_up))
            shapes.append(Stroke("give-up", x, str(self.sizes.line), x, str(self.sizes.line + self.sizes.hang)))
        return shapes

    def marks(self) -> list[Shape]:
        """On the line: cuts with their counts, then potting, hardening, planting, harvest."""
        shapes: list[Shape] = []
        line = str(self.sizes.line)
        for cut in self.picture.cuts:
            if not self.axis.shows(cut.day):
                continue
            x = percent(self.axis.x(cut.day))
            is_low = self.sizes.rise < SMALL_RISE
            sign = CUT_SMALL if is_low else CUT_OPEN
            shapes.append(Mark("cut-taken" if cut.taken else "cut-planned", x, line, sign))
            # Above its sign, or where the row is too low for that, beside it.
            at = (str(self.sizes.line - 1), "start", "6") if is_low else (str(self.sizes.line - 9), "middle", "0")
            shapes.append(Text("cut-count", x, at[0], str(cut.count), at[1], at[2]))
        for thing in self.picture.happenings:
            if thing.kind in MARKS and self.axis.shows(thing.day):
                low = thing.kind == "harvested" and self.sizes.rise < SMALL_RISE
                sign = FRUIT_SMALL if low else MARKS[thing.kind]
                shapes.append(Mark(f"did-{thing.kind}", percent(self.axis.x(thing.day)), line, sign))
        if self.picture.harvest and self.axis.shows(self.picture.harvest):
            fruit = FRUIT_SMALL if self.sizes.rise < SMALL_RISE else FRUIT
            shapes.append(Mark("harvest-due", percent(self.axis.x(self.picture.harvest)), line, fruit))
        return shapes
