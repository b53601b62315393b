"""Room at places, and fitting everything in; the programme against trying every way."""

from __future__ import annotations

import itertools
from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp

from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place
from elder.engine.plan.curve import Curves, CutDay
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.setting import Setting
from elder.engine.shed.packing import Floor
from elder.engine.space import solving
from elder.engine.space.allocate import fit_in
from elder.engine.space.alternatives import Asker, Choice, choices_for
from elder.engine.space.floors import FLOOR, WHOLE, on_floors
from elder.engine.space.occupancy import Stay, overflows, stays_of
from elder.engine.space.programme import COST_OVER, WEEK

START = date(2027, 4, 6)
PLACES = {
    "sill": Place("room", day_c=20, night_c=17),
    "shelf": Place("room", day_c=17, night_c=14),
    "glasshouse": Place("air", lift_day_c=7, lift_night_c=2),
    "bed": Place("ground"),
}


def day(offset: int) -> date:
    return START + timedelta(days=offset)


def test_a_batch_stands_at_two_places() -> None:
    method = handbook()["tomato"].method("jar")
    days = {"cut": day(0), "rooted": (day(11), day(16)), "out": day(40)}
    rooting, growing = stays_of(handbook()["tomato"], method, ("sill", "shelf"), 11, **days)
    assert rooting == Stay("sill", "jar", day(0), day(16), 11)
    assert growing == Stay("shelf", "pot", day(11), day(40), 10)  # nine in ten of eleven
    assert rooting.filled
    assert growing.filled
    assert (rooting.filled.vessels, growing.filled.vessels) == (3, 10), "five to a jar, each in a pot of its own"


def test_what_is_struck_in_the_ground_stays_there() -> None:
    method = handbook()["blackcurrant"].method("ground")
    (stay,) = stays_of(
        handbook()["blackcurrant"], method, ("bed", "bed"), 6, cut=day(0), rooted=(day(60), None), out=day(200)
    )
    assert stay == Stay("bed", "row", day(0), day(200), 6)


def test_overflows_name_the_spell_and_who() -> None:
    stays = {
        "a": [Stay("sill", "jar", day(0), day(10), 6)],
        "b": [Stay("sill", "jar", day(5), day(20), 5)],
        "c": [Stay("sill", "pot", day(0), day(30), 50)],
    }
    (over,) = overflows(stays, {("sill", "jar"): 8}, start=START, days=60)
    assert (over.first, over.last, over.most, over.holds, over.who) == (day(5), day(10), 11, 8, ("a", "b"))
    assert overflows(stays, {("sill", "jar"): 11}, start=START, days=60) == []


@settings(max_examples=40)
@given(
    st.lists(st.tuples(st.integers(-5, 30), st.integers(0, 20), st.integers(1, 9)), min_size=1, max_size=6),
    st.integers(1, 20),
)
def test_overflows_are_counted_day_by_day(spells: list[tuple[int, int, int]], holds: int) -> None:
    stays = {i: [Stay("sill", "jar", day(a), day(a + long), n)] for i, (a, long, n) in enumerate(spells)}
    found = overflows(stays, {("sill", "jar"): holds}, start=START, days=60)
    over = {day(d) for d in range(60) if sum(n for a, long, n in spells if a <= d <= a + long) > holds}
    assert {one.first + timedelta(days=i) for one in found for i in range((one.last - one.first).days + 1)} == over


def asker(key: str, *choices: tuple[int, int, int, float]) -> Asker:
    """(first day, last day, count, cost) at one spot."""
    return Asker(
        key,
        tuple(
            Choice(day(a), ("sill", "sill"), n, 0, (Stay("sill", "jar", day(a), day(b), n),), cost)
            for a, b, n, cost in choices
        ),
    )


