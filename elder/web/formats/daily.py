"""Daily minima and maxima from a file: what was understood, what was refused and why, what looks wrong.

Read are GHCN-Daily's ``.dly`` lines and its by-station comma lines (readme of the Global Historical
Climatology Network daily, from memory), and tables with a date and two temperatures under any usual names.
"""

from __future__ import annotations

import csv
import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Final

import numpy as np
from numpy.typing import NDArray

from elder.engine.records import (
    COLDEST_C,
    HOTTEST_C,
    DailyRecords,
    gaps,
    records_of,
    screen,
)
from elder.engine.refusal import Refusal
from elder.web.formats.dates import DateOrder, read_dates

MISSING: Final = {
    "",
    "na",
    "n/a",
    "nan",
    "null",
    "none",
    "-",
    "--",
    "m",
    "t",
    "-9999",
    "-999",
    "-99.9",
    "9999",
    "99999",
}
UNITS: Final = ("C", "F", "tenths")
MOST_LINES: Final = 2_000_000
PREAMBLE: Final = 40  # lines among which the heading may stand
DLY: Final = re.compile(r"^[A-Z]{2}[A-Z0-9_-]{9}\d{4}(?:0[1-9]|1[0-2])[A-Z0-9]{4}[ \d-]{5}")
BY_STATION: Final = re.compile(r"^\"?[A-Z]{2}[A-Z0-9_-]{9}\"?,\"?\d{8}\"?,\"?[A-Z0-9]{4}\"?,")
LOW_NAMES: Final = re.compile(
    r"(^|[^a-z])(t?min|tn|low|lowest|minimum|mintemp|tmin[a-z]?)($|[^a-z])|min.*temp|temp.*min"
)
HIGH_NAMES: Final = re.compile(
    r"(^|[^a-z])(t?max|tx|high|highest|maximum|maxtemp|tmax[a-z]?)($|[^a-z])|max.*temp|temp.*max"
)
DATE_NAMES: Final = re.compile(r"date|^day$|datum|fecha|^time$|yyyymmdd|^dt$")


@dataclass(frozen=True)
class ReadOptions:
    """What the person says where the file does not: unit, order of day and month, whether suspects stay."""

    unit: str = ""
    order: DateOrder = ""
    keep_suspects: bool = False


@dataclass(frozen=True)
class Refused:
    """A line that was not taken, by its number from 1, and why."""

    line: int
    why: str


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


@dataclass
class _Found:
    """Raw columns as read, before any judgement. NaN for a value that is missing."""

    lines: list[int] = field(default_factory=list)
    days: list[int] = field(default_factory=list)
    low: list[float] = field(default_factory=list)
    high: list[float] = field(default_factory=list)
    refused: list[Refused] = field(default_factory=list)
    understood: list[tuple[str, str]] = field(default_factory=list)
    unit: str = ""
    order: DateOrder = ""
    order_unsure: bool = False


def read_daily(text: str, options: ReadOptions | None = None) -> ReadFile | Refusal:
    """Read a file's text. A refusal says what was looked for and not found."""
    options = options or ReadOptions()
    lines = text.lstrip("\ufeff").splitlines()
    if len(lines) > MOST_LINES:
        return Refusal("too_long", "file", {"lines": len(lines), "most": MOST_LINES})
    first = next((line for line in lines if line.strip()), "")
    if DLY.match(first):
        found: _Found | Refusal = _read_dly(lines)
    elif BY_STATION.match(first):
        found = _read_by_station(lines)
    else:
        found = _read_table(lines, options)
    return found if isinstance(found, Refusal) else _judged(found, options)


# GHCN-Daily


def _read_dly(lines: Sequence[str]) -> _Found:
    """Fixed columns: station, year, month, element, then 31 times value (tenths °C) and three flags."""
    values: dict[str, dict[int, tuple[int, float]]] = {"TMIN": {}, "TMAX": {}}
    found, stations = _Found(unit="tenths", order="ymd"), set()
    for number, line in enumerate(lines, start=1):
        element = line[17:21]
        if not line.strip() or element not in values:
            continue
        stations.add(line[:11])
        try:
            year, month = int(line[11:15]), int(line[15:17])
        except ValueError:
            found.refused.append(Refused(number, "no year and month where they belong"))
            continue
        for day in range(31):
            at = 21 + 8 * day
            raw, quality = line[at : at + 5].strip(), line[at + 6 : at + 7].strip()
            _keep_element(values[element], found, number, (year, month, day + 1), raw, quality)
    found.understood += [("Form", "GHCN-Daily station file"), ("Station", ", ".join(sorted(stations)[:3]))]
    return _joined(found, values)


