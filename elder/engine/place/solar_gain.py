"""How the sun that a place gets is spread over the year: what a glasshouse with its vents shut warms by."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.keeping import kept
from elder.engine.place.light import OPEN, PlaceLight, seen, sky_share
from elder.engine.place.sun import sun_of_year

CLEAR_AIR, AIR_POWER = (
    0.7,
    0.678,
)  # of the sun's strength after a mass of air: 0.7^(mass^0.678) (Meinel 1976, from memory)
SKY_PART: Final = 0.1  # of the beam's strength, what an open clear sky gives besides (assumed)


@dataclass(frozen=True, eq=False)
class SunShare:
    """The sun's energy on each day of the year over its yearly mean; shape (365,). Compared by ``digest``, since it
    stands in keys of kept answers."""

    by_day: Floats
    digest: str

    def __eq__(self, other: object) -> bool:
        return isinstance(other, SunShare) and other.digest == self.digest

    def __hash__(self) -> int:
        return hash(self.digest)


@kept
def sun_share(light: PlaceLight, latitude: float, longitude: float) -> SunShare | None:
    """How a place's sun is spread over the year under a clear sky, on level ground; ``None`` where it has none."""
    path = sun_of_year(latitude, longitude)
    height = np.sin(np.radians(np.maximum(path.elevation, 0.0)))
    up = path.elevation > 0
    beam = np.where(up, CLEAR_AIR ** (1 / np.where(up, height, 1.0)) ** AIR_POWER, 0.0)
    aspect = OPEN if light.said else light.aspect
    clear = seen(aspect, path.elevation, path.azimuth)
    if light.said in ("full shade", "bright shade"):
        clear = np.zeros_like(clear)
    energy = (beam * height * clear + SKY_PART * beam * sky_share(aspect)).sum(axis=1)
    if energy.sum() <= 0:
        return None
    by_day = energy * YEAR_DAYS / energy.sum()
    by_day.setflags(write=False)
    return SunShare(by_day, hashlib.sha256(by_day.astype("<f4").tobytes()).hexdigest())
