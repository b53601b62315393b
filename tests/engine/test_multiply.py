"""A line multiplied in generations: against the recursion by hand, a Leslie matrix, and 20,000 plain seasons."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest
from scipy.stats import betabinom

from elder.engine.chance.counting import Take
from elder.engine.chance.ready_by import ready_from_cut
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place
from elder.engine.setting import Setting
from elder.engine.year.days_to_plant import FOLLOWED_DAYS, days_to_plant, shut_days
from elder.engine.year.growth import SEASONS, grow
from elder.engine.year.line import NEVER, Bench, CutGroup, Line, Rooting, first_mothers
from elder.engine.year.multiply import (
    LineWanted,
    a_month_more,
    enough,
    first_day_enough,
    from_standing,
    latest_start,
    multiply,
    one_more_mother,
    overstick,
)
from tests.engine.plain_line import lived_by_plan, lived_seasons, plain_totals

TODAY = date(2027, 4, 6)
SURE = Take(1.0, 10)
LIKELY = Take(0.85, 10)
MINT = Line(gives=4, again_days=28, first_take_days=28, days_to_plant=42, take=LIKELY)
SMALL = Line(gives=2, again_days=10, first_take_days=5, days_to_plant=20, take=SURE)


def on(day: int) -> date:
    return TODAY + timedelta(days=day)


def wanted(line: Line, count: int, days: int, **rest: object) -> LineWanted:
    return LineWanted(line, count, on(days), TODAY, **rest)  # type: ignore[arg-type]


def test_a_small_line_by_hand() -> None:
    """Two cuttings a plant, again after ten days, first five days after it is one, a plant in twenty; sixty days.

    The mother is cut on days 0, 10 … 40: two each. Her plants of day 20 are cut on 25 (4) and 35 (4), those of day 30
    on 35 (4).
    """
    found = multiply(SMALL, 1, 23, on(60), TODAY)
    lots = [((lot.day - TODAY).days, lot.count, dict(lot.by_generation)) for lot in found.lots]
    assert lots == [
        (0, 2, {0: 2.0}),
        (10, 2, {0: 2.0}),
        (20, 2, {0: 2.0}),
        (25, 4, {1: 4.0}),
        (30, 2, {0: 2.0}),
        (35, 8, {1: 8.0}),
        (40, 2, {0: 2.0}),
    ]
    assert found.expected == 1 + 2 + 2 + 2 + 4 + 2 + 8 + 2
    assert (found.chance, found.sure) == (1.0, 23)
    assert (found.latest_start, found.last_cut) == (TODAY, on(40))
    assert multiply(SMALL, 1, 24, on(60), TODAY).chance == 0.0
    assert multiply(SMALL, 1, 24, on(60), TODAY).latest_start is None


@pytest.mark.parametrize(
    ("numbers", "mothers", "days"),
    [((4, 28, 28, 42), 1, 300), ((3, 14, 30, 35), 2, 200), ((1, 60, 0, 90), 5, 700), ((6, 7, 90, 30), 1, 160)],
)
def test_with_a_take_of_one_it_is_the_recursion(numbers: tuple[int, int, int, int], mothers: int, days: int) -> None:
    cut, total = plain_totals(*numbers, days, mothers=mothers)
    found = multiply(Line(*numbers, SURE), mothers, 1, on(days), TODAY)
    assert {(lot.day - TODAY).days: lot.count for lot in found.lots} == cut
    assert found.expected == total
    assert set(np.unique(found.growth.plants(on(days)))) == {int(total)}


def test_it_grows_by_a_leslie_matrix() -> None:
    """Plants due to be cut on each day: y(t) = y(t − 28) + 4 · 0.85 · y(t − 70). In steps of fourteen days that is a
    Leslie matrix of five ages (Leslie 1945, Biometrika 33; from memory), whose largest eigenvalue is the growth."""
    leslie = np.zeros((5, 5))
    leslie[0, 1], leslie[0, 4] = 1.0, 4 * 0.85
    leslie[np.arange(1, 5), np.arange(4)] = 1.0
    rate = float(np.abs(np.linalg.eigvals(leslie)).max())
    far = multiply(MINT, 1, 1, on(1036), TODAY).expected
    near = multiply(MINT, 1, 1, on(1036 - 140), TODAY).expected
    assert rate == pytest.approx(1.45245, abs=1e-5)
    assert far / near == pytest.approx(rate**10, rel=2e-3)


@pytest.mark.parametrize(
    ("numbers", "take", "days", "count"),
    [
        ((4, 28, 28, 42), (0.85, 10), 200, 210),
        ((2, 21, 14, 30), (0.7, 6), 120, 12),
        ((3, 14, 30, 35), (0.9, 20), 120, 40),
    ],
)
def test_it_lives_as_twenty_thousand_plain_seasons_do(
    numbers: tuple[int, int, int, int], take: tuple[float, float], days: int, count: int
) -> None:
    found = multiply(Line(*numbers, Take(*take)), 1, count, on(days), TODAY)
    lived = lived_seasons(*numbers, days, take=take)
    assert found.expected == pytest.approx(lived.mean(), rel=0.02)
    assert found.chance == pytest.approx((lived >= count).mean(), abs=0.02)
    assert 0.05 < found.chance < 0.98, "a case that could go either way"


def test_room_and_what_is_left_uncut_as_plain_seasons_have_it() -> None:
    kept = multiply(MINT, 1, 25, on(200), TODAY, keep_uncut=0.25)
    lived = lived_seasons(4, 28, 28, 42, 200, take=(0.85, 10), keep=0.25)
    assert kept.expected == pytest.approx(lived.mean(), rel=0.02)
    assert kept.chance == pytest.approx((lived >= 25).mean(), abs=0.02)
    asked = wanted(MINT, 25, 200)
    short = from_standing(asked, first_mothers(1, TODAY), Bench(room=20))
    lived = lived_seasons(4, 28, 28, 42, 200, take=(0.85, 10), room=20)
    assert short.expected == pytest.approx(lived.mean(), rel=0.02)
    assert short.chance == pytest.approx((lived >= 25).mean(), abs=0.02)
    for lot in short.lots:
        busy = [one for one in short.lots if one.day <= lot.day < one.plant_on]
        assert sum(one.cuttings for one in busy) <= 20 + 1e-9


def test_what_may_still_be_cut_again_is_not_left_uncut() -> None:
    """Two cuttings a plant, again after fifteen days; the last cut that counts is day 40. The two plants of day 20 are
    cut whole on 25, for on 40 they may be cut once more; there half of them and half of those of day 35 are left."""
    line = Line(gives=2, again_days=15, first_take_days=5, days_to_plant=20, take=SURE)
    found = multiply(line, 1, 1, on(60), TODAY, keep_uncut=0.5)
    assert [((lot.day - TODAY).days, lot.count) for lot in found.lots] == [(0, 2), (15, 2), (25, 4), (30, 2), (40, 4)]
    assert found.expected == 1 + 2 + 2 + 4 + 2 + 4


def test_so_many_left_uncut_by_number() -> None:
    """With a take of one: 23 plants in all; of the eight cuttings of day 35 four plants are cut for the last time, the
    four of day 25 once more on 35. Leaving three uncut there takes six of them away."""
    found = multiply(SMALL, 1, 1, on(60), TODAY, keep_uncut=3)
    assert found.expected == 23 - 6
    assert found.growth.uncut >= 3


def test_days_on_which_nothing_is_cut_push_the_cut_on() -> None:
    closed = {on(day) for day in (0, 1, 2)}
    found = multiply(SMALL, 1, 1, on(60), TODAY, closed_days=closed)
    assert [(lot.day - TODAY).days for lot in found.lots][:3] == [3, 13, 23]
    _, total = plain_totals(2, 10, 5, 20, 57)
    assert found.expected == total, "begun three days later it is the same with three days less"
    assert multiply(SMALL, 1, 1, on(60), TODAY, closed_days={on(40), on(39)}).last_cut == on(38)
    assert multiply(SMALL, 1, 1, on(19), TODAY).last_cut is None


def test_mothers_that_do_not_count_and_a_tuber_that_is_spent() -> None:
    assert multiply(SMALL, 1, 22, on(60), TODAY, mothers_count=False).expected == 22
    slips = Line(gives=8, again_days=7, first_take_days=NEVER, days_to_plant=21, take=SURE)
    tuber = (CutGroup(1, TODAY, 0, gives=8, again_days=10, takes=3),)
    found = from_standing(wanted(slips, 24, 120, mothers_count=False), tuber)
    assert [((lot.day - TODAY).days, lot.count) for lot in found.lots] == [(0, 8), (10, 8), (20, 8)]
    assert (found.expected, found.chance) == (24, 1.0)
    assert from_standing(wanted(slips, 25, 120, mothers_count=False), tuber).chance == 0.0


def test_the_latest_start_is_the_last_that_does() -> None:
    asked = wanted(MINT, 60, 220)
    last = latest_start(asked, first_mothers(1, TODAY))
    assert last is not None
    for late, does in ((0, True), (1, False)):
        begun = (last - TODAY).days + late
        again = multiply(MINT, 1, 60, on(220 - begun), TODAY)
        assert (again.chance >= 0.9) == does
    closed = Bench(frozenset({TODAY}))  # by the slow way, where days differ
    assert latest_start(asked, first_mothers(1, TODAY), closed) == last


def test_begun_later_it_takes_the_days_of_that_season() -> None:
    """Twenty days to a plant for a cut before day 50, sixty from then on; a hundred days: the last start is day 49."""
    slow = (*([20] * 50), *([60] * 315))
    line = Line(gives=3, again_days=400, first_take_days=300, days_to_plant=60, take=SURE, slow_days=slow)
    assert latest_start(wanted(line, 4, 100), first_mothers(1, TODAY)) == on(49)


def test_enough_is_the_fewest_that_do() -> None:
    asked = wanted(MINT, 60, 260)
    plan = enough(asked, first_mothers(1, TODAY))
    whole = from_standing(asked, first_mothers(1, TODAY))
    assert plan is not None
    assert plan.chance >= 0.9
    assert len(plan.lots) < len(whole.lots)
    last = plan.lots[-1]
    # Without the last lot, or with one cutting less in it, it no longer does.
    assert (
        grow(
            MINT, first_mothers(1, TODAY), start=TODAY, by=on(260), bench=Bench(last_on=last.day - timedelta(1))
        ).chance(60, on(260))
        < 0.9
    )
    assert enough(wanted(MINT, 4000, 260), first_mothers(1, TODAY)) is None
    nothing = enough(wanted(MINT, 3, 260), (CutGroup(3, TODAY, 1),))
    assert nothing is not None
    assert (nothing.lots, nothing.expected) == ((), 3)


def test_enough_of_one_lot_is_the_beta_binomial() -> None:
    """One mother of forty, by a day that only today's cut makes: the last lot is no greater than it need be."""
    line = replace(MINT, take=Take(0.8, 10))
    plan = enough(wanted(line, 12, 50, mothers_count=False), (CutGroup(1, TODAY, 0, gives=40, again_days=400),))
    assert plan is not None
    exact = next(n for n in range(12, 40) if betabinom.sf(11, n, 8, 2) >= 0.9)
    assert exact == 20
    assert abs(plan.lots[0].count - exact) <= 1
    assert plan.chance == pytest.approx(betabinom.sf(11, plan.lots[0].count, 8, 2), abs=0.015)


