"""Readings beside the tables: daily lows and highs of a garden, hours of a place, as CSV of a fixed form."""

from __future__ import annotations

import csv
import math
from collections.abc import Iterator, Sequence
from datetime import date
from typing import Final

import numpy as np

from elder.engine.climate.records import DailyRecords, records_of
from elder.engine.place.readings import Readings, readings_of

RECORDS_HEAD: Final = ("date", "low_c", "high_c")
READINGS_HEAD: Final = ("date", "hour", "celsius", "humidity")
COLDEST, WARMEST = -95.0, 65.0  # °C: beyond these nothing was ever read near the ground
NONE: Final = float("nan")


def read_records(data: bytes) -> DailyRecords:
    """Daily readings. Raises ValueError for anything that is not as it was written."""
    days, low, high = [], [], []
    for day, least, most in _lines(data, RECORDS_HEAD):
        days.append(date.fromisoformat(day).toordinal())
        low.append(_number(least, COLDEST, WARMEST))
        high.append(_number(most, COLDEST, WARMEST))
    if not days or sorted(set(days)) != days:
        raise ValueError("days that do not rise")
    return records_of(np.array(days, dtype=np.int64), np.array(low), np.array(high))


def read_readings(data: bytes) -> Readings:
    """Readings by the hour. Raises ValueError for anything that is not as it was written."""
    found: dict[int, tuple[list[float], list[float]]] = {}
    last = (0, 0)
    for day, hour, warm, damp in _lines(data, READINGS_HEAD):
        at = date.fromisoformat(day).toordinal(), int(hour)
        if at <= last or not 0 <= at[1] < 24:
            raise ValueError("hours that do not rise")
        last = at
        warmth, damps = found.setdefault(at[0], ([NONE] * 24, [NONE] * 24))
        warmth[at[1]], damps[at[1]] = _number(warm, COLDEST, WARMEST), _number(damp, 0, 100)
    if not found:
        raise ValueError("no readings")
    warmths, damps_by_day = zip(*found.values(), strict=True)
    return readings_of(np.array(list(found), dtype=np.int64), np.array(warmths), np.array(damps_by_day))


def _lines(data: bytes, head: Sequence[str]) -> Iterator[list[str]]:
    rows = csv.reader(data.decode().splitlines())
    if tuple(next(rows, ())) != head:
        raise ValueError("another heading")
    for row in rows:
        if len(row) != len(head):
            raise ValueError("a line of another length")
        yield row


def _number(said: str, least: float, most: float) -> float:
    value = float(said) if said else NONE
    if not (math.isnan(value) if not said else least <= value <= most):
        raise ValueError(f"{said} cannot be")
    return value
