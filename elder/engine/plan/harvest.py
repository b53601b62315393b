"""When the first crop comes: so many days after planting out, and in the crop's own season."""

from __future__ import annotations

from datetime import date

from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS, add_days, doy0
from elder.engine.climate.normals import midsummer
from elder.engine.handbook.model import Plant


def harvest_day(plant: Plant, climate: Climate, out: date, days: int) -> date:
    """The day of the first harvest of what stands out since ``out`` and wants ``days``: for a crop with a season of its
    own, the next day inside it, as days from midsummer, in either hemisphere."""
    day = add_days(out, days)
    if plant.crop_season is None:
        return day
    first, last = plant.crop_season
    half = YEAR_DAYS // 2
    now = (doy0(day) - midsummer(climate.normals) + half) % YEAR_DAYS - half
    if now < first:
        return add_days(day, first - now)
    return day if now <= last else add_days(day, YEAR_DAYS - now + first)
