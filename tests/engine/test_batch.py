"""Histories that add up, forecasts of what is left, and what is due."""

from __future__ import annotations

import dataclasses
from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.batch.forecast import BatchForecast, forecast
from elder.engine.batch.history import newest_day, replay, retold
from elder.engine.batch.outlook import batch_outlook
from elder.engine.batch.remedies import CutsAhead, top_up
from elder.engine.batch.state import STAGES, BatchState, Entry, Lot
from elder.engine.chance.counting import Take, chance_of
from elder.engine.chance.ready_by import ready_by_target
from elder.engine.chance.rooting_time import units_to_stage
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.search import plan_want
from elder.engine.plan.want import Want
from elder.engine.refusal import Refusal
from elder.engine.round.milestones import Onward, due
from elder.engine.setting import Setting

CUT = date(2027, 3, 20)
GATE = date(2027, 5, 17)


def entry(kind: str, day: int, count: int = 0, **rest: Any) -> Entry:
    return Entry(
        key=rest.pop("key", f"{kind}{day}{count}"), kind=kind, on=CUT + timedelta(days=day), count=count, **rest
    )


def state_of(*entries: Entry, taken: int = 11, today: int = 60) -> BatchState:
    state = replay([entry("taken", 0, taken), *entries], today=CUT + timedelta(days=today))
    assert isinstance(state, BatchState), state
    return state


def refusal_of(*entries: Entry, taken: int = 11, today: int = 60) -> Refusal:
    state = replay([entry("taken", 0, taken), *entries], today=CUT + timedelta(days=today))
    assert isinstance(state, Refusal)
    return state


verbs = st.sampled_from(["rooted", "lost", "potted", "hardening", "planted", "given", "looked", "note"])
lines = st.lists(st.tuples(verbs, st.integers(0, 50), st.integers(0, 12), st.sampled_from(STAGES)), max_size=12)


@given(lines, st.integers(1, 30))
def test_counts_always_add_up(drawn: list[tuple[str, int, int, str]], taken: int) -> None:
    entries = [entry("taken", 0, taken)]
    for i, (kind, day, count, stage) in enumerate(drawn):
        new = entry(kind, day, count, stage=stage if kind == "lost" else "", key=str(i))
        state = replay([*entries, new], today=CUT + timedelta(days=60))
        if isinstance(state, BatchState):  # refused entries are simply not written
            entries.append(new)
            assert state.taken == sum(state.count(stage) for stage in STAGES) + state.given + state.lost
            assert min(state.count(stage) for stage in STAGES) >= 0


def test_a_whole_life() -> None:
    state = state_of(
        entry("rooted", 9, 6),
        entry("potted", 10, 6),
        entry("lost", 20, 5, why="rot"),
        entry("hardening", 40, 6),
        entry("planted", 50, 5),
        entry("given", 50, 1),
        entry("harvested", 58),
    )
    assert (state.count("planted"), state.given, state.lost, state.over) == (5, 1, 5, True)


@pytest.mark.parametrize(
    ("entries", "code", "there"),
    [
        ([("rooted", 9, 12)], "more_than_there", 11),
        ([("rooted", 9, 3), ("potted", 10, 4)], "more_than_there", 3),
        ([("lost", 9, 12)], "more_than_there", 11),
        ([("rooted", 9, 3), ("potted", 8, 3)], "more_than_there", 0),
    ],
)
def test_what_does_not_add_up_is_refused(entries: list[tuple[str, int, int]], code: str, there: int) -> None:
    refusal = refusal_of(*(entry(*line) for line in entries))
    assert (refusal.code, refusal.params["there"]) == (code, there)


@pytest.mark.parametrize(
    ("line", "code"),
    [
        (("rooted", 61, 1), "future"),
        (("rooted", -1, 1), "before_taken"),
        (("rooted", 5, 0), "count_not_positive"),
        (("harvested", 5, 0), "nothing_planted"),
    ],
)
def test_days_and_counts_that_cannot_be(line: tuple[str, int, int], code: str) -> None:
    assert refusal_of(entry(*line)).code == code


def test_a_future_cut_is_refused() -> None:
    state = replay([entry("taken", 5, 11)], today=CUT)
    assert isinstance(state, Refusal)
    assert state.code == "future"


