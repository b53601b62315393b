"""Dates in whatever order a file writes them: the order that most lines fit, and that runs day by day."""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Final, Literal

DateOrder = Literal["", "ymd", "dmy", "mdy"]
ORDER_WORDS: Final = {"ymd": "year, month, day", "dmy": "day, month, year", "mdy": "month, day, year"}
MONTH_NAMES: Final = {
    name: i
    for i, name in enumerate(
        ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"), start=1
    )
}
TIME: Final = re.compile(r"[T ]\d{1,2}:\d{2}.*$")
PARTS: Final = re.compile(r"[^0-9a-z]+")
CENTURY_TURN: Final = 50  # a year written with two digits from here on is of the last century (common practice)


@dataclass(frozen=True)
class ReadDates:
    """Ordinals in the lines' order, ``None`` where a line has no date; the order taken, and whether another
    would have done as well."""

    ordinals: tuple[int | None, ...]
    order: DateOrder
    unsure: bool

    @property
    def share(self) -> float:
        """The share of lines with a date."""
        return sum(day is not None for day in self.ordinals) / max(len(self.ordinals), 1)

    @property
    def words(self) -> str:
        """The order in words."""
        return ORDER_WORDS.get(self.order, "none found") + (" (or day and month the other way)" if self.unsure else "")


def read_dates(cells: Sequence[str], order: DateOrder = "") -> ReadDates:
    """Read a column of dates, in the given order or in the one that fits best."""
    split = [_parts(cell) for cell in cells]
    orders: tuple[DateOrder, ...] = (order,) if order else ("ymd", "dmy", "mdy")
    scored: list[tuple[tuple[int, int], DateOrder, list[int | None]]] = []
    for tried in orders:
        ordinals = [_ordinal(parts, tried) for parts in split]
        scored.append(((sum(day is not None for day in ordinals), _runs(ordinals)), tried, ordinals))
    scored.sort(key=lambda row: row[0], reverse=True)
    best = scored[0]
    unsure = len(scored) > 1 and scored[1][0] == best[0] and best[0][0] > 0
    return ReadDates(tuple(best[2]), best[1], unsure)


def _parts(cell: str) -> list[str]:
    text = TIME.sub("", cell.strip().strip('"')).lower()
    if re.fullmatch(r"\d{8}", text):
        return [text[:4], text[4:6], text[6:]]
    return [part for part in PARTS.split(text) if part]


def _ordinal(parts: list[str], order: DateOrder) -> int | None:
    if len(parts) != 3:
        return None
    named = [i for i, part in enumerate(parts) if part[:3] in MONTH_NAMES]
    if named:  # a month by name leaves day and year, told apart by their size
        rest = [part for i, part in enumerate(parts) if i != named[0]]
        month = str(MONTH_NAMES[parts[named[0]][:3]])
        year, day = (rest[0], rest[1]) if len(rest[0]) == 4 else (rest[1], rest[0])
        return _date(year, month, day)
    if order == "ymd":
        return _date(*parts) if len(parts[0]) == 4 else None
    day, month = (parts[0], parts[1]) if order == "dmy" else (parts[1], parts[0])
    return _date(parts[2], month, day) if len(parts[0]) <= 2 else None


def _date(year: str, month: str, day: str) -> int | None:
    try:
        number = int(year)
        if len(year) <= 2:
            number += 1900 if number >= CENTURY_TURN else 2000
        return date(number, int(month), int(day)).toordinal()
    except (ValueError, OverflowError):  # the 400th digit of a year fits no calendar either
        return None


def _runs(ordinals: list[int | None]) -> int:
    """How many lines are the day after the line before."""
    return sum(a is not None and b is not None and b - a == 1 for a, b in itertools.pairwise(ordinals))
