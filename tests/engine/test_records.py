"""Frost dates counted in daily records, against open datasets and series made by hand."""

from __future__ import annotations

import math
from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import days_of_year, doy0
from elder.engine.climate.freezes import FreezeYear, count_freezes, frost_of
from elder.engine.climate.frost_risk import autumn_frost, spring_frost
from elder.engine.climate.normals import Normals, daily_normals, midsummer
from elder.engine.climate.records import DailyRecords, gaps, monthly_means, records_of
from elder.engine.climate.screening import screen
from elder.engine.handbook.loading import handbook
from elder.engine.keeping import weight_of
from elder.engine.plan.planting_windows import planting_windows
from tests.engine.test_outside import CHECKS
from tests.readings import SUMMER_NORTH, SUMMER_SOUTH, read, southern, text_of


@pytest.fixture(scope="module")
def brussels() -> DailyRecords:
    return read(text_of("brussels.txt.gz")).records


def dated(years: tuple[FreezeYear, ...]) -> list[date]:
    return [year.day for year in years if year.day and not year.left_out]


def test_brussels(brussels: DailyRecords) -> None:
    # xclim 0.62.0 with numpy 2.4.6 on aquacrop's brussels_climate.txt, 30 years.
    expected = CHECKS["frost_brussels"]["expected"]
    counted = count_freezes(brussels, 0.0, SUMMER_NORTH)
    springs, autumns = dated(counted.spring_years), dated(counted.autumn_years)
    assert [day.isoformat() for day in springs[:3]] == expected["first3_spring"]
    assert [day.isoformat() for day in autumns[:3]] == expected["first3_autumn"]
    assert (len(springs), len(autumns)) == (30, 30)
    assert counted.spring is not None
    assert counted.autumn is not None
    assert counted.spring.sd_days == pytest.approx(expected["spring_sd"], abs=1e-3)
    assert counted.autumn.sd_days == pytest.approx(expected["autumn_sd"], abs=1e-3)
    frost = frost_of(brussels, SUMMER_NORTH)
    assert frost.spring is not None
    assert frost.autumn is not None
    # Theirs count from 1, ours from 0.
    assert frost.spring.mean_doy + 1 == pytest.approx(expected["spring_mean"], abs=0.05)
    assert frost.autumn.mean_doy + 1 == pytest.approx(expected["autumn_mean"], abs=0.05)
    assert frost.spring.safe_after(0.1) == math.ceil(expected["spring_normal_q90"] - 1)  # the first whole day past it


@pytest.mark.parametrize(("city", "name"), [(0, "seattle.csv.gz"), (1, "new-york.csv.gz")])
def test_seattle_and_new_york(city: int, name: str) -> None:
    # xclim 0.62.0 last_spring_frost and first_day_temperature_below (<= 0 °C) on vega-datasets' weather.csv.
    counted = count_freezes(read(text_of(name)).records, 0.0, SUMMER_NORTH)
    found = zip(dated(counted.spring_years), dated(counted.autumn_years), strict=False)
    assert [[a.isoformat(), b.isoformat()] for a, b in found] == CHECKS["frost_cities"]["expected"][city]


def test_a_southern_series() -> None:
    records = southern(range(2001, 2021), last_frost=(9, 12), first_frost=(5, 20))
    counted = count_freezes(records, 0.0, SUMMER_SOUTH)
    assert {(day.month, day.day) for day in dated(counted.spring_years)} == {(9, 12)}
    assert {(day.month, day.day) for day in dated(counted.autumn_years)} == {(5, 20)}
    frost = frost_of(records, SUMMER_SOUTH)
    assert frost.spring is not None
    assert frost.autumn is not None
    assert frost.spring.mean_doy == pytest.approx(doy0(date(2027, 9, 12)), abs=1)
    assert frost.autumn.mean_doy == pytest.approx(doy0(date(2027, 5, 20)), abs=1)


def test_a_southern_garden_plans_from_its_records() -> None:
    records = southern(range(2001, 2021), last_frost=(9, 12), first_frost=(5, 20))
    means = monthly_means(records)
    assert means is not None
    normals = Normals(*means)
    assert midsummer(normals) < 45
    climate = Climate(-37.0, 175.0, 40, "Pacific/Auckland", normals, frost_of(records, midsummer(normals)), records)
    window = planting_windows(handbook()["tomato"], climate, accepted_risk=0.1, start=date(2027, 7, 1), days=365)[0]
    assert window.opens.month in (9, 10, 11)
    assert window.opens < window.shuts


