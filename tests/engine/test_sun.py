"""The sun, the hours a window has of it, and the foot of a wall: against reference libraries and a brute ray test."""

from __future__ import annotations

import math
from datetime import UTC, date, datetime, timedelta, timezone

import numpy as np
import pandas as pd
import pvlib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elder.engine.place.light import (
    Aspect,
    Leafy,
    Lit,
    PlaceLight,
    direct_sun_hours,
    light_year,
    seen,
    sky_share,
    skyline_height,
    sunlit_spans,
)
from elder.engine.place.skyline import Obstacle, looking, outline, over_one_another
from elder.engine.place.sun import sun_path, sun_position
from elder.engine.place.wall import shaded_strip_m, strip_of_year
from tests.engine.test_outside import CHECKS

HARROW = 52.6, -4.1
SOUTHERN = -34.9, 138.6


def test_the_golden_case() -> None:
    # NREL/TP-560-34302: zenith 50.11162, azimuth 194.34024, with refraction of about 0.014° at that height.
    check = CHECKS["spa"]
    where = check["inputs"]
    elevation, azimuth = sun_position(where["lat"], where["lon"], datetime.fromisoformat(where["local"]))
    assert 90 - elevation == pytest.approx(check["expected"][0], abs=0.03)
    assert azimuth == pytest.approx(check["expected"][1], abs=check["tolerance"])


def test_a_thousand_places_and_times() -> None:
    # pvlib 0.16.1, nrel_numpy, geometric elevation; azimuth along its own circle, as it means nothing overhead.
    chance = np.random.default_rng(15)
    for _ in range(100):
        latitude = math.degrees(math.asin(chance.uniform(-1, 1)))
        longitude = chance.uniform(-180, 180)
        since = chance.integers(0, 40 * 365 * 86400, 10).tolist()
        times = [datetime(1995, 1, 1, tzinfo=UTC) + timedelta(seconds=seconds) for seconds in since]
        table = pvlib.solarposition.get_solarposition(pd.DatetimeIndex(times), latitude, longitude)
        for when, up, round_ in zip(times, table["elevation"], table["azimuth"], strict=True):
            elevation, azimuth = sun_position(latitude, longitude, when)
            assert elevation == pytest.approx(up, abs=0.05)
            turned = (azimuth - round_ + 180) % 360 - 180
            assert abs(turned) * math.cos(math.radians(elevation)) < 0.05


def test_an_offset_is_read() -> None:
    summer = timezone(timedelta(hours=1))
    assert sun_position(*HARROW, datetime(2027, 6, 1, 13, tzinfo=summer)) == sun_position(
        *HARROW,
        datetime(2027, 6, 1, 12),  # noqa: DTZ001 - read as UTC
    )


@pytest.mark.parametrize(("latitude", "longitude"), [(91, 0), (0, 181)])
def test_off_the_globe(latitude: float, longitude: float) -> None:
    with pytest.raises(ValueError, match="latitude lies between"):
        sun_position(latitude, longitude, datetime(2027, 1, 1, tzinfo=UTC))
    with pytest.raises(ValueError, match="latitude lies between"):
        direct_sun_hours(latitude, longitude, date(2027, 1, 1))


def test_a_path_agrees_with_its_positions() -> None:
    path = sun_path(*HARROW, date(2027, 3, 1), 3, step_min=60)
    for day in range(3):
        for step in (2, 9, 13, 20):
            when = datetime(2027, 3, 1 + day, tzinfo=UTC) + timedelta(minutes=float(path.minutes[day, step]))
            assert (path.elevation[day, step], path.azimuth[day, step]) == pytest.approx(
                sun_position(*HARROW, when), abs=2e-3
            )


