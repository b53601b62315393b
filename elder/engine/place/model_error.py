"""How far off the model of a place was, by what a sensor read there."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np

from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import add_days, doy0_range
from elder.engine.place.running_units import daily_units
from elder.engine.place.warmth import Cardinals, Place, hourly_temperatures

LAST_DAYS: Final = 14


@dataclass(frozen=True)
class OffBy:
    """Read less modelled, °C, over so many days that were read."""

    celsius: float
    days: int


def off_by(place: Place, climate: Climate, *, today: date) -> OffBy | None:
    """By the days read in the fortnight before today; ``None`` where there are none."""
    if place.readings is None:
        return None
    first = add_days(today, -LAST_DAYS)
    ordinals = place.readings.ordinals
    recent = place.readings.whole & (ordinals >= first.toordinal()) & (ordinals < today.toordinal())
    if not recent.any():
        return None
    read = np.nanmean(place.readings.celsius[recent], axis=1)
    normal = hourly_temperatures(place.modelled, climate).mean(axis=1)[doy0_range(first, LAST_DAYS)]
    modelled = normal[ordinals[recent] - first.toordinal()]
    return OffBy(float(np.mean(read - modelled)), int(recent.sum()))


def days_gained(place: Place, climate: Climate, cardinals: Cardinals, *, since: date, today: date) -> float:
    """Days of the model's own pace that a plant has gained (or lost) there since a day, by what was read."""
    days = (today - since).days
    if days < 1 or place.readings is None:
        return 0.0
    real = daily_units(place, climate, cardinals, since, days)
    modelled = daily_units(place.modelled, climate, cardinals, since, days)
    pace = float(modelled.mean())
    return float(real.sum() - modelled.sum()) / pace if pace > 0 else 0.0
