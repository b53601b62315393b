"""Every route by which a cutting becomes a plant: its chances by hand, its tasks, its vessels, and histories by chance
that always add up."""

from __future__ import annotations

import math
import random
from collections import Counter
from datetime import date, timedelta
from typing import Any

import pytest
from scipy.stats import norm

from elder.engine.assumptions import Assumptions
from elder.engine.batch.forecast import Aims, forecast
from elder.engine.batch.history import moves_of, replay, retold
from elder.engine.batch.state import STAGES, BatchState, Entry
from elder.engine.batch.under_way import UnderWay
from elder.engine.chance.ready_by import ready_by_target, ready_from_cut
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import doy0
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.routes import LINED_OUT, ROUTES
from elder.engine.place.warmth import Place
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.plan.wood import next_rest, wood_in_season
from elder.engine.refusal import Refusal
from elder.engine.round.care import cares
from elder.engine.round.loads import loads
from elder.engine.round.milestones import Onward, due
from elder.engine.setting import Setting
from elder.engine.space.occupancy import stays_of

CUT = date(2027, 3, 1)
A_DAY, MEDIAN, SIGMA = 0.77306, 8.9180, 0.27044  # the worked example's room, and the law of a tomato in a jar
BED = Place("ground")


def rooted_by(day: int) -> float:
    """The share of those that will root that has by the end of a day, from the worked example by hand."""
    return float(norm.cdf(math.log(A_DAY * (day + 1) / MEDIAN) / SIGMA))


def after(days: int) -> date:
    return CUT + timedelta(days=days)


def ways(route: str) -> list[tuple[Plant, Method]]:
    return [(plant, way) for plant in handbook().values() for way in plant.ways if way.route.key == route]


def history(*lines: tuple[int, str, int], stage: str = "") -> list[Entry]:
    found = [Entry(f"{i}", kind, after(day), count, stage=stage) for i, (day, kind, count) in enumerate(lines)]
    return [found[0]._replace(stage=""), *found[1:]]


@pytest.mark.parametrize("day", [12, 15, 18, 25])
def test_straight_out_is_ready_seven_days_after_the_look(north: Climate, tomato: Plant, sill: Place, day: int) -> None:
    """No pot: by day 15 those rooted by day 8, which is 1 in 10; looked at daily in the year of the normals."""
    way = tomato.method("jar-straight-out")
    raising = Setting(tomato, way, north, sill, sill, CUT, Assumptions.ideal()).raising()
    assert raising.establish_law is None
    row = ready_from_cut(raising, CUT, 60)
    assert row.mean_ready[day] == pytest.approx(rooted_by(day - 7), abs=2e-4)
    column = ready_by_target(raising, CUT, 40, after(day))
    assert column[0, 0] == pytest.approx(rooted_by(day - 7), abs=2e-4)
    usual = plan_want(Want(1, by=after(75)), Setting(tomato, way, north, sill, sill, CUT, Assumptions.ideal()))
    assert isinstance(usual, SeasonPlan)
    # Half have rooted by day 11, at 0.77306 a day; a week of hardening makes 18.
    assert usual.usual_ready[0] == 18


def test_it_crops_later_by_the_days_it_would_have_had_in_a_pot(tomato: Plant) -> None:
    potted, straight = (tomato.grown_by(tomato.method(slug)) for slug in ("jar", "jar-straight-out"))
    assert (potted.harvest_early_days, potted.harvest_late_days) == (45, 65)
    assert (straight.harvest_early_days, straight.harvest_late_days) == (45 + 8, 65 + 14)


def test_just_stuck_the_forecast_agrees_with_its_plan(north: Climate, tomato: Plant, sill: Place) -> None:
    setting = Setting(tomato, tomato.method("jar-straight-out"), north, sill, sill, CUT)
    plan = plan_want(Want(8, by=after(75)), setting.grown)
    assert isinstance(plan, SeasonPlan)
    state = replay([Entry("t", "taken", CUT, 12)], today=CUT, route=setting.method.route)
    assert isinstance(state, BatchState)
    ahead = forecast(state, setting, aims=Aims(True, plan.target))
    followed = ready_from_cut(plan.raising, CUT, 100)
    for day in (20, 26, 40):
        expected = 12 * plan.take.mean * float(followed.mean_ready[day])
        assert ahead.expected[day] == pytest.approx(expected, abs=0.35), day


def test_those_rooted_in_their_jar_are_ready_when_hardened_and_not_before(
    north: Climate, tomato: Plant, sill: Place
) -> None:
    setting = Setting(tomato, tomato.method("jar-straight-out"), north, sill, sill, after(14))
    state = replay(history((0, "taken", 5), (14, "rooted", 5)), today=after(14), route=setting.method.route)
    assert isinstance(state, BatchState)
    ahead = forecast(state, setting)
    assert ahead.ready_on(after(20))[5] == 0
    # All five unless some are lost out there: s ~ Beta(19, 1) taken at 0.95 ± its sd, so the mean of its fifth power.
    spread = (0.95 * 0.05 / 21) ** 0.5
    assert ahead.ready_on(after(21))[5] == pytest.approx(((0.95 - spread) ** 5 + (0.95 + spread) ** 5) / 2)
    assert ahead.established_on == after(14)


