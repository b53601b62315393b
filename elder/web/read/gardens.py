"""Garden rows to engine values, and nothing else."""

from __future__ import annotations

import zlib
from dataclasses import replace
from functools import lru_cache

from elder.engine.climate.climate import Climate
from elder.engine.climate.freezes import frost_of
from elder.engine.climate.frost import Frost, FrostDates, by_hand
from elder.engine.climate.normals import Normals, midsummer
from elder.engine.climate.records import DailyRecords
from elder.engine.place.readings import Readings
from elder.engine.place.warmth import Place as EnginePlace
from elder.web.formats.daily import from_bytes
from elder.web.formats.logger import readings_from_bytes
from elder.web.garden.models import Garden, Place, PlaceReadings, Records


def climate_of(garden: Garden) -> Climate:
    """The climate a garden's row describes; where it has daily records, its frosts are counted in them."""
    normals = Normals(tuple(garden.t_min), tuple(garden.t_max))
    records = _records_kept(garden.pk, garden.records_digest) if garden.records_digest else None
    return Climate(
        latitude=garden.latitude,
        longitude=garden.longitude,
        elevation_m=garden.elevation_m,
        timezone=garden.timezone,
        normals=normals,
        frost=frost_of(records, midsummer(normals)) if records else _frost_by_hand(garden),
        daily_records=records,
    )


@lru_cache(maxsize=8)
def _records_kept(garden_id: int, digest: str) -> DailyRecords:
    """A garden's records, read once for each time they change; ``digest`` says which."""
    return records_from(Records.objects.get(garden_id=garden_id))


def records_from(row: Records) -> DailyRecords:
    """The readings a row holds, from the year it is counted from."""
    return from_bytes(zlib.decompress(row.data), row.days).since(row.counted_from)


def _frost_by_hand(garden: Garden) -> Frost:
    return Frost(
        _frost_dates(garden.last_frost_mean, garden.last_frost_late),
        _frost_dates(garden.first_frost_mean, garden.first_frost_early),
    )


def _frost_dates(mean: int | None, extreme: int | None) -> FrostDates | None:
    if mean is None or extreme is None:
        return None
    # The one year in ten may lie across New Year from the mean.
    days = (extreme - mean + 182) % 365 - 182
    return by_hand(mean, mean + days)


def place_of(place: Place) -> EnginePlace:
    """The standing place a row describes."""
    return EnginePlace(
        standing=place.standing,  # type: ignore[arg-type]
        day_c=place.day_c,
        night_c=place.night_c,
        depth_m=place.depth_m,
        lift_day_c=place.lift_day_c,
        lift_night_c=place.lift_night_c,
        floor_c=place.floor_c,
    )


def stood_at(place: Place) -> EnginePlace:
    """The place as cuttings that stood there knew it: with what a sensor read, where there is one."""
    plain = place_of(place)
    if not place.readings_digest:
        return plain
    return replace(plain, readings=_readings_kept(place.pk, place.readings_digest))


@lru_cache(maxsize=64)
def _readings_kept(place_id: int, digest: str) -> Readings:
    """A place's readings, read once for each time they change; ``digest`` says which."""
    return readings_from(PlaceReadings.objects.get(place_id=place_id))


def readings_from(row: PlaceReadings) -> Readings:
    """The readings a row holds."""
    return readings_from_bytes(zlib.decompress(row.data), row.days)
