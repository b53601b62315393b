"""Smooth years, both hemispheres, leap days, and where things stand in a gardening year."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import interpolate, stats

from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import MONTH_DAYS, doy0, doy0_range
from elder.engine.climate.frost import FROST_FREE, FrostDates, by_hand
from elder.engine.climate.frost_risk import frost_risk
from elder.engine.climate.normals import MID_MONTHS, Normals, daily_normals, midsummer
from elder.engine.climate.phases import growing_season
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place, hourly_temperatures, response, soil_mean, units_per_day
from elder.engine.plan.planting_windows import planting_windows
from elder.engine.plan.wood import wood_in_season
from tests.engine.conftest import EXAMPLE_CARDINALS, T_MAX, T_MIN


def test_the_smooth_year_is_scipys_periodic_spline(north: Climate) -> None:
    """Read at noon, and so many days before it; months that are all alike give the same on every day, to the last bit,
    for a limit may be just that."""
    knots = np.append(MID_MONTHS, MID_MONTHS[0] + 365)
    for lag in (0.0, 3.7):
        spline = interpolate.CubicSpline(knots, [*T_MIN, T_MIN[0]], bc_type="periodic")
        low, _ = daily_normals(north.normals, lag)
        assert low == pytest.approx(spline(np.arange(365) + 0.5 - lag), abs=1e-12)
        flat, _ = daily_normals(Normals((13.3,) * 12, (19.1,) * 12), lag)
        assert set(flat.tolist()) == {13.3}


@pytest.mark.parametrize(
    "place",
    [Place("room", day_c=21, night_c=9), Place("air"), Place("ground"), Place("air", lift_day_c=7, lift_night_c=2),
     Place("air", floor_c=16.0), Place("room", day_c=20, night_c=12, floor_c=18.5)],
)  # fmt: skip
def test_units_are_the_mean_over_all_twenty_four_hours(north: Climate, place: Place) -> None:
    """Whatever is known of a day's symmetry; a heated room has none: fifteen of its hours are day."""
    hours = hourly_temperatures(place, north)
    assert hours.shape == (365, 24)
    every = [np.mean([response(float(at), EXAMPLE_CARDINALS) for at in day]) for day in hours[::31]]
    assert units_per_day(place, north, EXAMPLE_CARDINALS)[::31] == pytest.approx(every, abs=1e-12)
    assert len(units_per_day(place, north, EXAMPLE_CARDINALS)) == 365


def test_climates_of_one_place_are_told_apart_at_a_glance(north: Climate) -> None:
    """Those under its covers lie where it lies; of one hash, each question kept would be compared with all of them."""
    lifted = [
        replace(north, normals=Normals(tuple(t + night for t in T_MIN), tuple(t + day for t in T_MAX)))
        for day, night in ((0, 0), (0, 2), (7, 0), (7, 2), (3, 1))
    ]
    assert len({hash(one) for one in lifted}) == 5
    assert hash(replace(north)) == hash(north)


def test_the_smooth_year_keeps_its_monthly_means(north: Climate) -> None:
    bounds = np.cumsum(MONTH_DAYS)[:-1]
    for curve, means in zip(daily_normals(north.normals), (T_MIN, T_MAX), strict=True):
        smoothed = [float(month.mean()) for month in np.split(curve, bounds)]
        assert smoothed == pytest.approx(means, abs=0.3)


@pytest.mark.parametrize(
    ("day", "expected"),
    [
        (date(2027, 1, 1), 0),
        (date(2028, 2, 28), 58),
        (date(2028, 2, 29), 58),
        (date(2028, 3, 1), 59),
        (date(2028, 12, 31), 364),
    ],
)
def test_leap_days_read_as_the_28th(day: date, expected: int) -> None:
    assert doy0(day) == expected


@given(st.dates(date(1999, 1, 1), date(2101, 1, 1)))
def test_ranges_agree_with_single_days(start: date) -> None:
    days = [doy0(date.fromordinal(start.toordinal() + i)) for i in range(800)]
    assert doy0_range(start, 800).tolist() == days


def test_midsummer_turns_with_the_hemisphere(north: Climate, south: Climate) -> None:
    assert 190 < midsummer(north.normals) < 225
    assert midsummer(south.normals) < 45 or midsummer(south.normals) > 355


def test_normals_must_make_sense() -> None:
    with pytest.raises(ValueError, match="twelve"):
        Normals((1.0,) * 11, (2.0,) * 12)
    with pytest.raises(ValueError, match="above"):
        Normals((3.0,) * 12, (2.0,) * 12)


def test_growing_season_wraps_new_year_in_the_south(south: Climate) -> None:
    season = growing_season(south.normals)
    assert season.start > 270
    assert season.start + season.days > 365


def test_growing_season_of_a_winterless_place(frost_free: Climate) -> None:
    assert growing_season(frost_free.normals).days == 365


def test_frost_by_hand_keeps_both_dates() -> None:
    dates = by_hand(100, 120)
    assert float(dates.risk_from(100)) == pytest.approx(0.5)
    assert float(dates.risk_from(120)) == pytest.approx(0.1, abs=1e-4)
    assert dates.safe_after(0.1) in (120, 121)


def test_few_years_have_longer_tails() -> None:
    few, many = FrostDates(100, 10, 1.0, years=5), FrostDates(100, 10, 1.0, years=40)
    assert float(few.risk_from(130)) > float(many.risk_from(130))


