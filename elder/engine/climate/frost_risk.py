"""Frost for a plant hurt at a limit of its own: both ends of the frosts, the risk by day of year, the last safe day."""

from __future__ import annotations

from datetime import date
from functools import lru_cache
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS, add_days, doy0_range
from elder.engine.climate.freezes import count_freezes
from elder.engine.climate.frost import Frost, FrostDates
from elder.engine.climate.frost_fit import End
from elder.engine.climate.normals import garden_year_position, midsummer
from elder.engine.climate.records import DailyRecords
from elder.engine.climate.years import law_at
from elder.engine.keeping import kept

MIDSUMMER_POSITION = YEAR_DAYS - YEAR_DAYS // 2  # 183 days after midwinter
LEAST_COUNTED_YEARS: Final = 7  # of records, from which frost dates are counted (assumed)
SURE_YEARS: Final = 10  # of records, from which they go before dates that are well known (assumed)


@lru_cache(maxsize=512)
def spring_frost(climate: Climate, limit_c: float) -> FrostDates | None:
    """Last spring frost for a plant hurt at ``limit_c``, its mean as days since midwinter."""
    return _at(climate, limit_c, "spring")


@lru_cache(maxsize=512)
def autumn_frost(climate: Climate, limit_c: float) -> FrostDates | None:
    """First autumn frost for a plant hurt at ``limit_c``, its mean as days since midwinter."""
    return _at(climate, limit_c, "autumn")


def _at(climate: Climate, limit_c: float, end: End) -> FrostDates | None:
    """Counted where records are long enough to say; else as the possible years move from the stated dates."""
    records = climate.daily_records
    if records and counts_in(records, climate.frost):
        counted = count_freezes(records, limit_c, midsummer(climate.normals))
        return counted.spring if end == "spring" else counted.autumn
    return law_at(climate, limit_c, end)


def counts_in(records: DailyRecords, frost: Frost) -> bool:
    """Whether frosts are counted in records, and not told by dates: from ten years on; from seven, unless the dates are
    well known."""
    return records.years >= (SURE_YEARS if frost.well_known else LEAST_COUNTED_YEARS)


@kept
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
