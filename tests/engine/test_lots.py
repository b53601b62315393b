"""Lots, as many as can be, plants carried through winter, seed as the rival."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date, timedelta
from itertools import pairwise

import pytest

from elder.engine.chance.counting import chance_at_least
from elder.engine.chance.rooting_time import units_to_stage
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.place.running_units import daily_units
from elder.engine.place.warmth import Place
from elder.engine.plan.lots import as_many_as, lot_sizes, plan_lots
from elder.engine.plan.overwinter import CarryPlan, carry_over
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.seed_rival import seed_rival
from elder.engine.plan.want import Want
from elder.engine.plan.wintering import keeps_at
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

SPRING, SUMMER = date(2027, 3, 1), date(2027, 8, 1)
COLD = Place("air")


@pytest.mark.parametrize(
    ("wanted", "lots", "sizes"), [(12, 3, [4, 4, 4]), (11, 3, [4, 4, 3]), (5, 5, [1] * 5), (7, 1, [7])]
)
def test_lots_share_out_the_plants(wanted: int, lots: int, sizes: list[int]) -> None:
    assert lot_sizes(wanted, lots) == sizes


def test_more_lots_than_plants_is_an_error() -> None:
    with pytest.raises(ValueError, match="each lot"):
        lot_sizes(2, 3)


def test_lots_stand_apart(north: Climate, sill: Place) -> None:
    basil = handbook()["basil"]
    plans = plan_lots(Want(12), 3, 21, Setting(basil, basil.methods[0], north, sill, sill, SPRING))
    assert all(isinstance(plan, SeasonPlan) for plan in plans)
    targets = [plan.target for plan in plans if isinstance(plan, SeasonPlan)]
    assert [b - a for a, b in pairwise(targets)] == [timedelta(days=21)] * 2
    days = [plan.recommended for plan in plans if isinstance(plan, SeasonPlan)]
    assert days == sorted(set(days))


def test_a_lot_too_late_is_refused(north: Climate, tomato: Plant, sill: Place) -> None:
    plans = plan_lots(Want(12), 4, 60, Setting(tomato, tomato.methods[0], north, sill, sill, SPRING))
    assert isinstance(plans[-1], Refusal)


@pytest.mark.parametrize("cuttings", [2, 6, 12, 30])
def test_as_many_as_cuttings_give(north: Climate, tomato: Plant, sill: Place, cuttings: int) -> None:
    plan = as_many_as(cuttings, Want(1), Setting(tomato, tomato.methods[0], north, sill, sill, SPRING))
    assert isinstance(plan, SeasonPlan)
    assert plan.counts[plan.counts > 0].min() <= cuttings
    # One plant more could not be promised, whatever the day.
    more = float(chance_at_least(plan.want.wanted + 1, cuttings, chance_ready=1.0, take=plan.take))
    assert more < 0.9


def test_one_cutting_of_which_nine_in_ten_take_is_not_nine_in_ten(north: Climate, tomato: Plant, sill: Place) -> None:
    # 0.9 take, and of those that do a slow batch leaves some behind: just below what was asked.
    refused = as_many_as(1, Want(1), Setting(tomato, tomato.methods[0], north, sill, sill, SPRING))
    assert isinstance(refused, Refusal)
    assert refused.code == "not_even_one"


def test_not_even_one_is_said(north: Climate, sill: Place) -> None:
    bay = handbook()["bay"]  # fewer than half take
    refused = as_many_as(2, Want(1), Setting(bay, bay.methods[0], north, sill, sill, SPRING))
    assert isinstance(refused, Refusal)
    assert refused.code == "not_even_one"
    assert refused.params["least"] > 2


def test_carried_through_winter(north: Climate, sill: Place) -> None:
    plant = handbook()["scented-pelargonium"]
    carried = carry_over(Want(6), Setting(plant, plant.methods[0], north, sill, sill, SUMMER))
    assert isinstance(carried, CarryPlan)
    assert carried.first.target.year == 2027
    assert carried.second.target.year == 2028
    assert carried.kept >= carried.mothers >= 1
    count = carried.second.option(carried.second.recommended).count
    assert carried.mothers * carried.gives >= count > (carried.mothers - 1) * carried.gives
    assert not carried.first.want.is_hardened
    assert carried.second.want.is_hardened


def test_winter_wants_a_warm_place(north: Climate, sill: Place) -> None:
    plant = handbook()["scented-pelargonium"]
    assert keeps_at(plant, sill, north)
    refused = carry_over(Want(6), Setting(plant, plant.methods[0], north, sill, COLD, SUMMER))
    assert isinstance(refused, Refusal)
    assert (refused.code, refused.field) == ("too_cold_to_keep", "growing_place")


def test_no_winter_to_carry_through(frost_free: Climate, sill: Place) -> None:
    basil = handbook()["basil"]
    refused = carry_over(Want(6), Setting(basil, basil.methods[0], frost_free, sill, sill, SUMMER))
    assert isinstance(refused, Refusal)
    assert refused.code == "no_winter"


def test_seed_beside_the_clone(north: Climate, tomato: Plant, sill: Place) -> None:
    plan = plan_want(Want(8), Setting(tomato, tomato.methods[0], north, sill, sill, SPRING))
    assert isinstance(plan, SeasonPlan)
    option = plan.option(plan.recommended)
    rival = seed_rival(
        Setting(tomato, tomato.methods[0], north, sill, sill, SPRING), cut_on=plan.recommended, target=plan.target
    )
    assert rival is not None
    assert rival.comes_true
    assert rival.sow_by is not None
    assert rival.sow_by < plan.recommended
    # Common practice: side shoots are about half as long on the way as seed.
    assert option.ready[1] is not None
    assert rival.ready is not None
    assert rival.ready > option.ready[1]
    # By its own law: 9 in 10 of what is sown on the last day are ready by the target, and not a day later.
    assert tomato.seed is not None
    law = units_to_stage(tomato.seed.ready, tomato.cardinals)
    for sown, enough in ((rival.sow_by, True), (rival.sow_by + timedelta(days=1), False)):
        days = (plan.target - sown).days - tomato.methods[0].harden_days + 1
        units = daily_units(sill, north, tomato.cardinals, sown, days).sum()
        assert (float(law.cdf(units)) >= 0.9) == enough


def test_seed_in_a_steady_room_by_division(north: Climate, tomato: Plant, sill: Place) -> None:
    """So many equal days to half of it, then the hardening; the day itself counts as the first."""
    assert tomato.seed is not None
    setting = Setting(tomato, tomato.methods[0], north, sill, sill, SPRING)
    a_day = float(daily_units(sill, north, tomato.cardinals, SPRING, 1)[0])
    median = units_to_stage(tomato.seed.ready, tomato.cardinals).median
    days = math.ceil(median / a_day) - 1 + tomato.methods[0].harden_days
    cut = SPRING + timedelta(days=9)
    rival = seed_rival(setting, cut_on=cut, target=cut)
    assert rival is not None
    assert (rival.days, rival.ready) == (days, cut + timedelta(days=days))
    assert (rival.sow_by, rival.note) == (None, tomato.seed.note)
    # Where it is too cold to grow, no day ever comes.
    cold = Place("room", day_c=2, night_c=2)
    never = seed_rival(replace(setting, rooting_place=cold), cut_on=cut, target=date(2027, 6, 1))
    assert never is not None
    assert (never.sow_by, never.ready, never.days) == (None, None, None)
    # The target before the day it is asked on, less its hardening, is no day to sow for.
    past = seed_rival(setting, cut_on=SPRING, target=SPRING)
    assert past is not None
    assert past.sow_by is None


@pytest.mark.parametrize(
    "wrong",
    [{"wanted": 0}, *({name: value} for name in ("confidence", "accepted_risk") for value in (0.0, 1.0, 1.5, -0.1))],
)
def test_what_cannot_be_wanted(wrong: dict[str, float]) -> None:
    with pytest.raises(ValueError, match=r"^a want is for one plant or more, with a chance strictly between 0 and 1$"):
        Want(**{"wanted": 3, **wrong})  # type: ignore[arg-type]


def test_nothing_is_said_of_seed_that_is_not_known(north: Climate, sill: Place) -> None:
    vine = handbook()["grapevine"]
    assert seed_rival(Setting(vine, vine.methods[0], north, sill, sill, SPRING), cut_on=SPRING, target=SPRING) is None


def test_ways_struck_in_the_ground_want_ground(north: Climate, sill: Place) -> None:
    currant = handbook()["blackcurrant"]
    ground, stick = currant.method("ground"), currant.method("stick")
    refused = plan_want(Want(4), Setting(currant, ground, north, sill, sill, SPRING))
    assert isinstance(refused, Refusal)
    assert (refused.code, refused.field) == ("needs_ground", "rooting_place")
    bed = Place("ground")
    assert isinstance(plan_want(Want(4), Setting(currant, ground, north, bed, bed, date(2027, 10, 1))), SeasonPlan)
    assert isinstance(plan_want(Want(4), Setting(currant, stick, north, sill, sill, date(2027, 10, 1))), SeasonPlan)


def test_a_leaf_is_not_planned_for(north: Climate, tomato: Plant, sill: Place) -> None:
    refused = plan_want(Want(4), Setting(tomato, tomato.method("leaf"), north, sill, sill, SPRING))
    assert isinstance(refused, Refusal)
    assert refused.code == "rarely_a_plant"


def test_green_cuttings_in_open_ground_wait_for_the_frost(north: Climate) -> None:
    plant, bed = handbook()["sweet-potato"], Place("ground")
    plan = plan_want(Want(4), Setting(plant, plant.method("bed"), north, bed, bed, SPRING))
    # Struck when the ground is warm it roots too late to crop; struck the summer before, every winter kills it.
    assert isinstance(plan, Refusal)
    assert (plan.code, plan.params["killed"], plan.params["nights"]) == ("too_cold", 1.0, 0)


def test_a_pup_crops_sooner_than_a_top() -> None:
    pineapple = handbook()["pineapple"]
    top, pup = (pineapple.grown_by(pineapple.method(way)) for way in ("peeled", "pup"))
    assert (top.harvest_early_days, top.harvest_late_days) == (540, 1080)  # 18–36 months, common practice
    assert (pup.harvest_early_days, pup.harvest_late_days) == (365, 730)  # 12–24 months, common practice
