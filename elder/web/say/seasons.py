"""Seasons by the garden's own year."""

from __future__ import annotations

from datetime import date
from typing import Final

import numpy as np

from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import doy0
from elder.engine.climate.normals import daily_normals, garden_year_position

SEASONLESS_C: Final = 5.0  # a year whose warmest day is no further above its coolest has no seasons to name (assumed)


def season_words(day: date, climate: Climate) -> str:
    """The season a day lies in, by the garden's own year; of a garden without seasons, a year."""
    low, high = daily_normals(climate.normals)
    if np.ptp(low + high) / 2 < SEASONLESS_C:
        return "year"
    position = int(garden_year_position(climate.normals, doy0(day)))
    return ("winter", "spring", "summer", "autumn")[int(((position + 365 / 8) % 365) // (365 / 4))]


def time_words(day: date, climate: Climate) -> str:
    """A season with its year: "spring 2028"; of a winter that turns the year, the year it ends in."""
    season = season_words(day, climate)
    return str(day.year) if season == "year" else f"{season} {day.year}"