@pytest.mark.parametrize("p", [0.02, 0.1, 0.5, 0.9])
def test_freeze_dates_follow_their_laws(p: float) -> None:
    # scipy.stats' normal and Student's t with n - 1 degrees of freedom.
    many, few = FrostDates(100, 10), FrostDates(100, 10, 1.0, years=6)
    assert float(many.risk_from(100 + 10 * stats.norm.isf(p))) == pytest.approx(p)
    assert float(few.risk_from(100 + 10 * stats.t.isf(p, 5))) == pytest.approx(p)
    assert few.safe_after(p) == math.ceil(100 + 10 * stats.t.isf(p, 5) - 1e-9)
    assert many.safe_until(p) == math.floor(100 + 10 * stats.norm.ppf(p) + 1e-9)


def test_share_of_frosty_years_scales_the_risk() -> None:
    half = FrostDates(100, 10, 0.5)
    assert float(half.risk_from(0)) == pytest.approx(0.5)
    assert FrostDates(100, 10, 0.08).safe_after(0.1) is None


def test_a_tender_plant_waits_longer_and_stops_sooner(north: Climate) -> None:
    hardy, tender = frost_risk(north, 0.0), frost_risk(north, 3.0)
    assert tender[130] > hardy[130]
    assert tender[300] > hardy[300]


def test_risk_never_crosses_midsummer(north: Climate) -> None:
    impossible = frost_risk(north, 30.0)
    assert impossible.max() <= 1.0
    windows = planting_windows(handbook()["mint"], north, accepted_risk=0.1, start=date(2027, 1, 1), days=365)
    assert windows


def test_southern_gate_opens_in_spring(south: Climate) -> None:
    window = planting_windows(handbook()["tomato"], south, accepted_risk=0.1, start=date(2027, 7, 1), days=365)[0]
    assert (window.opens.year, window.opens.month) == (2027, 11)
    assert (window.shuts.year, window.shuts.month) == (2028, 2)
    assert "crop" in window.shut_by


def test_hemispheres_mirror(north: Climate, south: Climate) -> None:
    # The south's year is the north's six months on, so its gate opens about half a year later.
    tomato = handbook()["tomato"]
    one = planting_windows(tomato, north, accepted_risk=0.1, start=date(2027, 1, 1), days=300)[0]
    other = planting_windows(tomato, south, accepted_risk=0.1, start=date(2027, 7, 1), days=300)[0]
    assert abs((other.opens - one.opens).days - 182) <= 5


def test_frost_free_gate_never_shuts(frost_free: Climate) -> None:
    windows = planting_windows(
        handbook()["sweet-potato"], frost_free, accepted_risk=0.1, start=date(2027, 1, 1), days=365
    )
    assert len(windows) == 1
    assert windows[0].opened_by == windows[0].shut_by == ()


def test_a_killing_summer_shuts_the_gate() -> None:
    # An invented desert: hardly a frost, and forty degrees from June to August.
    normals = Normals((7, 9, 12, 15, 20, 25, 28, 28, 24, 18, 11, 7), (20, 22, 26, 31, 36, 41, 42, 41, 38, 32, 25, 19))
    desert = Climate(33.0, -112.0, 340, "America/Phoenix", normals, FROST_FREE)
    windows = planting_windows(handbook()["tomato"], desert, accepted_risk=0.1, start=date(2027, 1, 1), days=365)
    assert [window.shut_by for window in windows[:1]] == [("heat",)]
    assert {window.opens.month for window in windows} & {9, 10}  # and it opens again after it
    hot = date(2027, 7, 15)
    assert not any(window.opens <= hot <= window.shuts for window in windows)
    basil = planting_windows(handbook()["basil"], desert, accepted_risk=0.1, start=date(2027, 1, 1), days=365)
    assert basil[0].shuts > windows[0].shuts  # basil bears more of it


def test_a_pot_gains_more_than_the_ground_on_the_same_mean(north: Climate) -> None:
    pot, ground = (units_per_day(Place(kind), north, EXAMPLE_CARDINALS) for kind in ("air", "ground"))  # type: ignore[arg-type]
    assert pot[105] > 1.5 * ground[105]


def test_the_ground_lags_the_air(north: Climate) -> None:
    low, high = daily_normals(north.normals)
    assert int(np.argmax(soil_mean(north))) - int(np.argmax(low + high)) in (2, 3, 4)


def test_a_heat_mat_holds_its_floor(north: Climate) -> None:
    mat = hourly_temperatures(Place("air", floor_c=20.0), north)
    assert mat.min() == 20.0


def test_a_cover_lifts_noon_more_than_night(north: Climate) -> None:
    bare, covered = (
        hourly_temperatures(p, north)[100] for p in (Place("air"), Place("air", lift_day_c=8, lift_night_c=2))
    )
    assert (covered - bare).argmax() == 14 or (covered - bare).argmax() == 15
    assert (covered - bare).min() == pytest.approx(2, abs=0.1)


@pytest.mark.parametrize("wood", ["softwood", "semi-ripe", "dormant"])
def test_wood_seasons_do_not_overlap(north: Climate, wood: str) -> None:
    others = [w for w in ("softwood", "semi-ripe", "dormant") if w != wood]
    here = wood_in_season(north, wood, stock_indoors=False)  # type: ignore[arg-type]
    assert here.any()
    for other in others:
        assert not (here & wood_in_season(north, other, stock_indoors=False)).any()  # type: ignore[arg-type]


def test_wood_of_stock_kept_indoors(north: Climate, frost_free: Climate) -> None:
    assert wood_in_season(north, "growing", stock_indoors=True).all()
    assert not wood_in_season(north, "dormant", stock_indoors=True).any()
    assert wood_in_season(frost_free, "dormant", stock_indoors=False).sum() == 90