def best_by_trying(askers: list[Asker], holds: int) -> float:
    """The least cost of all combinations, each week's overflow at its worst."""

    def cost(chosen: tuple[Choice, ...]) -> float:
        worst = 0
        for week in range(12):
            load = sum(
                stay.count
                for choice in chosen
                for stay in choice.stays
                if (stay.first - START).days // WEEK <= week <= (stay.last - START).days // WEEK
            )
            worst = max(worst, load - holds)
        return sum(choice.cost for choice in chosen) + COST_OVER * worst

    return min(cost(chosen) for chosen in itertools.product(*(one.choices for one in askers)))


@settings(max_examples=40)
@given(st.data())
def test_fitting_is_the_best_of_all_ways(data: st.DataObject) -> None:
    holds = data.draw(st.integers(4, 12))
    askers = []
    for key in "abcd":
        picks = data.draw(
            st.lists(
                st.tuples(st.integers(0, 50), st.integers(1, 25), st.integers(1, 8), st.integers(1, 30)),
                min_size=1,
                max_size=3,
            )
        )
        first = data.draw(st.tuples(st.integers(0, 20), st.integers(1, 25), st.integers(1, 8)))
        choices = [(first[0], first[0] + first[1], first[2], 0.0)]
        choices += [(a, a + long, n, float(cost)) for a, long, n, cost in picks]
        askers.append(asker(key, *choices))
    fit = fit_in(askers, [], {("sill", "jar"): holds}, start=START, days=84)
    total = fit.cost + COST_OVER * fit.left_over
    best = best_by_trying(askers, holds)
    assert total == pytest.approx(best, rel=0.0011, abs=0.0011)  # the solver stops within a thousandth
    assert total - fit.gap <= best + 1e-6, "what was proved of all ways holds for the best of them"


@settings(max_examples=25)
@given(st.integers(0, 10_000), st.integers(10, 60))
def test_what_is_proved_holds_for_what_was_kept_back(seed: int, holds: int) -> None:
    """Two columns alone are weighed as whole numbers: the others are spoken for by their reduced cost."""
    askers = crowd(seed, 4, 6)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(solving, "NEAREST", 2)
        fit = fit_in(askers, [], {("sill", "jar"): holds}, start=START, days=84)
    best = best_by_trying(askers, holds)
    assert fit.cost + COST_OVER * fit.left_over >= best - 1e-6
    assert fit.cost + COST_OVER * fit.left_over - fit.gap <= best + 1e-6
    assert fit.least_left_over <= fit.left_over


def crowd(seed: int, wants: int, ways: int) -> list[Asker]:
    """Wants that all stand on one sill in the same weeks, with other days that cost something."""
    luck, found = np.random.default_rng(seed), []
    for number in range(wants):
        picks = [(0, 10 + int(luck.integers(25)), 4 + int(luck.integers(9)), 0.0)]
        for _ in range(ways - 1):
            first = int(luck.integers(60))
            picks.append(
                (first, first + 5 + int(luck.integers(25)), 4 + int(luck.integers(9)), int(luck.integers(1, 40)) / 10)
            )
        found.append(asker(f"want {number}", *picks))
    return found