def test_what_was_given_unrooted_is_no_plant(north: Climate, tomato: Plant, sill: Place) -> None:
    """Of six, two are given away unrooted and one rooted: that one is counted, and those two never."""
    setting = Setting(tomato, tomato.method("jar"), north, sill, sill, after(90))
    lines = [*history((0, "taken", 6), (9, "rooted", 1), (10, "given", 1)), Entry("l", "lost", after(12), 3, "waiting")]
    state = replay([*lines, Entry("g", "given", after(11), 2, "waiting")], today=after(90))
    assert isinstance(state, BatchState)
    assert (state.given, state.living) == (3, 0)
    assert list(forecast(state, setting).ready_on(after(90))) == [0, 1]


def told(state: BatchState, setting: Setting, onward: Onward) -> list[tuple[str, int, int]]:
    ahead = forecast(state, setting)
    return [(task.verb, (task.due - CUT).days, task.count) for task in due(state, ahead, onward)]


@pytest.mark.parametrize(
    ("slug", "way", "lines", "tasks"),
    [
        ("tomato", "jar", [(14, "rooted", 5)], [("pot_on", 14, 5)]),
        ("tomato", "jar-straight-out", [(14, "rooted", 5)], [("harden", 68, 5)]),  # a week before its day, not potted
        ("tomato", "jar-straight-out", [(14, "rooted", 5), (68, "hardening", 5)], [("plant_out", 75, 5)]),
        ("tomato", "ground", [(14, "rooted", 5)], [("harvest", 69, 5)]),  # it stands where it is to crop
        ("grapevine", "ground", [(14, "rooted", 5)], [("lift", 250, 5)]),
        ("grapevine", "ground", [(14, "rooted", 5), (260, "lifted", 3)], [("lift", 250, 2)]),
        ("grapevine", "ground", [(14, "rooted", 5), (260, "lifted", 5), (270, "planted", 5)], [("harvest", 325, 5)]),
        ("mint", "growbed-solution", [(14, "rooted", 5)], [("pot_on", 14, 5)]),
        ("perilla", "lifted", [(14, "rooted", 5)], [("harden", 71, 5)]),  # potted from the first: nothing to pot
    ],
)
def test_what_is_due_on_each_route(
    north: Climate, sill: Place, slug: str, way: str, lines: list[Any], tasks: list[Any]
) -> None:
    plant, method = handbook()[slug], handbook()[slug].method(way)
    place = BED if method.direct else sill
    setting = Setting(plant, method, north, place, place, after(280))
    state = replay(history((0, "taken", 5), *lines), today=after(280), route=method.route)
    assert isinstance(state, BatchState)
    lifting = (after(250), after(320)) if method.route is LINED_OUT else None
    onward = Onward(after(75), method.harden_days, harvest_days=55, route=method.route, lifting=lifting)
    assert told(state, setting, onward) == tasks


def test_a_shoot_too_short_to_pot_is_measured_again_in_a_week(north: Climate, sill: Place) -> None:
    """Vine wood is potted at shoots of 15 cm; a shoot of 4 cm is not, whatever has rooted."""
    vine = handbook()["grapevine"]
    setting = Setting(vine, vine.method("stick"), north, sill, sill, after(60))
    lines = [*history((0, "taken", 5), (50, "rooted", 5)), Entry("m", "looked", after(58), root_cm=4)]
    onward = Onward(after(120), 7, ready_cm=15)
    for length, day in ((4, 65), (15, 50), (16, 50)):
        state = replay([*lines[:-1], lines[-1]._replace(root_cm=length)], today=after(60))
        assert isinstance(state, BatchState)
        assert told(state, setting, onward) == [("pot_on", day, 5)], length


def test_the_next_rest_begins_a_season_on(north: Climate, south: Climate) -> None:
    for climate, since in (
        (north, date(2027, 4, 20)),
        (south, date(2027, 10, 20)),
        (north, date(2027, 12, 1)),
        (north, date(2027, 8, 1)),
    ):
        dormant = wood_in_season(climate, "dormant", stock_indoors=False)
        first, last = next_rest(climate, since)
        days = [first + timedelta(days=i) for i in range(-1, (last - first).days + 2)]
        is_rest = [bool(dormant[doy0(day)]) for day in days]
        assert not is_rest[0], "the day before it is not at rest"
        assert not is_rest[-1], "nor the day after"
        assert all(is_rest[1:-1])
        assert 150 <= (first - since).days < 150 + 366
    # Cut and stuck in spring, lifted that autumn: the coolest 160 days of this climate, less the last fortnight.
    assert next_rest(north, date(2027, 4, 20))[0].month in (10, 11)


@pytest.mark.parametrize("purpose", ["pot", "winter", "spare", "reserve"])
def test_what_goes_straight_out_stands_in_no_pot(north: Climate, tomato: Plant, sill: Place, purpose: Any) -> None:
    setting = Setting(tomato, tomato.method("jar-straight-out"), north, sill, sill, CUT)
    found = plan_want(Want(3, purpose=purpose), setting)
    assert isinstance(found, Refusal)
    assert found.code == "stands_in_no_pot"