def _read_by_station(lines: Sequence[str]) -> _Found:
    """Comma lines: station, YYYYMMDD, element, value (tenths °C), measurement, quality and source flags."""
    values: dict[str, dict[int, tuple[int, float]]] = {"TMIN": {}, "TMAX": {}}
    found, stations = _Found(unit="tenths", order="ymd"), set()
    for number, row in enumerate(csv.reader(lines), start=1):
        if len(row) < 4 or row[2] not in values:
            continue
        stations.add(row[0])
        stamp = row[1]
        if not re.fullmatch(r"\d{8}", stamp):
            found.refused.append(Refused(number, "no date that can be read"))
            continue
        day = int(stamp[:4]), int(stamp[4:6]), int(stamp[6:])
        _keep_element(values[row[2]], found, number, day, row[3].strip(), row[5].strip() if len(row) > 5 else "")
    found.understood += [("Form", "GHCN-Daily by station, comma lines"), ("Station", ", ".join(sorted(stations)[:3]))]
    return _joined(found, values)


def _keep_element(
    values: dict[int, tuple[int, float]],
    found: _Found,
    number: int,
    day: tuple[int, int, int],
    raw: str,
    quality: str,
) -> None:
    if raw in ("", "-9999"):
        return
    try:
        ordinal, value = date(*day).toordinal(), float(raw)
    except ValueError:
        found.refused.append(Refused(number, "no such day, or no number"))
        return
    if quality:
        found.refused.append(Refused(number, "marked as failed by its own source"))
    elif ordinal in values:
        found.refused.append(Refused(number, "the same day a second time"))
    else:
        values[ordinal] = (number, value)


def _joined(found: _Found, values: dict[str, dict[int, tuple[int, float]]]) -> _Found:
    low, high = values["TMIN"], values["TMAX"]
    nothing = (0, float("nan"))
    for ordinal in sorted(low.keys() | high.keys()):
        found.days.append(ordinal)
        found.lines.append(low.get(ordinal, high.get(ordinal, nothing))[0])
        found.low.append(low.get(ordinal, nothing)[1])
        found.high.append(high.get(ordinal, nothing)[1])
    return found


# Tables


@dataclass(frozen=True)
class _Columns:
    """Where things stand in a row. ``dates`` holds one column, or those of year, month and day."""

    dates: tuple[int, ...]
    low: int
    high: int
    names: tuple[str, ...]


def _read_table(lines: Sequence[str], options: ReadOptions) -> _Found | Refusal:
    delimiter = _delimiter(lines)
    rows = _rows(lines, delimiter)
    columns, begin = _heading(rows)
    if columns is None:
        columns = _columns_by_content(rows)
        begin = -1
    if columns is None:
        return Refusal("not_understood", "file", {"first": next((" ".join(row)[:80] for _, row in rows), "")})
    body = [(number, row) for number, row in rows[begin + 1 :] if any(cell.strip() for cell in row)]
    found = _Found(unit=_unit_by_name(columns), understood=[("Form", f"a table, {_DELIMITER_WORDS[delimiter]}")])
    found.understood.append(("Columns", " · ".join(columns.names)))
    return _table_body(found, body, columns, options, decimal_comma=delimiter != ",")


def _rows(lines: Sequence[str], delimiter: str) -> list[tuple[int, list[str]]]:
    numbered = [(i, line) for i, line in enumerate(lines, start=1) if line.strip() and not line.startswith("#")]
    if delimiter == " ":
        return [(i, line.split()) for i, line in numbered]
    parsed = csv.reader((line for _, line in numbered), delimiter=delimiter, skipinitialspace=True)
    return [(i, row) for (i, _), row in zip(numbered, parsed, strict=False)]


_DELIMITER_WORDS: Final = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars", " ": "spaces"}


def _delimiter(lines: Sequence[str]) -> str:
    """The sign that splits most lines alike."""
    sample = [line for line in lines[: 4 * PREAMBLE] if line.strip() and not line.startswith("#")][-PREAMBLE:]
    for sign in (";", "\t", ",", "|"):
        counts = [line.count(sign) for line in sample]
        if counts and min(counts) >= 2 and max(counts) == min(counts):
            return sign
    best = max((";", "\t", ","), key=lambda sign: sum(line.count(sign) >= 2 for line in sample))
    return best if sum(line.count(best) >= 2 for line in sample) > len(sample) / 2 else " "


def _heading(rows: list[tuple[int, list[str]]]) -> tuple[_Columns | None, int]:
    for index, (_, row) in enumerate(rows[:PREAMBLE]):
        names = [cell.strip().strip('"').lower() for cell in row]
        dates = _date_columns(names)
        low = _named(names, LOW_NAMES, dates)
        high = _named(names, HIGH_NAMES, dates)
        if dates and low is not None and high is not None and low != high:
            said = tuple(row[i].strip() for i in (*dates, low, high))
            return _Columns(dates, low, high, said), index
    return None, -1


