"""The family of a clone line through the years, as it grows: each mother stands on her own soil from her first day to
her last, each take is a shoot on it, and each plant kept hangs from a runner, as a strawberry's does."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Final

from elder.drawing.axis import TimeAxis
from elder.drawing.scene import STRETCH, Area, Mark, Scene, Shape, Stroke, Text, number, percent
from elder.engine.mother.lineage import Family, FamilyRow, Took

ROOMY, SNUG = 46, 26  # px a row, with and without the numbers of each take
ROOMY_ROWS: Final = 24
HEAD: Final = 30.0
TWIG = "M0 0V-9M0 -5C-3 -6 -6 -9 -6 -13C-2 -12 0 -9 0 -5M0 -7C3 -8 6 -11 6 -15C2 -14 0 -11 0 -7"
# A stump; a plant with its roots below the soil; a potted one.
ENDED = "M-4 1L-3 -7L3 -5L4 1Z"
START = "M0 0V-12M0 -6C-4 -7 -8 -10 -8 -14C-3 -13 0 -10 0 -6M0 -8C4 -9 8 -12 8 -16C3 -15 0 -12 0 -8"
START += "M0 0C-2 3 -5 4 -8 8M0 0C0 4 0 6 1 9M0 0C3 3 5 4 8 7"
KEPT = "M-6 -4H6L4 6H-4ZM0 -4V-11M0 -7C-3 -8 -5 -10 -5 -13C-2 -12 0 -10 0 -7M0 -8C3 -9 5 -11 5 -14C2 -13 0 -11 0 -8"
RUNNER_BEND: Final = 0.6  # how far down a runner falls before it turns to where it roots
LETTER: Final = 0.0085  # of the width: what one letter of a take's numbers takes on a laptop
BEFORE_DAYS: Final = 400  # so long before the first cut mothers are still drawn from their start (assumed)
TODAY_ROOM: Final = 0.07  # of the width: a year nearer to today than this does not say its number


def family_axis(family: Family, today: date) -> TimeAxis:
    """From a little before the first cut to a little past today."""
    takes = [take.on for take in family.takes.values()]
    first = min(takes or [member.since for member in family.members.values()], default=today)
    # What lies long before the first cut is not drawn: its line comes in from the left.
    early = min(
        (one.since for one in family.members.values() if (first - one.since).days <= BEFORE_DAYS), default=first
    )
    first = min(first, early)
    last = max([today, first, *takes])  # the day may have stepped back since a take was written
    span = max((last - first).days, 200)
    return TimeAxis(first - timedelta(days=round(0.03 * span)), last + timedelta(days=round(0.06 * span)))


def family_scene(
    rows: Sequence[FamilyRow], family: Family, today: date, *, line: set[str], sick: set[str], words: str
) -> Scene:
    """The rows as lines of life. ``line``: the keys drawn strong; ``sick``: those to be told apart by a hatch."""
    axis = family_axis(family, today)
    pitch = ROOMY if len(rows) <= ROOMY_ROWS else SNUG
    at = {row.member.key: HEAD + pitch * (i + 0.62) for i, row in enumerate(rows)}
    height = round(HEAD + pitch * len(rows) + 8)
    shapes: list[Shape] = [*_years(axis, height, today)]
    for row in rows:
        shapes += _branch(row, family, axis, at, line)
    for row in rows:
        shapes += _life(row, axis, at[row.member.key], today, line, sick)
        shapes += _takes(row, family, axis, at[row.member.key], pitch, line)
    x = percent(axis.x(today))
    shapes += [Stroke("today", x, "14", x, str(height)), Text("today-word", x, "12", "today", "middle")]
    return Scene(height, words, tuple(shapes))


def _years(axis: TimeAxis, height: int, today: date) -> list[Shape]:
    shapes: list[Shape] = []
    for year in range(axis.start.year, axis.end.year + 1):
        day = date(year, 1, 1)
        if axis.shows(day):
            x = percent(axis.x(day))
            shapes.append(Stroke("month-line", x, "16", x, str(height)))
            gap = abs(axis.x(day) - axis.x(today))
            if gap > TODAY_ROOM:  # on a phone it needs more
                role = "month" if gap > 3 * TODAY_ROOM else "month month-second"
                shapes.append(Text(role, x, "12", str(year), "start", "4"))
    return shapes


def _strength(key: str, line: set[str]) -> str:
    return "" if not line else " strong" if key in line else " faint"


def _life(row: FamilyRow, axis: TimeAxis, y: float, today: date, line: set[str], sick: set[str]) -> list[Shape]:
    member = row.member
    end = member.ended or today
    left, right = axis.held(member.since), axis.held(end)
    role = f"life{_strength(member.key, line)}{' life-sick' if member.key in sick else ''}"
    shapes: list[Shape] = [Stroke(role, percent(left), number(y), percent(max(right, left + 0.004)), number(y))]
    if axis.shows(member.since):
        born = f"born{_strength(member.key, line)}"
        shapes.append(Mark(born, percent(left), number(y), KEPT if member.from_take else START))
    if member.ended:
        shapes.append(Mark("life-ended", percent(right), number(y), ENDED))
    return shapes


def _takes(row: FamilyRow, family: Family, axis: TimeAxis, y: float, pitch: int, line: set[str]) -> list[Shape]:
    shapes: list[Shape] = []
    taken_up = -1.0  # how far to the right words stand already
    for take in row.takes:
        x, words = axis.held(take.on), take_words(take)
        shapes.append(Mark(f"twig{_strength(row.member.key, line)}", percent(x), number(y), TWIG))
        wide = LETTER * len(words)
        left = x if x + wide < 1 else x - wide
        if pitch == ROOMY and left > taken_up:
            anchor, dx = ("start", "8") if left == x else ("end", "-9")
            shapes.append(Text("twig-number", percent(x), number(y - 6), words, anchor, dx))
            taken_up = left + wide + LETTER
    return shapes


def take_words(take: Took) -> str:
    """A take in a few figures: "11, 2 lost, 3 given"."""
    parts = [str(take.taken)]
    if take.lost:
        parts.append(f"{take.lost} lost")
    if take.given:
        parts.append(f"{take.given} given")
    return ", ".join(parts)


def _branch(row: FamilyRow, family: Family, axis: TimeAxis, at: dict[str, float], line: set[str]) -> list[Shape]:
    """The runner from a mother's shoot down to the plant kept from it."""
    take = family.takes.get(row.member.from_take or "")
    if take is None or take.mother not in at:
        return []
    x, y = axis.held(take.on), at[row.member.key]
    role = f"branch{_strength(row.member.key, line if take.mother in line else set())}"
    return [
        Area(role, _runner((x, at[take.mother]), (axis.held(row.member.since), y))),
    ]


def _runner(start: tuple[float, float], end: tuple[float, float]) -> str:
    """A curve that leaves the mother downwards and comes to the young plant along its soil."""
    (x, y), (to_x, to_y) = start, end
    points = ((x, y + RUNNER_BEND * (to_y - y)), (x, to_y), (to_x, to_y))
    bend = " ".join(f"{number(STRETCH * px)} {number(py)}" for px, py in points)
    return f"M{number(STRETCH * x)} {number(y)}C{bend}"
