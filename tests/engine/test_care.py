"""What a batch asks for, day by day: common practice of the trade, so no sources but the handbook's."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest

from elder.engine.batch.drying import dried_days
from elder.engine.batch.forecast import forecast
from elder.engine.batch.history import replay
from elder.engine.batch.state import BatchState, Entry
from elder.engine.batch.under_way import UnderWay
from elder.engine.handbook.loading import clonable, handbook
from elder.engine.place.warmth import Place
from elder.engine.round.care import DEEDS, MINUTES, Around, cares, minutes_of
from elder.engine.round.hardening import SEEDLING_DAYS, hardening_ladder
from elder.engine.round.loads import loads
from elder.engine.round.milestones import Task
from elder.engine.round.potting import ladder, potting_of, ready_sign
from elder.engine.setting import Setting

SILL = Place("room", day_c=20, night_c=17)
STUCK = date(2027, 3, 1)

HOT = Around(hot=True)


class Bench:
    """A batch of eight tomatoes, or another plant, and what it asks for."""

    def __init__(self, north: Any, plant: str = "tomato", method: str = "jar") -> None:
        self.climate, self.plant = north, handbook()[plant]
        self.method = self.plant.method(method)
        self.entries = [Entry("taken", "taken", STUCK, 8)]

    def did(self, kind: str, day: int, count: int = 0, **more: Any) -> Bench:
        on = STUCK + timedelta(days=day)
        self.entries.append(Entry(f"{kind}{len(self.entries)}", kind, on, count, **more))
        return self

    def state(self, day: int) -> BatchState:
        found = replay(self.entries, today=STUCK + timedelta(days=day))
        assert isinstance(found, BatchState), found
        return found

    def tasks(self, day: int, **asked: Any) -> dict[str, Task]:
        today, state = STUCK + timedelta(days=day), self.state(day)
        standing = forecast(state, Setting(self.plant, self.method, self.climate, SILL, SILL, today))
        found = cares(UnderWay(state, standing, self.plant, self.method, today), **asked)
        assert [task.due for task in found] == sorted(task.due for task in found)
        return {task.verb: task for task in found}


@pytest.fixture
def bench(north: Any) -> Any:
    return lambda *given: Bench(north, *given)


def day(task: Task) -> int:
    return (task.due - STUCK).days


def test_jars_are_changed_every_two_or_three_days(bench: Any) -> None:
    jar = bench()
    task = jar.tasks(0)["water"]
    assert (day(task), (task.opens - STUCK).days, task.count) == (3, 2, 8)
    assert day(jar.tasks(0, around=HOT)["water"]) == 2
    jar.did("tended", 2, deed="water")
    assert day(jar.tasks(2)["water"]) == 5


@pytest.mark.parametrize(("weekdays", "expected"), [([0, 3], 3), ([0], 7), ([1], 1)])
def test_or_on_the_weekdays_a_household_picks(bench: Any, weekdays: list[int], expected: int) -> None:
    # 1 March 2027 is a Monday.
    task = bench().tasks(0, weekdays=weekdays)["water"]
    assert day(task) == expected
    assert task.opens == task.due


def test_a_struck_deed_counts_for_nothing(bench: Any) -> None:
    jar = bench().did("tended", 2, deed="water")
    jar.entries.append(Entry("oops", "struck", STUCK + timedelta(days=2), strikes="tended1"))
    assert day(jar.tasks(2)["water"]) == 3


def test_mix_is_moistened_from_below_and_a_closed_cover_aired_until_there_are_roots(bench: Any) -> None:
    plug = bench("tomato", "plug")
    assert {"moisten", "air"} <= set(plug.tasks(1))
    assert "uncover" not in plug.tasks(1)
    plug.did("rooted", 10, 5)
    assert "air" not in plug.tasks(10)
    assert day(plug.tasks(10)["uncover"]) == 11
    for step in (11, 12, 13, 14):
        plug.did("tended", step, deed="uncover")
    assert "uncover" not in plug.tasks(15), "by degrees, and then it is off"


def test_what_hangs_in_bark_is_misted_and_what_is_covered_only_in_heat(bench: Any) -> None:
    assert "mist" not in bench().tasks(1)
    assert "mist" not in bench("tomato", "mix").tasks(1), "a cover keeps them damp"
    assert "mist" in bench("tomato", "mix").tasks(1, around=HOT)
    vine = bench("vanilla", "bark").did("tended", 2, deed="stick")
    assert day(vine.tasks(5)["mist"]) == vine.method.dry_days + 1, "orchid vines want it daily"


def test_what_dries_to_a_callus_is_left_alone(bench: Any) -> None:
    cactus = bench("dragon-fruit", "gritty")
    assert cactus.method.dry_days > 1
    dried = cactus.method.dry_days
    for at in (0, dried - 1, dried, dried + 4):
        (task,) = cactus.tasks(at).values()
        assert (task.verb, day(task), task.count) == ("stick", dried, 8), "the timer is a task until it is pressed"
    assert set(cactus.did("tended", 1, deed="carry_in").tasks(dried)) == {"stick"}, "carried in, it dries on"
    stuck = cactus.did("tended", dried + 1, deed="stick").tasks(dried + 1)
    assert "stick" not in stuck
    assert day(stuck["moisten"]) > dried + 1, "and is watered from the day it was stuck"
    told = bench("dragon-fruit", "gritty").did("tended", dried + 1, deed="moisten").tasks(dried + 2)
    assert "stick" not in told, "what was watered must have been stuck"


def test_the_forecast_counts_from_the_day_they_were_stuck(bench: Any, north: Any) -> None:
    """By the definition of the model: units count from the day after drying, whenever that was."""

    def half_rooted(kept: Any, at: int) -> date:
        today, state = STUCK + timedelta(days=at), kept.state(at)
        standing = forecast(state, Setting(kept.plant, kept.method, kept.climate, SILL, SILL, today))
        first = next(i for i, chance in enumerate(standing.rooted_by) if chance >= 0.5)
        return STUCK + timedelta(days=first)

    dried = bench("dragon-fruit", "gritty").method.dry_days
    usual = half_rooted(bench("dragon-fruit", "gritty").did("tended", dried, deed="stick"), 10)
    for day_stuck in (0, 7):
        stuck = half_rooted(bench("dragon-fruit", "gritty").did("tended", day_stuck, deed="stick"), 10)
        assert (stuck - usual).days == pytest.approx(day_stuck - dried, abs=1)
    still_lying = half_rooted(bench("dragon-fruit", "gritty"), 10)
    assert (still_lying - usual).days == pytest.approx(10 - dried, abs=1), "what lies on roots later"
    assert dried_days(bench().state(3), bench().method, STUCK) == 0


def test_what_is_struck_in_its_row_is_watered_there(bench: Any) -> None:
    row = bench("blackcurrant", "ground")
    gap = max(round(7 / max(row.method.visits_a_week, 0.5)), 1)
    found = row.tasks(0)
    assert set(found) == {"water_in"}
    assert day(found["water_in"]) == gap
    assert day(row.tasks(0, around=HOT)["water_in"]) == 1


def test_water_roots_are_kept_very_wet_for_two_days_after_potting(bench: Any) -> None:
    jar = bench().did("rooted", 10, 8).did("potted", 11, 8)
    assert day(jar.tasks(11)["soak"]) == 12
    assert "water_pots" not in jar.tasks(12)
    assert "soak" not in jar.tasks(14)
    assert "water_pots" in jar.tasks(14)
    mix = bench("tomato", "mix").did("rooted", 10, 8).did("potted", 11, 8)
    assert "soak" not in mix.tasks(11), "roots grown in mix know air"


def test_feed_comes_after_roots_and_not_before(bench: Any) -> None:
    jar = bench()
    assert "feed_water" not in jar.tasks(5)
    jar.did("rooted", 10, 4)
    assert jar.tasks(10)["feed_water"].count == 4
    jar.did("potted", 11, 4)
    feed = jar.tasks(11)["feed"]
    assert day(feed) == 11 + 14
    jar.did("tended", 25, deed="feed")
    assert day(jar.tasks(25)["feed"]) == 25 + 14


def test_stakes_light_and_pinching_once(bench: Any) -> None:
    jar = bench().did("rooted", 10, 8).did("potted", 11, 8)
    found = jar.tasks(20)
    assert (day(found["light"]), day(found["stake"])) == (18, 32)
    jar.did("tended", 20, deed="light")
    assert "light" not in jar.tasks(20)
    jar.did("looked", 21, signs=("buds",))
    assert day(jar.tasks(21)["pinch"]) == 21
    jar.did("tended", 21, deed="pinch")
    assert "pinch" not in jar.tasks(22)


def test_pests_are_looked_for_weekly_and_soon_after_they_were_seen(bench: Any) -> None:
    jar = bench().did("rooted", 10, 8)
    assert day(jar.tasks(10)["pests"]) == 19
    jar.did("looked", 12, signs=("pests",))
    assert day(jar.tasks(12)["pests"]) == 14


def test_hardening_goes_day_by_day_and_ends(bench: Any) -> None:
    jar = bench().did("rooted", 10, 8).did("potted", 11, 8).did("hardening", 30, 8)
    assert day(jar.tasks(30)["harden_step"]) == 30
    jar.did("tended", 30, deed="harden_step")
    assert "harden_step" not in jar.tasks(30)
    assert day(jar.tasks(31)["harden_step"]) == 31
    assert "harden_step" not in jar.tasks(30 + jar.method.harden_days)


def test_the_ladder_of_hardening_rises_and_is_shorter_than_a_seedlings() -> None:
    rungs = hardening_ladder(7)
    assert [rung.day for rung in rungs] == list(range(1, 8))
    hours = [rung.hours for rung in rungs]
    assert hours == sorted(hours)
    assert (hours[0], hours[-1]) == (1, 24)
    assert not rungs[0].sun
    assert [rung.night for rung in rungs].index(True) == 5
    assert len(rungs) < SEEDLING_DAYS[0]
    assert hardening_ladder(0) == ()
    assert len(hardening_ladder(1)) == 1


def test_long_crops_climb_pot_sizes(bench: Any) -> None:
    fig = bench("fig", "bag").did("rooted", 20, 3).did("potted", 21, 3)
    # 1 US gallon, then 5 to 7, then bigger after one or two years (common practice).
    rungs = ladder(fig.plant, fig.method, STUCK + timedelta(days=21))
    assert [rung.litres for rung in rungs] == [3.8, 22, 40]
    assert fig.tasks(22)["pot_up"].due == rungs[1].due
    # A litre of potting mix with a fifth of grit is 1.3 kg wet, a plant 0.05 kg for each litre; and the empty pot.
    assert loads(fig.state(22), fig.plant, fig.method)["potted"].each_kg == pytest.approx(3.8 * 1.35 + 0.23)
    fig.did("potted_up", 300)
    assert fig.tasks(300)["pot_up"].due == rungs[2].due
    assert loads(fig.state(300), fig.plant, fig.method)["potted"].each_kg == pytest.approx(22 * 1.35 + 1.32)
    tomato = handbook()["tomato"]
    assert len(ladder(tomato, tomato.methods[0], STUCK)) == 1


def test_loads_count_containers_not_cuttings(bench: Any) -> None:
    found = loads(bench().state(0), bench().plant, bench().method)
    assert set(found) == {"stuck"}
    load = found["stuck"]
    assert (load.container, load.containers, load.plants) == ("jar", 2, 8)
    ground = bench("blackcurrant", "ground")
    assert loads(ground.state(0), ground.plant, ground.method) == {}


def test_every_way_of_the_handbook_can_be_tended_potted_and_told_ready(north: Any) -> None:
    for plant in clonable().values():
        for method in plant.methods:
            assert ready_sign(method).look
            assert potting_of(plant, method).steps
            found = Bench(north, plant.slug, method.slug).did("rooted", 30, 4).did("potted", 31, 2).tasks(33)
            assert all(task.verb in MINUTES for task in found.values()), (plant.slug, method.slug)
            assert bool(found)


def test_depth_and_feed_are_the_plants_own_where_it_has_one() -> None:
    pineapple, tomato = handbook()["pineapple"], handbook()["tomato"]
    assert "No deeper" in potting_of(pineapple, pineapple.methods[0]).depth
    assert "5.5 to 6.5" in potting_of(pineapple, pineapple.methods[0]).feed
    assert "buried stem" in potting_of(tomato, tomato.methods[0]).depth
    assert potting_of(tomato, tomato.methods[0]).support_kind == "stake"


def test_minutes_grow_with_what_is_done() -> None:
    assert set(DEEDS) <= set(MINUTES)
    assert minutes_of("pot_on", 6) == 15
    assert minutes_of("water", 20) == minutes_of("water", 1)


def test_a_move_and_what_was_seen_stand_in_the_state(bench: Any) -> None:
    jar = bench().did("moved", 4, place="7", stage="waiting").did("looked", 5, signs=("moss",), root_cm=0.5)
    state = jar.state(6)
    assert [(move.place, move.stage) for move in state.moves] == [("7", "waiting")]
    assert [(seen.signs, seen.root_cm) for seen in state.seen] == [(("moss",), 0.5)]
    assert state.last_entry_on == STUCK + timedelta(days=5)
    assert state.last_tended("water") is None


def test_nothing_potted_cannot_be_potted_up(bench: Any) -> None:
    found = replay([*bench().entries, Entry("up", "potted_up", STUCK)], today=STUCK)
    assert getattr(found, "code", "") == "nothing_potted"
