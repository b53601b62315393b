"""When high summer shuts a way: days on which soft cuttings outdoors would stand hotter than their roots can grow."""

from __future__ import annotations

from datetime import date
from typing import Final

from elder.engine.arrays import Bools
from elder.engine.climate.day_of_year import doy0_range
from elder.engine.climate.normals import daily_normals
from elder.engine.setting import Setting

# In shade, misted, leaves stay so much cooler than the air outdoors that a little more heat is borne (assumed; that
# high summer in a hot desert is avoided unless there is shade and mist is common practice).
SHADE_BEARS_C: Final = 4.0


def too_hot(setting: Setting, start: date, days: int) -> Bools:
    """Cut days whose usual highest at the rooting place lies above what the plant's roots bear; shape (days,). Bare
    wood is cut in the cold, and a room is as warm as it is kept."""
    place, plant = setting.rooting_place, setting.plant
    highest = daily_normals(setting.climate.normals)[1] + place.lifts
    limit = plant.cardinals.t_max + (SHADE_BEARS_C if setting.shaded else 0.0)
    shut = highest > limit
    if place.standing == "room" or setting.method.wood == "dormant":
        shut = shut & False
    return shut[doy0_range(start, days)]
