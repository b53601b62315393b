"""Readings of a bench sensor or logger: Elder's open form (docs/readings.md), and tables as loggers write them.

Read are CSV with a time, a temperature and perhaps a humidity under any usual names, in °C or °F, and Elder's JSON.
Times with an offset from UTC are moved to the garden's own time; others are taken to be in it.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, Final, NamedTuple
from zoneinfo import ZoneInfo

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.climate.records import COLDEST_C, HOTTEST_C
from elder.engine.place.readings import Reading, Readings, readings_of
from elder.engine.refusal import Refusal
from elder.web.formats.dates import read_dates
from elder.web.formats.reading import Refused
from elder.web.formats.tables import PREAMBLE, number_of, rows_of

FORM: Final = "elder bench readings 1"
NAMES: Final = ("time", "temperature_c", "humidity_pct")
MOST_READINGS: Final = 200_000  # twenty-two years of hours
MOST_JSON: Final = 20_000_000  # characters: so many readings with all their names
LONGEST_LINE: Final = 4000  # characters
FIRST_YEAR, LAST_YEAR = 1900, 2200  # of a reading: no logger was there before, nor is one yet
TIME_NAMES: Final = re.compile(r"time|date|^ts$|when|zeit")
CELSIUS_NAMES: Final = re.compile(r"temp|celsius|fahrenheit|°\s*[cf]|^t$|^t1$")
HUMIDITY_NAMES: Final = re.compile(r"hum|^rh|\brh\b|%")
CLOCK: Final = re.compile(
    r"(\d{1,2}):(\d{2})(?::(\d{2}))?(?:\.\d+)?\s*([ap]m)?\s*(z|[+-]\d{2}:?\d{2})?\s*$", re.IGNORECASE
)
NO_TENTHS: Final = -32768


@dataclass(frozen=True)
class ReadLog:
    """A log as understood: its readings in the garden's time, the lines refused, and what was found where."""

    readings: tuple[Reading, ...]
    refused: tuple[Refused, ...]
    understood: tuple[tuple[str, str], ...]


def read_log(text: str, timezone: str, *, unit: str = "") -> ReadLog | Refusal:
    """Read a log's text. A refusal says what was looked for and not found."""
    text = text.lstrip("\ufeff")
    if text.lstrip().startswith("{"):
        return _read_json(text, ZoneInfo(timezone))
    count = text.count("\n") + text.count("\r")
    if count > 2 * MOST_READINGS:  # before anything is split: the parts of a long text weigh ten times the whole
        return Refusal("too_many_readings", "file", {"lines": count, "most": MOST_READINGS})
    lines = text.splitlines()
    if len(lines) > MOST_READINGS:
        return Refusal("too_many_readings", "file", {"lines": len(lines), "most": MOST_READINGS})
    if any(len(line) > LONGEST_LINE for line in lines):
        return Refusal("no_time_and_temperature", "file", {"first": lines[0][:80]})
    delimiter = _delimiter(lines)
    rows = rows_of(lines, delimiter)
    found = _columns(rows)
    if found is None:
        return Refusal("no_time_and_temperature", "file", {"first": next((" ".join(row)[:80] for _, row in rows), "")})
    begin, wide = found.line, max(found.columns.values())
    body = [(number, row) for number, row in rows[begin + 1 :] if len(row) > wide]
    short = [Refused(number, "too few columns") for number, row in rows[begin + 1 :] if len(row) <= wide]
    return _table(body, found, ZoneInfo(timezone), unit, short, decimal_comma=delimiter != ",")


def _delimiter(lines: Sequence[str]) -> str:
    """The sign that stands in most lines: a semicolon or a tab before a comma, which may be a decimal one."""
    sample = [line for line in lines[:200] if line.strip()]
    found = (sign for sign in (";", "\t", ",") if sum(sign in line for line in sample) >= len(sample) / 2)
    return next(found, ",")


class _Heads(NamedTuple):
    """The line of names, where time, temperature and humidity stand in it, and what they are called there."""

    line: int
    columns: dict[str, int]
    names: dict[str, str]


