"""As soon as it is safe: the first day worth its cuttings, the exchange beside it, and what of a season is left."""

from __future__ import annotations

from datetime import date, timedelta
from itertools import pairwise

import numpy as np
import pytest

from elder.engine.assumptions import Assumptions
from elder.engine.chance.count_table import CountTable, count_table
from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.curve import CutDay, standings_of
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting
from tests.engine.plain_plan import Room

COVER = Place("air", lift_day_c=6, lift_night_c=1.5)
ROOM = Room(0.77306, (8.9180, 0.27044), (9.5341, 0.21834), 7, 3, 0.2, (18, 2))


def planned(want: Want, setting: Setting) -> SeasonPlan:
    plan = plan_want(want, setting)
    assert isinstance(plan, SeasonPlan), plan
    return plan


def test_the_first_day_that_costs_little_more_than_the_best(north: Climate, tomato: Plant, sill: Place) -> None:
    """Gate open, eight wanted on 10 June: by plain sums twelve do on the best of days, so fourteen are not too dear;
    cut a week on they make day t with fourteen, and not the day before."""
    today = date(2027, 6, 10)
    plan = planned(Want(8), Setting(tomato, tomato.methods[0], north, sill, sill, today))
    days = (plan.target - today).days - 7  # a week of slack is kept
    assert ROOM.needed(8, 0.9, 200) == 12
    assert ROOM.chance(8, 14, days) == pytest.approx(0.9, abs=0.012)
    assert ROOM.chance(8, 14, days - 1) < 0.9
    assert plan.target == date(2027, 7, 29)


def test_the_exchange_is_what_the_same_cut_costs_on_other_days(north: Climate, tomato: Plant, sill: Place) -> None:
    today = date(2027, 6, 10)
    plan = planned(Want(8), Setting(tomato, tomato.methods[0], north, sill, sill, today))
    assert 2 <= len(plan.exchange) <= 3
    assert plan.target in [row.day for row in plan.exchange]
    days = [row.day for row in plan.exchange]
    assert all((later - sooner).days >= 3 for later, sooner in pairwise(days))
    for row in plan.exchange:
        # The engine's eighty scenarios may be one cutting out beside the fine grid.
        assert abs(row.count - ROOM.needed(8, 0.9, (row.day - plan.recommended).days)) <= 1
        same = plan_want(Want(8, by=row.day), Setting(tomato, tomato.methods[0], north, sill, sill, today))
        assert isinstance(same, SeasonPlan)
        assert abs(same.option(plan.recommended).count - row.count) <= 1


@pytest.mark.parametrize("today", [date(2027, 5, 20), date(2027, 6, 25)])
def test_a_want_for_more_is_never_answered_with_an_earlier_day_by_weeks(
    north: Climate, tomato: Plant, sill: Place, today: date
) -> None:
    """Wants for one to twelve are alike to within ten days: "four on 15 July to save two cuttings" cannot be."""
    setting = Setting(tomato, tomato.methods[0], north, sill, COVER, today)
    targets = [planned(Want(wanted), setting).target for wanted in range(1, 13)]
    for fewer in range(12):
        for more in range(fewer + 1, 12):
            assert targets[fewer] - targets[more] <= timedelta(days=10), (fewer + 1, more + 1)


def test_four_tomatoes_in_may_do_not_wait_for_two_cuttings(north: Climate, tomato: Plant, sill: Place) -> None:
    setting = Setting(tomato, tomato.methods[0], north, sill, COVER, date(2027, 5, 20))
    plan = planned(Want(4), setting)
    assert plan.target < date(2027, 7, 15)
    assert plan.option(plan.recommended).count <= 6


def test_perilla_in_september_is_offered_spring(north: Climate, sill: Place) -> None:
    """Not 23 October and 178 days in the pot: patience is 35 days."""
    perilla = handbook()["perilla"]
    plan = planned(Want(4), Setting(perilla, perilla.methods[0], north, sill, COVER, date(2027, 9, 12)))
    assert (plan.recommended.year, plan.recommended.month) == (2028, 4)
    option = plan.option(plan.recommended)
    assert option.held_days <= 35
    assert option.standing is CutDay.COMFORTABLE


