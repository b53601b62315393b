"""Frost for a plant hurt at a limit of its own: both ends of the frosts, the risk by day of year, the last safe day."""

from __future__ import annotations

import math
from datetime import date
from functools import lru_cache

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS, add_days, doy0_range
from elder.engine.climate.freezes import count_freezes
from elder.engine.climate.frost import FrostDates, shift_for_limit
from elder.engine.climate.normals import daily_normals, garden_year_position, midsummer

MIDSUMMER_POSITION = YEAR_DAYS - YEAR_DAYS // 2  # 183 days after midwinter


@lru_cache(maxsize=512)
def spring_frost(climate: Climate, limit_c: float) -> FrostDates | None:
    """Last spring frost for a plant hurt at ``limit_c``, its mean as days since midwinter."""
    if climate.daily_records:
        return count_freezes(climate.daily_records, limit_c, midsummer(climate.normals)).spring
    return _for_limit(climate, climate.frost.spring, limit_c)


@lru_cache(maxsize=512)
def autumn_frost(climate: Climate, limit_c: float) -> FrostDates | None:
    """First autumn frost for a plant hurt at ``limit_c``, its mean as days since midwinter."""
    if climate.daily_records:
        return count_freezes(climate.daily_records, limit_c, midsummer(climate.normals)).autumn
    return _for_limit(climate, climate.frost.autumn, limit_c)


def _for_limit(climate: Climate, dates: FrostDates | None, limit_c: float) -> FrostDates | None:
    if dates is None or dates.share_of_years_with_frost == 0:
        return None
    position = _position(climate, dates.mean_doy, spring=dates is climate.frost.spring)
    low, _high = daily_normals(climate.normals)
    doy = round(dates.mean_doy) % YEAR_DAYS
    slope = float(low[(doy + 1) % YEAR_DAYS] - low[doy - 1]) / 2
    to_summer = MIDSUMMER_POSITION - position
    shifted = shift_for_limit(
        dates,
        limit_c,
        threshold_c=climate.frost.threshold_c,
        slope_c_per_day=slope,
        latest_shift=to_summer - math.copysign(1, to_summer),
    )
    return shifted.shifted(position - dates.mean_doy)


def _position(climate: Climate, doy: float, *, spring: bool) -> float:
    """Days since midwinter of a mean date; a spring one may lie just before it, an autumn one just after."""
    start = (midsummer(climate.normals) + YEAR_DAYS // 2) % YEAR_DAYS
    around = 90.0 if spring else 275.0
    return (doy - start - around + YEAR_DAYS / 2) % YEAR_DAYS + around - YEAR_DAYS / 2


@lru_cache(maxsize=512)
def frost_risk(climate: Climate, limit_c: float) -> Floats:
    """By day of year: before midsummer the risk that frost still comes, after it that it has come; (365,)."""
    position = garden_year_position(climate.normals, np.arange(YEAR_DAYS))
    spring, autumn = spring_frost(climate, limit_c), autumn_frost(climate, limit_c)
    nothing = np.zeros(YEAR_DAYS)
    before = spring.risk_from(position) if spring else nothing
    after = autumn.risk_before(position) if autumn else nothing
    return np.where(position < MIDSUMMER_POSITION, before, after)


def last_safe_day(climate: Climate, limit_c: float, *, accepted_risk: float, after: date) -> date | None:
    """The next day on or after ``after`` that is the last before autumn frost takes a plant of that limit."""
    autumn = autumn_frost(climate, limit_c)
    end = autumn.safe_until(accepted_risk) if autumn else None
    if end is None:
        return None
    position = garden_year_position(climate.normals, doy0_range(after, 2 * YEAR_DAYS))
    hits = np.flatnonzero(position == min(end, YEAR_DAYS - 1))
    return add_days(after, int(hits[0]))
