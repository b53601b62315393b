"""Daily records and readings as they are kept, read once for each time they change."""

from __future__ import annotations

import zlib

from elder.engine.climate.records import DailyRecords
from elder.engine.keeping import kept
from elder.engine.place.readings import Readings
from elder.web.formats.daily import from_bytes
from elder.web.formats.logger import readings_from_bytes
from elder.web.garden.models import PlaceReadings, Records


@kept
def records_kept(garden_id: int, digest: str) -> DailyRecords:
    """A garden's records, read once for each time they change; ``digest`` says which."""
    return records_from(Records.objects.get(garden_id=garden_id))


def records_from(row: Records) -> DailyRecords:
    """The readings a row holds, from the year it is counted from."""
    return from_bytes(zlib.decompress(row.data), row.days).since(row.counted_from)


@kept
def readings_kept(place_id: int, digest: str) -> Readings:
    """A place's readings, read once for each time they change; ``digest`` says which."""
    return readings_from(PlaceReadings.objects.get(place_id=place_id))


def readings_from(row: PlaceReadings) -> Readings:
    """The readings a row holds."""
    return readings_from_bytes(zlib.decompress(row.data), row.days)