def test_a_line_under_way_goes_on_from_what_stands_and_roots() -> None:
    """Three plants of the first lot stand and were cut yesterday; six of the second root, four of which will be plants
    on day 12 for certain. Cut again on 27 and on 40: all that makes it by day 70."""
    line = replace(MINT, take=SURE)
    standing = (CutGroup(1, on(400), 0), CutGroup(3, on(27), 1))
    coming = Rooting((0.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0), on(12), 2)
    found = from_standing(wanted(line, 20, 70), standing, rooting=(coming,))
    assert [((lot.day - TODAY).days, lot.count, dict(lot.by_generation)) for lot in found.lots] == [
        (27, 12, {1: 12.0}),
    ]
    assert found.expected == 1 + 3 + 4 + 12
    later = from_standing(wanted(line, 20, 82), standing, rooting=(coming,))
    assert [(lot.day - TODAY).days for lot in later.lots] == [27, 40]
    assert dict(later.lots[1].by_generation) == {2: 16.0}


def test_days_to_a_plant_may_differ_by_the_day_and_come_round() -> None:
    line = replace(SMALL, slow_days=(20, *([30] * 364)))
    found = multiply(line, 1, 1, on(45), TODAY)
    assert [((lot.plant_on - lot.day).days) for lot in found.lots] == [20, 30]
    assert line.plant_on(365) == 385
    assert found.last_cut == on(15)


