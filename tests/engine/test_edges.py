"""Edges that nothing else stood on: what was given away, the last day a top-up helps, wood where there is no winter."""

from __future__ import annotations

import itertools
from dataclasses import replace
from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from scipy.stats import betabinom, binom

from elder.engine.assumptions import Assumptions
from elder.engine.batch.forecast import forecast
from elder.engine.batch.remedies import CutsAhead, TopUp, top_up
from elder.engine.chance.counting import Take, count_pmf, count_quantiles, left_after
from elder.engine.climate.climate import Climate
from elder.engine.climate.frost import FROST_FREE, Frost, FrostDates, by_hand
from elder.engine.climate.normals import Normals, daily_normals
from elder.engine.place.warmth import Cardinals, Place, ground_lag_days, hourly_temperatures
from elder.engine.plan.wood import wood_in_season
from elder.engine.setting import Setting
from tests.engine.conftest import T_MAX, T_MIN
from tests.engine.test_care import SILL, STUCK, Bench

NONE_LOST = Assumptions(stand_share=1.0)  # once they have roots
NORTH = Climate(52.6, -4.1, 60, "Europe/London", Normals(T_MIN, T_MAX), Frost(by_hand(100, 121), by_hand(319, 299)))


def test_what_was_given_away_counts_as_ready_from_that_day(north: Any) -> None:
    # Four rooted and potted, of which two were given away on day 20: two are ready then for certain, and no more.
    batch = Bench(north).did("rooted", 9, 4).did("lost", 9, 4, stage="waiting").did("potted", 10, 4).did("given", 20, 2)
    today = STUCK + timedelta(days=20)
    found = forecast(batch.state(20), Setting(batch.plant, batch.method, batch.climate, SILL, SILL, today))
    assert found.ready_on(today).tolist()[:2] == [0, 0]
    assert found.ready_on(today)[2] == pytest.approx(1, abs=1e-3)
    assert found.ready_on(today - timedelta(days=1))[0] == pytest.approx(1, abs=1e-3)
    # The other two come to stand unless they are lost first, of which 19 in 20 are not.
    assert 0.95**2 < found.ready_on(today + timedelta(days=60))[4] < 1
    setting = Setting(batch.plant, batch.method, batch.climate, SILL, SILL, today, NONE_LOST)
    certain = forecast(batch.state(20), setting)
    assert certain.ready_on(today + timedelta(days=60))[4] == pytest.approx(1, abs=1e-3)


# One cut on a day and taking is ready in time by these chances; there is no wood on the first day. Nine in ten of nine
# in ten: three cut on the second day give two with 0.905. Nine, three times three, still do where half are in time, by
# 0.962; where three in ten are, with 0.745, they do not. Binomial by hand, beside scipy's.
def test_when_to_cut_more_and_until_when_it_helps() -> None:
    ready = np.array([0.95, 0.9, 0.5, 0.3, 0.0])
    more = CutsAhead(date(2027, 5, 1), ready[None], np.array([False, True, True, True, True]), Take(0.9, 1e6))
    assert binom.sf(1, 2, 0.81) < 0.9 <= binom.sf(1, 3, 0.81)
    assert binom.sf(1, 9, 0.27) < 0.9 <= binom.sf(1, 9, 0.45)
    nothing_yet = [np.array([1.0])]
    assert top_up(nothing_yet, 2, 0.9, more) == TopUp(3, date(2027, 5, 2), date(2027, 5, 2), date(2027, 5, 3), 9)
    # With one in hand for certain one more is wanted: two on that day (0.964); three times one do until the same day.
    assert binom.sf(0, 1, 0.81) < 0.9 <= binom.sf(0, 2, 0.81)
    assert top_up([np.array([0.0, 1.0])], 2, 0.9, more) == TopUp(2, *[date(2027, 5, 2)] * 3, 3)
    assert top_up(nothing_yet, 2, 0.9, CutsAhead(more.start, ready[None], ready < 0, more.take)) is None
    # As good again on the third day, but not on the second: three are enough until the first alone.
    dips = np.array([[0.9, 0.5, 0.9]])
    assert top_up(nothing_yet, 2, 0.9, CutsAhead(more.start, dips, dips[0] > 0, more.take)) == TopUp(
        3, date(2027, 5, 1), date(2027, 5, 1), date(2027, 5, 3), 9
    )
    # Nothing cut on the first day would be in time, in what is cold still: nine give two with 0.191.
    rising = np.array([[0.1, 0.9, 0.5]])
    assert binom.sf(1, 9, 0.09) < 0.9
    assert top_up(nothing_yet, 2, 0.9, CutsAhead(more.start, rising, rising[0] > 0, more.take)) == TopUp(
        3, date(2027, 5, 2), date(2027, 5, 2), date(2027, 5, 3), 9
    )
    # As good on the next day, on which there is no wood.
    steady, wood = np.full((1, 3), 0.9), np.array([True, True, False])
    assert top_up(nothing_yet, 2, 0.9, CutsAhead(more.start, steady, wood, more.take)) == TopUp(
        3, date(2027, 5, 1), date(2027, 5, 2), date(2027, 5, 2), 9
    )


