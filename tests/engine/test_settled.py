"""What came of a batch that is over, beside what a forecast makes of its history; and daily care read in one go."""

from __future__ import annotations

from datetime import date, timedelta
from itertools import permutations

import numpy as np
import pytest

from elder.engine.assumptions import Assumptions
from elder.engine.batch.forecast import Aims, forecast
from elder.engine.batch.history import replay, retold
from elder.engine.batch.outlook import batch_outlook
from elder.engine.batch.settled import Settled
from elder.engine.batch.shared_luck import counts_together, ready_together
from elder.engine.batch.state import BatchState, Entry, Gone, Hardened, Lot
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting
from tests.engine.test_under_way import CUT, ROOM, state_of

OVER = state_of(
    ("rooted", 9, 6), ("lost", 9, 1), ("potted", 10, 6), ("hardening", 30, 6), ("lost", 31, 1), ("planted", 40, 3),
    ("given", 44, 3), ("harvested", 90, 0),
)  # fmt: skip


def on(day: int) -> date:
    return CUT + timedelta(days=day)


@pytest.mark.parametrize("standing", [False, True])
def test_it_answers_what_a_forecast_answers(north: Climate, standing: bool) -> None:
    tomato = handbook()["tomato"]
    setting = Setting(tomato, tomato.method("jar"), north, ROOM, ROOM, on(100), Assumptions())
    believed, settled = forecast(OVER, setting, aims=Aims(standing=standing)), Settled(OVER, standing)
    assert OVER.over
    for day in (0, 39, 40, 43, 44, 60, 100, 200):
        held = np.zeros(9)
        counts = believed.ready_on(on(day))
        held[: len(counts)] = counts
        assert settled.ready_on(on(day)) == pytest.approx(held, abs=1e-9), day
    many = np.array([38, 40, 44, 99])
    assert settled.counts_on(many).argmax(axis=1).tolist() == ([0, 0, 0, 0] if standing else [0, 3, 6, 6])
    assert settled.expected[-1] == pytest.approx(believed.expected[len(settled.expected) - 1], abs=1e-9)
    assert settled.rooting.sum() == believed.rooting.sum() == 0


def test_it_is_drawn_as_it_came_and_stays() -> None:
    shown = batch_outlook([Settled(OVER)], on(80))
    by_day = dict(zip(shown.at.tolist(), shown.expected.tolist(), strict=True))
    assert (shown.start, by_day[max(by_day)], max(by_day)) == (CUT, 6.0, 80)
    assert shown.low.tolist() == shown.high.tolist() == shown.expected.tolist()
    assert [count for day, count in by_day.items() if day < 40] == [0.0] * sum(day < 40 for day in by_day)


def test_what_is_settled_adds_up_and_shares_its_luck_with_nothing() -> None:
    assert ready_together([Settled(OVER)], on(44)).argmax() == 6
    with pytest.raises(ValueError, match="shares its luck with nothing"):
        counts_together([Settled(OVER), Settled(OVER)], [np.array([1]), np.array([1])])


CARE = [
    Entry("a", "tended", on(1), deed="water"),
    Entry("b", "tended", on(4), deed="mist", signs=("dry",)),
    Entry("c", "looked", on(4)),
    Entry("d", "tended", on(6), deed="water", root_cm=1.5),
    Entry("e", "rooted", on(6), 3),
    Entry("f", "tended", CUT - timedelta(days=1), deed="water"),
]


def test_daily_care_read_in_one_go_is_what_it_is_line_by_line() -> None:
    taken = Entry("t", "taken", CUT, 8)
    for some in permutations(CARE[:5], 4):
        whole, checked = retold([taken, *some]), replay([taken, *some], today=on(9))
        assert isinstance(checked, BatchState)
        assert whole == checked
    gone = retold([taken, Entry("l", "lost", on(2), 3, "waiting"), Entry("m", "rooted", on(3), 5)])
    assert (gone.lots["waiting"], gone.lots["rooted"]) == ((), (Lot(on(3), 5),)), "no lot of none stays"
    state = retold([taken, *CARE])
    assert state.tended == {"water": (on(1), on(6)), "mist": (on(4),)}
    assert [(one.on, one.signs, one.root_cm) for one in state.seen] == [(on(4), ("dry",), 0.0), (on(6), (), 1.5)]
    assert state.passed_over == ("f",), "watered before it was cut"
    assert Place("room", day_c=21, night_c=21) == ROOM


def test_what_a_history_tells_besides_where_they_stand() -> None:
    """Who was lost at which stage and to what; how many left what they were stuck in; who was put out to harden, and
    since when they stood in pots; and of two takings the first in time, whatever was written first."""
    lines = [
        Entry("b", "taken", on(4), 3),
        Entry("a", "taken", CUT, 10),
        Entry("c", "lost", on(3), 2, "waiting", "rot"),
        Entry("d", "rooted", on(5), 6),
        Entry("e", "potted", on(6), 5),
        Entry("f", "given", on(7), 1, "waiting"),
        Entry("g", "lost", on(8), 1, "potted", "dry"),
        Entry("h", "hardening", on(10), 3),
    ]
    state = retold(lines)
    assert (state.taken, state.taken_on, state.passed_over) == (10, CUT, ("b",))
    assert state.losses == (Gone(on(3), 2, "waiting", "rot"), Gone(on(8), 1, "potted", "dry"))
    assert state.moved_on == 6, "five potted and one given away; those hardening had left before"
    assert state.hardened == (Hardened(on(10), 3, on(6)),)
    assert {stage: state.count(stage) for stage in ("waiting", "rooted", "potted", "hardening")} == {
        "waiting": 1, "rooted": 1, "potted": 1, "hardening": 3,
    }  # fmt: skip
    refused = replay([lines[1], lines[0]], today=on(12))
    assert refused == Refusal("taken_twice", "kind")
    lifted = retold([lines[1], Entry("i", "rooted", on(5), 4), Entry("j", "planted", on(9), 4),
                     Entry("k", "lifted", on(20), 4), Entry("l", "hardening", on(30), 4)])  # fmt: skip
    assert lifted.hardened == (), "plants already when they came to their pots"