def test_backdated_entries_count_in_their_place() -> None:
    state = state_of(entry("potted", 12, 4), entry("rooted", 10, 4))
    assert state.count("potted") == 4


def test_a_correction_strikes_and_replaces() -> None:
    wrong = entry("rooted", 9, 8, key="wrong")
    state = state_of(wrong, entry("rooted", 9, 3, strikes="wrong", key="right"))
    assert state.count("rooted") == 3


def test_striking_what_later_entries_rest_on_is_refused() -> None:
    first = entry("rooted", 9, 3, key="first")
    refusal = refusal_of(first, entry("potted", 10, 3), entry("struck", 9, strikes="first", key="gone"))
    assert refusal.code == "more_than_there"


@pytest.fixture(scope="module")
def reckon(north: Climate, tomato: Plant, sill: Place):  # type: ignore[no-untyped-def]
    def made(state: BatchState, day: int) -> BatchForecast:
        today = CUT + timedelta(days=day)
        return forecast(state, Setting(tomato, tomato.methods[0], north, sill, sill, today))

    return made


def test_a_batch_just_stuck_has_the_chance_it_was_planned_with(
    north: Climate, tomato: Plant, sill: Place, reckon
) -> None:  # type: ignore[no-untyped-def]
    plan = plan_want(Want(8, by=GATE), Setting(tomato, tomato.methods[0], north, sill, sill, CUT))
    assert not isinstance(plan, Refusal)
    planned = plan.option(CUT)
    started = reckon(state_of(taken=planned.count), 0)
    assert chance_of([started.ready_on(GATE)], 8) == pytest.approx(planned.chance, abs=0.01)


def test_not_looking_is_no_news(reckon) -> None:  # type: ignore[no-untyped-def]
    fresh, later = (chance_of([reckon(state_of(), day).ready_on(GATE)], 8) for day in (0, 14))
    assert later == pytest.approx(fresh, abs=0.01)


def test_losses_lower_the_chance_and_roots_raise_it(reckon) -> None:  # type: ignore[no-untyped-def]
    plain = reckon(state_of(entry("looked", 10)), 10)
    lossy = reckon(state_of(entry("lost", 10, 3, why="rot")), 10)
    rooty = reckon(state_of(entry("rooted", 10, 8)), 10)
    chances = [chance_of([standing.ready_on(GATE)], 8) for standing in (lossy, plain, rooty)]
    assert chances == sorted(chances)
    # Eight of eight rooted have to stand: 19 in 20 do, s ~ Beta(19, 1), of which the eighth power's mean is 19/27.
    assert chances[2] > 19 / 27 > chances[0]


def test_an_accident_says_nothing_of_the_take(reckon) -> None:  # type: ignore[no-untyped-def]
    rotted = reckon(state_of(entry("lost", 10, 5, why="rot")), 10)
    dropped = reckon(state_of(entry("lost", 10, 5, why="accident")), 10)
    assert dropped.hope > rotted.hope


def test_hope_falls_with_every_look_without_roots(reckon) -> None:  # type: ignore[no-untyped-def]
    hopes = [reckon(state_of(entry("looked", day)), day).hope for day in (5, 12, 18, 25)]
    assert hopes == sorted(hopes, reverse=True)


def test_give_up_is_where_hope_runs_out(reckon) -> None:  # type: ignore[no-untyped-def]
    standing = reckon(state_of(), 0)
    assert standing.give_up_on is not None
    day = (standing.give_up_on - CUT).days
    assert (
        reckon(state_of(entry("looked", day)), day).hope
        < 0.10
        <= reckon(state_of(entry("looked", day - 1)), day - 1).hope
    )


def test_planted_ones_are_certain(reckon) -> None:  # type: ignore[no-untyped-def]
    state = state_of(entry("rooted", 9, 8), entry("potted", 10, 8), entry("hardening", 40, 8), entry("planted", 48, 8))
    assert chance_of([reckon(state, 50).ready_on(CUT + timedelta(days=50))], 8) == pytest.approx(1.0)
    assert chance_of([reckon(state, 50).ready_on(CUT + timedelta(days=48))], 8) == pytest.approx(1.0)
    assert chance_of([reckon(state, 50).ready_on(CUT + timedelta(days=47))], 8) == pytest.approx(0.0, abs=1e-9)