@pytest.mark.parametrize("coolest_month", [1, 4, 7, 10])
def test_without_a_winter_wood_rests_in_the_coolest_run_of_104_days(coolest_month: int) -> None:
    monthly = 24 - 3 * np.cos(2 * np.pi * (np.arange(12) - coolest_month) / 12)
    climate = Climate(-5.0, 120.0, 5, "Asia/Makassar", Normals(tuple(monthly - 4), tuple(monthly + 4)), FROST_FREE)
    resting = wood_in_season(climate, "dormant", stock_indoors=False)
    low, high = daily_normals(climate.normals)
    mean = (low + high) / 2
    sums = [np.roll(mean, -day)[:104].sum() for day in range(365)]
    begins = int(np.argmin(sums))
    coolest = set((begins + np.arange(90)) % 365)  # all of it but its last fortnight
    assert resting.sum() == 90
    # The engine looks at a smoothed year, so a day at either end may differ.
    assert len(coolest - set(np.flatnonzero(resting))) <= 2
    # Growth begins on the day after the rest, and soft wood is its first two fifths: 104.4 days of 261.
    soft = wood_in_season(climate, "softwood", stock_indoors=False)
    last = next(int(day) for day in np.flatnonzero(resting) if not resting[(day + 1) % 365])
    assert set(np.flatnonzero(soft)) == set((last + 15 + np.arange(105)) % 365)


def test_a_milder_winter_shortens_the_rest_of_wood_by_degrees(north: Any) -> None:
    """A climate a tenth of a degree warmer loses four dormant days at the most: there is no step where winters end."""
    dormant = []
    for tenth in range(121):
        normals = Normals(*(tuple(t + tenth / 10 for t in part) for part in (T_MIN, T_MAX)))
        dormant.append(int(wood_in_season(replace(north, normals=normals), "dormant", stock_indoors=False).sum()))
    lost = [a - b for a, b in itertools.pairwise(dormant)]
    assert max(lost) <= 4
    assert min(lost) >= 0
    assert (dormant[0], dormant[-1]) == (168, 90)


# scipy's beta-binomial has the same law in closed form: a take of mean 0.8 worth ten cuttings is Beta(8, 2).
@pytest.mark.parametrize("count", [1, 5, 20, 60])
def test_quantiles_of_the_number_ready_are_the_beta_binomials(count: int) -> None:
    levels = (0.001, 0.1, 0.5, 0.9, 0.999)
    found = count_quantiles(count, np.array([[1.0]]), Take(0.8, 10), levels)
    assert found.shape == (5, 1)
    assert found.dtype == np.int64
    assert found[:, 0].tolist() == [int(betabinom.ppf(level, count, 8, 2)) for level in levels]


def test_quantiles_of_a_take_that_is_known_are_the_binomials() -> None:
    ready = np.array([[0.1, 0.5, 0.9, 0.0]])
    found = count_quantiles(20, ready, Take(1.0, 1e6), (0.1, 0.5, 0.9))
    assert found.tolist() == [binom.ppf(level, 20, ready[0]).astype(int).tolist() for level in (0.1, 0.5, 0.9)]


def test_quantiles_over_scenarios_are_of_the_mixture() -> None:
    """Half the years all ten are ready, in half of them none: nine in ten reach no further down than nought."""
    found = count_quantiles(10, np.array([[1.0], [0.0]]), Take(1.0, 1e6), (0.1, 0.49, 0.51, 0.9))
    assert found[:, 0].tolist() == [0, 0, 10, 10]


def test_a_chance_out_of_bounds_is_taken_to_its_bound() -> None:
    assert count_pmf(3, np.array([-1e-9, 1 + 1e-9])).tolist() == [[1, 0, 0, 0], [0, 0, 0, 1]]
    assert count_pmf(3, np.array([0, 1])).tolist() == [[1, 0, 0, 0], [0, 0, 0, 1]]


@pytest.mark.parametrize("wrong", [(8, 8, 36), (8, 36, 36), (25, 8, 36)])
def test_cardinals_that_do_not_rise(wrong: tuple[float, float, float]) -> None:
    with pytest.raises(ValueError, match=r"^cardinal temperatures rise from least to best to greatest$"):
        Cardinals(*wrong)


