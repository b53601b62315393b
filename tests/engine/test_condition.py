"""What lowers a take, and what a mother has to cut: one rule each, against cases worked by hand."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest
from scipy.stats import betabinom

from elder.engine.assumptions import Assumptions
from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Wood
from elder.engine.mother.gives_today import wood_opens
from elder.engine.place.warmth import Place
from elder.engine.plan.condition import Condition, CutFrom, condition_on
from elder.engine.plan.curve import cuttable_days
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.plan.wood import MotherHere, season_at, wood_days
from elder.engine.setting import Setting

SILL, GLASS = Place("room", day_c=20, night_c=17), Place("air", lift_day_c=7, lift_night_c=2, floor_c=5)
NOVEMBER, AUGUST = date(2027, 11, 10), date(2027, 8, 10)


@pytest.mark.parametrize(
    ("reasons", "share"),
    [
        ([], 1.0),
        (["sound"], 1.0),
        (["flowering"], 0.6),
        (["wilted"], 0.75),
        (["out_of_season"], 0.45),
        (["flowering", "wilted", "flowering"], 0.45),  # 0.6 × 0.75, each once
        (["flowering", "wilted", "out_of_season"], 0.2025),
    ],
)
def test_what_is_left_of_a_take(reasons: list[str], share: float) -> None:
    condition = Condition.of(reasons)
    assert condition.share == pytest.approx(share)
    lowered = condition.lowers(Take(0.8, 10))
    assert (lowered.mean, lowered.weight) == (pytest.approx(0.8 * share), 10)


def test_what_a_look_over_finds_costs_takes_and_days() -> None:
    """The shares and days of ``stems.yaml``, by hand: half ripe 0.8 and 1.25, hungry 0.7 and 1.15, in flower 0.6 and
    1.15."""
    found = Condition.of(["yellow", "half_soft"])
    assert found.reasons == ("half_soft", "yellow")
    assert found.share == pytest.approx(0.56)
    assert found.days == pytest.approx(1.4375)
    slow = found.slowed(handbook()["tomato"].method("jar"))
    assert (slow.rooting.early, slow.rooting.late) == (10, 21)  # 7 and 14 days, 10.06 and 20.1: the longest last
    assert slow.establish == handbook()["tomato"].method("jar").establish
    assert Condition.of(["flowering"]).days == 1.15
    assert Condition.of(["wilted", "out_of_season"]).days == 1
    # Dead, in a rosette, overrun and sick: 0.1 × 0.1 × 0.6 × 0.5 would be 3 in 1,000.
    assert Condition.of(["brown", "rosette", "pests_many", "sick"]).share == 0.02


def test_a_slow_stem_is_planned_for_as_a_slower_way_would_be(north: Climate) -> None:
    tomato = handbook()["tomato"]
    way, start = tomato.method("jar"), date(2027, 3, 1)
    setting = Setting(tomato, way, north, SILL, SILL, start)
    plan = plan_want(Want(6, by=date(2027, 6, 15), condition=Condition.of(["half_soft"])), setting)
    rooting = replace(way.rooting, early=9, late=18)  # 7–14 days, 1.25 times as long
    slower = replace(way, take=Take(0.9 * 0.8, way.take.weight), rooting=rooting)
    same = plan_want(Want(6, by=date(2027, 6, 15)), replace(setting, method=slower))
    assert isinstance(plan, SeasonPlan)
    assert isinstance(same, SeasonPlan)
    assert plan.recommended == same.recommended
    assert plan.option(plan.recommended).count == same.option(same.recommended).count
    ordinary = plan_want(Want(6, by=date(2027, 6, 15)), setting)
    assert isinstance(ordinary, SeasonPlan)
    assert plan.recommended < ordinary.recommended


def test_what_costs_nothing_is_not_kept() -> None:
    assert Condition.of(["soft", "wilted", "nonsense"]).reasons == ("wilted",)


def test_the_season_of_what_is_cut(north: Climate) -> None:
    rosemary, pineapple = handbook()["rosemary"], handbook()["pineapple"]
    soft = rosemary.method("mix")
    here = CutFrom(rosemary, north)
    assert condition_on(soft, here, NOVEMBER).reasons == ("out_of_season",)
    assert condition_on(soft, here, date(2027, 5, 20)).reasons == ()
    assert condition_on(soft, CutFrom(rosemary, north, indoors=True), NOVEMBER).reasons == ()
    flowering = MotherHere(seen_on=date(2027, 5, 1), growth="flowering", wood="soft")
    assert condition_on(soft, CutFrom(rosemary, north, mother=flowering), date(2027, 5, 20)).reasons == ("flowering",)
    assert condition_on(soft, CutFrom(rosemary, north, mother=flowering), date(2027, 6, 1)).reasons == ()  # long ago
    # A pup is whole, whatever the day.
    assert condition_on(pineapple.method("pup"), CutFrom(pineapple, north, indoors=False), NOVEMBER).reasons == ()


@pytest.mark.parametrize(
    ("seen", "has"),
    [
        # growing, softwood, semi-ripe, dormant
        (MotherHere(growth="growing"), (True, None, None, False)),
        (MotherHere(growth="growing", shoots=36), (True, True, True, False)),
        (MotherHere(growth="growing", wood="soft"), (True, True, False, False)),
        (MotherHere(growth="fruiting", wood="half"), (True, False, True, False)),
        (MotherHere(growth="growing", wood="ripe"), (True, False, True, False)),
        (MotherHere(growth="resting"), (False, False, False, True)),
        (MotherHere(growth="growing", wood="bare", shoots=4), (False, False, False, True)),
    ],
)
def test_what_was_seen_on_a_mother(seen: MotherHere, has: tuple[bool | None, ...]) -> None:
    woods: tuple[Wood, ...] = ("growing", "softwood", "semi-ripe", "dormant")
    assert tuple(seen.has(wood) for wood in woods) == has
    assert seen.has("any") is None


def test_what_was_seen_goes_before_the_calendar_for_thirty_days(north: Climate) -> None:
    """A mint seen growing with 36 shoots on 10 November: by the calendar it rests until 24 April."""
    mint = handbook()["mint"]
    seen = MotherHere(seen_on=NOVEMBER, growth="growing", shoots=36)
    start = NOVEMBER - timedelta(days=5)
    days = wood_days(mint, "growing", north, (start, 60), mother=seen)
    assert not wood_days(mint, "growing", north, (start, 60)).any()
    assert np.flatnonzero(days).tolist() == list(range(5, 36))  # the day itself and thirty more
    assert wood_opens(mint, north, NOVEMBER, seen) == NOVEMBER
    assert wood_opens(mint, north, NOVEMBER) == date(2028, 4, 24)
    # And one seen at rest in June has nothing, for as long.
    rests = MotherHere(seen_on=date(2027, 6, 1), growth="resting")
    june = wood_days(mint, "growing", north, (date(2027, 6, 1), 40), mother=rests)
    assert np.flatnonzero(june).tolist() == list(range(31, 40))


def test_a_mother_has_the_season_of_her_place(north: Climate) -> None:
    banana = handbook()["banana"]
    room, glass, out = (
        wood_days(banana, "growing", north, (date(2027, 1, 1), 365), mother=MotherHere(place))
        for place in (SILL, GLASS, Place("air"))
    )
    assert room.all()
    # Under glass the mean is 4.5 °C higher, so the season is longer at both ends; the want's own word goes before.
    assert out.sum() < glass.sum() < 365
    assert set(np.flatnonzero(out)) < set(np.flatnonzero(glass))
    said = wood_days(banana, "growing", north, (date(2027, 1, 1), 365), mother=MotherHere(SILL), indoors=False)
    assert (said == out).all()
    assert season_at(Place("air"), north) is north
    assert season_at(GLASS, north).normals.t_min[0] == 5  # 1.2 + 2 is below the floor
    assert season_at(GLASS, north).normals.t_max[6] == pytest.approx(22.3 + 7)


@pytest.mark.parametrize("slug", ["gooseberry", "grapevine"])
def test_no_dormant_sticks_in_august(north: Climate, slug: str) -> None:
    plant = handbook()[slug]
    seen = MotherHere(seen_on=AUGUST, growth="growing", shoots=20)
    opens = wood_opens(plant, north, AUGUST, seen)
    assert opens is not None
    assert opens >= date(2027, 10, 1)


def test_a_want_of_a_mother_in_flower_asks_for_more(north: Climate) -> None:
    plant = handbook()["tomato"]
    none_lost = Assumptions(stand_share=1.0)
    setting = Setting(plant, plant.methods[0], north, SILL, SILL, date(2027, 3, 1), none_lost)
    plain = plan_want(Want(4), setting)
    flower = plan_want(Want(4, condition=Condition.of(["flowering"])), setting)
    assert isinstance(plain, SeasonPlan)
    assert isinstance(flower, SeasonPlan)
    assert (flower.roots.mean, flower.roots.weight) == (pytest.approx(0.54), 20)  # 0.9 × 0.6
    # Of Beta(10.8, 9.2), the fewest of which four root with 0.9: the beta-binomial's tail.
    assert plain.table.least == next(n for n in range(4, 30) if betabinom.sf(3, n, 18, 2) >= 0.9)
    assert flower.table.least == next(n for n in range(4, 30) if betabinom.sf(3, n, 10.8, 9.2) >= 0.9)


def test_a_want_cuts_when_its_mother_has_wood(north: Climate) -> None:
    mint = handbook()["mint"]
    setting = Setting(mint, mint.methods[0], north, SILL, SILL, NOVEMBER)
    seen = MotherHere(place=SILL, seen_on=NOVEMBER, growth="growing")
    assert cuttable_days(Want(1, mother=seen), setting, NOVEMBER, 90).all()
    assert not cuttable_days(Want(1), setting, NOVEMBER, 90).any()