def test_forecast_agrees_with_simulation(north: Climate, tomato: Plant, sill: Place, reckon) -> None:  # type: ignore[no-untyped-def]
    """A plain simulation of the same model, drawn cutting by cutting, for a batch half under way."""
    from elder.engine.place.running_units import daily_units

    chance = np.random.default_rng(5)
    today, target, draws = 10, (GATE - CUT).days - 15, 40_000
    state = state_of(entry("rooted", 10, 4))
    method = tomato.methods[0]
    rooting, establish = (units_to_stage(days, tomato.cardinals) for days in (method.rooting, method.establish))
    units = np.cumsum(daily_units(sill, north, tomato.cardinals, CUT, 160))
    takes = chance.beta(18, 2, draws)
    seen = rooting.cdf(units[today])
    # Keep the draws in which exactly 4 of 11 would be rooted by the look.
    cuttings = chance.random((draws, 11)) < takes[:, None]
    pace = np.exp(0.2 * chance.standard_normal((draws, 1)))  # in a room: each batch has a speed of its own
    when = pace * rooting.median * np.exp(rooting.sigma * chance.standard_normal((draws, 11)))
    early = cuttings & (when <= units[today])
    kept = early.sum(axis=1) == 4
    root_day = np.searchsorted(units, when[kept])
    looks = today + 3 * np.arange(1, 60)  # the garden's usual three days, from the last look on
    pot_day = np.where(early[kept], today, looks[np.searchsorted(looks, root_day)])
    need = pace[kept] * establish.median * np.exp(establish.sigma * chance.standard_normal(pot_day.shape))
    ready_day = np.searchsorted(units, units[np.minimum(pot_day, 159)] + need) + method.harden_days
    lives = chance.random(pot_day.shape) < chance.beta(19, 1, (len(pot_day), 1))
    ready = (cuttings[kept] & lives & (ready_day <= target)).sum(axis=1)
    assert 0.1 < seen < 0.9
    found = chance_of([reckon(state, today).ready_on(CUT + timedelta(days=target))], 8)
    error = 4 * np.sqrt(found * (1 - found) / kept.sum()) + 0.01
    assert found == pytest.approx(float((ready >= 8).mean()), abs=error)


def test_top_up_brings_the_chance_back(north: Climate, tomato: Plant, sill: Place, reckon) -> None:  # type: ignore[no-untyped-def]
    today = CUT + timedelta(days=12)
    short = reckon(state_of(entry("lost", 12, 6, why="rot")), 12)
    ready = ready_by_target(Setting(tomato, tomato.methods[0], north, sill, sill, today).raising(), today, 366, GATE)
    more = top_up([short.ready_on(GATE)], 8, 0.9, CutsAhead(today, ready, np.ones(366, bool), Take(0.9, 20)))
    assert more is not None
    assert (more.day, more.count > 2) == (today, True)
    assert today < more.until < GATE
    never = top_up([short.ready_on(GATE)], 8, 0.9, CutsAhead(today, ready, np.zeros(366, bool), Take(0.9, 20)))
    assert never is None


@pytest.mark.parametrize(
    ("entries", "day", "verbs"),
    [
        ([], 2, ["first_look"]),
        ([("looked", 8, 0)], 9, ["next_look"]),
        ([("rooted", 9, 11)], 9, ["pot_on"]),
        ([("rooted", 9, 11), ("potted", 10, 11)], 11, ["harden"]),
        ([("rooted", 9, 11), ("potted", 10, 11), ("hardening", 48, 11)], 49, ["plant_out"]),
        ([("looked", 40, 0)], 40, ["give_up"]),
        ([("rooted", 9, 11), ("potted", 10, 11), ("hardening", 48, 11), ("planted", 58, 11)], 59, ["harvest"]),
    ],
)
def test_what_is_due(reckon, tomato: Plant, entries: list[tuple[str, int, int]], day: int, verbs: list[str]) -> None:  # type: ignore[no-untyped-def]
    state = state_of(*(entry(*line) for line in entries))
    tasks = due(state, reckon(state, day), Onward(harden_days=7, plant_out=GATE, set_out=True, harvest_days=54))
    assert [task.verb for task in tasks] == verbs