def test_window_hours() -> None:
    # pvlib 0.16.1 on a 10 s grid: a vertical pane that sees everything before it.
    check = CHECKS["window"]
    for asked_of, expected in zip(check["inputs"], check["expected"], strict=True):
        for (day, facing), hours in zip(asked_of["cases"], expected, strict=True):
            asked = {"facing_deg": facing, "half_angle_deg": 90.0}
            where = asked_of["lat"], asked_of["lon"], date.fromisoformat(day)
            assert direct_sun_hours(*where, **asked) == pytest.approx(hours, abs=1 / 6)
            assert direct_sun_hours(*where, **asked, step_min=1) == pytest.approx(hours, abs=check["tolerance"])


def test_polar_day_and_night() -> None:
    # Tromsø, where the sun neither sets on 20 June nor rises on 21 December.
    assert direct_sun_hours(69.6492, 18.9553, date(2024, 6, 20)) == 24.0
    assert direct_sun_hours(69.6492, 18.9553, date(2024, 12, 21)) == 0.0


def test_hours_do_not_know_summer_time() -> None:
    # The clock was put forward on 28 March 2027; days on either side differ by minutes, not by an hour.
    hours = [direct_sun_hours(*HARROW, date(2027, 3, day), facing_deg=135, step_min=2) for day in (27, 28, 29)]
    assert max(hours) - min(hours) < 0.1


def test_a_skyline_goes_straight_and_round_through_north() -> None:
    skyline = ((10.0, 20.0), (350.0, 10.0), (180.0, 40.0))
    at = np.array([0.0, 10.0, 95.0, 265.0, 350.0, 355.0])
    assert skyline_height(skyline, at).tolist() == pytest.approx([15.0, 20.0, 30.0, 25.0, 10.0, 12.5])
    assert skyline_height(((77.0, 12.0),), at).tolist() == [12.0] * 6


def test_hours_above_a_skyline() -> None:
    # pvlib 0.16.1: on 1 May at 52.6° N the sun stands above 30° for 8.00 hours, above 29° for 8.23.
    for height, hours in ((30.0, 8.0), (29.0, 8.233)):
        found = direct_sun_hours(*HARROW, date(2027, 5, 1), skyline=((0.0, height),), step_min=1)
        assert found == pytest.approx(hours, abs=0.04)
    half = direct_sun_hours(
        *HARROW, date(2027, 5, 1), skyline=((0, 30), (179.99, 30), (180, 90), (359.99, 90)), step_min=1
    )
    assert half == pytest.approx(4.0, abs=0.04)


def test_an_overhang_goes_by_the_profile_angle() -> None:
    # Facing south under a lintel of 45°: straight before it 45°, 60° to the side atan(cos 60°) = 26.57°.
    aspect = Aspect(180.0, overhang_deg=45.0)
    elevation = np.array([44.9, 45.1, 26.5, 26.7])
    azimuth = np.array([180.0, 180.0, 240.0, 240.0])
    assert seen(aspect, elevation, azimuth).tolist() == [True, False, True, False]


def test_a_window_sees_75_degrees_to_each_side() -> None:
    azimuth = np.array([104.9, 105.1, 254.9, 255.1])
    assert seen(Aspect(180.0), np.full(4, 10.0), azimuth).tolist() == [False, True, True, False]


@settings(max_examples=60, deadline=None)
@given(
    st.floats(-80, 80),
    st.integers(0, 364),
    st.lists(st.tuples(st.floats(0, 359), st.floats(0, 60)), min_size=1, max_size=6, unique_by=lambda point: point[0]),
    st.floats(0, 30),
    st.one_of(st.none(), st.floats(0, 359)),
)
def test_a_higher_skyline_never_gives_more_sun(
    latitude: float, doy: int, points: list[tuple[float, float]], more: float, facing: float | None
) -> None:
    day = date(2027, 1, 1) + timedelta(days=doy)
    low, high = (
        direct_sun_hours(
            latitude, 10.0, day, facing_deg=facing, skyline=tuple((at, height + by) for at, height in points)
        )
        for by in (0.0, more)
    )
    assert high <= low


