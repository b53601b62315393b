"""A batch under way against the plain script: hardening as evidence, signs, looks to come, speeds outdoors."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from elder.engine.assumptions import Assumptions
from elder.engine.batch.forecast import Aims, BatchForecast, Moves, forecast, speed_sd_of
from elder.engine.batch.history import replay
from elder.engine.batch.sign_costs import sign_costs, waiting_kept
from elder.engine.batch.state import BatchState, Entry, Hardened
from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place
from elder.engine.setting import Setting
from tests.engine import plain_life
from tests.engine.plain_life import JAR, Stand

CUT = date(2027, 3, 1)
ROOM = Place("room", day_c=21, night_c=21)


def state_of(*lines: tuple[str, int, int], taken: int = 8, signs: tuple[str, ...] = ()) -> BatchState:
    entries = [Entry("t", "taken", CUT, taken)]
    for i, (kind, day, count) in enumerate(lines):
        shown = signs if i == len(lines) - 1 else ()
        entries.append(Entry(str(i), kind, CUT + timedelta(days=day), count, signs=shown))
    state = replay(entries, today=CUT + timedelta(days=200))
    assert isinstance(state, BatchState), state
    return state


def seen(north: Climate, state: BatchState, day: int, aims: Aims, **assumed: float) -> BatchForecast:
    tomato, today = handbook()["tomato"], CUT + timedelta(days=day)
    setting = Setting(tomato, tomato.method("jar"), north, ROOM, ROOM, today, Assumptions(**assumed))  # type: ignore[arg-type]
    return forecast(state, setting, aims=aims)


def test_hardening_says_how_quick_a_batch_is(north: Climate) -> None:
    """Eight rooted by day 9, potted, and wanted on day 28, so hardened from day 21 on. When looked at on day 21 five
    stood and were put out; on day 23 the other three did not stand yet."""
    lines = [("rooted", 9, 8), ("potted", 9, 8), ("looked", 18, 0), ("looked", 21, 0), ("hardening", 21, 5)]
    state = state_of(*lines, ("looked", 23, 0))
    assert state.hardened == (Hardened(CUT + timedelta(days=21), 5, CUT + timedelta(days=9)),)
    found = seen(north, state, 23, Aims(ready_on=CUT + timedelta(days=28)))
    stand = Stand(
        waiting=0, lost_waiting=0, looks=[9, 18, 21, 23], rooted_seen=[(9, 8)], rooted=[], potted=[(9, 3)],
        hardening=[(21, 5)], out=[], hardened=[(21, 9, 5)], opens=21,
    )  # fmt: skip
    for day in (27, 28, 31, 33, 36, 41):
        plain = plain_life.ready_counts(JAR, stand, 23, day)
        assert found.ready_on(CUT + timedelta(days=day)) == pytest.approx(plain, abs=4e-4), day
    paces = [(pace, weight) for pace, _, weight in plain_life.beliefs(JAR, stand, 23)]
    assert found.pace == pytest.approx(sum(pace * weight for pace, weight in paces), abs=2e-3)
    # Without the day wanted nothing is known of when hardening was worth while, so it says nothing.
    blind = seen(north, state, 23, Aims())
    assert blind.pace == pytest.approx(
        sum(p * w for p, _, w in plain_life.beliefs(JAR, replace(stand, opens=None), 23)), abs=2e-3
    )
    assert abs(blind.pace - found.pace) > 0.01


def test_those_that_waited_for_the_gate_say_nothing_of_their_speed(north: Climate) -> None:
    """Potted on day 12 and looked at on day 23 for a gate on day 80: nobody hardens yet, and nobody is late. For a gate
    on day 27 half of them should have been put out by then."""
    state = state_of(("rooted", 12, 8), ("potted", 12, 8), ("looked", 23, 0))
    waited = seen(north, state, 23, Aims(ready_on=CUT + timedelta(days=80)))
    assert waited.pace == pytest.approx(seen(north, state, 23, Aims()).pace, abs=1e-12)
    late = seen(north, state, 23, Aims(ready_on=CUT + timedelta(days=27)))
    assert late.pace > waited.pace + 0.02


def test_plants_that_are_not_hardened_are_ready_when_they_stand(north: Climate) -> None:
    state = state_of(("rooted", 12, 8), ("potted", 12, 8))
    kept = seen(north, state, 14, Aims(harden=False))
    stand = Stand(
        waiting=0, lost_waiting=0, looks=[12], rooted_seen=[(12, 8)], rooted=[], potted=[(12, 8)], hardening=[], out=[],
        hardened=[],
    )  # fmt: skip
    weights: dict[float, float] = {}
    for pace, _, weight in plain_life.beliefs(JAR, stand, 12):
        weights[pace] = weights.get(pace, 0.0) + weight
    lives = {
        pace: sum(plain_life.survives(JAR, 12, 14, pace, share) for share in plain_life.SURVIVALS) / 2
        for pace in weights
    }
    mean = sum(weight * lives[pace] * JAR.stands(12, 22, pace) for pace, weight in weights.items())
    assert float(kept.expected[22]) == pytest.approx(8 * mean, abs=1e-3)
    assert float(kept.ready_on(CUT + timedelta(days=22)) @ np.arange(9)) == pytest.approx(8 * mean, abs=1e-3)


def test_expected_is_the_mean_of_the_counts(north: Climate) -> None:
    state = state_of(("rooted", 10, 3), ("potted", 10, 2), ("lost", 12, 1))
    found = seen(north, state, 13, Aims())
    days = np.array([20, 28, 35, 50])
    counts = found.counts_on(days)
    assert counts.sum(axis=1) == pytest.approx(np.ones(4), abs=1e-9)
    assert counts @ np.arange(counts.shape[1]) == pytest.approx(found.expected[days], abs=1e-6)
    assert found.rooting[:13].sum() == 0
    assert float(found.rooting.sum()) == pytest.approx(found.hope * 4, abs=1e-6)


@pytest.mark.parametrize(
    ("signs", "kept"),
    [((), 1.0), (("slime",), 0.85), (("black_base", "slime"), 0.51), (("buds",), 1.0), (("wilted", "wilted"), 0.9)],
)
def test_signs_of_trouble_cost_a_share_of_those_waiting(north: Climate, signs: tuple[str, ...], kept: float) -> None:
    assert waiting_kept(signs) == pytest.approx(kept)
    plain, ill = (seen(north, state_of(("looked", 9, 0), signs=one), 9, Aims()) for one in ((), signs))
    assert ill.hope == pytest.approx(plain.hope * kept)
    assert ill.hopes[0] == pytest.approx(plain.hopes[0] * kept)
    # Given up when what the signs leave of hope is below one in ten.
    spent = next(i for i, hope in enumerate(plain.hopes) if hope * kept < 0.1)
    assert ill.give_up_on == CUT + timedelta(days=9 + spent)


def test_a_later_look_without_signs_takes_them_back(north: Climate) -> None:
    entries = [
        Entry("t", "taken", CUT, 8), Entry("a", "looked", CUT + timedelta(days=6), signs=("slime",)),
        Entry("b", "looked", CUT + timedelta(days=9)),
    ]  # fmt: skip
    state = replay(entries, today=CUT + timedelta(days=20))
    assert isinstance(state, BatchState)
    assert state.signs_now == ()
    assert state.looks == (CUT + timedelta(days=6), CUT + timedelta(days=9))
    assert set(sign_costs()) == {"wilted", "soggy", "slime", "black_base", "mould"}


@pytest.mark.parametrize(
    ("rooting", "growing", "moved", "sd"),
    [
        (ROOM, ROOM, None, 0.2),
        (ROOM, Place("air"), None, 0.25),
        (Place("air"), ROOM, None, 0.25),
        (ROOM, ROOM, Place("air"), 0.25),
    ],
)
def test_the_weather_makes_batches_less_alike(
    north: Climate, rooting: Place, growing: Place, moved: Place | None, sd: float
) -> None:
    tomato = handbook()["tomato"]
    setting = Setting(tomato, tomato.method("jar"), north, rooting, growing, CUT)
    assert speed_sd_of(setting, Moves(growing=((CUT, moved),) if moved else ())) == sd
    assert speed_sd_of(replace(setting, assumptions=Assumptions(speed_sd=0.4))) == 0.4
    assert speed_sd_of(replace(setting, assumptions=Assumptions.ideal())) == 0.0


def test_rare_looks_cost_days(north: Climate) -> None:
    """Six of eight by day 34: somebody who comes weekly finds roots later, and hardens later."""
    state = state_of(("looked", 8, 0))
    chances = [
        float(seen(north, state, 8, Aims(), look_every_days=gap).ready_on(CUT + timedelta(days=34))[6:].sum())
        for gap in (1, 3, 7)
    ]
    assert chances == sorted(chances, reverse=True)
    assert chances[0] - chances[2] > 0.15


def test_a_lowered_take_is_what_it_begins_with(north: Climate) -> None:
    tomato = handbook()["tomato"]
    setting = Setting(tomato, tomato.method("jar"), north, ROOM, ROOM, CUT)
    poor = forecast(state_of(), setting, take=Take(0.3, 20))
    assert poor.hope == pytest.approx(0.3, abs=1e-9)
    assert float(poor.expected[-1]) == pytest.approx(8 * 0.3 * 0.95, abs=0.01)


def test_a_look_on_the_day_hardening_is_due_does_not_make_it_late(north: Climate) -> None:
    """Eight that have stood for long, wanted on day 47 and so hardened from day 40: whoever looks on day 40, or on day
    39 and comes again when the round asks, is in time."""
    for looked in (39, 40):
        state = state_of(("rooted", 10, 8), ("potted", 10, 8), ("looked", looked, 0))
        found = seen(north, state, looked, Aims(ready_on=CUT + timedelta(days=47)))
        assert float(found.ready_on(CUT + timedelta(days=47))[8]) > 0.95, looked
    # A day after, it is a day late, and never lost.
    late = seen(north, state, 41, Aims(ready_on=CUT + timedelta(days=47)))
    assert float(late.ready_on(CUT + timedelta(days=47))[8]) == 0
    assert float(late.ready_on(CUT + timedelta(days=48))[8]) > 0.95


def test_those_not_put_out_with_the_others_today_do_not_stand_yet(north: Climate) -> None:
    """Five of eight put out on the day it is asked for: that visit is over, and the other three have missed the day."""
    lines = [("rooted", 9, 8), ("potted", 9, 8), ("looked", 21, 0), ("hardening", 21, 5)]
    found = seen(north, state_of(*lines), 21, Aims(ready_on=CUT + timedelta(days=28)))
    assert found.ready_on(CUT + timedelta(days=28))[5] == pytest.approx(1)
    assert float(found.expected[40]) > 7.5
