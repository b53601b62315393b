"""Where cuttings stand: warmth at the roots, what was read there, the days ahead."""

from elder.engine.place.model_error import days_gained, off_by
from elder.engine.place.readings import Reading, Readings, by_hour, joined, readings_of
from elder.engine.place.running_units import daily_units, units_along
from elder.engine.place.simulated_sensor import BenchSensor, SimulatedSensor
from elder.engine.place.warmth import (
    GROUND_DEPTH_M,
    Cardinals,
    Place,
    hourly_temperatures,
    response,
    soil_mean,
    units_per_day,
)
from elder.engine.place.weather import DayAhead, SimulatedWeather, WeatherService, night_at, noon_at, wandering

__all__ = [
    "GROUND_DEPTH_M",
    "BenchSensor",
    "Cardinals",
    "DayAhead",
    "Place",
    "Reading",
    "Readings",
    "SimulatedSensor",
    "SimulatedWeather",
    "WeatherService",
    "by_hour",
    "daily_units",
    "days_gained",
    "hourly_temperatures",
    "joined",
    "night_at",
    "noon_at",
    "off_by",
    "readings_of",
    "response",
    "soil_mean",
    "units_along",
    "units_per_day",
    "wandering",
]
