"""A bench sensor: what one must answer, and a simulated one to stand in for it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from typing import Final, Protocol

import numpy as np

from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import doy0
from elder.engine.place.readings import Reading
from elder.engine.place.warmth import ROOM_DAY, WARMEST_HOUR, Place
from elder.engine.place.weather import SimulatedWeather, wandering

EVERY_MINUTES: Final = 15
A_DAY: Final = 24 * 60 // EVERY_MINUTES
OFF_C: Final = (-1.6, 2.0)  # how far a place is from what its owner thinks (assumed)
NOISE_C: Final = 0.5
DRAUGHT: Final = 0.985  # of a departure that a quarter of an hour keeps (assumed)
HUMIDITY_PCT: Final = 58.0  # of a room at 20 °C; drier when warmer (assumed)


class BenchSensor(Protocol):
    """Where readings come from."""

    def read(self, since: datetime, until: datetime) -> Sequence[Reading]:
        """Readings from ``since`` up to but not at ``until``, in local time, oldest first."""


@dataclass(frozen=True)
class SimulatedSensor:
    """A stand-in: the place as modelled, off by a little that stays the same, with draughts. Outdoors it follows the
    simulated weather of the same seed, so that a cold snap is in the readings too."""

    place: Place
    climate: Climate
    seed: int
    weather: SimulatedWeather

    @property
    def off_c(self) -> float:
        """How far this place is from what its owner says, °C."""
        return float(np.random.default_rng((self.seed, 7)).uniform(*OFF_C))

    def read(self, since: datetime, until: datetime) -> Sequence[Reading]:
        """Readings every quarter of an hour, whole days reckoned and cut to what was asked for."""
        found: list[Reading] = []
        day = since.date()
        while datetime.combine(day, time()) < until:
            chance = np.random.default_rng((self.seed, day.toordinal()))
            draughts = NOISE_C * wandering(chance, A_DAY, DRAUGHT) + self.off_c
            low, high = self.weather.came(self.climate, day)
            for i in range(A_DAY):
                at = datetime.combine(day, time()) + timedelta(minutes=EVERY_MINUTES * i)
                if since <= at < until:
                    celsius = self._modelled(at, low, high) + float(draughts[i])
                    humid = min(max(HUMIDITY_PCT - 1.8 * (celsius - 20) + 2 * float(draughts[i]), 15.0), 99.0)
                    found.append(Reading(at, round(celsius, 2), round(humid, 1)))
            day += timedelta(days=1)
        return found

    def _modelled(self, at: datetime, low: float, high: float) -> float:
        hour = at.hour + at.minute / 60
        if self.place.standing == "room":
            return self.place.day_c if ROOM_DAY[0] <= hour < ROOM_DAY[1] else self.place.night_c
        low, high = low + self.place.lift_night_c, high + self.place.lift_on(doy0(at.date()))
        celsius = (low + high) / 2 + (high - low) / 2 * math.cos(2 * math.pi * (hour - WARMEST_HOUR) / 24)
        return celsius if self.place.floor_c is None else max(celsius, self.place.floor_c)