def _date_columns(names: list[str]) -> tuple[int, ...]:
    plain = {name.strip(" .:"): i for i, name in enumerate(names)}
    parts = [next((plain[n] for n in options if n in plain), None) for options in _PART_NAMES]
    if all(part is not None for part in parts):
        return tuple(part for part in parts if part is not None)
    return tuple(i for i, name in enumerate(names) if DATE_NAMES.search(name))[:1]


_PART_NAMES: Final = (("year", "yr", "yyyy"), ("month", "mon", "mo", "mm"), ("day", "dy", "dd", "dom"))


def _named(names: list[str], pattern: re.Pattern[str], taken: tuple[int, ...]) -> int | None:
    spaced = [re.sub(r"[_\s().°\[\]/-]+", " ", name).strip() for name in names]
    hits = [i for i, name in enumerate(spaced) if i not in taken and pattern.search(name) and "attribute" not in name]
    return min(hits, key=lambda i: len(spaced[i]), default=None)


def _columns_by_content(rows: list[tuple[int, list[str]]]) -> _Columns | None:
    """No heading: the first column that reads as dates, and the two columns of numbers after it."""
    sample = [row for _, row in rows[:60]]
    width = min((len(row) for row in sample), default=0)
    numbers = [[_number(row[i], decimal_comma=False) for row in sample] for i in range(width)]
    dates = [i for i in range(width) if read_dates([row[i] for row in sample]).share > 0.9]
    if not dates:
        return None
    plain = [i for i in range(dates[0] + 1, width) if not np.isnan(numbers[i]).mean() > 0.5]
    if len(plain) < 2:
        return None
    a, b = plain[:2]
    low, high = (a, b) if np.nanmedian(numbers[a]) <= np.nanmedian(numbers[b]) else (b, a)
    return _Columns((dates[0],), low, high, (f"column {dates[0] + 1}", f"column {low + 1}", f"column {high + 1}"))


def _table_body(
    found: _Found,
    body: list[tuple[int, list[str]]],
    columns: _Columns,
    options: ReadOptions,
    *,
    decimal_comma: bool,
) -> _Found:
    wide = max((*columns.dates, columns.low, columns.high))
    whole = [(number, row) for number, row in body if len(row) > wide]
    found.refused += [Refused(number, "too few columns") for number, row in body if len(row) <= wide]
    if len(columns.dates) == 3:
        stamps = ["-".join(row[i].strip() for i in columns.dates) for _, row in whole]
        read = read_dates(stamps, "ymd")
    else:
        read = read_dates([row[columns.dates[0]] for _, row in whole], options.order)
    found.order, found.order_unsure = read.order, read.unsure
    found.understood.append(("Dates", read.words))
    for (number, row), ordinal in zip(whole, read.ordinals, strict=True):
        if ordinal is None:
            found.refused.append(Refused(number, "no date that can be read"))
            continue
        low, high = (_number(row[i], decimal_comma=decimal_comma) for i in (columns.low, columns.high))
        if np.isnan(low) and np.isnan(high):
            found.refused.append(Refused(number, "no temperatures"))
            continue
        found.lines.append(number)
        found.days.append(ordinal)
        found.low.append(low)
        found.high.append(high)
    return found


def _number(cell: str, *, decimal_comma: bool) -> float:
    text = cell.strip().strip('"').rstrip("°CFcf ").replace("−", "-")
    if text.lower() in MISSING:
        return float("nan")
    try:
        return float(text.replace(",", ".") if decimal_comma else text)
    except ValueError:
        return float("nan")


def _unit_by_name(columns: _Columns) -> str:
    words = " ".join(columns.names[-2:]).lower()
    if re.search(r"fahrenheit|°\s*f|[(\[_ ]f[)\] ]?($|\s)", words):
        return "F"
    if re.search(r"celsius|°\s*c|[(\[_ ]c[)\] ]?($|\s)", words):
        return "C"
    return ""


# Judgement


def _judged(found: _Found, options: ReadOptions) -> ReadFile | Refusal:
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


def _unit_by_size(low: NDArray[np.float64], high: NDArray[np.float64]) -> str:
    """The first unit under which all but the wildest hundredth lie between −60 and 50 °C."""
    top, bottom = float(np.nanquantile(high, 0.99)), float(np.nanquantile(low, 0.01))
    for unit in UNITS:
        ends = _celsius(np.array([bottom, top]), unit)
        if ends[0] > -60 and ends[1] < 50:
            return unit
    return "C"


def _celsius(values: NDArray[np.float64], unit: str) -> NDArray[np.float64]:
    if unit == "F":
        return np.round((values - 32) / 1.8, 2)
    return values / 10 if unit == "tenths" else values


def _possible(
    lines: NDArray[np.int64],
    days: NDArray[np.int64],
    low: NDArray[np.float64],
    high: NDArray[np.float64],
    refused: list[Refused],
) -> NDArray[np.bool_]:
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
