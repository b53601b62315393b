"""The readings of ``tests/data``, and series of our own construction."""

from __future__ import annotations

import gzip
from datetime import date
from pathlib import Path

import numpy as np

from elder.engine.climate.records import DailyRecords, records_of
from elder.engine.refusal import Refusal
from elder.web.formats.daily import ReadFile, read_daily
from elder.web.formats.reading import ReadOptions

DATA = Path(__file__).with_name("data")
SUMMER_NORTH, SUMMER_SOUTH = 204, 21  # warmest days of the year, from 0


def text_of(name: str) -> str:
    """A data file's text."""
    return gzip.decompress((DATA / name).read_bytes()).decode()


def read(text: str, **options: object) -> ReadFile:
    """A file that can be read."""
    found = read_daily(text, ReadOptions(**options))  # type: ignore[arg-type]
    assert not isinstance(found, Refusal), found
    return found


def southern(years: range, last_frost: tuple[int, int], first_frost: tuple[int, int]) -> DailyRecords:
    """A southern series made by hand: warm all year but for one cold night at each end of its frosts, in
    each year (month, day); January is its summer."""
    first, last = date(years[0], 1, 1), date(years[-1], 12, 31)
    ordinals = np.arange(first.toordinal(), last.toordinal() + 1)
    season = np.cos(2 * np.pi * (ordinals - date(years[0], 1, 22).toordinal()) / 365.2425)
    low = 9 + 5 * season
    for year in years:
        for month, day in (last_frost, first_frost):
            low[date(year, month, day).toordinal() - first.toordinal()] = -1.0
    return records_of(ordinals, low, low + 9)
