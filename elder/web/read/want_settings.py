"""What a want is asked under."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from elder.engine.handbook.loading import handbook
from elder.engine.setting import Setting
from elder.web.garden.models import Garden
from elder.web.read.gardens import climate_of, place_of
from elder.web.read.light import is_shaded
from elder.web.read.records import record_of
from elder.web.season.models import Want


def want_setting(row: Want, garden: Garden, today: date) -> Setting:
    """What a want is asked under: its places as they were described, since plans look ahead."""
    plant, record = handbook()[row.plant], record_of(garden, today)
    method = plant.method(row.method)
    places = place_of(row.rooting_place), place_of(row.growing_place)
    assumptions = record.assumed_for(plant, method)
    if row.carry_nights is not None:
        assumptions = replace(assumptions, carry_nights=max(row.carry_nights, garden.carry_nights))
    shaded = is_shaded(row.rooting_place, garden)
    method = record.way_here(plant, method)
    method = method.handed_rooted if row.handed_as == Want.HandedAs.ROOTED else method
    return Setting(plant, method, climate_of(garden), *places, today, assumptions, shaded)
