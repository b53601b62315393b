"""What the days ahead mean for pots: nights too cold for what stands there, days too hot for cuttings."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.place.weather import DayAhead, night_at, noon_at

UNHARDENED_C: Final = 2.0  # soft plants are in danger this far above the limit of hardened ones (assumed)


HOT_C: Final = 28.0  # above this at a place cuttings want shade (common practice)


@dataclass(frozen=True)
class ColdNight:
    """A night colder at a place than what stands there bears."""

    night: date
    low_c: float
    bears_c: float

    @property
    def short_c(self) -> float:
        """By how much, °C."""
        return self.bears_c - self.low_c


def bears_c(plant: Plant, *, hardened: bool) -> float:
    """The coldest night a plant in a pot bears, °C."""
    return plant.frost_limit_c + (0.0 if hardened else UNHARDENED_C)


def cold_nights(plant: Plant, place: Place, ahead: tuple[DayAhead, ...], *, hardened: bool) -> tuple[ColdNight, ...]:
    """The nights ahead that are too cold for it there, soonest first."""
    limit = bears_c(plant, hardened=hardened)
    nights = (ColdNight(day.day, night_at(place, day.low_c), limit) for day in ahead)
    return tuple(night for night in nights if night.low_c <= limit)


def is_hot(plant: Plant, place: Place, day: DayAhead | None) -> bool:
    """Whether cuttings at a place want shade and mist that day. Indoors nobody knows, so no."""
    if day is None or place.standing == "room":
        return False
    return noon_at(place, day) > min(plant.heat_limit_c or HOT_C, HOT_C)