def test_the_outline_of_a_house() -> None:
    # 8 m high, 12 m off, 10 m wide, to the south: atan(8/12) = 33.69° in the middle, seen 22.62° to each side, and
    # there atan(8·cos 22.62°/12) = 31.61°.
    house = Obstacle(180.0, 8.0, 12.0, 10.0)
    assert house.half_angle_deg == pytest.approx(22.62, abs=0.01)
    heights = skyline_height(outline(house), np.array([150.0, 158.0, 180.0, 202.0, 210.0]))
    assert heights.tolist() == pytest.approx([0, 31.65, 33.69, 31.65, 0], abs=0.1)


def test_a_house_behind_a_drawn_skyline() -> None:
    drawn = ((90.0, 10.0), (270.0, 10.0))
    both = over_one_another([drawn, outline(Obstacle(180.0, 8.0, 12.0, 10.0))])
    assert skyline_height(both, np.array([100.0, 180.0, 300.0])).tolist() == pytest.approx(
        [10.0, 33.69, 10.0], abs=0.05
    )


def test_what_stands_before_a_place_is_somewhere() -> None:
    with pytest.raises(ValueError, match="stands some way off"):
        Obstacle(180.0, 8.0, 0.0, 10.0)


def test_a_tree_counts_in_leaf() -> None:
    tree = Leafy(((0.0, 90.0),), 120, 300)
    light = PlaceLight(aspect=Aspect(trees=(tree,)))
    bare, open_ground = light_year(light, *HARROW), light_year(PlaceLight(), *HARROW)
    assert bare.direct_h[120:301].tolist() == [0.0] * 181
    assert bare.direct_h[119] == open_ground.direct_h[119]
    assert Leafy((), 300, 60).counts_on(10)
    assert not Leafy((), 300, 60).counts_on(100)


def test_a_year_is_its_days() -> None:
    facing = looking(135.0, 75.0, 70.0, ((90.0, 12.0), (200.0, 25.0)), [])
    year = light_year(PlaceLight(aspect=facing), *HARROW)
    for day in (date(2027, 1, 17), date(2027, 5, 2), date(2027, 9, 30)):
        hours = direct_sun_hours(
            *HARROW, day, facing_deg=135.0, skyline=((90.0, 12.0), (200.0, 25.0)), overhang_deg=70.0
        )
        assert year.on(day).direct_h == pytest.approx(hours)


def test_words_and_measures_come_to_the_same_value() -> None:
    day = date(2027, 6, 20)
    open_ground, full, part, bright = (
        light_year(light, *HARROW).on(day)
        for light in (PlaceLight(), PlaceLight("full sun"), PlaceLight("part sun"), PlaceLight("bright shade"))
    )
    assert open_ground.word == "full sun"
    assert open_ground.direct_h == pytest.approx(16.5, abs=0.2)  # geometric: shorter than sunrise to sunset
    assert (full.direct_h, part.direct_h) == pytest.approx((0.8 * open_ground.direct_h, 0.35 * open_ground.direct_h))
    assert bright == Lit(0.0, 0.0, 0.0, 0.3)
    assert [one.word for one in (full, part, bright, Lit(0, 0, 0, 0.05))] == [
        "full sun", "part sun", "bright shade", "full shade",
    ]  # fmt: skip


def test_a_cloth_takes_its_part() -> None:
    day = date(2027, 6, 20)
    under, bare = (light_year(PlaceLight(cloth=cloth), *HARROW).on(day) for cloth in (0.6, 0.0))
    assert (under.direct_h, under.strong_h, under.sky) == pytest.approx(
        (0.4 * bare.direct_h, 0.4 * bare.strong_h, 0.4 * bare.sky)
    )
    assert Lit(1.0, 0, 0, 0.3, lamp_h=14.0).grows_h == 8.0
    assert [Lit(hours, 0, 0, 0.05).word for hours in (0.4, 0.5, 2.0, 6.0)] == [
        "full shade", "bright shade", "part sun", "full sun",
    ]  # fmt: skip