def test_hardening_waits_for_the_gate_and_planting_for_both(reckon, tomato: Plant) -> None:  # type: ignore[no-untyped-def]
    potted = state_of(entry("rooted", 9, 11), entry("potted", 10, 11))
    (harden,) = due(potted, reckon(potted, 11), Onward(harden_days=7, plant_out=GATE, set_out=True))
    assert harden.due == GATE - timedelta(days=7)
    hard = state_of(entry("rooted", 9, 11), entry("potted", 10, 11), entry("hardening", 55, 11))
    (out,) = due(hard, reckon(hard, 56), Onward(harden_days=7, plant_out=GATE, set_out=True))
    assert out.due == CUT + timedelta(days=62)


def test_outlook_of_two_batches_adds_up(reckon) -> None:  # type: ignore[no-untyped-def]
    one, two = reckon(state_of(), 5), reckon(state_of(taken=5), 5)
    both = batch_outlook([one, two], CUT + timedelta(days=90))
    assert both.expected[-1] == pytest.approx(16 * 0.9 * 0.95, rel=0.01)


def test_what_stands_written_is_retold_on_any_day_and_never_refused() -> None:
    """Eleven cut on 2 March, four rooted on the 18th; a line that would pot nine of them is passed over by its key."""
    cut, later = date(2027, 3, 2), date(2027, 3, 18)
    lines = [Entry("a", "taken", cut, 11), Entry("b", "rooted", later, 4), Entry("c", "potted", later, 9),
             Entry("d", "potted", later, 3, signs=("yellow",))]  # fmt: skip
    assert replay(lines, today=date(2027, 3, 10)) == Refusal("future", "on", {"on": later, "today": date(2027, 3, 10)})
    told = retold(lines)
    assert (told.count("waiting"), told.count("rooted"), told.count("potted")) == (7, 1, 3)
    assert told.passed_over == ("c",)
    assert [seen.signs for seen in told.seen] == [("yellow",)]
    assert newest_day(lines) == later
    sound = [lines[0], lines[1], lines[3]]
    assert retold(sound) == replay(sound, today=later)
    twice = retold([*sound, Entry("e", "taken", later, 5)])
    assert (twice.taken, twice.passed_over) == (11, ("e",))
    with pytest.raises(ValueError, match="without its taking"):
        retold(lines[1:])


def test_what_is_told_line_by_line_is_told_of_the_state_by_then() -> None:
    """Cropped before anything was out, and again after; signs seen while it was watered; two lines that cannot be."""
    told = retold(
        [
            entry("taken", 0, 6), entry("harvested", 20, key="too soon"), entry("planted", 25, 9, key="too many"),
            entry("tended", 22, deed="water", signs=("moss",)), entry("rooted", 21, 6), entry("planted", 40, 5),
            entry("harvested", 60),
        ]
    )  # fmt: skip
    assert (told.count("planted"), told.count("rooted"), told.first_harvest) == (5, 1, CUT + timedelta(days=60))
    assert told.passed_over == ("too soon", "too many")
    assert [(seen.on, seen.signs) for seen in told.seen] == [(CUT + timedelta(days=22), ("moss",))]
    assert type(told) is BatchState, "a value, that is not changed where it stands"


def test_a_day_is_told_alike_before_all_days_are_drawn_and_after(reckon) -> None:  # type: ignore[no-untyped-def]
    drawn, asked, days = reckon(state_of(), 5), reckon(state_of(), 5), np.arange(20, 60, 7)
    assert drawn.expected.max() > 9, "which reckons every day"
    assert drawn.counts_on(days) == pytest.approx(asked.counts_on(days), abs=1e-15)


def test_a_state_but_for_a_value_is_another_that_was_asked_nothing() -> None:
    before = BatchState(8, date(2027, 3, 1), {"waiting": (Lot(date(2027, 3, 1), 8),)}, lost=1)
    assert (before.count("waiting"), before.over) == (8, False)
    after = before.but(lots={}, lost=9)
    assert after == dataclasses.replace(before, lots={}, lost=9)
    assert (after.count("waiting"), after.over, after.lost, after.taken) == (0, True, 9, 8)
    assert (before.count("waiting"), before.lost) == (8, 1)
