"""GHCN-Daily: a station's fixed columns, and its comma lines (readme of the Global Historical Climatology
Network daily, from memory)."""

from __future__ import annotations

import csv
import re
from collections.abc import Sequence
from datetime import date
from itertools import count
from typing import Final

from elder.web.formats.reading import ReadColumns, Refused, Stations

DLY: Final = re.compile(r"^[A-Z]{2}[A-Z0-9_-]{9}\d{4}(?:0[1-9]|1[0-2])[A-Z0-9]{4}[ \d-]{5}")
BY_STATION: Final = re.compile(r"^\"?[A-Z]{2}[A-Z0-9_-]{9}\"?,\"?\d{8}\"?,\"?[A-Z0-9]{4}\"?,")


def read_dly(lines: Sequence[str]) -> ReadColumns:
    """Fixed columns: station, year, month, element, then 31 times value (tenths °C) and three flags."""
    values: dict[str, dict[int, tuple[int, float]]] = {"TMIN": {}, "TMAX": {}}
    found, stations = ReadColumns(unit="tenths", order="ymd"), Stations()
    for number, line in enumerate(lines, start=1):
        element = line[17:21]
        if not line.strip() or element not in values or not stations.is_ours(line[:11]):
            continue
        try:
            year, month = int(line[11:15]), int(line[15:17])
        except ValueError:
            found.refused.append(Refused(number, "no year and month where they belong"))
            continue
        for day in range(31):
            at = 21 + 8 * day
            raw, quality = line[at : at + 5].strip(), line[at + 6 : at + 7].strip()
            _keep_element(values[element], found, number, (year, month, day + 1), raw, quality)
    found.understood += [("Form", "GHCN-Daily station file"), ("Station", stations.words)]
    return _joined(found, values)


def read_by_station(lines: Sequence[str]) -> ReadColumns:
    """Comma lines: station, YYYYMMDD, element, value (tenths °C), measurement, quality and source flags."""
    values: dict[str, dict[int, tuple[int, float]]] = {"TMIN": {}, "TMAX": {}}
    found, stations = ReadColumns(unit="tenths", order="ymd"), Stations()
    for number, row in zip(count(1), csv.reader(lines), strict=False):
        if len(row) < 4 or row[2] not in values or not stations.is_ours(row[0]):
            continue
        stamp = row[1]
        if not re.fullmatch(r"\d{8}", stamp):
            found.refused.append(Refused(number, "no date that can be read"))
            continue
        day = int(stamp[:4]), int(stamp[4:6]), int(stamp[6:])
        _keep_element(values[row[2]], found, number, day, row[3].strip(), row[5].strip() if len(row) > 5 else "")
    found.understood += [("Form", "GHCN-Daily by station, comma lines"), ("Station", stations.words)]
    return _joined(found, values)


def _keep_element(
    values: dict[int, tuple[int, float]],
    found: ReadColumns,
    number: int,
    day: tuple[int, int, int],
    raw: str,
    quality: str,
) -> None:
    if raw in ("", "-9999"):
        return
    try:
        ordinal, value = date(*day).toordinal(), float(raw)
    except (ValueError, OverflowError):
        found.refused.append(Refused(number, "no such day, or no number"))
        return
    if quality:
        found.refused.append(Refused(number, "marked as failed by its own source"))
    elif ordinal in values:
        found.refused.append(Refused(number, "the same day a second time"))
    else:
        values[ordinal] = (number, value)


def _joined(found: ReadColumns, values: dict[str, dict[int, tuple[int, float]]]) -> ReadColumns:
    low, high = values["TMIN"], values["TMAX"]
    nothing = (0, float("nan"))
    for ordinal in sorted(low.keys() | high.keys()):
        found.days.append(ordinal)
        found.lines.append(low.get(ordinal, high.get(ordinal, nothing))[0])
        found.low.append(low.get(ordinal, nothing)[1])
        found.high.append(high.get(ordinal, nothing)[1])
    return found