def test_a_solution_is_topped_up_and_made_anew_and_never_watered(north: Climate, sill: Place) -> None:
    mint = handbook()["mint"]
    method = mint.method("growbed-solution")
    setting = Setting(mint, method, north, sill, sill, after(30))
    state = replay(history((0, "taken", 6), (12, "rooted", 6), (14, "potted", 6)), today=after(30), route=method.route)
    assert isinstance(state, BatchState)
    batch = UnderWay(state, forecast(state, setting), mint, method, after(30))
    tasks = {task.verb: (task.due - CUT).days for task in cares(batch)}
    assert (tasks["top_up"], tasks["solution"]) == (14 + 4, 14 + 14)
    assert not {"water_pots", "soak", "feed"} & set(tasks)
    assert method.grows_in == "grow bed", "what roots in the bed goes on in the bed"
    assert handbook()["tomato"].method("clay-solution").grows_in == "net pot"


def test_what_hardens_in_its_jar_is_carried_in_its_jar(tomato: Plant) -> None:
    straight, potted = tomato.method("jar-straight-out"), tomato.method("jar")
    lines = history((0, "taken", 7), (9, "rooted", 7), (12, "hardening", 7))
    state = replay(lines, today=after(20), route=straight.route)
    assert isinstance(state, BatchState)
    (jars,) = loads(state, tomato, straight).values()
    (pots,) = loads(state, tomato, potted).values()
    assert (jars.container, jars.containers, pots.container, pots.containers) == ("jar", 2, "pot", 7)


def test_where_it_stands_until_it_goes_out(tomato: Plant) -> None:
    straight = stays_of(
        tomato, tomato.method("jar-straight-out"), ("sill", "frame"), 9, cut=CUT, rooted=(CUT, CUT), out=CUT
    )
    assert [(stay.place, stay.container, stay.count) for stay in straight] == [("sill", "jar", 9)]
    clay = tomato.method("clay-solution")
    stays = stays_of(tomato, clay, ("sill", "frame"), 9, cut=CUT, rooted=(after(10), after(14)), out=after(40))
    assert [(stay.place, stay.container) for stay in stays] == [("sill", "net pot"), ("frame", "net pot")]


def test_every_way_has_a_route_that_fits_what_it_is() -> None:
    for plant in handbook().values():
        for way in plant.methods:
            assert way.direct == (way.container == "row"), (plant.slug, way.slug)
            assert (way.establish is None) == way.direct, (plant.slug, way.slug)
            assert (way.route.key == "with roots") <= (way.form in ("pup", "division", "runner"))
            assert (way.route.key == "lined out") == (way.direct and way.form == "dormant stick")
    assert {plant.slug for plant, _ in ways("straight out")} >= {"tomato", "mint", "basil", "watercress", "coleus"}
    assert {plant.slug for plant, _ in ways("with roots")} >= {"perilla", "mint", "lemon-balm", "banana", "pineapple"}


VERBS = ("rooted", "potted", "hardening", "planted", "lifted", "given", "lost")


@pytest.mark.parametrize("route", ROUTES)
@pytest.mark.parametrize("seed", range(12))
def test_histories_by_chance_add_up_on_every_route(route: str, seed: int) -> None:
    """Two hundred presses by chance: one that asks for more than there is is refused and leaves all as it was, any
    other moves just so many; counted beside by a plain tally."""
    dice, way = random.Random(f"{route} {seed}"), ROUTES[route]  # noqa: S311 - dice
    taken = dice.randrange(20, 60)
    entries, tally = [Entry("t", "taken", CUT, taken)], Counter({"waiting": taken})
    accepted = 0
    for i in range(200):
        verb, count = dice.choice(VERBS), dice.randrange(1, 7)
        stage = dice.choice(("", *STAGES))
        entry = Entry(f"{i}", verb, after(i), count, stage=stage or ("waiting" if verb == "lost" else ""))
        lost_from = way.roots_as if stage == "rooted" else stage or "waiting"
        sources, target = ((lost_from,), "lost") if verb == "lost" else moves_of(verb, way)
        said = way.roots_as if stage == "rooted" else stage
        if verb not in ("rooted", "lost") and said in sources:
            sources = (said,)
        there = sum(tally[one] for one in sources)
        state = replay([*entries, entry], today=after(300), route=way)
        assert isinstance(state, Refusal) == (count > there), (verb, count, there)
        if isinstance(state, Refusal):
            assert (state.code, state.params["there"]) == ("more_than_there", there)
            continue
        entries.append(entry)
        accepted += 1
        for one in sources:
            gone = min(tally[one], count)
            tally[one] -= gone
            count -= gone
            tally[target] += gone
        assert {one: state.count(one) for one in STAGES} == {one: tally[one] for one in STAGES}
        assert (state.lost, state.given) == (tally["lost"], tally["given"])
        assert state.taken == state.living + state.lost + state.given
    assert retold(entries, way) == replay(entries, today=after(300), route=way)
    assert accepted > 3
