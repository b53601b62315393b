"""The climate of a garden: its normals, its records, its frosts, its daylight."""

from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import MONTH_STARTS, YEAR_DAYS, add_days, days_of_year, doy0, doy0_range
from elder.engine.climate.daylight import day_lengths
from elder.engine.climate.freezes import FreezeCount, FreezeYear, count_freezes, frost_of
from elder.engine.climate.frost import Frost, FrostDates, by_hand
from elder.engine.climate.frost_risk import MIDSUMMER_POSITION, autumn_frost, frost_risk, last_safe_day, spring_frost
from elder.engine.climate.normals import Normals, daily_normals, garden_year_position, midsummer, midwinter
from elder.engine.climate.phases import coolest_stretch, growing_season
from elder.engine.climate.records import (
    COLDEST_C,
    HOTTEST_C,
    NORMAL_YEARS,
    DailyRecords,
    gaps,
    monthly_means,
    records_of,
)
from elder.engine.climate.screening import screen

__all__ = [
    "COLDEST_C",
    "HOTTEST_C",
    "MIDSUMMER_POSITION",
    "MONTH_STARTS",
    "NORMAL_YEARS",
    "YEAR_DAYS",
    "Climate",
    "DailyRecords",
    "FreezeCount",
    "FreezeYear",
    "Frost",
    "FrostDates",
    "Normals",
    "add_days",
    "autumn_frost",
    "by_hand",
    "coolest_stretch",
    "count_freezes",
    "daily_normals",
    "day_lengths",
    "days_of_year",
    "doy0",
    "doy0_range",
    "frost_of",
    "frost_risk",
    "gaps",
    "garden_year_position",
    "growing_season",
    "last_safe_day",
    "midsummer",
    "midwinter",
    "monthly_means",
    "records_of",
    "screen",
    "spring_frost",
]
