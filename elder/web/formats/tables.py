"""A table with a date and two temperatures under any usual names, in whatever shape people have it."""

from __future__ import annotations

import csv
import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from elder.engine.refusal import Refusal
from elder.web.formats.dates import read_dates
from elder.web.formats.reading import ReadColumns, ReadOptions, Refused, Stations

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
STATION_NAMES: Final = ("station", "station_id", "stationid", "staid", "location", "site", "stid")
PREAMBLE: Final = 40  # lines among which the heading may stand
LOW_NAMES: Final = re.compile(
    r"(^|[^a-z])(t?min|tn|low|lowest|minimum|mintemp|tmin[a-z]?)($|[^a-z])|min.*temp|temp.*min"
)
HIGH_NAMES: Final = re.compile(
    r"(^|[^a-z])(t?max|tx|high|highest|maximum|maxtemp|tmax[a-z]?)($|[^a-z])|max.*temp|temp.*max"
)
DATE_NAMES: Final = re.compile(r"date|^day$|datum|fecha|^time$|yyyymmdd|^dt$")


@dataclass(frozen=True)
class _Columns:
    """Where things stand in a row. ``dates`` holds one column, or those of year, month and day."""

    dates: tuple[int, ...]
    low: int
    high: int
    names: tuple[str, ...]


def read_table(lines: Sequence[str], options: ReadOptions) -> ReadColumns | Refusal:
    delimiter = delimiter_of(lines)
    rows = rows_of(lines, delimiter)
    columns, begin = _heading(rows)
    if columns is None:
        columns = _columns_by_content(rows)
        begin = -1
    if columns is None:
        return Refusal("not_understood", "file", {"first": next((" ".join(row)[:80] for _, row in rows), "")})
    body = [(number, row) for number, row in rows[begin + 1 :] if any(cell.strip() for cell in row)]
    found = ReadColumns(unit=_unit_by_name(columns), understood=[("Form", f"a table, {DELIMITER_WORDS[delimiter]}")])
    found.understood.append(("Columns", " · ".join(columns.names)))
    if begin >= 0 and (column := _station_column(rows[begin][1])) is not None:
        stations = Stations()
        body = [(number, row) for number, row in body if len(row) <= column or stations.is_ours(row[column].strip())]
        found.understood.append(("Station", stations.words))
    return _table_body(found, body, columns, options, decimal_comma=delimiter != ",")


def _station_column(names: Sequence[str]) -> int | None:
    """The column that names the station, where there is one."""
    return next((i for i, name in enumerate(names) if name.strip().strip('"').lower() in STATION_NAMES), None)


def rows_of(lines: Sequence[str], delimiter: str) -> list[tuple[int, list[str]]]:
    """Lines that say something, split, each with its number from 1."""
    numbered = [(i, line) for i, line in enumerate(lines, start=1) if line.strip() and not line.startswith("#")]
    if delimiter == " ":
        return [(i, line.split()) for i, line in numbered]
    parsed = csv.reader((line for _, line in numbered), delimiter=delimiter, skipinitialspace=True)
    return [(i, row) for (i, _), row in zip(numbered, parsed, strict=False)]


DELIMITER_WORDS: Final = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars", " ": "spaces"}


def delimiter_of(lines: Sequence[str]) -> str:
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
    numbers = [[number_of(row[i], decimal_comma=False) for row in sample] for i in range(width)]
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
    found: ReadColumns,
    body: list[tuple[int, list[str]]],
    columns: _Columns,
    options: ReadOptions,
    *,
    decimal_comma: bool,
) -> ReadColumns:
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
        low, high = (number_of(row[i], decimal_comma=decimal_comma) for i in (columns.low, columns.high))
        if np.isnan(low) and np.isnan(high):
            found.refused.append(Refused(number, "no temperatures"))
            continue
        found.lines.append(number)
        found.days.append(ordinal)
        found.low.append(low)
        found.high.append(high)
    return found


def number_of(cell: str, *, decimal_comma: bool) -> float:
    """A cell as a number; NaN for one that is missing or none."""
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
