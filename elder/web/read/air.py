"""The air at a place today: as its sensor read it, else by the weather and what is usual."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Final

import numpy as np

from elder.engine.handbook.model import Method
from elder.engine.place.air import ROOM_HUMIDITY, Air, outdoor_humidity
from elder.engine.place.readings import Readings
from elder.engine.place.weather import DayAhead, noon_at
from elder.engine.round.care import JARS
from elder.web.garden.models import Place
from elder.web.read.gardens import place_of, stood_at

FRESH_DAYS: Final = 2  # a reading older than this says nothing of today (assumed)
LEAFLESS: Final = frozenset(("dormant stick", "stem joint", "pup", "crown top", "division", "runner"))
AFTERNOON: Final = slice(12, 17)  # the hours in which the air takes most


def wilts_in(method: Method) -> bool:
    """Whether dry air wilts an unrooted one: not what drinks from a jar, and not what has no leaves to lose by."""
    return method.medium not in JARS and method.form not in LEAFLESS


def air_at(place: Place, today: date, ahead: Sequence[DayAhead]) -> Air | None:
    """The air at a place at its driest today, by its sensor, else by the days ahead; ``None`` where neither tells."""
    readings = stood_at(place).readings
    if readings is not None and (read := _as_read(readings, today)):
        return read
    if not ahead:
        return None
    noon = noon_at(place_of(place), ahead[0])
    if place.standing == Place.Standing.ROOM:
        return Air(noon, ROOM_HUMIDITY)
    return Air(noon, outdoor_humidity(noon, ahead[0].low_c))


def _as_read(readings: Readings, today: date) -> Air | None:
    """The mean of the last afternoon that was read, where that was not long ago and told the humidity."""
    if not len(readings) or today.toordinal() - int(readings.ordinals[-1]) > FRESH_DAYS:
        return None
    warmth, humidity = readings.celsius[-1, AFTERNOON], readings.humidity[-1, AFTERNOON]
    if not (np.isfinite(warmth).any() and np.isfinite(humidity).any()):
        return None
    return Air(float(np.nanmean(warmth)), float(np.nanmean(humidity)) / 100, is_read=True)