def test_a_plants_own_limit_is_counted_not_shifted(brussels: DailyRecords) -> None:
    means = monthly_means(brussels)
    assert means is not None
    normals = Normals(*means)
    climate = Climate(50.8, 4.4, 30, "Europe/Brussels", normals, frost_of(brussels, midsummer(normals)), brussels)
    means_by_limit = []
    for limit in (-4.0, 0.0, 3.0):
        spring, autumn = spring_frost(climate, limit), autumn_frost(climate, limit)
        assert spring is not None
        assert autumn is not None
        counted = count_freezes(brussels, limit, midsummer(normals))
        assert (spring, autumn) == (counted.spring, counted.autumn)
        means_by_limit.append((spring.mean_doy, -autumn.mean_doy))
    assert means_by_limit == sorted(means_by_limit)  # a tenderer plant waits longer and stops sooner


def test_years_with_holes_near_their_date_are_left_out(brussels: DailyRecords) -> None:
    # A fortnight missing after the last frost of 1976 (29 April): a later one could lie in it.
    holed = brussels.low.copy()
    days = brussels.ordinals
    holed[(days > date(1976, 5, 2).toordinal()) & (days < date(1976, 5, 17).toordinal())] = np.nan
    years = count_freezes(records_of(days, holed, brussels.high), 0.0, SUMMER_NORTH).spring_years
    assert next(year for year in years if year.year == 1976).left_out
    # Ten days may be missing.
    small = brussels.low.copy()
    small[(days > date(1976, 5, 2).toordinal()) & (days < date(1976, 5, 13).toordinal())] = np.nan
    years = count_freezes(records_of(days, small, brussels.high), 0.0, SUMMER_NORTH).spring_years
    assert not next(year for year in years if year.year == 1976).left_out


def plainly(
    records: DailyRecords, threshold: float, summer: int, *, spring: bool
) -> list[tuple[int, date | None, int | None, bool]]:
    """Every half-year walked day by day: its year, its freeze, that from midwinter, and whether a gap hides it."""
    low = {int(day): float(t) for day, t in zip(records.ordinals, records.low, strict=True) if not math.isnan(t)}

    def longest(first: int, last: int) -> int:
        run = most = 0
        for day in range(first, last + 1):
            run = 0 if day in low else run + 1
            most = max(most, run)
        return most

    found: list[tuple[int, date | None, int | None, bool]] = []
    for year in range(records.first.year - 1, records.last.year + 2):
        middle = date(year, 1, 1).toordinal() + summer
        first, last = (middle - 183, middle - 1) if spring else (middle, middle + 182)
        if not any(day in low for day in range(first, last + 1)):
            continue
        frosts = [day for day in range(first, last + 1) if day in low and low[day] <= threshold]
        if not frosts:
            found.append((year, None, None, longest(first, last) > 10))
            continue
        day = frosts[-1] if spring else frosts[0]
        hidden = longest(max(day - 30, first), min(day + 30, last)) > 10
        found.append((year, date.fromordinal(day), day - (middle - 183), hidden))
    return found


@pytest.mark.parametrize("summer", [SUMMER_NORTH, SUMMER_SOUTH])
@pytest.mark.parametrize("threshold", [-40.0, -4.0, 0.0, 2.5])
def test_all_years_at_once_are_what_they_are_one_by_one(threshold: float, summer: int) -> None:
    """Seven years with a cold and a warm half, days without a reading, and gaps of one to forty days."""
    chance = np.random.default_rng(1958)
    ordinals = np.arange(date(2003, 5, 7).toordinal(), date(2010, 11, 20).toordinal())
    low = 7 - 9 * np.cos(2 * np.pi * (ordinals - ordinals[0] + 126) / 365.25) + chance.normal(0, 4, len(ordinals))
    low[chance.random(len(low)) < 0.02] = np.nan
    there = np.ones(len(low), dtype=bool)
    for days in (1, 9, 10, 11, 12, 25, 40, 40):
        at = int(chance.integers(0, len(low)))
        there[at : at + days] = False
    records = records_of(ordinals[there], low[there], low[there] + 8)
    counted = count_freezes(records, threshold, summer)
    for spring, years in ((True, counted.spring_years), (False, counted.autumn_years)):
        told = [(one.year, one.day, one.position, one.left_out) for one in years]
        assert told == plainly(records, threshold, summer, spring=spring)
        assert any(one.left_out for one in years)
        assert not all(one.left_out for one in years)


