"""When each kind of wood is there to cut, by the climate's own phases and not by the names of months."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from elder.engine.arrays import Bools
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.climate.phases import growing_season, rest
from elder.engine.handbook.model import Wood

SOFTWOOD_SHARE = 0.40  # the first part of the year but its rest (assumed)
SEMI_RIPE_SHARE = 0.85  # from there until this much of it has gone (assumed)
DORMANT_MARGIN_DAYS = 14  # dormant wood ends this long before the rest does (assumed)


@lru_cache(maxsize=256)
def wood_in_season(climate: Climate, wood: Wood, *, stock_indoors: bool) -> Bools:
    """Days of the year on which that wood can be cut; shape (365,).

    Stock kept indoors at 15 °C and above is in growth all year, and so never gives dormant wood. A crown
    top is there whenever its fruit is (``any``).
    """
    if wood == "any":
        return np.ones(YEAR_DAYS, dtype=bool)
    if stock_indoors:
        return np.full(YEAR_DAYS, wood != "dormant")
    season, (rest_start, rest_days) = growing_season(climate.normals), rest(climate.normals)
    day = np.arange(YEAR_DAYS)
    resting, awake = (day - rest_start) % YEAR_DAYS, (day - rest_start - rest_days) % YEAR_DAYS
    awake_days = YEAR_DAYS - rest_days
    soft, ripe = SOFTWOOD_SHARE * awake_days, SEMI_RIPE_SHARE * awake_days
    phases = {
        "growing": (day - season.start) % YEAR_DAYS < season.days,
        "softwood": awake < soft,
        "semi-ripe": (awake >= soft) & (awake < ripe),
        "dormant": resting < rest_days - DORMANT_MARGIN_DAYS,
    }
    return np.asarray(phases[wood], dtype=bool)
