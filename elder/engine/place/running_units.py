"""Units gained at a place day by day: by the model, by what a sensor read, and along a move from place to place."""

from __future__ import annotations

from datetime import date

from elder.engine.arrays import Floats
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import doy0_range
from elder.engine.place.warmth import Cardinals, Place, units_per_day, units_read


def daily_units(place: Place, climate: Climate, cardinals: Cardinals, start: date, days: int) -> Floats:
    """Units gained at a place on each of ``days`` days from ``start``; shape (days,). Where a sensor stood
    there, what it read holds."""
    units = units_per_day(place.modelled, climate, cardinals)[doy0_range(start, days)]
    return overwritten(units, place, cardinals, start)


def overwritten(units: Floats, place: Place, cardinals: Cardinals, start: date) -> Floats:
    """The same units, with those that a sensor read at the place put in, in place; days along the last axis."""
    if place.readings is None:
        return units
    ordinals, read = units_read(place.readings, cardinals)
    at = ordinals - start.toordinal()
    inside = (at >= 0) & (at < units.shape[-1])
    units[..., at[inside]] = read[inside]
    return units


def units_along(
    place: Place, moves: tuple[tuple[date, Place], ...], climate: Climate, cardinals: Cardinals, start: date, days: int
) -> Floats:
    """``daily_units`` of what stood at ``place`` first and was moved to others, each from its day on."""
    units = daily_units(place, climate, cardinals, start, days)
    for day, there in moves:
        at = min(max((day - start).days, 0), days)
        units[at:] = daily_units(there, climate, cardinals, start, days)[at:]
    return units