def test_frost_free_years_are_a_share_of_their_own() -> None:
    ordinals = np.arange(date(2001, 1, 1).toordinal(), date(2011, 1, 1).toordinal())
    low = np.full(len(ordinals), 6.0)
    for year in (2003, 2006, 2009):
        low[date(year, 2, 10 + year % 5).toordinal() - ordinals[0]] = -0.5
    counted = count_freezes(records_of(ordinals, low, low + 8), 0.0, SUMMER_NORTH)
    assert counted.spring is not None
    assert counted.spring.share_of_years_with_frost == pytest.approx(0.3, abs=0.04)
    assert counted.spring.years == 3  # the spread rests on the frosty ones alone
    assert counted.autumn is None


def test_never_a_frost_is_no_law() -> None:
    ordinals = np.arange(date(2001, 1, 1).toordinal(), date(2006, 1, 1).toordinal())
    warm = records_of(ordinals, np.full(len(ordinals), 15.0), np.full(len(ordinals), 25.0))
    assert count_freezes(warm, 0.0, SUMMER_NORTH).spring is None
    assert frost_of(warm, SUMMER_NORTH).autumn is None


def test_monthly_means_are_those_of_the_readings(brussels: DailyRecords) -> None:
    found = monthly_means(brussels)
    assert found is not None
    july = [date.fromordinal(int(day)).month == 7 for day in brussels.ordinals]
    assert found[0][6] == pytest.approx(float(brussels.low[july].mean()), abs=0.01)
    assert monthly_means(records_of(brussels.ordinals[:400], brussels.low[:400], brussels.high[:400])) is None


def test_wild_readings_are_screened_and_worst_first(brussels: DailyRecords) -> None:
    low, high = brussels.low.copy(), brussels.high.copy()
    low[1000], high[1001], low[2000] = -57.8, 55.0, 30.0
    found = screen(brussels.ordinals, low, high)
    assert [(s.index, s.which) for s in found] == [(1000, "low"), (1001, "high"), (2000, "low")]
    assert screen(brussels.ordinals, brussels.low, brussels.high) == []


def test_gaps_are_runs_without_a_reading(brussels: DailyRecords) -> None:
    present = np.ones(len(brussels), dtype=bool)
    present[100:130] = False
    present[500:505] = False
    first = date.fromordinal(int(brussels.ordinals[100]))
    assert gaps(brussels.ordinals, present) == [(first, date.fromordinal(first.toordinal() + 29))]


@given(st.dates(date(1899, 1, 1), date(2101, 1, 1)))
def test_days_of_the_year_agree(day: date) -> None:
    assert days_of_year(np.array([day.toordinal()]))[0] == doy0(day)


def test_records_must_rise() -> None:
    with pytest.raises(ValueError, match="rise"):
        records_of(np.array([5, 5]), np.zeros(2), np.ones(2))
    with pytest.raises(ValueError, match="rise"):
        records_of(np.array([], dtype=np.int64), np.zeros(0), np.zeros(0))


def test_records_are_told_apart_by_what_they_hold(brussels: DailyRecords) -> None:
    same = records_of(brussels.ordinals, brussels.low, brussels.high)
    assert same == brussels
    assert hash(same) == hash(brussels)
    assert brussels.since(1990).first == date(1990, 1, 1)
    assert brussels.since(1990) != brussels


def test_the_demos_weather_keeps_its_garden() -> None:
    # Invented data: its own normals come back, and a seed gives the same weather twice.
    from demo.weather import invented_records
    from tests.engine.conftest import T_MAX, T_MIN

    span = {"first": date(2003, 1, 1), "last": date(2026, 12, 31), "seed": 52}
    records = invented_records(T_MIN, T_MAX, **span)  # type: ignore[arg-type]
    means = monthly_means(records)
    assert means is not None
    assert means[0] == pytest.approx(T_MIN, abs=0.06)
    assert means[1] == pytest.approx(T_MAX, abs=0.06)
    assert records == invented_records(T_MIN, T_MAX, **span)  # type: ignore[arg-type]
    assert (records.low <= records.high).all()
    assert daily_normals(Normals(*means))[0].shape == (365,)


def test_a_limit_weighs_its_own_days_and_not_the_record(brussels: DailyRecords) -> None:
    """Thirty years of two ends: three numbers each, in arrays of 8, 1 and 1 bytes, with what Python puts round them;
    the nights of all years in halves are shared by all limits."""
    counted = count_freezes(brussels, -2.0, SUMMER_NORTH)
    assert counted.spring_ends.halves.low.nbytes > 40_000
    assert weight_of(counted) < 6_000
