"""Readings of a bench sensor or logger at one place: hour by hour, by day, in the garden's own time.

They stand in for the modelled warmth on the days they cover, so that a sill warmer than its owner thinks
gives its batches the days it really gives them.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Final, NamedTuple

import numpy as np

from elder.engine.arrays import Bools, Floats, Ints

LEAST_HOURS: Final = 20  # hours of a day that must have been read for the day to count (assumed)


class Reading(NamedTuple):
    """One reading: local time without an offset, °C, and relative humidity in percent (NaN for none)."""

    at: datetime
    celsius: float
    humidity: float


@dataclass(frozen=True, eq=False)
class Readings:
    """Hourly means by day: ordinals rising, °C, and humidity in percent (NaN where there is none).

    Shapes (days,), (days, 24) and (days, 24). Compared by ``digest``, since it stands in keys of kept answers.
    """

    ordinals: Ints
    celsius: Floats
    humidity: Floats
    digest: str

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Readings) and other.digest == self.digest

    def __hash__(self) -> int:
        return hash(self.digest)

    def __len__(self) -> int:
        return len(self.ordinals)

    @property
    def whole(self) -> Bools:
        """The days read for long enough to count; shape (days,)."""
        return np.asarray(np.isfinite(self.celsius).sum(axis=1) >= LEAST_HOURS)


def readings_of(ordinals: Ints, celsius: Floats, humidity: Floats) -> Readings:
    """Readings with their digest."""
    digest = hashlib.sha256()
    for part in (ordinals.astype("<i8"), celsius.astype("<f4"), humidity.astype("<f4")):
        digest.update(part.tobytes())
    return Readings(ordinals, celsius, humidity, digest.hexdigest())


def by_hour(rows: Sequence[Reading]) -> Readings:
    """Single readings, in any order, as hourly means by day."""
    days = np.array([row.at.toordinal() for row in rows], dtype=np.int64)
    hours = np.array([row.at.hour for row in rows], dtype=np.int64)
    ordinals = np.unique(days)
    at = np.searchsorted(ordinals, days), hours
    celsius, humidity = (
        _means([getattr(row, name) for row in rows], at, len(ordinals)) for name in ("celsius", "humidity")
    )
    return readings_of(ordinals, celsius, humidity)


def _means(values: Sequence[float], at: tuple[Ints, Ints], days: int) -> Floats:
    """The mean of what was read in each hour of each day; NaN where nothing was."""
    found = np.asarray(values, dtype=np.float64)
    known = np.isfinite(found)
    total, count = np.zeros((days, 24)), np.zeros((days, 24))
    where = at[0][known], at[1][known]
    np.add.at(total, where, found[known])
    np.add.at(count, where, 1)
    return np.where(count > 0, total / np.maximum(count, 1), np.nan)


def joined(old: Readings | None, new: Readings) -> Readings:
    """Both together; where both have an hour the newer holds."""
    if old is None:
        return new
    ordinals = np.union1d(old.ordinals, new.ordinals)

    def both(name: str) -> Floats:
        grid = np.full((len(ordinals), 24), np.nan)
        for source in (old, new):
            at = np.searchsorted(ordinals, source.ordinals)
            values = getattr(source, name)
            grid[at] = np.where(np.isfinite(values), values, grid[at])
        return grid

    return readings_of(ordinals, both("celsius"), both("humidity"))


def filled(day: Floats) -> Floats:
    """A day's hours with those missing drawn straight between their neighbours; shape (24,)."""
    known = np.isfinite(day)
    return np.asarray(np.interp(np.arange(24), np.flatnonzero(known), day[known]))