def test_frost_dates_given_by_hand() -> None:
    # One year in ten lies 1.2816 deviations beyond the average: the normal table.
    dates = by_hand(100, 121, share=0.4)
    assert (dates.mean_doy, dates.sd_days, dates.share_of_years_with_frost) == (
        100,
        pytest.approx(21 / 1.2816, rel=1e-4),
        0.4,
    )


def test_the_room_is_warm_from_seven_to_ten() -> None:
    hours = hourly_temperatures(Place("room", day_c=20, night_c=17), NORTH)
    assert hours.shape == (365, 24)
    assert hours[0].tolist() == hours[364].tolist() == [17] * 7 + [20] * 15 + [17] * 2


# de Vries' damped wave, by hand: at 10 cm the daily swing is exp(-0.1 / 0.117) of the air's, and the year runs late by
# 365 / 2π · 0.1 / 2.24 days.
def test_the_ground_lags_and_is_damped() -> None:
    assert ground_lag_days(0.1) == pytest.approx(365 / (2 * np.pi) * 0.1 / 2.2404, rel=2e-3)
    ground = hourly_temperatures(Place("ground"), NORTH)
    low, high = daily_normals(NORTH.normals, ground_lag_days(0.1))
    swing = np.ptp(ground[180])
    # Read at the half hours, half an hour either side of the warmest.
    seen = np.cos(2 * np.pi * 0.5 / 24)
    assert swing == pytest.approx((high - low)[180] * np.exp(-0.1 / 0.11727) * seen, rel=2e-3)
    assert ground[180].mean() == pytest.approx((low + high)[180] / 2, abs=1e-9)
    assert int(np.argmax(ground[180])) in (14, 15)


def test_covers_lift_noon_and_night_and_a_mat_holds_its_floor() -> None:
    bare, covered = (hourly_temperatures(p, NORTH) for p in (Place("air"), Place("air", lift_day_c=8, lift_night_c=2)))
    low, high = daily_normals(NORTH.normals)
    wave = np.cos(2 * np.pi * (np.arange(24) + 0.5 - 15) / 24)
    by_hand_bare = (low + high)[:, None] / 2 + (high - low)[:, None] / 2 * wave
    assert np.allclose(bare, by_hand_bare)
    assert np.allclose(covered - bare, 5 + 3 * wave)
    warmed = hourly_temperatures(Place("air", floor_c=12.5), NORTH)
    assert np.allclose(warmed, np.maximum(by_hand_bare, 12.5))
    assert not warmed.flags.writeable


# Frost in four years of ten: a risk of one in ten is a quarter of those years. The normal table gives 0.67449 for 0.75
# and 1.28155 for 0.9 (frost in every year).
@pytest.mark.parametrize(
    ("share", "risk", "after", "until"),
    [
        (1.0, 0.1, 100 + 10 * 1.28155, 100 - 10 * 1.28155),
        (0.4, 0.1, 100 + 10 * 0.67449, 100 - 10 * 0.67449),
        (0.4, 0.2, 100.0, 100.0),
    ],
)
def test_a_safe_day_where_some_years_have_no_frost(share: float, risk: float, after: float, until: float) -> None:
    dates = FrostDates(100.0, 10.0, share)
    assert (dates.safe_after(risk), dates.safe_until(risk)) == (int(np.ceil(after)), int(np.floor(until)))


@pytest.mark.parametrize("risk", [0.4, 0.5])
def test_every_day_is_safe_where_frost_is_rarer_than_the_risk(risk: float) -> None:
    dates = FrostDates(100.0, 10.0, 0.4)
    assert (dates.safe_after(risk), dates.safe_until(risk)) == (None, None)


@pytest.mark.parametrize(
    ("sd", "share", "said"),
    [
        (0.0, 1.0, "the spread of a frost date is a positive number of days"),
        (-1.0, 1.0, "the spread of a frost date is a positive number of days"),
        (5.0, -0.1, "the share of years with frost lies between 0 and 1"),
        (5.0, 1.1, "the share of years with frost lies between 0 and 1"),
    ],
)
def test_frost_dates_that_cannot_be(sd: float, share: float, said: str) -> None:
    with pytest.raises(ValueError, match=f"^{said}$"):
        FrostDates(100.0, sd, share)


@pytest.mark.parametrize(
    ("taken", "left"),
    [
        (-1, [0.1, 0.2, 0.3, 0.4]),
        (0, [0.1, 0.2, 0.3, 0.4]),
        (1, [0.3, 0.3, 0.4]),
        (2, [0.6, 0.4]),
        (3, [1.0]),
        (9, [1.0]),
    ],
)
def test_what_is_left_of_a_count_for_those_who_come_later(taken: int, left: list[float]) -> None:
    assert left_after(np.array([0.1, 0.2, 0.3, 0.4]), taken) == pytest.approx(left)
