"""Why something cannot be had: each refusal whole, its field and what its sentence needs."""

from __future__ import annotations

import math
from datetime import date, timedelta

import numpy as np
import pytest
from scipy.stats import betabinom

from elder.engine.assumptions import Assumptions
from elder.engine.chance.counting import MOST_CUTTINGS
from elder.engine.climate.climate import Climate
from elder.engine.climate.years import possible_years
from elder.engine.handbook.loading import clonable, handbook
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.material import Material
from elder.engine.plan.overwinter import CarryPlan, carry_over
from elder.engine.plan.planting_windows import planting_windows
from elder.engine.plan.search import FAR_DAYS, plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.plan.windfall import what_can_this_become
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

SILL, AIR, BED = Place("room", day_c=20, night_c=17), Place("air"), Place("ground")
COLD_ROOM = Place("room", day_c=6, night_c=5)
MARCH, MAY = date(2027, 3, 1), date(2027, 5, 10)


def asked(
    climate: Climate, slug: str, way: str = "", *, at: tuple[Place, Place] = (SILL, SILL), on: date = MARCH
) -> Setting:
    plant = handbook()[slug]
    return Setting(plant, plant.method(way) if way else plant.ways[0], climate, *at, on)


def window_of(plant: Plant, climate: Climate, start: date, days: int = 700) -> list[object]:
    return list(planting_windows(plant, climate, accepted_risk=0.10, start=start, days=days))


def test_a_way_that_hardly_ever_makes_a_plant(north: Climate) -> None:
    plant, method = next((p, m) for p in clonable().values() for m in p.methods if not m.is_offered)
    found = plan_want(Want(3), Setting(plant, method, north, SILL, SILL, MARCH))
    assert found == Refusal("rarely_a_plant", "method", {"caveat": method.caveat})
    assert method.caveat


def test_what_is_struck_in_the_ground_wants_ground(north: Climate) -> None:
    found = plan_want(Want(3), asked(north, "blackcurrant", "ground", at=(SILL, SILL)))
    assert found == Refusal(
        "needs_ground", "rooting_place", {"method": handbook()["blackcurrant"].method("ground").name}
    )


def test_more_than_a_stack_of_cuttings(north: Climate) -> None:
    assert plan_want(Want(490), asked(north, "tomato")) == Refusal(
        "too_many", "wanted", {"wanted": 490, "most": MOST_CUTTINGS}
    )


def test_no_bed_ever_suits(north: Climate) -> None:
    assert plan_want(Want(1), asked(north, "banana")) == Refusal("no_window", "plant", {"plant": "Banana"})


@pytest.mark.parametrize("risk", [0.1, 0.3])
def test_too_cold_to_stand_in_a_pot_for_good(north: Climate, risk: float) -> None:
    """How cold one winter in so many gets there, by the lowest of both halves of each possible year."""
    nights = possible_years(north, 400)
    lowest = [min(year) for year in nights.t_min.tolist()]
    found = plan_want(Want(1, purpose="pot", accepted_risk=risk), asked(north, "citrus", at=(SILL, AIR)))
    assert isinstance(found, Refusal)
    assert (found.code, found.field) == ("too_cold_to_keep", "growing_place")
    assert found.params["least"] == pytest.approx(float(np.quantile(lowest, risk)), abs=0.6)
    citrus = handbook()["citrus"]
    assert found.params["keep"] == (citrus.rest_limit_c if citrus.rest_limit_c is not None else citrus.keep_above_c)


def test_a_day_that_is_past_or_past_reckoning(north: Climate) -> None:
    setting = asked(north, "tomato", on=MAY)
    assert plan_want(Want(3, by=MAY), setting) == Refusal("by_past", "by", {"by": MAY, "today": MAY})
    last = MAY + timedelta(days=FAR_DAYS)
    beyond = last + timedelta(days=1)
    assert plan_want(Want(3, by=beyond), setting) == Refusal("by_too_far", "by", {"by": beyond, "latest": last})
    on_the_last = plan_want(Want(3, by=last), setting)
    assert not isinstance(on_the_last, Refusal) or on_the_last.code in ("gate_shut", "gate_not_open")


def test_before_the_gate_and_after_it(north: Climate) -> None:
    tomato = handbook()["tomato"]
    setting = asked(north, "tomato")
    this_year, next_year = window_of(tomato, north, MARCH)[:2]
    early = date(2027, 4, 20)
    found = plan_want(Want(3, by=early), setting)
    assert found == Refusal("gate_not_open", "by", {"by": early, "before": None, "after": this_year})
    late = date(2027, 11, 20)
    found = plan_want(Want(3, by=late), setting)
    assert found == Refusal("gate_shut", "by", {"by": late, "before": this_year, "after": next_year})