def test_what_would_not_make_it_now_waits_for_a_quicker_day() -> None:
    """Twenty days to a plant in autumn and from day 60 on, a hundred between: the cut of day 30 waits for day 60."""
    slow = (*([20] * 10), *([100] * 50), *([20] * 305))
    line = Line(gives=3, again_days=30, first_take_days=300, days_to_plant=20, take=SURE, slow_days=slow)
    found = multiply(line, 1, 1, on(100), TODAY)
    assert [((lot.day - TODAY).days, (lot.plant_on - TODAY).days) for lot in found.lots] == [(0, 20), (60, 80)]
    assert found.expected == 7


def test_what_more_would_give() -> None:
    asked = wanted(MINT, 40, 200)
    mothers = first_mothers(2, TODAY)
    assert one_more_mother(asked, mothers).expected == pytest.approx(
        plain_totals(4, 28, 28, 42, 200, mothers=3, take=0.85)[1]
    )
    assert a_month_more(asked, mothers).expected == pytest.approx(
        plain_totals(4, 28, 28, 42, 230, mothers=2, take=0.85)[1]
    )


def test_by_when_it_could_be_had_instead() -> None:
    asked = wanted(MINT, 100, 120)
    day = first_day_enough(asked, first_mothers(1, TODAY))
    assert day is not None
    assert multiply(MINT, 1, 100, day, TODAY).chance >= 0.9
    assert multiply(MINT, 1, 100, day - timedelta(1), TODAY).chance < 0.9
    assert first_day_enough(wanted(replace(MINT, gives=1, again_days=900), 90, 40), first_mothers(1, TODAY)) is None


