"""Kept over winter: by the lowest night of the possible winters at a place, against what a plant bears there."""

from __future__ import annotations

from bisect import bisect_left
from functools import lru_cache
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.climate.climate import Climate
from elder.engine.climate.frost_fit import LAW_YEARS
from elder.engine.climate.years import possible_years
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

TENDER_ABOVE_C: Final = -1.0  # plants hurt above this are kept some way off the frost (assumed)
ABOVE_LIMIT_C: Final = 3.0  # so far, where the handbook says nothing (assumed)


def winter_least_c(plant: Plant, place: Place) -> float:
    """The least temperature a plant bears while it is kept over at a place, °C: in leaf in a room; outdoors, under
    cover or not, it rests, where it is a plant that does."""
    if place.standing != "room" and plant.rest_limit_c is not None:
        return plant.rest_limit_c
    if plant.keep_above_c is not None:
        return plant.keep_above_c
    return plant.frost_limit_c + (ABOVE_LIMIT_C if plant.frost_limit_c >= TENDER_ABOVE_C else 0.0)


def lowest_nights(place: Place, climate: Climate) -> Floats:
    """The lowest night of each possible winter at a place, °C, whatever was read there; shape (years,), not to be
    written to."""
    return _lowest(place.modelled, climate)


@lru_cache(maxsize=256)
def _lowest(place: Place, climate: Climate) -> Floats:
    if place.standing == "room":
        return np.array([min(place.night_c, place.day_c)])
    low = possible_years(climate, LAW_YEARS).lowest + place.lift_night_c
    return low if place.floor_c is None else np.maximum(low, place.floor_c)


def middle_night(place: Place, climate: Climate) -> float:
    """The lowest night there of a middling winter, °C."""
    return _middle(place.modelled, climate)


@lru_cache(maxsize=256)
def _middle(place: Place, climate: Climate) -> float:
    return float(np.median(_lowest(place, climate)))


def one_in_ten_night(place: Place, climate: Climate) -> float:
    """The lowest night there of one winter in ten, °C."""
    return _one_in_ten(place.modelled, climate)


@lru_cache(maxsize=256)
def _one_in_ten(place: Place, climate: Climate) -> float:
    return float(np.quantile(_lowest(place, climate), 0.1))


def share_below(least_c: float, place: Place, climate: Climate) -> float:
    """The share of possible winters whose lowest night there is below some °C. Five thousand times a winter's list."""
    lows = _ordered(place.modelled, climate)
    return bisect_left(lows, least_c) / len(lows)


@lru_cache(maxsize=256)
def _ordered(place: Place, climate: Climate) -> tuple[float, ...]:
    return tuple(np.sort(_lowest(place, climate)).tolist())


def keeps_at(plant: Plant, place: Place, climate: Climate, accepted_risk: float = 0.10) -> bool:
    """Whether a plant comes through the winter at a place, at the accepted risk."""
    return share_below(winter_least_c(plant, place), place, climate) <= accepted_risk


def stands_through(plant: Plant, climate: Climate, accepted_risk: float) -> bool:
    """Whether a plant set out comes through its winters in open ground, at the accepted risk."""
    limit = plant.rest_limit_c if plant.rest_limit_c is not None else plant.frost_limit_c
    return float((possible_years(climate, LAW_YEARS).lowest < limit).mean()) <= accepted_risk


def too_cold_to_keep(setting: Setting, accepted_risk: float) -> Refusal:
    """Why a plant cannot be kept where it grows on: how cold it gets there in one winter of so many."""
    least = float(np.quantile(lowest_nights(setting.growing_place, setting.climate), accepted_risk))
    keep = winter_least_c(setting.plant, setting.growing_place)
    return Refusal("too_cold_to_keep", "growing_place", {"least": least, "keep": keep})
