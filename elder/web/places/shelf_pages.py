"""Each place as the shelf it is: its warmth, light, air and room, and what stands there now."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from zoneinfo import ZoneInfo

import numpy as np

from elder.drawing.scene import Scene
from elder.drawing.shelf import Ground, OnShelf, shelf_scene
from elder.engine.climate.day_of_year import doy0
from elder.engine.place.light import STRONG_DEG, seen
from elder.engine.place.sun import sun_path
from elder.engine.place.warmth import hourly_temperatures
from elder.engine.place.weather import DayAhead
from elder.web.garden.access import GardenRequest
from elder.web.garden.models import Garden, Place
from elder.web.places.paces import STEADY, root_days, ways_in_use
from elder.web.read.air import air_at
from elder.web.read.batches import BatchToday, living
from elder.web.read.gardens import climate_of, place_of
from elder.web.read.light import light_of, lit_at
from elder.web.read.services import days_ahead
from elder.web.say.air import air_words
from elder.web.say.light import at_clock, lit_words
from elder.web.say.units import temperature
from elder.web.say.words import listed

STEP_MIN = 10
SWING_C = 8.0  # from this swing on in a day it is said what it costs (assumed)


@dataclass(frozen=True)
class Shelf:
    """A place of the walk: drawn, with its warmth, light and air in words, what it holds, and its room."""

    place: Place
    scene: Scene
    warmth: str
    swing: str
    light: str
    air: str
    room: list[tuple[str, bool]]


def shelves(request: GardenRequest, rooms: dict[int, list[tuple[str, bool]]]) -> list[Shelf]:
    """Every place in the order it is walked. ``rooms``: what each holds, by its key."""
    garden, today = request.garden, request.today
    batches, ahead = living(garden, today), days_ahead(garden, today)
    return [_shelf(place, request, batches, ahead, rooms[place.pk]) for place in garden.places.all()]


def _shelf(
    place: Place,
    request: GardenRequest,
    batches: list[BatchToday],
    ahead: Sequence[DayAhead],
    room: list[tuple[str, bool]],
) -> Shelf:
    garden, today, units = request.garden, request.today, request.user.units
    hours = hourly_temperatures(place_of(place), climate_of(garden))[doy0(today)]
    low, high = (temperature(float(end), units) for end in (hours.min(), hours.max()))
    light, things = lit_words(lit_at(place, garden, today)), standing_things(place, batches)
    said = listed(f"{one.count} {one.name}" for one in things) or "nothing"
    return Shelf(
        place=place,
        scene=shelf_scene(
            things,
            sun_by_clock(place, garden, today),
            ground_of(place),
            words=f"{place.name}: {light or 'light not said'}. There stands: {said}.",
        ),
        warmth=low if low == high else f"{low} to {high}",
        swing=swing_words(place, garden, today) if float(hours.max() - hours.min()) >= SWING_C else "",
        light=light,
        air=_air_words(place, today, ahead),
        room=room,
    )


def _air_words(place: Place, today: date, ahead: Sequence[DayAhead]) -> str:
    air = None if place.standing == Place.Standing.GROUND else air_at(place, today, ahead)
    return air_words(air) if air else ""


def swing_words(place: Place, garden: Garden, today: date) -> str:
    """Days to roots of the first plant wanted here, there and at a steady 20 to 21 °C."""
    found = [
        (plant, way) for plant, way in ways_in_use(garden) if way.direct == (place.standing == Place.Standing.GROUND)
    ]
    if not found:
        return ""
    plant, way = found[0]
    here, steady = (root_days(spot, garden, plant, way, today) for spot in (place_of(place), STEADY))
    there = f"{plant.name} roots in {here} days" if here >= 0 else f"{plant.name} does not root this year"
    return f"Its warmth swings: {there}, at a steady 20 to 21 °C in {steady}"


def ground_of(place: Place) -> Ground:
    """What things stand on there."""
    if place.standing == Place.Standing.GROUND:
        return "soil"
    return "glass" if place.standing == Place.Standing.AIR and (place.lift_day_c or place.lift_night_c) else "board"


def standing_things(place: Place, batches: list[BatchToday]) -> list[OnShelf]:
    """What stands at a place today, batch by batch."""
    found: list[OnShelf] = []
    for batch in batches:
        if batch.method.direct:
            many = batch.state.living
            if many and batch.place_id("waiting") == place.pk:
                found.append(OnShelf(None, many, _short(batch)))
            continue
        for one in batch.stands:
            if batch.place_id("waiting" if one.stage == "stuck" else "potted") == place.pk:
                found.append(OnShelf(one.filled.vessel, one.filled.vessels, _short(batch)))
    return found


def _short(batch: BatchToday) -> str:
    """A batch by its variety, where it has one: there is little room under a shelf."""
    return batch.row.variety or batch.plant.name


def sun_by_clock(place: Place, garden: Garden, today: date) -> list[tuple[float, float, bool]]:
    """When the sun is on a place today, by its clock in hours, weak and strong; none where only words tell."""
    light = light_of(place)
    if light is None or light.said:
        return []
    path = sun_path(garden.latitude, garden.longitude, today, step_min=STEP_MIN)
    clear = seen(light.aspect, path.elevation, path.azimuth, doy0(today))[0]
    kind = np.where(clear, 1 + (path.elevation[0] >= STRONG_DEG), 0)
    zone, found = ZoneInfo(garden.timezone), []
    edges = np.flatnonzero(np.diff(np.concatenate(([0], kind, [0]))))
    for begin, end in zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True):
        if kind[begin]:
            first, last = (path.minutes[0, i] + side for i, side in ((begin, -STEP_MIN / 2), (end - 1, STEP_MIN / 2)))
            clock = [at_clock(today, float(minutes), zone) for minutes in (first, last)]
            found.append((_hour(clock[0], today), _hour(clock[1], today), bool(kind[begin] == 2)))
    return found


def _hour(moment: datetime, today: date) -> float:
    """Hours from the day's own midnight."""
    return (moment.date() - today).days * 24 + moment.hour + moment.minute / 60
