"""Readings of sensors and loggers: keeping them, and saying how far off the model was."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

from django.db import transaction

from elder.engine.place.model_error import days_gained, off_by
from elder.engine.place.readings import Reading, by_hour, joined
from elder.web.formats.logger import readings_to_bytes
from elder.web.garden.models import Garden, Person, Place, PlaceReadings
from elder.web.read.batches import BatchToday
from elder.web.read.bounded import ServiceMissingError, bounded
from elder.web.read.gardens import climate_of, places_of, stood_at
from elder.web.read.kept_records import readings_from
from elder.web.read.services import sensor_of
from elder.web.say.plants import plant_words
from elder.web.say.units import shown_lift, temperature_sign
from elder.web.say.words import listed, plural

FIRST_DAYS = 28  # how far back a sensor is read the first time
LEAST_C = 0.3  # a model nearer than this was right (assumed)


@transaction.atomic
def keep_readings(place: Place, rows: Sequence[Reading], *, source: str, person: Person | None) -> PlaceReadings:
    """Add readings to those of a place; where an hour was read before, the newer holds."""
    Place.objects.select_for_update().get(pk=place.pk)  # what is there is joined to what comes
    row = PlaceReadings.objects.filter(place=place).first()
    both = joined(readings_from(row) if row else None, by_hour(rows))
    kept = {
        "data": zlib.compress(readings_to_bytes(both), 6),
        "days": len(both),
        "first_day": date.fromordinal(int(both.ordinals[0])),
        "last_day": date.fromordinal(int(both.ordinals[-1])),
        "source": source[:120],
        "added_by": person,
    }
    row, _ = PlaceReadings.objects.update_or_create(place=place, defaults=kept)
    place.readings_digest = readings_from(row).digest
    place.save(update_fields=["readings_digest"])
    return row


@transaction.atomic
def forget_readings(place: Place) -> None:
    """Back to the model alone."""
    PlaceReadings.objects.filter(place=place).delete()
    place.readings_digest = ""
    place.save(update_fields=["readings_digest"])


def read_sensor(place: Place, garden: Garden, *, today: date) -> PlaceReadings | None:
    """Read a place's sensor up to the end of yesterday, from where it was last read; nothing where it has none. Raises
    ServiceMissingError where it does not answer."""
    sensor = sensor_of(place, garden)
    if sensor is None:
        return None
    row = PlaceReadings.objects.filter(place=place).first()
    first = row.last_day if row and row.last_day < today else today - timedelta(days=FIRST_DAYS)
    span = datetime.combine(first, time()), datetime.combine(today, time())
    rows = bounded(lambda: sensor.read(*span), what=f"the sensor at {place.name}")
    return keep_readings(place, rows, source="the sensor there", person=None) if rows else row


def read_sensors(garden: Garden, *, today: date) -> int:
    """Read every sensor of a garden; how many answered."""
    answered = 0
    for place in garden.places.exclude(sensor=""):
        with suppress(ServiceMissingError):
            read_sensor(place, garden, today=today)
            answered += 1
    return answered


@dataclass(frozen=True)
class OffWords:
    """How far off the model of a place was, in a sentence, and what that does to what stands there."""

    place: Place
    said: str
    then: str


def off_by_all(garden: Garden, batches: Sequence[BatchToday], units: str) -> list[OffWords]:
    """For every place that was read: how far off the model was, and how many days that is for its batches."""
    if not batches:
        return []
    today, found = batches[0].today, []
    for place in places_of(garden).values():
        off = off_by(stood_at(place), climate_of(garden), today=today)
        if off is None:
            continue
        found.append(OffWords(place, _off_words(place, off.celsius, off.days, units), _then(place, garden, batches)))
    return found


def _off_words(place: Place, celsius: float, days: int, units: str) -> str:
    if abs(celsius) < LEAST_C:
        return f"{place.name} is as warm as you said, by {plural(days, 'day', 'days')} read there."
    size = f"{abs(shown_lift(celsius, units)):.1f} {temperature_sign(units)}"
    word = "warmer" if celsius > 0 else "colder"
    return f"{place.name} is {size} {word} than you said, by {plural(days, 'day', 'days')} read there."


def _then(place: Place, garden: Garden, batches: Sequence[BatchToday]) -> str:
    climate, spot, gains = climate_of(garden), stood_at(place), []
    for batch in batches:
        if batch.state.count("waiting") and batch.place_id("waiting") == place.pk:
            gained = days_gained(spot, climate, batch.plant.cardinals, since=batch.state.taken_on, today=batch.today)
            if abs(gained) >= 0.75:
                word = "ahead of" if gained > 0 else "behind"
                name = plant_words(batch.plant.name, batch.row.variety)
                gains.append(f"{name} {plural(round(abs(gained)), 'day', 'days')} {word} the model")
    return f"{listed(gains)}; the forecasts know." if gains else ""
