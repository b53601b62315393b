"""Ninety years of daily readings: read, screened and counted; beside the plain loop that only reads them."""

from __future__ import annotations

import csv
import tracemalloc
from datetime import date, datetime

from bench.curve import CLIMATE
from bench.table import Line, forget, timed
from demo.weather import invented_records
from elder.engine.climate.freezes import count_freezes
from elder.engine.refusal import Refusal
from elder.web.formats.daily import ReadFile, read_daily

YEARS = 90


def _text() -> str:
    normals = CLIMATE.normals
    records = invented_records(normals.t_min, normals.t_max, first=date(1936, 1, 1), last=date(2025, 12, 31), seed=9)
    rows = zip(records.ordinals.tolist(), records.low.tolist(), records.high.tolist(), strict=True)
    return "date,tmin,tmax\n" + "\n".join(f"{date.fromordinal(day)},{low},{high}" for day, low, high in rows)


def _dly(text: str) -> str:
    """The same as GHCN-Daily lines."""
    months: dict[tuple[str, int, int], dict[int, str]] = {}
    for row in list(csv.reader(text.splitlines()))[1:]:
        day = date.fromisoformat(row[0])
        for element, value in (("TMIN", row[1]), ("TMAX", row[2])):
            months.setdefault((element, day.year, day.month), {})[day.day] = f"{round(float(value) * 10):5d}   "
    return "\n".join(
        f"XXM00001234{year}{month:02}{element}" + "".join(cells.get(d, "-9999   ") for d in range(1, 32))
        for (element, year, month), cells in months.items()
    )


def _plain(text: str) -> list[tuple[date, float, float]]:
    """What a first try would be: every line through strptime, nothing judged."""
    return [
        (datetime.strptime(row[0], "%Y-%m-%d").date(), float(row[1]), float(row[2]))  # noqa: DTZ007 - a day has no zone
        for row in list(csv.reader(text.splitlines()))[1:]
    ]


def lines() -> list[Line]:
    """How long ninety years take, in both forms, and what it costs over the plain loop."""
    text = _text()
    dly = _dly(text)
    plain_s, rows = timed(lambda: _plain(text), 3)
    csv_s, found = timed(lambda: read_daily(text), 3)
    dly_s, station = timed(lambda: read_daily(dly), 3)
    for answer in (found, station):
        if isinstance(answer, Refusal) or len(answer.records) != len(rows):
            raise RuntimeError("ninety years were not read whole")
    records = _read(found).records

    def count() -> object:
        forget()
        return [count_freezes(records, limit, 204) for limit in (-4.0, -1.0, 0.0, 1.0, 2.0)]

    count_s, _ = timed(count, 3)
    tracemalloc.start()
    read_daily(text)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    floor = "a plain loop that only reads"
    return [
        Line(
            "records", f"{len(rows):,} days: read, judged", csv_s, floor, plain_s, f"aim: seconds; {peak / 1e6:.0f} MB"
        ),
        Line("records", "the same as GHCN-Daily", dly_s, floor, plain_s),
        Line("records", "frost dates at five limits", count_s, floor, plain_s),
    ]


def _read(found: ReadFile | Refusal) -> ReadFile:
    if isinstance(found, Refusal):
        raise TypeError("the file was refused")
    return found