def least_by_programme(askers: list[Asker], holds: int) -> float:
    """The best of all ways by the plainest programme there is, as long as it takes: a row a week, a column a way."""
    ways = [(i, way) for i, one in enumerate(askers) for way in one.choices]
    weeks = np.array(
        [
            [
                way.count * ((way.stays[0].first - START).days // 7 <= week <= (way.stays[0].last - START).days // 7)
                for _, way in ways
            ]
            + [-1.0]
            for week in range(13)
        ]
    )
    one_each = np.array([[float(owner == i) for owner, _ in ways] + [0.0] for i in range(len(askers))])
    found = milp(
        np.array([way.cost for _, way in ways] + [COST_OVER]),
        integrality=np.array([1] * len(ways) + [0]),
        bounds=Bounds(0, np.array([1.0] * len(ways) + [np.inf])),
        constraints=[LinearConstraint(one_each, 1, 1), LinearConstraint(weeks, -np.inf, float(holds))],
    )
    return float(found.fun)


@pytest.mark.parametrize("holds", [20, 35, 60])
def test_more_wants_than_can_be_tried_come_near_the_best_and_say_how_near(holds: int) -> None:
    askers = crowd(12, 16, 14)
    fit = fit_in(askers, [], {("sill", "jar"): holds}, start=START, days=91)
    total, best = fit.cost + COST_OVER * fit.left_over, least_by_programme(askers, holds)
    assert best - 1e-6 <= total <= 1.05 * best + 0.3
    assert total - fit.gap <= best + 1e-6
    again = fit_in(askers, [], {("sill", "jar"): holds}, start=START, days=91)
    assert (again.chosen, again.gap) == (fit.chosen, fit.gap)


def test_the_solver_is_held_by_nodes_and_never_by_the_clock(monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[dict[str, object]] = []

    def noted(*args: Any, options: dict[str, object], **rest: Any) -> Any:
        asked.append(dict(options))
        return milp(*args, options=options, **rest)

    monkeypatch.setattr(scipy.optimize, "milp", noted)
    fit_in(crowd(3, 6, 5), [], {("sill", "jar"): 20}, start=START, days=84)
    assert asked
    assert all(set(one) == {"node_limit", "mip_rel_gap", "presolve"} for one in asked)


def test_a_way_that_another_beats_is_dropped_and_of_two_alike_the_later() -> None:
    costs = np.array([1.0, 2.0, 1.0, 0.5])
    loads = np.array([[3.0, 0.0], [3.0, 1.0], [3.0, 0.0], [4.0, 0.0]])
    assert solving._unbeaten(costs, loads).tolist() == [True, False, False, True]


def test_of_weeks_that_bind_alike_one_is_kept() -> None:
    loads = np.array([[4.0, 2.0], [4.0, 2.0], [3.0, 2.0], [1.0, 5.0]])
    assert solving._binding(loads, np.array([6.0, 6.0, 6.0, 6.0])).tolist() == [0, 3]
    assert solving._binding(loads, np.array([6.0, 6.0, 5.0, 9.0])).tolist() == [0, 2, 3], "less room binds harder"


def test_nothing_moves_where_everything_has_room() -> None:
    askers = [asker("a", (0, 10, 4, 0.0), (30, 40, 4, 1.0)), asker("b", (0, 10, 4, 0.0), (30, 40, 4, 1.0))]
    fit = fit_in(askers, [], {("sill", "jar"): 8}, start=START, days=84)
    assert (fit.chosen, fit.left_over, fit.cost) == ({"a": 0, "b": 0}, 0, 0.0)


def test_what_stands_already_takes_room() -> None:
    askers = [asker("a", (0, 10, 4, 0.0), (30, 40, 4, 1.0))]
    fixed = [Stay("sill", "jar", day(0), day(12), 6)]
    assert fit_in(askers, fixed, {("sill", "jar"): 8}, start=START, days=84).chosen == {"a": 1}


def test_too_little_room_for_all_is_said() -> None:
    askers = [asker(key, (0, 10, 6, 0.0)) for key in "ab"]
    fit = fit_in(askers, [], {("sill", "jar"): 8}, start=START, days=84)
    assert (fit.left_over, fit.least_left_over, fit.gap) == (4, 4, 0.0)


def test_no_rules_nothing_to_do() -> None:
    assert fit_in([asker("a", (0, 10, 4, 0.0))], [], {}, start=START, days=84).chosen == {"a": 0}
    assert fit_in([], [], {("sill", "jar"): 8}, start=START, days=84).chosen == {}


def test_choices_keep_the_wants_promise(north: Climate) -> None:
    tomato = handbook()["tomato"]
    method, sill = tomato.methods[0], PLACES["sill"]
    plan = plan_want(Want(8), Setting(tomato, method, north, sill, sill, START))
    assert isinstance(plan, SeasonPlan)
    now = plan.recommended, ("sill", "sill")
    current, *others = choices_for(plan, Setting(tomato, method, north, sill, sill, START), now, PLACES)
    assert (current.day, current.places, current.count, current.cost) == (
        *now,
        plan.option(plan.recommended).count,
        0.0,
    )
    assert others
    assert all(choice.cost > 0 for choice in others)
    for choice in others:
        assert "bed" not in choice.places
        if choice.places == ("sill", "sill"):  # the same count as the whole plan gives for that day
            assert choice.count == plan.option(choice.day).count
        elsewhere = plan_want(
            Want(8, by=plan.target), Setting(tomato, method, north, *(PLACES[key] for key in choice.places), START)
        )
        assert isinstance(elsewhere, SeasonPlan)
        assert choice.count == elsewhere.option(choice.day).count


@pytest.mark.parametrize("key", ["tomato", "chilli", "rosemary", "mint"])
def test_no_choice_waits_longer_than_the_plant_has_patience(north: Climate, key: str) -> None:
    plant, sill = handbook()[key], PLACES["sill"]
    method = plant.methods[0]
    plan = plan_want(Want(5), Setting(plant, method, north, sill, sill, START))
    assert isinstance(plan, SeasonPlan)
    choices = choices_for(
        plan, Setting(plant, method, north, sill, sill, START), (plan.recommended, ("sill",) * 2), PLACES
    )
    assert len({choice.places for choice in choices}) > 3
    for choice in choices[1:]:
        places = (PLACES[key] for key in choice.places)
        there = Curves(plan.want, Setting(plant, method, north, *places, START), plan.table)
        days = (choice.day - START).days + 1
        worth = there.at(START, days, plan.target)
        assert worth.standing[-1] in (CutDay.COMFORTABLE, CutDay.STRETCH), choice
        assert worth.counts[-1] == choice.count


def test_choices_in_the_ground_stay_in_the_ground(north: Climate) -> None:
    currant, bed = handbook()["blackcurrant"], PLACES["bed"]
    setting = Setting(currant, currant.method("ground"), north, bed, bed, date(2027, 10, 1))
    plan = plan_want(Want(4), setting)
    assert isinstance(plan, SeasonPlan)
    choices = choices_for(plan, setting, (plan.recommended, ("bed", "bed")), PLACES)
    assert {choice.places for choice in choices} == {("bed", "bed")}


@pytest.mark.parametrize(("cost", "chosen"), [(150, 1), (250, 0)])
def test_a_floor_that_is_short_weighs_as_cuttings_do(cost: float, chosen: int) -> None:
    """A tenth of a floor too much is five cuttings without room, of fifty: 200, more than 150 and less than 250."""
    over, elsewhere = Stay("sill", FLOOR, day(0), day(20), 1100), Stay("shelf", "jar", day(0), day(20), 9)
    choices = (
        Choice(day(0), ("sill", "sill"), 9, 0, (over,), 0.0),
        Choice(day(0), ("shelf", "shelf"), 9, 0, (elsewhere,), cost),
    )
    fit = fit_in([Asker("a", choices)], [], {("sill", FLOOR): WHOLE}, start=START, days=60)
    assert (fit.chosen["a"], fit.left_over) == (chosen, 0 if chosen else 5)


def test_what_stands_on_a_measured_place_takes_its_share() -> None:
    tomato = handbook()["tomato"]
    stays = stays_of(
        tomato, tomato.method("jar"), ("sill", "shelf"), 11, cut=day(0), rooted=(day(11), day(16)), out=day(40)
    )
    # 90 × 25 cm holds 33 jars and 14 pots of a litre: three jars are 91 thousandths; the shelf is not measured.
    found = on_floors(stays, {"sill": Floor(90, 25)})
    assert [(stay.place, stay.container, stay.count) for stay in found] == [
        ("sill", "jar", 11), ("sill", FLOOR, 91), ("shelf", "pot", 10),
    ]  # fmt: skip