def test_overstuck_where_they_are_to_stand() -> None:
    """Twenty stations at a take of Beta(6, 2): the least count by scipy's beta-binomial; the empty ones by its mean of
    (1 − s) and (1 − s)²: 2/8 and 2·3/(8·9)."""
    found = overstick(20, Take(0.75, 8))
    assert found is not None
    least = next(n for n in range(20, 80) if betabinom.sf(19, n, 6, 2) >= 0.9)
    assert found.cuttings == least == 38
    assert found.each == 2
    assert found.gaps == pytest.approx(2 * 2 / 8 + 18 * (2 * 3) / (8 * 9))
    assert overstick(400, Take(0.1, 5)) is None


def test_lines_that_cannot_be() -> None:
    for wrong in ({"gives": 0}, {"again_days": 0}, {"days_to_plant": 0}, {"first_take_days": -1}):
        with pytest.raises(ValueError, match="at least one cutting"):
            replace(MINT, **wrong)
    with pytest.raises(ValueError, match="not negative"):
        Bench(keep_uncut=-1)


def test_the_same_question_has_the_same_answer() -> None:
    first, again = (multiply(MINT, 1, 60, on(220), TODAY) for _ in range(2))
    assert (first.chance, first.sure) == (again.chance, again.sure)
    assert len(first.growth.plants(on(220))) == SEASONS


def test_days_to_a_plant_by_place_and_season(north: Climate) -> None:
    """Nineteen of twenty stand, over all years and speeds; in between days lie on a straight line."""
    mint = handbook()["mint"]
    glass = Place("air", lift_day_c=7, lift_night_c=2)
    setting = Setting(mint, mint.method("jar"), north, glass, glass, TODAY)
    days = days_to_plant(setting, TODAY, 365)
    for start in (0, 28, 140):
        ready = ready_from_cut(setting.raising(harden=False), on(start), FOLLOWED_DAYS).mean_ready
        assert ready[days[start]] >= 0.95 > ready[days[start] - 1]
    assert days[14] == pytest.approx((days[0] + days[28]) / 2, abs=1)


def test_days_that_are_shut_by_wood_and_by_cold(north: Climate) -> None:
    tomato, rosemary = handbook()["tomato"], handbook()["rosemary"]
    air, room = Place("air"), Place("room", day_c=20, night_c=17)
    green = Setting(tomato, tomato.method("jar"), north, air, air, date(2027, 10, 1))
    cold = shut_days(green, date(2027, 10, 1), 120)
    assert cold[date(2027, 12, 20)] == "cold"
    assert "cold" not in shut_days(replace(green, rooting_place=room), date(2027, 10, 1), 120).values()
    gritty = Setting(rosemary, rosemary.method("gritty"), north, room, room, TODAY)
    wood = shut_days(gritty, TODAY, 365)
    assert wood[date(2027, 6, 1)] == "wood"
    assert date(2027, 9, 10) not in wood


@pytest.mark.parametrize(
    ("slug", "way", "gives", "again", "count", "days"),
    [
        ("scented-pelargonium", "gritty", 4, 35, 60, 200),
        ("mint", "jar", 3, 21, 40, 180),
        ("basil", "jar", 2, 14, 30, 130),
    ],
)
def test_who_follows_the_plan_has_them_as_often_as_it_says(
    north: Climate, sill: Place, slug: str, way: str, gives: int, again: int, count: int, days: int
) -> None:
    """A plan holds a lot back until nearly all of it stands. In life each cutting is ready on a day of its own, in
    years warm and cold, lots quick and slow: cut as the plan says and no more, it comes true as often as stated."""
    plant = handbook()[slug]
    setting = Setting(plant, plant.method(way), north, sill, sill, TODAY)
    slow = days_to_plant(setting, TODAY, 365)
    take = setting.method.plant_take.then(setting.after_roots)
    line = Line(gives, again, again, max(slow), take, slow_days=slow)
    weekly = frozenset(on(day) for day in range(days) if day % 7)
    mother = CutGroup(1, TODAY, 0, gives=10, again_days=again)
    plan = enough(wanted(line, count, days), (mother,), Bench(closed_days=weekly))
    assert plan is not None
    lots = [((lot.day - TODAY).days, lot.count) for lot in plan.lots]
    lived = lived_by_plan(setting, line, lots, days, mother=(10, again), seasons=1500)
    assert (lived >= count).mean() == pytest.approx(plan.chance, abs=0.045)
    assert lived.mean() == pytest.approx(plan.expected, rel=0.05)
