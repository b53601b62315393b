"""Days on the road: what a parcel lives through, on which day it may leave, and how long each kind of thing bears it.

How long cuttings and plants bear a parcel is common practice of the trade and has no single source.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from enum import StrEnum
from typing import Final, Protocol

from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Plant
from elder.engine.place.weather import DayAhead, SimulatedWeather

PARCEL_C: Final = 6.0  # a parcel in a van in the sun is so much warmer than the air (assumed)
WRAPPED_C: Final = 2.0  # paper and card keep off so much of a night's cold (assumed)
HEAT_C: Final = 32.0  # above this leaves in the dark cook or rot within a day (assumed)
TROPICAL_HEAT_C: Final = 38.0  # the same for what likes it hot (assumed)
CHILL_C: Final = 4.0  # in leaf, and soft from indoors: so far above what a hardened one bears (assumed)
LIKES_HEAT_C: Final = 27.0  # roots best at this or more
SUNDAY: Final = 6
BEARS_DAYS: Final[Mapping[str, int]] = {
    "dormant": 14, "fleshy": 10, "unrooted": 3, "rooted": 3, "potted": 5,
}  # days in a parcel, closed (common practice)  # fmt: skip
FLESHY: Final = frozenset({"stem joint", "crown top", "pup", "node section"})


class OnTheWay(StrEnum):
    """How a parcel fares that leaves on a day."""

    WELL = "well"
    COLD = "cold"
    HOT = "hot"
    LONG = "long"
    UNKNOWN = "unknown"


@dataclass(frozen=True)
class Leaving:
    """A day to send on: when it arrives, how it fares, and by how many degrees it is too cold or too hot."""

    day: date
    arrives: date
    fares: OnTheWay
    over_c: float = 0.0


def bears_days(form: str, stage: str) -> int:
    """How many days in a closed parcel a thing bears, by what it is and how far it has come."""
    if stage == "unrooted" and form == "dormant stick":
        return BEARS_DAYS["dormant"]
    if stage == "unrooted" and form in FLESHY:
        return BEARS_DAYS["fleshy"]
    return BEARS_DAYS[stage]


def limits_c(plant: Plant, form: str, stage: str) -> tuple[float, float]:
    """The coldest and the hottest a parcel of it may become inside, °C. Bare wood sleeps, and bears what it bears at
    rest."""
    if form == "dormant stick" and stage == "unrooted":
        return plant.frost_limit_c, HEAT_C
    likes_heat = plant.cardinals.t_opt >= LIKES_HEAT_C
    return plant.frost_limit_c + CHILL_C, TROPICAL_HEAT_C if likes_heat else HEAT_C


def arrives(day: date, road_days: int) -> date:
    """When what leaves on a day arrives: nothing is carried on a Sunday (common practice)."""
    on = day
    left = road_days
    while left > 0:
        on += timedelta(days=1)
        left -= on.weekday() != SUNDAY
    return on


def leavings(
    way: Sequence[DayAhead], plant: Plant, *, form: str, stage: str, road_days: int, latest: date
) -> list[Leaving]:
    """Each day on which a parcel might leave and arrive by a day, soonest first, as far as the weather of the way is
    told: ``way`` holds the lowest night and the highest noon anywhere on it. Nothing leaves on a Sunday."""
    told = {day.day: day for day in way}
    found = []
    for day in (one.day for one in way):
        end = arrives(day, road_days)
        if day.weekday() == SUNDAY or end > latest:
            continue
        found.append(_leaving(day, end, told, plant, (form, stage)))
    return found


def _leaving(day: date, end: date, told: Mapping[date, DayAhead], plant: Plant, what: tuple[str, str]) -> Leaving:
    days = [told.get(day + timedelta(days=i)) for i in range((end - day).days + 1)]
    if (end - day).days > bears_days(*what):
        return Leaving(day, end, OnTheWay.LONG)
    if any(one is None for one in days):
        return Leaving(day, end, OnTheWay.UNKNOWN)
    cold, hot = limits_c(plant, *what)
    known = [one for one in days if one is not None]
    # It is handed in by day, so the night after the last day is spent in the warm.
    low = min((one.low_c for one in known[:-1]), default=known[0].low_c) + WRAPPED_C
    high = max(one.high_c for one in known) + PARCEL_C
    if low < cold:
        return Leaving(day, end, OnTheWay.COLD, cold - low)
    if high > hot:
        return Leaving(day, end, OnTheWay.HOT, high - hot)
    return Leaving(day, end, OnTheWay.WELL)


def best_leaving(found: Sequence[Leaving]) -> Leaving | None:
    """The day to send on: the last that fares well, so that the plants have all the time there is; none where every
    day is bad or not told yet."""
    well = [one for one in found if one.fares is OnTheWay.WELL]
    return well[-1] if well else None


class WayService(Protocol):
    """Where the weather of a way comes from: that of a garden to a place so many °C warmer."""

    def days(self, climate: Climate, *, today: date, far_c: float) -> tuple[DayAhead, ...]:
        """The way's days from today, soonest first: the lowest night and the highest noon anywhere on it."""


@dataclass(frozen=True)
class SimulatedWay:
    """A stand-in: the garden's invented weather, and at the other end weather of its own, so much warmer."""

    seed: int = 0

    def days(self, climate: Climate, *, today: date, far_c: float) -> tuple[DayAhead, ...]:
        """The way's days from today, soonest first."""
        here = SimulatedWeather(self.seed).ahead(climate, today=today)
        there = SimulatedWeather(self.seed + 1).ahead(climate, today=today)
        moved = [replace(day, high_c=day.high_c + far_c, low_c=day.low_c + far_c) for day in there]
        return along(here, moved)


def along(here: Sequence[DayAhead], there: Sequence[DayAhead]) -> tuple[DayAhead, ...]:
    """The way between two places: the colder night and the hotter noon of both, day by day."""
    far = {day.day: day for day in there}
    return tuple(
        DayAhead(
            day.day,
            max(day.high_c, far[day.day].high_c),
            min(day.low_c, far[day.day].low_c),
            max(day.rain_mm, far[day.day].rain_mm),
            max(day.gust_kmh, far[day.day].gust_kmh),
        )
        for day in here
        if day.day in far
    )
