"""Where the weather and the readings come from: stand-ins shipped with Elder, until a household has better."""

from __future__ import annotations

import time
import zlib
from dataclasses import dataclass
from datetime import date
from typing import Final

from django.conf import settings
from django.utils.module_loading import import_string

from elder.engine.climate.climate import Climate
from elder.engine.place.simulated_sensor import BenchSensor, SimulatedSensor
from elder.engine.place.weather import DayAhead, SimulatedWeather, WeatherService
from elder.engine.year.road import SimulatedWay, WayService
from elder.web.garden.models import Garden, Place
from elder.web.read.bounded import ServiceMissingError, bounded
from elder.web.read.gardens import climate_of, place_of

SEASONING = 36  # which invented weather a garden gets; any number gives another


def simulated_weather(garden: Garden) -> WeatherService:
    """Invented weather, the same each time for a garden that lies where it lies."""
    return SimulatedWeather(_seed(garden))


def simulated_sensor(place: Place, garden: Garden) -> BenchSensor:
    """An invented sensor at a place, under the same weather."""
    seed = zlib.crc32(place.name.encode()) ^ _seed(garden)
    return SimulatedSensor(place_of(place), climate_of(garden), seed, SimulatedWeather(_seed(garden)))


def _seed(garden: Garden) -> int:
    return zlib.crc32(f"{garden.latitude:.2f},{garden.longitude:.2f},{SEASONING}".encode())


def simulated_way(garden: Garden) -> WayService:
    """Invented weather of the way from a garden, under the same weather as here."""
    return SimulatedWay(_seed(garden))


def way_ahead(garden: Garden, today: date, far_c: float) -> tuple[DayAhead, ...]:
    """The days of the way to a place so many °C warmer; none where they are not to be had."""
    service: WayService = import_string(settings.WAY_SERVICE)(garden)
    climate = climate_of(garden)
    try:
        return tuple(bounded(lambda: service.days(climate, today=today, far_c=far_c), what="the weather of the way"))
    except ServiceMissingError:
        return ()


def weather_of(garden: Garden) -> WeatherService:
    """The garden's weather service, as the settings name it."""
    service: WeatherService = import_string(settings.WEATHER_SERVICE)(garden)
    return service


def sensor_of(place: Place, garden: Garden) -> BenchSensor | None:
    """The sensor at a place, where one is switched on."""
    if not place.sensor:
        return None
    sensor: BenchSensor = import_string(settings.BENCH_SENSORS[place.sensor])(place, garden)
    return sensor


@dataclass(frozen=True)
class WeatherAhead:
    """The days ahead as they were last told, and on which day that was; ``missing``: the service does not answer
    now."""

    days: tuple[DayAhead, ...]
    told_on: date
    missing: bool = False


def days_ahead(garden: Garden, today: date) -> tuple[DayAhead, ...]:
    """The ten days ahead, asked for once a day; of the last answer what is still to come where none is to be had."""
    return ahead_of(garden, today).days


def ahead_of(garden: Garden, today: date) -> WeatherAhead:
    """The same with its age. A service that failed is asked again a minute later, not for every page."""
    climate = climate_of(garden)
    asked = settings.WEATHER_SERVICE, climate
    by_whom, last = _told.get(garden.pk, (None, None))
    if last and by_whom == asked and last.told_on == today:
        return last
    if time.monotonic() >= _quiet_until.get(garden.pk, 0.0):
        try:
            found = bounded(lambda: weather_of(garden).ahead(climate, today=today), what="the weather")
        except ServiceMissingError:
            _quiet_until[garden.pk] = time.monotonic() + QUIET_S
        else:
            told = WeatherAhead(tuple(found), today)
            _told[garden.pk] = asked, told
            return told
    still = tuple(day for day in last.days if day.day >= today) if last else ()
    return WeatherAhead(still, last.told_on if last else today, missing=True)


QUIET_S: Final = 60.0
_told: dict[int, tuple[tuple[str, Climate], WeatherAhead]] = {}  # by garden: who told it, of which climate, and what
_quiet_until: dict[int, float] = {}


def forget_weather() -> None:
    """As if it had never been asked."""
    _told.clear()
    _quiet_until.clear()