def test_the_share_of_the_sky() -> None:
    # An even skyline of 30° leaves cos² 30° of level ground's light; half of it behind a wall of 90°, a half.
    assert sky_share(Aspect()) == 1.0
    assert sky_share(Aspect(skyline=((0.0, 30.0),))) == pytest.approx(0.75)
    assert sky_share(Aspect(180.0, 90.0)) == pytest.approx(0.5, abs=0.01)


def test_when_the_sun_is_on_a_sill() -> None:
    # It enters a south window 75° east of its normal and leaves it 75° west.
    spans = sunlit_spans(Aspect(180.0), *HARROW, date(2027, 3, 21))
    assert len(spans) == 1
    for minutes, azimuth in zip(spans[0], (105.0, 255.0), strict=True):
        when = datetime(2027, 3, 21, tzinfo=UTC) + timedelta(minutes=minutes)
        assert sun_position(*HARROW, when)[1] == pytest.approx(azimuth, abs=0.5)


def test_two_spans_round_a_chimney() -> None:
    aspect = looking(180.0, 75.0, 90.0, (), [Obstacle(180.0, 10.0, 2.0, 1.0)])
    assert len(sunlit_spans(aspect, *HARROW, date(2027, 12, 21))) == 2


def brute_strip(latitude: float, day: date, height: float, facing: float, hours: float) -> float:
    """Points on a line out from the wall, each tried against every position of the sun by casting a ray."""
    path = sun_path(latitude, 0.0, day)
    out = np.arange(0.025, 40, 0.05)
    sun = np.zeros_like(out)
    for elevation, azimuth in zip(path.elevation[0], path.azimuth[0], strict=True):
        if elevation <= 0:
            continue
        # Along the ray from a point d metres out, the wall's plane is met where it has gone back d; how high then?
        back = -math.cos(math.radians(azimuth - facing))
        met = np.inf if back <= 0 else out / back * math.tan(math.radians(elevation))
        sun += (met > height) * (10 / 60)
    kept = out[sun <= hours + 1e-9]
    return float(kept.max()) if len(kept) else 0.0


@pytest.mark.parametrize("latitude", [52.6, -34.9])
@pytest.mark.parametrize("hours", [0.0, 2.0])
def test_the_strip_against_rays(latitude: float, hours: float) -> None:
    away = 0.0 if latitude > 0 else 180.0
    for month in range(1, 13):
        for facing in (away, away + 40, 90.0):
            day = date(2027, month, 21)
            found = shaded_strip_m(latitude, 0.0, day, wall_height_m=2.0, wall_facing_deg=facing, most_hours=hours)
            assert min(found, 40) == pytest.approx(brute_strip(latitude, day, 2.0, facing, hours), abs=0.06)


def test_the_strip_is_there_half_the_year() -> None:
    north = strip_of_year(*HARROW, wall_height_m=1.0, wall_facing_deg=0.0)
    # At noon on 21 December the sun stands 90 − 52.6 − 23.44 = 13.96° high: 1/tan of it is 4.02 m.
    assert north[354] == pytest.approx(4.02, abs=0.02)
    # From the equinox on (20 March, 23 September) the sun rises before the wall; two or three days later for a whole
    # step of ten minutes.
    assert np.flatnonzero(north == 0).tolist() == list(range(81, 263))
    south = strip_of_year(*SOUTHERN, wall_height_m=1.0, wall_facing_deg=180.0)
    assert south[171] == pytest.approx(1 / math.tan(math.radians(90 - 34.9 - 23.44)), abs=0.02)
    assert south[354] == 0.0


def test_no_sun_at_all_is_shade_everywhere() -> None:
    assert shaded_strip_m(75.0, 0.0, date(2027, 12, 21), wall_height_m=1.0, wall_facing_deg=0.0) == math.inf
    assert shaded_strip_m(*HARROW, date(2027, 6, 21), wall_height_m=1, wall_facing_deg=0, most_hours=24) == math.inf
