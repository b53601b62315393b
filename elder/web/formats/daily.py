"""Daily minima and maxima from a file: what was understood, what was refused and why, what looks wrong.

Read are GHCN-Daily's ``.dly`` lines and its by-station comma lines (readme of the Global Historical
Climatology Network daily, from memory), and tables with a date and two temperatures under any usual names.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np
from numpy.typing import NDArray

from elder.engine.arrays import Bools, Floats, Ints
from elder.engine.climate.records import COLDEST_C, HOTTEST_C, DailyRecords, gaps, records_of
from elder.engine.climate.screening import screen
from elder.engine.refusal import Refusal
from elder.web.formats.dates import DateOrder
from elder.web.formats.ghcn import BY_STATION, DLY, read_by_station, read_dly
from elder.web.formats.reading import ReadColumns, ReadOptions, Refused
from elder.web.formats.tables import read_table

UNITS: Final = ("C", "F", "tenths")
MOST_LINES: Final = 120_000  # of one station, a line a day: three hundred years
MOST_ELEMENT_LINES: Final = 1_200_000  # where each line is one element of a day, most of them of no use here
LONGEST_LINE: Final = 4000  # characters


@dataclass(frozen=True)
class SuspectRow:
    """A reading unlike its season: its day, which of the two, its value and what is usual then, °C."""

    line: int
    day: date
    which: str
    value: float
    usual: float


@dataclass(frozen=True, eq=False)
class ReadFile:
    """A file as understood. ``records`` holds what would be kept: refused lines out, and suspects out too
    unless they are to stay. ``understood`` are (what, how) pairs."""

    understood: tuple[tuple[str, str], ...]
    records: DailyRecords
    refused: tuple[Refused, ...]
    suspects: tuple[SuspectRow, ...]
    gaps: tuple[tuple[date, date], ...]
    unit: str
    order: DateOrder
    order_unsure: bool

    @property
    def reasons(self) -> dict[str, int]:
        """How many lines were refused for each reason."""
        counted: dict[str, int] = {}
        for row in self.refused:
            counted[row.why] = counted.get(row.why, 0) + 1
        return counted


def text_of(data: bytes) -> str:
    """A file's bytes as text: UTF-8, else the western letters that older programs write."""
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("latin-1")


def read_daily(text: str, options: ReadOptions | None = None) -> ReadFile | Refusal:
    """Read a file's text. A refusal says what was looked for and not found."""
    options = options or ReadOptions()
    text = text.lstrip("\ufeff")
    by_station = BY_STATION.match(text.lstrip()[:200]) is not None
    most, count = MOST_ELEMENT_LINES if by_station else MOST_LINES, text.count("\n") + text.count("\r")
    if count > 2 * most:  # counted before anything is split, for the parts of a long text weigh ten times the whole
        return Refusal("too_long", "file", {"lines": count, "most": most})
    # Of a station's elements only two are of use, and the others are many.
    lines = [line if not by_station or "TM" in line else "" for line in text.splitlines()]
    if len(lines) > most:
        return Refusal("too_long", "file", {"lines": len(lines), "most": most})
    if any(len(line) > LONGEST_LINE for line in lines):
        return Refusal("not_understood", "file", {"first": next(line for line in lines if line.strip())[:80]})
    first = next((line for line in lines if line.strip()), "")
    if DLY.match(first):
        found: ReadColumns | Refusal = read_dly(lines)
    elif by_station:
        found = read_by_station(lines)
    else:
        found = read_table(lines, options)
    return found if isinstance(found, Refusal) else _judged(found, options)


