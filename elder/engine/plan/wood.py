"""When each kind of wood is there to cut, by the climate's own phases and not by the names of months."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from elder.engine.arrays import Bools
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.climate.phases import coolest_stretch, growing_season
from elder.engine.handbook.model import Wood

SOFTWOOD_SHARE = 0.40  # the first part of the growing season (assumed)
SEMI_RIPE_SHARE = 0.85  # from there until this much of it has gone (assumed)
DORMANT_MARGIN_DAYS = 14  # dormant wood ends this long before growth starts (assumed)


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
    season = growing_season(climate.normals)
    since_start = (np.arange(YEAR_DAYS) - season.start) % YEAR_DAYS
    if season.days == YEAR_DAYS:  # no winter: the coolest stretch is the rest
        growing_days = YEAR_DAYS - coolest_stretch(climate.normals)[1]
        dormant = since_start >= growing_days
    else:
        growing_days = season.days
        dormant = (since_start >= growing_days) & (since_start < YEAR_DAYS - DORMANT_MARGIN_DAYS)
    soft, ripe = SOFTWOOD_SHARE * growing_days, SEMI_RIPE_SHARE * growing_days
    phases = {
        "growing": since_start < season.days,
        "softwood": since_start < soft,
        "semi-ripe": (since_start >= soft) & (since_start < ripe),
        "dormant": dormant,
    }
    return np.asarray(phases[wood], dtype=bool)
