"""Wintering by the lowest night, and harvests in their own season: against numbers worked out by hand."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from elder.engine.climate.climate import Climate
from elder.engine.climate.frost import Frost, by_hand
from elder.engine.climate.frost_risk import counts_in, spring_frost
from elder.engine.climate.normals import midsummer
from elder.engine.climate.records import DailyRecords
from elder.engine.climate.years import possible_years
from elder.engine.handbook.loading import clonable, handbook
from elder.engine.place.warmth import Place
from elder.engine.plan.harvest import harvest_day
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.plan.wintering import (
    keeps_at,
    lowest_nights,
    one_in_ten_night,
    share_below,
    stands_through,
    winter_least_c,
)
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting
from tests.engine.stations import station

AIR, GLASS = Place("air"), Place("air", lift_day_c=7, lift_night_c=2)
SILL = Place("room", day_c=20, night_c=17)


@pytest.mark.parametrize(
    ("slug", "place", "least"),
    [
        ("lemon-verbena", SILL, -1),  # in leaf
        ("lemon-verbena", GLASS, -6),  # at rest
        ("perennial-kale", AIR, -8),  # neither is given, and it is hardy: what hurts a young plant
        ("perilla", AIR, 4),  # tender: three degrees above that
        ("basil", GLASS, 13),  # never rests
    ],
)
def test_what_a_plant_bears_where_it_is_kept(slug: str, place: Place, least: float) -> None:
    assert winter_least_c(handbook()[slug], place) == least


def test_nothing_is_kept_warmer_than_it_must_be() -> None:
    """What is kept over in leaf is not asked for more warmth than a young plant needs, where it is a hardy one."""
    for plant in clonable().values():
        if plant.frost_limit_c <= -2 and plant.keep_above_c is not None and plant.slug != "fuchsia":
            assert plant.keep_above_c <= plant.frost_limit_c + 1, plant.slug
        if plant.rest_limit_c is not None:
            assert plant.rest_limit_c <= plant.frost_limit_c, plant.slug


def test_a_place_keeps_a_plant_by_its_lowest_night(north: Climate) -> None:
    """With the frosts of the model's worked example one winter in ten falls to −10.6 °C (within 0.3): under glass 2 °C
    less cold. By the mean of the coldest month, 1 °C, everything hardy would pass."""
    worked = replace(north, frost=Frost(by_hand(109, 129), by_hand(297, 280)))
    under = sorted(lowest_nights(GLASS, worked).tolist())
    assert under[len(under) // 10] == pytest.approx(-10.6 + 2, abs=0.3)
    assert one_in_ten_night(GLASS, worked) == pytest.approx(-10.6 + 2, abs=0.3)
    for limit in (under[0], under[7], -8.0, under[-1], 40.0):  # a night at the limit itself does no harm
        assert share_below(limit, GLASS, worked) == sum(night < limit for night in under) / len(under)
    assert not keeps_at(handbook()["rosemary"], AIR, worked)  # bears −8 at rest
    assert not keeps_at(handbook()["rosemary"], GLASS, worked, 0.05)
    assert keeps_at(handbook()["rosemary"], AIR, worked, 0.6)
    assert keeps_at(handbook()["lavender"], AIR, worked)  # bears −12 at rest
    assert keeps_at(handbook()["rosemary"], Place("air", floor_c=2), worked)
    assert keeps_at(handbook()["rosemary"], SILL, worked)


def test_a_winter_lies_between_two_summers(north: Climate) -> None:
    years = possible_years(north, 400)
    assert len(lowest_nights(AIR, north)) == 400
    assert float(lowest_nights(AIR, north)[7]) == min(*years.t_min[7].tolist())


@pytest.mark.parametrize(("slug", "stands"), [("citrus", False), ("grapevine", True), ("passionfruit", False)])
def test_what_crops_years_later_has_winters_to_stand_through(north: Climate, slug: str, stands: bool) -> None:
    plant = handbook()[slug]
    assert stands_through(plant, north, 0.10) == stands
    plan = plan_want(Want(1), Setting(plant, plant.methods[0], north, SILL, SILL, date(2027, 3, 20)))
    assert (isinstance(plan, Refusal) and plan.code == "no_window") == (not stands)


def test_in_a_pot_for_good_it_wants_a_place_that_keeps_it(north: Climate) -> None:
    citrus = handbook()["citrus"]

    def asked(growing: Place) -> SeasonPlan | Refusal:
        return plan_want(
            Want(1, purpose="pot"), Setting(citrus, citrus.methods[0], north, SILL, growing, date(2027, 3, 20))
        )

    kept, cold = asked(SILL), asked(GLASS)
    assert isinstance(kept, SeasonPlan)
    assert kept.window is None
    assert kept.raising.harden_days == 0
    # First fruit 700–1400 days after it stands in its pot: 990, the geometric mean.
    assert (kept.option(kept.recommended).harvest[1] - kept.target).days == 990  # type: ignore[operator]
    assert isinstance(cold, Refusal)
    assert (cold.code, cold.field, cold.params["keep"]) == ("too_cold_to_keep", "growing_place", -3)
    assert cold.params["least"] == pytest.approx(np.quantile(lowest_nights(GLASS, north), 0.1))


@pytest.mark.parametrize(
    ("slug", "out", "days", "expected"),
    [
        # The warmest day is 30 July. Grapes ripen 55 to 110 days after it: 23 September to 17 November.
        ("grapevine", date(2027, 4, 26), 877, date(2029, 9, 23)),  # 877 days on is 19 September 2029
        ("grapevine", date(2027, 4, 26), 930, date(2029, 11, 11)),  # inside it already
        ("grapevine", date(2027, 4, 26), 960, date(2030, 9, 23)),  # 11 December: the next autumn
        ("tomato", date(2027, 5, 15), 54, date(2027, 7, 8)),  # no season of its own
    ],
)
def test_a_crop_comes_in_its_own_season(north: Climate, slug: str, out: date, days: int, expected: date) -> None:
    assert midsummer(north.normals) == 210
    assert harvest_day(handbook()[slug], north, out, days) == expected


def test_a_southern_crop_ripens_in_southern_autumn(south: Climate) -> None:
    day = harvest_day(handbook()["grapevine"], south, date(2027, 11, 1), 800)
    assert (midsummer(south.normals), day) == (29, date(2030, 3, 26))  # doy 29 + 55 = 84, the 26th of March


@pytest.mark.parametrize(
    ("years", "well_known", "counted"), [(6, False, False), (8, False, True), (8, True, False), (11, True, True)]
)
def test_how_long_records_have_to_be_to_go_before_dates(years: int, well_known: bool, counted: bool) -> None:
    """Told a last frost far from the station's own: it stands below seven years of records, and up to nine where it is
    well known."""
    at = station("brussels")
    days = round(365.25 * years)
    ordinals = np.arange(days) + at.first.toordinal()
    records = DailyRecords(ordinals, at.low[:days], at.high[:days], f"{years} years")
    told = Frost(by_hand(60, 70), by_hand(330, 320), well_known=well_known)
    assert counts_in(records, told) == counted
    dates = spring_frost(replace(at.climate, frost=told, daily_records=records), 0.0)
    assert dates is not None
    assert (dates.years is not None) == counted
