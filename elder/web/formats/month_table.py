"""A climate table pasted in whatever shape: months down or across, °C or °F or both, other rows and columns beside."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from elder.engine.climate.normals import Normals
from elder.engine.refusal import Refusal
from elder.web.formats.dates import MONTH_NAMES

MONTHS: Final = 12
NUMBER: Final = re.compile(r"[-−–]?\d+(?:[.,]\d+)?")
BRACKETED: Final = re.compile(r"\([^)]*\)")
LOW: Final = re.compile(r"\b(low|lows|lowest|min|minimum|minima|night|nights|tmin)\b")
HIGH: Final = re.compile(r"\b(high|highs|highest|max|maximum|maxima|day|days|tmax|afternoon)\b")
NOT_USUAL: Final = re.compile(
    r"\b(record|absolute|extreme|rain|rainfall|precip\w*|mm|hours|snow\w*|humidity|sun\w*|wet)\b"
)
FAHRENHEIT: Final = re.compile(r"°\s?F|\bdeg(?:rees)? ?F\b|\bfahrenheit\b|\bF\b")
CELSIUS: Final = re.compile(r"°\s?C|\bcelsius\b|\bC\b")
HOTTEST_MEAN_C: Final = 50.0  # no month anywhere has such a mean; what is above is °F


@dataclass(frozen=True)
class _Series:
    """Twelve numbers under a heading, and what its unit is said to be ("" for not said)."""

    heading: str
    values: tuple[float, ...]
    unit: str


def read_months(text: str, *, fahrenheit: bool = False) -> Normals | Refusal:
    """The mean lowest and highest of each month. ``fahrenheit``: how figures without a unit are meant."""
    lines = [line for line in text.replace("\u00a0", " ").splitlines() if line.strip()]
    series = _down(lines) or _across(lines)
    pair = _lows_and_highs(series)
    if pair is None:
        return Refusal("no_months", "table", {"found": len(series)})
    hot = any(max(one.values) > HOTTEST_MEAN_C for one in pair if not one.unit)
    low, high = (_celsius(one, fahrenheit=fahrenheit or hot) for one in pair)
    if any(a > b for a, b in zip(low, high, strict=True)):
        return Refusal("months_crossed", "table", {})
    return Normals(low, high)


def _month(cell: str) -> int:
    """The number of the month a cell names, 0 for none."""
    word = cell.strip().lower().rstrip(".")
    return MONTH_NAMES.get(word[:3], 0) if word[:3].isalpha() and len(word) >= 3 else 0


def _cells(line: str) -> list[str]:
    """A line's cells: by tab, semicolon or bar, else by two spaces, else by comma and space."""
    for mark in ("\t", ";", "|"):
        if mark in line:
            return [cell.strip() for cell in line.strip().strip("|").split(mark)]
    if re.search(r"\S {2,}\S", line):
        return [cell.strip() for cell in re.split(r" {2,}", line.strip())]
    if "," in line and not re.search(r"\d,\d+(?:\s|$)", line):
        return [cell.strip() for cell in line.split(",")]
    return line.split()


def _number(cell: str) -> float | None:
    """The first number of a cell; what stands in brackets is the same in another unit."""
    found = NUMBER.search(BRACKETED.sub("", cell)) or NUMBER.search(cell)
    return float(found[0].replace("−", "-").replace("–", "-").replace(",", ".")) if found else None


def _unit(heading: str) -> str:
    """The unit a heading names first."""
    f, c = FAHRENHEIT.search(heading), CELSIUS.search(heading)
    if f and c:
        return "F" if f.start() < c.start() else "C"
    return "F" if f else "C" if c else ""


def _down(lines: Sequence[str]) -> list[_Series]:
    """A month a line: every column that has a number in each of the twelve."""
    rows = {month: _cells(line) for line in reversed(lines) if (month := _month(_cells(line)[0])) and _any(line)}
    if len(rows) < MONTHS:
        return []
    first = next(i for i, line in enumerate(lines) if _month(_cells(line)[0]) and _any(line))
    width = min(len(cells) for cells in rows.values())
    heads = _cells(lines[first - 1]) if first else []
    if len(heads) == width - 1:
        heads = ["", *heads]  # the months' own column has no heading
    found = []
    for column in range(1, width):
        values = [_number(rows[month][column]) for month in range(1, MONTHS + 1)]
        if None not in values:
            heading = heads[column] if column < len(heads) else ""
            said = " ".join(lines[:first]) if not _unit(heading) else heading
            found.append(_Series(heading, tuple(v for v in values if v is not None), _unit(said)))
    return found


def _any(line: str) -> bool:
    return bool(NUMBER.search(line))


def _across(lines: Sequence[str]) -> list[_Series]:
    """A series a line: its heading, then twelve numbers, and perhaps the year's mean."""
    found = []
    for line in lines:
        cells = _cells(line)
        at = next((i for i, cell in enumerate(cells) if NUMBER.match(cell.strip("("))), len(cells))
        values = [value for cell in cells[at:] if (value := _number(cell)) is not None and not cell.startswith("(")]
        if len(values) in (MONTHS, MONTHS + 1):
            heading = " ".join(cells[:at])
            found.append(_Series(heading, tuple(values[:MONTHS]), _unit(heading) or _unit(" ".join(lines[:1]))))
    return found or _bare(" ".join(lines))


def _bare(text: str) -> list[_Series]:
    """Twenty-four figures and no line that holds twelve: the first twelve, and the rest."""
    values = [value for found in NUMBER.findall(text) if (value := _number(found)) is not None]
    if len(values) != 2 * MONTHS:
        return []
    return [_Series("", tuple(values[:MONTHS]), ""), _Series("", tuple(values[MONTHS:]), "")]


def _lows_and_highs(series: Sequence[_Series]) -> tuple[_Series, _Series] | None:
    """The usual lows and the usual highs among them, by their headings; without any, the coldest and the warmest."""
    usual = [one for one in series if not NOT_USUAL.search(one.heading.lower())]
    lows = [one for one in usual if LOW.search(one.heading.lower()) and not HIGH.search(one.heading.lower())]
    highs = [one for one in usual if HIGH.search(one.heading.lower()) and not LOW.search(one.heading.lower())]
    if lows and highs:
        return lows[0], highs[0]
    bare = [one for one in usual if one not in lows and one not in highs]
    if lows or highs or not 2 <= len(bare) <= 3:
        return None
    ranked = sorted(bare, key=lambda one: sum(one.values))
    return ranked[0], ranked[-1]


def _celsius(one: _Series, *, fahrenheit: bool) -> tuple[float, ...]:
    is_f = one.unit == "F" or (not one.unit and fahrenheit)
    return tuple(round((value - 32) / 1.8, 1) if is_f else value for value in one.values)