def _judged(found: ReadColumns, options: ReadOptions) -> ReadFile | Refusal:
    """Units made °C, impossible and doubled days refused, the rest screened."""
    if not found.days:
        return Refusal("no_days", "file", {"refused": len(found.refused)})
    lines, days = np.array(found.lines), np.array(found.days, dtype=np.int64)
    low, high = np.array(found.low), np.array(found.high)
    unit = options.unit or found.unit or _unit_by_size(low, high)
    low, high = _celsius(low, unit), _celsius(high, unit)
    keep = _possible(lines, days, low, high, found.refused)
    lines, days, low, high = lines[keep], days[keep], low[keep], high[keep]
    if not len(days):
        return Refusal("no_days", "file", {"refused": len(found.refused)})
    order = np.argsort(days, kind="stable")
    lines, days, low, high = lines[order], days[order], low[order].copy(), high[order].copy()
    suspects = [
        SuspectRow(int(lines[s.index]), date.fromordinal(int(days[s.index])), s.which, s.value, s.usual)
        for s in screen(days, low, high)
    ]
    if not options.keep_suspects:
        for row in suspects:
            at = int(np.searchsorted(days, row.day.toordinal()))
            (low if row.which == "low" else high)[at] = np.nan
    said = [*found.understood, ("Unit", _UNIT_WORDS[unit] + ("" if options.unit or found.unit else ", by their size"))]
    return ReadFile(
        understood=tuple(said),
        records=records_of(days, low, high),
        refused=tuple(sorted(found.refused, key=lambda row: row.line)),
        suspects=tuple(suspects),
        gaps=tuple(gaps(days, np.isfinite(low) & np.isfinite(high))),
        unit=unit,
        order=found.order,
        order_unsure=found.order_unsure,
    )


_UNIT_WORDS: Final = {"C": "°C", "F": "°F", "tenths": "tenths of a degree Celsius"}


def _unit_by_size(low: Floats, high: Floats) -> str:
    """The first unit under which all but the wildest hundredth lie between −60 and 50 °C."""
    if not (np.isfinite(high).any() and np.isfinite(low).any()):
        return "C"
    top, bottom = (
        float(np.quantile(values[np.isfinite(values)], share)) for values, share in ((high, 0.99), (low, 0.01))
    )
    for unit in UNITS:
        ends = _celsius(np.array([bottom, top]), unit)
        if ends[0] > -60 and ends[1] < 50:
            return unit
    return "C"


def _celsius(values: Floats, unit: str) -> Floats:
    if unit == "F":
        return np.round((values - 32) / 1.8, 2)
    return values / 10 if unit == "tenths" else values


def _possible(
    lines: Ints,
    days: Ints,
    low: Floats,
    high: Floats,
    refused: list[Refused],
) -> Bools:
    """Which rows can be: no value no thermometer has shown, minimum not above maximum, each day once."""
    with np.errstate(invalid="ignore"):
        wild = (low < COLDEST_C) | (low > HOTTEST_C) | (high < COLDEST_C) | (high > HOTTEST_C)
        crossed = low > high
    today = date.today().toordinal()  # noqa: DTZ011 - a record cannot lie ahead in any time zone
    ahead = days > today + 3650
    first = np.zeros(len(days), dtype=bool)
    good = ~(wild | crossed | ahead)
    order = np.flatnonzero(good)
    _, firsts = np.unique(days[order], return_index=True)
    first[order[firsts]] = True
    for why, mask in (
        ("a temperature that cannot be", wild),
        ("the minimum lies above the maximum", crossed & ~wild),
        ("a day that is still to come", ahead & ~wild & ~crossed),
        ("the same day a second time", good & ~first),
    ):
        refused += [Refused(int(number), why) for number in lines[mask]]
    return first


def to_bytes(records: DailyRecords) -> Iterator[bytes]:
    """Records as three little-endian arrays: int32 ordinals, int16 tenths of minima and of maxima."""
    yield records.ordinals.astype("<i4").tobytes()
    for values in (records.low, records.high):
        tenths = np.where(np.isfinite(values), np.round(np.nan_to_num(values) * 10), NO_TENTHS)
        yield tenths.astype("<i2").tobytes()


NO_TENTHS: Final = -32768


def from_bytes(data: bytes, days: int) -> DailyRecords:
    """The records that ``to_bytes`` wrote. Raises ValueError where the length does not fit."""
    if len(data) != 8 * days:
        raise ValueError("records of another length")
    ordinals = np.frombuffer(data, "<i4", days).astype(np.int64)
    parts: Iterable[NDArray[np.int16]] = (np.frombuffer(data, "<i2", days, 4 * days + 2 * days * i) for i in (0, 1))
    low, high = (np.where(part == NO_TENTHS, np.nan, part / 10.0) for part in parts)
    return records_of(ordinals, low, high)