def _columns(rows: Sequence[tuple[int, list[str]]]) -> _Heads | None:
    """The line of names, and where time, temperature and humidity stand in it."""
    for at, (_, row) in enumerate(rows[:PREAMBLE]):
        cells = [cell.strip().strip('"').lower() for cell in row]
        times = [i for i, cell in enumerate(cells) if TIME_NAMES.search(cell) and not CELSIUS_NAMES.fullmatch(cell)]
        plain = [i for i, cell in enumerate(cells) if i not in times and "dew" not in cell]
        warm = [i for i in plain if CELSIUS_NAMES.search(cells[i])]
        humid = [i for i, cell in enumerate(cells) if HUMIDITY_NAMES.search(cell) and i not in (*times, *warm)]
        if times and warm:
            columns = {"time": times[0], "celsius": warm[0]}
            if len(times) > 1:
                columns["clock"] = times[1]
            if humid:
                columns["humidity"] = humid[0]
            return _Heads(at, columns, {key: row[i].strip() for key, i in columns.items()})
    return None


def _table(
    body: Sequence[tuple[int, list[str]]],
    heads: _Heads,
    zone: ZoneInfo,
    unit: str,
    refused: list[Refused],
    *,
    decimal_comma: bool,
) -> ReadLog | Refusal:
    columns, names = heads.columns, heads.names
    stamps = [
        f"{row[columns['time']]} {row[columns['clock']]}" if "clock" in columns else row[columns["time"]]
        for _, row in body
    ]
    days = read_dates([CLOCK.sub("", stamp.strip().strip('"')).rstrip("T ") for stamp in stamps])
    values = [number_of(row[columns["celsius"]], decimal_comma=decimal_comma) for _, row in body]
    unit = unit or _unit(names["celsius"], values)
    readings = []
    for (number, row), stamp, day, value in zip(body, stamps, days.ordinals, values, strict=True):
        at = _moment(stamp, day, zone)
        celsius = (value - 32) / 1.8 if unit == "F" else value
        if at is None:
            refused.append(Refused(number, "no time that can be read"))
        elif not COLDEST_C < celsius < HOTTEST_C:
            refused.append(Refused(number, "no temperature, or one that cannot be"))
        else:
            cell = row[columns["humidity"]] if "humidity" in columns else ""
            humid = number_of(cell, decimal_comma=decimal_comma)
            readings.append(Reading(at, celsius, humid if 0 <= humid <= 100 else float("nan")))
    said = (("Columns", " · ".join(names.values())), ("Dates", days.words), ("Unit", f"°{unit}"))
    return _kept(readings, refused, said)


def _kept(
    readings: list[Reading], refused: list[Refused], understood: tuple[tuple[str, str], ...]
) -> ReadLog | Refusal:
    if not readings:
        return Refusal("no_readings", "file", {"refused": len(refused)})
    readings.sort(key=lambda row: row.at)
    return ReadLog(tuple(readings), tuple(sorted(refused, key=lambda row: row.line)), understood)


def _unit(name: str, values: Sequence[float]) -> str:
    """By the column's name, else by size: a bench is not at 45 °C for half its hours."""
    if re.search(r"fahrenheit|°\s*f|[(\[_ ]f[)\]]?$|_f$", name.lower()):
        return "F"
    if re.search(r"celsius|°\s*c|[(\[_ ]c[)\]]?$|_c$", name.lower()):
        return "C"
    known = [value for value in values if np.isfinite(value)]
    return "F" if known and float(np.median(known)) > 45 else "C"


def _moment(stamp: str, ordinal: int | None, zone: ZoneInfo) -> datetime | None:
    found = CLOCK.search(stamp.strip().strip('"'))
    if ordinal is None or found is None:
        return None
    hour, minute, half, offset = int(found[1]), int(found[2]), (found[4] or "").lower(), found[5]
    if half:
        hour = hour % 12 + (12 if half == "pm" else 0)
    if hour > 23 or minute > 59:
        return None
    at = datetime.fromordinal(ordinal).replace(hour=hour, minute=minute)
    if not FIRST_YEAR <= at.year <= LAST_YEAR:
        return None
    return _local(at, offset, zone) if offset else at