def test_a_day_that_only_early_cuts_could_make_is_refused(north: Climate, sill: Place) -> None:
    """Perilla on 20 April, for spares: its wood closes in October and opens in April; from October it stands months."""
    perilla = handbook()["perilla"]
    want = Want(4, by=date(2028, 4, 20), purpose="spare")
    refused = plan_want(want, Setting(perilla, perilla.methods[0], north, sill, sill, date(2027, 9, 12)))
    assert isinstance(refused, Refusal)
    assert (refused.code, refused.field, refused.params["patience"]) == ("only_early", "by", 35)
    assert refused.params["soonest"] > date(2028, 4, 20)


def test_what_is_left_of_a_season_is_said_before_the_next(north: Climate, tomato: Plant, sill: Place) -> None:
    """On 24 July eight tomatoes cannot be sure by the day the gate shuts; thirty-six cuttings, the most advised,
    would still give them so often."""
    today = date(2027, 7, 24)
    plan = planned(Want(8), Setting(tomato, tomato.methods[0], north, sill, sill, today))
    (missed,) = plan.missed
    assert plan.target.year == 2028
    assert (missed.count, missed.only_early) == (36, False)
    days = (missed.window.shuts - today).days
    assert missed.chance == pytest.approx(ROOM.chance(8, 36, days), abs=0.012)
    assert 0.1 < missed.chance < 0.9
    # The last cut that still crops: 36 cuttings are enough for that many days and not for one fewer.
    assert missed.last_cut is not None
    left = (missed.window.shuts - missed.last_cut).days
    assert ROOM.chance(8, 36, left) >= 0.88 > ROOM.chance(8, 36, left - 2)


def test_standings_by_hand() -> None:
    closed, early, good, more = CutDay.CLOSED, CutDay.EARLY, CutDay.COMFORTABLE, CutDay.STRETCH
    counts = np.array([11, 11, 12, 13, 14, 20, 0])
    is_early = np.array([True, False, False, False, False, False, False])
    # Best 11, so up to 13 (a fifth more) is comfortable.
    assert standings_of(counts, is_early, 11, Assumptions()).tolist() == [early, good, good, good, more, more, closed]
    # The best is over twice the least: nothing is comfortable.
    assert standings_of(counts, is_early, 5, Assumptions()).tolist() == [early, more, more, more, more, more, closed]
    # What is early sets no price: best is 20.
    late = np.array([True] * 5 + [False] * 2)
    assert standings_of(counts, late, 11, Assumptions()).tolist() == [early] * 5 + [good, closed]
    assert standings_of(np.zeros(2, dtype=int), late[:2], 11, Assumptions()).tolist() == [closed, closed]
    # Dearer days for one who minds less.
    assert standings_of(counts, is_early, 11, Assumptions(dear_share=0.9)).tolist()[4:6] == [good, good]


def test_a_table_for_many_is_as_good_as_one_for_few() -> None:
    table = count_table(150, Take(0.9, 20), 0.9)
    assert isinstance(table, CountTable)
    assert table.most == 500
    assert count_table(400, Take(0.5, 10), 0.9) is None


@pytest.mark.parametrize("wanted", [2, 4, 8, 12])
def test_every_row_of_the_exchange_costs_something_else(
    north: Climate, tomato: Plant, sill: Place, wanted: int
) -> None:
    """A sooner day for the same cuttings is the same cut without its slack, and nothing to exchange."""
    for today in (date(2027, 3, 1), date(2027, 4, 6), date(2027, 5, 20)):
        for warm in (sill, Place("air", lift_day_c=7, lift_night_c=2, floor_c=21)):
            plan = plan_want(Want(wanted), Setting(tomato, tomato.methods[0], north, warm, warm, today))
            if not isinstance(plan, SeasonPlan):
                continue
            counts = [row.count for row in plan.exchange]
            assert counts == sorted(set(counts)), plan.exchange
