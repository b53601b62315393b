"""Where the weather and the readings come from: stand-ins shipped with Elder, until a household has better."""

from __future__ import annotations

import zlib
from datetime import date
from functools import lru_cache
from typing import Any

from django.conf import settings
from django.utils.module_loading import import_string

from elder.engine.climate.climate import Climate
from elder.engine.place.simulated_sensor import BenchSensor, SimulatedSensor
from elder.engine.place.weather import DayAhead, SimulatedWeather, WeatherService
from elder.web.garden.models import Garden, Place
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


def days_ahead(garden: Garden, today: date) -> tuple[DayAhead, ...]:
    """The ten days ahead, asked for once a day."""
    service: Any = weather_of(garden)  # a value, so that its answers can be kept
    return _ahead(service, climate_of(garden), today)


@lru_cache(maxsize=64)
def _ahead(service: WeatherService, climate: Climate, today: date) -> tuple[DayAhead, ...]:
    return service.ahead(climate, today=today)