def _local(at: datetime, offset: str, zone: ZoneInfo) -> datetime:
    """A time with an offset from UTC, moved to the garden's own."""
    if offset.lower() == "z":
        away = timedelta(0)
    else:
        digits = offset[1:].replace(":", "")
        away = timedelta(hours=int(digits[:2]), minutes=int(digits[2:])) * (-1 if offset[0] == "-" else 1)
    utc = (at - away).replace(tzinfo=ZoneInfo("UTC"))
    return utc.astimezone(zone).replace(tzinfo=None)


def _read_json(text: str, zone: ZoneInfo) -> ReadLog | Refusal:
    if len(text) > MOST_JSON:
        return Refusal("too_many_readings", "file", {"lines": MOST_READINGS + 1, "most": MOST_READINGS})
    try:
        rows = json.loads(text)["readings"]
        if len(rows) > MOST_READINGS:
            return Refusal("too_many_readings", "file", {"lines": len(rows), "most": MOST_READINGS})
        readings, refused = [], []
        for number, row in enumerate(rows, start=1):
            at, celsius, humidity = _json_row(row, zone)
            if at is None or not COLDEST_C < celsius < HOTTEST_C:
                refused.append(Refused(number, "no time, or no temperature that can be"))
            else:
                readings.append(Reading(at, celsius, humidity))
    except (ValueError, KeyError, TypeError, AttributeError, OverflowError, RecursionError) as error:
        return Refusal("not_json", "file", {"why": str(error)[:120]})
    return _kept(readings, refused, (("Form", FORM),))


def _json_row(row: dict[str, Any], zone: ZoneInfo) -> tuple[datetime | None, float, float]:
    stamp = str(row["time"])
    day = read_dates([stamp[:10]]).ordinals[0]
    humid = float("nan" if row.get("humidity_pct") is None else row["humidity_pct"])
    return _moment(stamp, day, zone), float(row["temperature_c"]), humid if 0 <= humid <= 100 else float("nan")


def write_csv(readings: Iterable[Reading], zone: ZoneInfo) -> str:
    """Readings as Elder's open CSV: ISO 8601 times with their offset."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(NAMES)
    writer.writerows([item["time"], item["temperature_c"], item["humidity_pct"]] for item in _items(readings, zone))
    return out.getvalue()


def write_json(readings: Iterable[Reading], zone: ZoneInfo, place: str) -> str:
    """Readings as Elder's open JSON."""
    return json.dumps({"form": FORM, "place": place, "readings": list(_items(readings, zone))}, indent=1)


def _items(readings: Iterable[Reading], zone: ZoneInfo) -> Iterable[dict[str, str | float | None]]:
    for row in readings:
        humidity = None if np.isnan(row.humidity) else row.humidity
        at = row.at.replace(tzinfo=zone).isoformat(timespec="minutes")
        yield dict(zip(NAMES, (at, row.celsius, humidity), strict=True))


def readings_to_bytes(readings: Readings) -> bytes:
    """Hourly readings as three little-endian arrays: int32 ordinals, int16 tenths of °C and of percent."""
    parts = [readings.ordinals.astype("<i4").tobytes()]
    for values in (readings.celsius, readings.humidity):
        tenths = np.where(np.isfinite(values), np.round(np.nan_to_num(values) * 10), NO_TENTHS)
        parts.append(tenths.astype("<i2").tobytes())
    return b"".join(parts)


def readings_from_bytes(data: bytes, days: int) -> Readings:
    """The readings that ``readings_to_bytes`` wrote. Raises ValueError where the length does not fit."""
    if len(data) != (4 + 2 * 48) * days:
        raise ValueError("readings of another length")
    ordinals = np.frombuffer(data, "<i4", days).astype(np.int64)

    def hours(which: int) -> Floats:
        tenths = np.frombuffer(data, "<i2", 24 * days, 4 * days + 48 * days * which).reshape(days, 24)
        return np.where(tenths == NO_TENTHS, np.nan, tenths / 10.0)

    return readings_of(ordinals, hours(0), hours(1))