def test_what_never_comes_to_be_ready(north: Climate) -> None:
    found = plan_want(Want(3), asked(north, "tomato", at=(COLD_ROOM, COLD_ROOM)))
    assert found == Refusal("never_ready", "plant", {"plant": "Tomato", "wood": handbook()["tomato"].ways[0].wood})


def test_too_late_names_the_first_day_that_is_not(north: Climate) -> None:
    by = date(2027, 5, 20)
    found = plan_want(Want(6, by=by), asked(north, "tomato", on=MAY))
    assert isinstance(found, Refusal)
    assert (found.code, found.field, found.params["by"]) == ("too_late", "by", by)
    soonest = found.params["soonest"]
    assert set(found.params) == {"by", "soonest"}
    assert isinstance(plan_want(Want(6, by=soonest), asked(north, "tomato", on=MAY)), SeasonPlan)


def test_cold_says_the_least_it_asks(north: Climate) -> None:
    """Nights of the day among those with wood and a count on which fewest are to be carried, by trying every one."""
    rosemary, by, on = handbook()["rosemary"], date(2028, 5, 1), date(2027, 3, 20)

    def planned(most: int) -> SeasonPlan | Refusal:
        there = Setting(rosemary, rosemary.ways[0], north, SILL, AIR, on, Assumptions(carry_nights=most))
        return plan_want(Want(2, by=by, purpose="spare"), there)

    found = planned(0)
    assert isinstance(found, Refusal)
    assert (found.code, found.field) == ("too_cold", "by")
    assert set(found.params) == {"by", "soonest", "nights", "killed", "most"}
    assert (found.params["by"], found.params["killed"], found.params["most"]) == (by, 0.0, 0)
    nights = int(found.params["nights"])
    assert nights > 0
    assert isinstance(planned(nights), SeasonPlan)
    assert isinstance(planned(nights - 1), Refusal)


def test_carried_over_in_numbers(north: Climate) -> None:
    """Mothers for the bed's cuttings, each giving half of a grown one's; as many kept that nine times in ten so many
    see the spring, of which 0.85 do, known as well as from ten plants: by the beta-binomial law of scipy."""
    tomato = handbook()["tomato"]
    setting = asked(north, "tomato", on=date(2027, 7, 1))
    found = carry_over(Want(8), setting)
    assert isinstance(found, CarryPlan)
    assert found.gives == max(1, tomato.gives // 2)
    count = found.second.option(found.second.recommended).count
    assert found.mothers == math.ceil(count / found.gives)
    kept = next(n for n in range(1, 200) if betabinom(n, 8.5, 1.5).sf(found.mothers - 1) >= 0.9 - 1e-12)
    assert found.kept == kept
    assert (found.first.want.wanted, found.first.want.purpose, found.first.want.by) == (kept, "winter", None)
    assert (found.second.want.purpose, found.second.want.stock_indoors, found.second.want.wanted) == ("bed", True, 8)
    one = plan_want(Want(1, purpose="winter"), setting)
    assert isinstance(one, SeasonPlan)
    assert found.second.today == one.target + timedelta(days=30)


def test_what_cannot_be_carried_over(north: Climate, frost_free: Climate) -> None:
    no_winter = carry_over(Want(8), asked(frost_free, "tomato", on=date(2027, 7, 1)))
    assert no_winter == Refusal("no_winter", "purpose", {"plant": "Tomato"})
    outside = carry_over(Want(8), asked(north, "tomato", at=(SILL, AIR), on=date(2027, 7, 1)))
    assert isinstance(outside, Refusal)
    assert (outside.code, outside.field) == ("too_cold_to_keep", "growing_place")
    many = carry_over(Want(490), asked(north, "tomato", on=date(2027, 7, 1)))
    assert many == Refusal("too_many", "wanted", {"wanted": 490, "most": MOST_CUTTINGS})


def test_what_a_piece_cannot_become(north: Climate) -> None:
    spots = [("sill", SILL)]
    apple = next(plant for plant in handbook().values() if not plant.methods)
    shoot = Material("shoot", 1, "sound", 20.0)
    setting = Setting(apple, handbook()["tomato"].ways[0], north, SILL, SILL, MAY)
    way = apple.instead.way if apple.instead else None
    assert what_can_this_become(shoot, setting, spots) == Refusal(
        "not_struck", "plant", {"plant": apple.name, "way": way}
    )
    tomato = asked(north, "tomato", on=MAY)
    slip = Material("slip", 1, "sound", None)
    found = what_can_this_become(slip, tomato, spots)
    assert isinstance(found, Refusal)
    assert (found.code, found.params["instead"][:2]) == ("not_this_piece", ("shoot", "tip"))
    stub = Material("shoot", 1, "sound", 1.0)
    assert what_can_this_become(stub, tomato, spots) == Refusal("too_short", "length", {"plant": "Tomato"})
    assert what_can_this_become(shoot, tomato, [("bed", BED)]) == Refusal("no_place", "length", {"plant": "Tomato"})
