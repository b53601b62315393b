"""Heat that shuts a way, a cover that warms by the sun, ground work that waits for rain: worked apart from the code."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from elder.engine.climate.climate import Climate
from elder.engine.climate.frost import Frost
from elder.engine.climate.normals import Normals, garden_year_position
from elder.engine.handbook.loading import handbook
from elder.engine.place.light import Aspect, PlaceLight
from elder.engine.place.possible_warmth import lifts_by_position
from elder.engine.place.solar_gain import sun_share
from elder.engine.place.warmth import Place, hourly_temperatures
from elder.engine.place.weather import DayAhead, SimulatedWeather, noon_at
from elder.engine.plan.curve import CutDay
from elder.engine.plan.heat import too_hot
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.round.milestones import Task
from elder.engine.round.weather_days import after_rain, gales, is_ground_work, waiting_for_rain
from elder.engine.setting import Setting

TODAY = date(2027, 4, 6)
# A made-up desert: nights of 8 to 28 °C, days of 20 to 43.
DESERT = Climate(
    33.4, -112.0, 330, "America/Phoenix",
    Normals((8, 9, 12, 15, 20, 25, 28, 28, 25, 18, 11, 8), (20, 22, 26, 31, 36, 41, 43, 42, 38, 32, 25, 20)),
    Frost(None, None),
)  # fmt: skip
RACK = Place("air")


def desert(plant: str, way: str, place: Place = RACK, *, shaded: bool = False) -> Setting:
    item = handbook()[plant]
    return Setting(item, item.method(way), DESERT, place, place, TODAY, shaded=shaded)


def hot_days(setting: Setting) -> tuple[date, date]:
    days = np.flatnonzero(too_hot(setting, date(2027, 1, 1), 365))
    assert np.array_equal(days, np.arange(days[0], days[-1] + 1))
    return tuple(date(2027, 1, 1) + timedelta(days=int(end)) for end in (days[0], days[-1]))  # type: ignore[return-value]


def test_high_summer_shuts_a_way_in_a_desert() -> None:
    # Tomato's roots bear 36 °C, in shade 40: scipy's periodic spline through the twelve means, read at noon, lies above
    # 36 from 17 May to 26 September and above 40 from 9 June to 2 September.
    assert hot_days(desert("tomato", "jar")) == (date(2027, 5, 17), date(2027, 9, 26))
    assert hot_days(desert("tomato", "jar", shaded=True)) == (date(2027, 6, 9), date(2027, 9, 2))


def test_a_room_and_bare_wood_know_no_summer() -> None:
    assert not too_hot(desert("tomato", "jar", Place("room", day_c=40)), TODAY, 300).any()
    assert not too_hot(desert("grapevine", "stick"), TODAY, 300).any()


def test_a_plan_says_that_heat_closes_a_day() -> None:
    plan = plan_want(Want(wanted=4, by=date(2027, 11, 5), purpose="spare"), desert("basil", "mix"))
    assert isinstance(plan, SeasonPlan)
    # Basil bears 37 °C, which the days last pass on 21 September.
    day, next_day = (plan.option(date(2027, 9, day)) for day in (21, 22))
    assert (day.standing, day.closed_by) == (CutDay.CLOSED, "heat")
    assert next_day.standing != CutDay.CLOSED


def test_a_shut_cover_warms_by_the_sun_about_the_same_mean() -> None:
    share = sun_share(PlaceLight(), 52.6, -4.1)
    assert share is not None
    assert share.by_day.mean() == pytest.approx(1.0)
    # Clear-sky energy on level ground at 52.6°: about 2.0 of the mean at midsummer, 0.1 at midwinter (pvlib's Haurwitz
    # clear sky of 2027 gives 1.91 and 0.17: test below).
    assert share.by_day[171] == pytest.approx(1.96, abs=0.1)
    assert share.by_day[354] == pytest.approx(0.13, abs=0.05)
    frame = Place("air", lift_day_c=6.0, sun=share)
    assert frame.lift_on(171) == pytest.approx(6 * share.by_day[171])
    assert frame.lifts.mean() == pytest.approx(6.0)
    climate = replace(DESERT, latitude=52.6, longitude=-4.1)
    shut, open_ = hourly_temperatures(frame, climate), hourly_temperatures(Place("air", lift_day_c=6.0), climate)
    assert shut[171].max() - open_[171].max() == pytest.approx(6 * (share.by_day[171] - 1), abs=0.1)
    assert noon_at(frame, DayAhead(date(2027, 6, 21), 20.0, 10.0)) == pytest.approx(20 + 6 * share.by_day[171])


def test_a_clear_sky_by_another_library() -> None:
    # pvlib 0.16.1, clear sky of Haurwitz (1945): global energy of the day on level ground over its yearly mean.
    import pandas as pd
    import pvlib

    times = pd.date_range("2027-01-01", "2028-01-01", freq="20min", tz="UTC", inclusive="left")
    zenith = pvlib.solarposition.get_solarposition(times, 52.6, -4.1)["apparent_zenith"]
    daily = pvlib.clearsky.haurwitz(zenith)["ghi"].to_numpy().reshape(365, -1).sum(axis=1)
    share = sun_share(PlaceLight(), 52.6, -4.1)
    assert share is not None
    assert np.abs(share.by_day - daily / daily.mean()).max() < 0.08


def test_what_never_sees_the_sun_is_warmed_by_the_sky() -> None:
    north = sun_share(PlaceLight(aspect=Aspect(0.0, skyline=((0.0, 40.0),))), 52.6, -4.1)
    said = sun_share(PlaceLight("bright shade"), 52.6, -4.1)
    assert north is not None
    assert said is not None
    assert np.allclose(north.by_day, said.by_day)
    assert sun_share(PlaceLight(aspect=Aspect(0.0, skyline=((0.0, 90.0),))), 52.6, -4.1) is None


def test_lifts_stand_at_their_place_from_midwinter() -> None:
    share = sun_share(PlaceLight(), 52.6, -4.1)
    lifts = lifts_by_position(Place("air", lift_day_c=1.0, sun=share), DESERT.normals)
    assert sorted(lifts.tolist()) == pytest.approx(sorted(share.by_day.tolist()))  # type: ignore[union-attr]
    for doy in (0, 171, 354):
        at = garden_year_position(DESERT.normals, np.array([doy]))[0]
        assert lifts[at] == share.by_day[doy]  # type: ignore[union-attr]


def ahead(*rain: float, gusts: tuple[float, ...] = ()) -> list[DayAhead]:
    blown = [*gusts, *[0.0] * (len(rain) - len(gusts))]
    return [
        DayAhead(TODAY + timedelta(days=i), 14, 6, mm, kmh) for i, (mm, kmh) in enumerate(zip(rain, blown, strict=True))
    ]


@pytest.mark.parametrize(
    ("rain", "days"),
    [((0, 0, 8, 0), 3), ((6, 0, 0, 0), 0), ((4.9, 0, 0, 0), None), ((0,) * 6 + (9,), None), ((0, 0, 0, 0, 0, 5), 6)],
)
def test_ground_work_waits_for_rain(rain: tuple[float, ...], days: int | None) -> None:
    found = after_rain(ahead(*rain), TODAY)
    assert found == (None if days is None else TODAY + timedelta(days=days))


def test_a_task_put_off_may_be_done_all_the_same() -> None:
    dig = Task("lift", TODAY - timedelta(days=3), 5)
    later = waiting_for_rain(dig, ahead(0, 0, 8, 0), TODAY)
    assert (later.due, later.opens) == (TODAY + timedelta(days=3), TODAY - timedelta(days=3))
    assert waiting_for_rain(dig, ahead(8, 0, 0, 0), TODAY) == dig
    assert waiting_for_rain(dig, ahead(0, 0, 0, 0), TODAY) == dig
    far = replace(dig, due=TODAY + timedelta(days=9))
    assert waiting_for_rain(far, ahead(0, 0, 8, 0), TODAY) == far


def test_digging_and_sticking_in_the_ground_are_ground_work() -> None:
    work = [(verb, direct) for verb in ("lift", "stick", "water") for direct in (True, False)
            if is_ground_work(Task(verb, TODAY, 1), direct=direct)]  # fmt: skip
    assert work == [("lift", True), ("lift", False), ("stick", True)]


def test_gales_within_five_days() -> None:
    days = ahead(*[0.0] * 8, gusts=(59.0, 60.0, 20.0, 88.0, 0.0, 0.0, 95.0))
    assert [day.gust_kmh for day in gales(days, TODAY)] == [60.0, 88.0]


def test_invented_rain_comes_as_it_is_told() -> None:
    service, climate = SimulatedWeather(7), replace(DESERT, latitude=52.6)
    days = [service.ahead(climate, today=TODAY + timedelta(days=i), days=2) for i in range(300)]
    assert [late[0].rain_mm for late in days[1:]] == [early[1].rain_mm for early in days[:-1]]
    wet = [one[0].rain_mm > 0 for one in days]
    # A chain that turns wet in 3 of 10 and stays so in 6 of 10 is wet 0.3/(0.3 + 0.4) = 43% of days.
    assert 0.33 < sum(wet) / len(wet) < 0.53
    assert all(5 < one[0].gust_kmh < 130 for one in days)
