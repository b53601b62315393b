"""The climate of one garden: where it lies, its normals, its frosts, and its records where it has any."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from elder.engine.climate.frost import Frost
from elder.engine.climate.normals import Normals
from elder.engine.climate.records import DailyRecords


@dataclass(frozen=True)
class Climate:
    """Where a garden lies and what its year is like. Latitude and longitude in degrees, north and
    east positive; ``timezone`` an IANA name; ``daily_records`` where the garden has any: then every plant's
    own frost limit is counted in them, rather than shifted from the threshold's dates."""

    shared: ClassVar = True  # belongs to no one answer

    latitude: float
    longitude: float
    elevation_m: float
    timezone: str
    normals: Normals
    frost: Frost
    daily_records: DailyRecords | None = None

    def __hash__(self) -> int:
        """By where it is, and by a winter's night and a summer's day, for each of a garden's places under cover has a
        climate of its own: it stands in the key of every kept answer, and its months are long."""
        return hash((self.latitude, self.longitude, self.normals.t_min[0], self.normals.t_max[6]))
