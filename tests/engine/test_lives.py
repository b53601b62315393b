"""Thirty lives of batches: replayed by the engine and, cutting by cutting, by a plain script; then forecast and told
what is due, likewise by both."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from itertools import groupby
from typing import Any

import pytest

from elder.engine.batch.forecast import forecast
from elder.engine.batch.history import replay, retold
from elder.engine.batch.state import STAGES, BatchState, Entry, Lot, Moved, Seen
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Plant
from elder.engine.handbook.routes import ROUTES
from elder.engine.place.warmth import Place
from elder.engine.refusal import Refusal
from elder.engine.round.milestones import Onward, due
from elder.engine.setting import Setting
from tests.engine import plain_life
from tests.engine.plain_life import JAR, Aim, Stand

START = date(2027, 3, 1)
TODAY = START + timedelta(days=400)

# One life a line: day and deed. A number is a count; "lost 2 rooted accident" says stage and cause; "!3" strikes
# the third line of that life, counting from nought.
LIVES = """
0 taken 10
0 taken 1, 20 rooted 1, 30 potted 1, 40 hardening 1, 50 planted 1, 90 harvested
0 taken 10, 9 rooted 6, 12 rooted 2, 20 potted 7, 30 hardening 7, 40 planted 7, 80 harvested, 95 harvested
0 taken 12, 9 rooted 4, 11 rooted 4, 15 rooted 4, 20 potted 6
0 taken 12, 9 rooted 4, 11 rooted 4, 15 rooted 4, 20 potted 4, 22 potted 5
0 taken 12, 5 lost 2 waiting, 9 rooted 7, 14 lost 1 rooted, 20 potted 6, 25 lost 1 potted
0 taken 12, 5 lost 2 waiting accident, 6 lost 3 waiting, 8 lost 1
0 taken 8, 6 lost 2 waiting accident, 9 rooted 4, 10 lost 1 rooted accident, 11 lost 1 waiting accident
0 taken 8, 9 rooted 8, 15 given 3, 20 potted 5, 30 given 2, 31 hardening 3, 35 given 1, 40 planted 2
0 taken 8, 9 rooted 8, 15 potted 6, 20 hardening 3, 25 given 4
0 taken 8, 9 rooted 8, 15 potted 6, 20 hardening 3, 25 given 8
0 taken 8, 9 rooted 8, 15 potted 8, 20 hardening 3, 25 planted 5
0 taken 8, 9 rooted 8, 15 potted 8, 20 hardening 8, 25 planted 3, 28 lost 1 planted, 60 harvested, 61 lost 2 planted
0 taken 8, 3 looked, 6 looked, 9 rooted 5, 13 looked
0 taken 8, 2 tended water, 4 tended mist, 6 tended water, 11 tended feed
0 taken 8, 2 looked slime, 5 looked slime black_base, 9 rooted 3 roots
0 taken 8, 4 looked roots 2.5, 9 rooted 3 roots 4
0 taken 8, 3 moved mat waiting, 9 rooted 8, 12 potted 8, 13 moved sill potted, 30 moved frame potted
0 taken 8, 9 rooted 8, 15 potted 8, 30 potted_up, 45 potted_up, 50 planted 8
0 taken 8, 1 trimmed, 9 rooted 8, 10 note
0 taken 8, 9 rooted 5, 9 potted 5
0 taken 8, 9 potted 5, 9 rooted 5
0 taken 8, 9 rooted 5, 10 rooted 2, 11 struck !1, 12 rooted 3
0 taken 8, 9 rooted 5, 11 rooted 4 !1, 20 potted 4
0 taken 8, 6 lost 8 waiting
0 taken 8, 6 lost 3 waiting, 7 struck !1, 8 struck, 9 rooted 8
0 taken 30, 7 rooted 1, 8 rooted 2, 9 rooted 3, 10 rooted 4, 12 potted 2, 13 potted 3, 14 potted 4, 15 lost 1 rooted
0 taken 5, 9 rooted 5, 12 potted 5, 20 planted 5, 21 lost 5 planted accident
0 taken 20, 9 rooted 10, 10 given 1, 11 given 2, 12 potted 7, 13 given 3, 14 lost 4 waiting, 300 rooted 2, 400 looked
0 taken 9, 4 lost 1 waiting, 4 tended water, 4 looked wilt, 4 rooted 2, 4 potted 2, 4 hardening 1, 4 planted 1
""".strip().splitlines()

# The same by other routes: the way of going first, then the life.
ROUTE_LIVES = """
straight out: 0 taken 8, 9 rooted 6, 12 hardening 5, 19 planted 5, 60 harvested
straight out: 0 taken 8, 9 rooted 6, 12 hardening 2, 13 planted 4, 14 given 1 waiting
straight out: 0 taken 8, 9 rooted 6, 12 potted 2, 20 hardening 4, 27 planted 6
in place: 0 taken 9, 20 rooted 5, 30 rooted 2, 40 lost 1 planted, 41 lost 1 rooted, 90 harvested
in place: 0 taken 9, 20 rooted 5, 30 given 2 planted, 31 given 3 waiting
lined out: 0 taken 9, 60 rooted 7, 250 lifted 4, 260 planted 3, 262 given 1
lined out: 0 taken 9, 60 rooted 3, 70 rooted 4, 250 lifted 5, 255 hardening 5, 270 planted 5, 300 lifted 1
lined out: 0 taken 9, 60 rooted 7, 250 potted 7, 300 potted_up, 310 lost 2 potted
lined out: 0 taken 9, 60 rooted 7, 250 lifted 7, 250 planted 3
solution: 0 taken 6, 9 rooted 6, 11 potted 5, 40 given 1 rooted, 60 potted_up
with roots: 0 taken 6, 9 rooted 4, 12 rooted 2, 20 potted 3, 30 hardening 4, 35 planted 4
with roots: 0 taken 6, 9 rooted 4, 10 lost 1 rooted, 20 lost 1 potted, 21 given 1 waiting, 22 given 2 potted
potted: 0 taken 6, 1 given 2 waiting, 9 rooted 3, 10 planted 1, 12 hardening 1, 13 given 2
potted: 0 taken 6, 9 rooted 6, 12 potted 6, 30 planted 6, 200 lifted 2, 201 given 1 potted, 230 planted 1
""".strip().splitlines()

SIGNS = {"slime", "black_base", "roots", "wilt"}
CAUSES = {"accident"}


def written(life: str) -> list[Entry]:
    """The lines of a life as a history."""
    lines = []
    for i, line in enumerate(life.split(", ")):
        day, kind, *rest = line.split()
        given: dict[str, Any] = {}
        if kind in ("tended", "moved"):
            given["deed" if kind == "tended" else "place"] = rest.pop(0)
        signs = []
        for word in rest:
            if word.startswith("!"):
                given["strikes"] = word[1:]
            elif "." in word or (signs and word.isdigit()):
                given["root_cm"] = float(word)
            elif word.isdigit():
                given["count"] = int(word)
            elif word in SIGNS:
                signs.append(word)
            else:
                given["why" if word in CAUSES else "stage"] = word
        lines.append(Entry(str(i), kind, START + timedelta(days=int(day)), signs=tuple(signs), **given))
    return lines


@dataclass
class Cutting:
    """One cutting: where it stands and since when, whether it was a plant already when it came there, what it was."""

    stage: str
    since: date
    grown: bool = False


@dataclass
class Plain:
    """The same life, cutting by cutting."""

    cuttings: list[Cutting] = field(default_factory=list)
    seen: list[Any] = field(default_factory=list)
    lost: Counter[str] = field(default_factory=Counter)
    days: dict[str, list[Any]] = field(default_factory=dict)

    def note(self, name: str, value: Any) -> None:
        self.days.setdefault(name, []).append(value)

    def pick(self, stages: list[str], count: int) -> list[Cutting]:
        """The first of them: by the order of the stages, then the oldest."""
        found = [one for stage in stages for one in sorted(self.at(stage), key=lambda one: one.since)]
        assert len(found) >= count, "the table's lives add up"
        return found[:count]

    def at(self, stage: str) -> list[Cutting]:
        return [one for one in self.cuttings if one.stage == stage]


FROM = {
    "rooted": ["waiting"],
    "potted": ["rooted"],
    "hardening": ["potted", "rooted"],
    "planted": ["hardening", "potted", "rooted"],
    "lifted": ["planted"],
    "given": ["hardening", "potted", "rooted", "planted", "waiting"],
}
# Where one found rooted stands, by route; and what potting takes from, where not from those that rooted.
ROOTED_AT = {"in place": "planted", "lined out": "planted", "with roots": "potted"}
POTTED_FROM = {"in place": "planted", "lined out": "planted", "with roots": "potted"}


def lived(entries: list[Entry], route: str = "potted") -> Plain:
    """The history walked through plainly."""
    struck = [entry.strikes for entry in entries]
    left = [entry for entry in entries if entry.key not in struck and entry.kind != "struck"]
    work = [["taken"], ["rooted"], ["potted"], ["hardening"], ["planted", "lifted"]]
    left.sort(key=lambda entry: (entry.on, next((i for i, same in enumerate(work) if entry.kind in same), 9)))
    plain = Plain()
    for entry in left:
        if entry.kind == "taken":
            plain.cuttings = [Cutting("waiting", entry.on) for _ in range(entry.count)]
        elif entry.kind in FROM or entry.kind == "lost":
            carried(plain, entry, route)
        else:
            plain.note(entry.kind + entry.deed, entry.on)
        if entry.kind == "moved":
            plain.note("moves", Moved(entry.on, entry.place, entry.stage))
        if entry.kind in ("rooted", "lost", "looked"):
            plain.note("looks", entry.on)
        if entry.signs or entry.root_cm:
            plain.seen.append(Seen(entry.on, entry.signs, entry.root_cm))
    return plain


def carried(plain: Plain, entry: Entry, route: str) -> None:
    """Some that go on to another stage, are lost or given away."""
    rooted_at = ROOTED_AT.get(route, "rooted")
    said = rooted_at if entry.stage == "rooted" else entry.stage
    sources = FROM.get(entry.kind) or [said or "waiting"]
    if entry.kind == "potted" and route in POTTED_FROM:
        sources = [POTTED_FROM[route]]
    if said in sources and entry.kind != "rooted":
        sources = [said]
    to = {"rooted": rooted_at, "lifted": "potted"}.get(entry.kind, entry.kind)
    picked = plain.pick(sources, entry.count)
    unrooted = sum(one.stage == "waiting" for one in picked)
    for one in picked:
        one.grown = one.grown or (one.stage == "planted" and to in STAGES)
        one.stage, one.since = to, entry.on
    plain.note(entry.kind, Lot(entry.on, entry.count))
    if entry.kind == "given":
        counts = ((entry.count - unrooted, True), (unrooted, False))
        plain.days["away"] = plain.days.get("away", []) + [Lot(entry.on, n, grown) for n, grown in counts if n]
    if entry.kind == "lost":
        plain.lost["all"] += entry.count
        plain.lost["accident"] += entry.count * (entry.why == "accident")
        plain.lost["waiting"] += entry.count * (sources == ["waiting"] and entry.why != "accident")


def lots(cuttings: list[Cutting]) -> tuple[Lot, ...]:
    """Those of one stage, by the day they came to it."""
    kinds = sorted((one.since, not one.grown) for one in cuttings)
    return tuple(Lot(since, len(list(same)), not new) for (since, new), same in groupby(kinds))


def test_there_are_thirty_lives() -> None:
    assert len(LIVES) == 30


@pytest.mark.parametrize("told", [f"potted: {life}" for life in LIVES] + ROUTE_LIVES)
def test_a_life_is_what_happened_to_each_cutting(told: str) -> None:
    route, life = told.split(": ")
    entries = written(life)
    state = replay(entries, today=TODAY, route=ROUTES[route])
    assert isinstance(state, BatchState), state
    assert retold(entries, ROUTES[route]) == state
    plain = lived(entries, route)
    assert {stage: state.lots.get(stage, ()) for stage in STAGES} == {s: lots(plain.at(s)) for s in STAGES}
    assert {stage: state.count(stage) for stage in STAGES} == {s: len(plain.at(s)) for s in STAGES}
    first = {s: min((one.since for one in plain.at(s)), default=None) for s in STAGES}
    assert {stage: state.since(stage) for stage in STAGES} == first
    assert (state.taken, state.taken_on) == (len(plain.cuttings), START)
    assert (state.lost, state.lost_by_accident, state.lost_waiting) == tuple(
        plain.lost[name] for name in ("all", "accident", "waiting")
    )
    for name in ("rooted", "lost"):
        assert getattr(state, f"{name}_seen") == tuple(plain.days.get(name, ()))
    assert state.given_seen == tuple(plain.days.get("away", ()))
    assert state.given == len(plain.at("given"))
    assert state.rooted_ever == sum(lot.count for lot in plain.days.get("rooted", ()))
    assert state.living == len(plain.cuttings) - len(plain.at("lost")) - len(plain.at("given"))
    assert state.taken == state.living + state.lost + state.given
    assert state.last_look == (plain.days["looks"][-1] if "looks" in plain.days else None)
    assert state.first_harvest == (plain.days["harvested"][0] if "harvested" in plain.days else None)
    assert state.seen == tuple(plain.seen)
    assert state.moves == tuple(plain.days.get("moves", ()))
    assert state.potted_up == tuple(plain.days.get("potted_up", ()))
    deeds = {entry.deed for entry in entries if entry.kind == "tended"}
    assert dict(state.tended) == {deed: tuple(plain.days["tended" + deed]) for deed in deeds}
    for deed in (*deeds, "never done"):
        assert state.last_tended(deed) == max(plain.days.get("tended" + deed, []), default=None)


@pytest.mark.parametrize(
    ("life", "over", "last"),
    [
        ("0 taken 8", False, 0),
        ("0 taken 8, 6 lost 8 waiting", True, 6),
        ("0 taken 1, 9 rooted 1, 12 potted 1, 30 planted 1", False, 30),
        ("0 taken 1, 9 rooted 1, 12 potted 1, 30 planted 1, 70 harvested", True, 70),
        ("0 taken 2, 9 rooted 2, 12 potted 1, 30 planted 1, 70 harvested", False, 70),
        ("0 taken 2, 9 rooted 2, 14 given 2", True, 14),
        ("0 taken 2, 9 rooted 2, 11 looked, 16 tended water", False, 16),
        ("0 taken 2, 9 rooted 2, 21 moved sill potted", False, 21),
        ("0 taken 2, 9 lost 1, 4 rooted 1", False, 9),
    ],
)
def test_when_a_batch_is_over_and_when_it_was_last_heard_of(life: str, over: bool, last: int) -> None:
    state = replay(written(life), today=TODAY)
    assert isinstance(state, BatchState)
    assert (state.over, state.last_entry_on) == (over, START + timedelta(days=last))


DAY = {days: START + timedelta(days=days) for days in (-1, 5, 9, 401)}


@pytest.mark.parametrize(
    ("life", "refusal"),
    [
        ("3 rooted 2", Refusal("not_taken", "kind")),
        ("0 taken 2, 1 taken 2", Refusal("taken_twice", "kind")),
        ("0 taken 0", Refusal("count_not_positive", "count")),
        ("401 taken 5", Refusal("future", "on", {"on": DAY[401], "today": TODAY})),
        ("0 taken 5, 401 looked", Refusal("future", "on", {"on": DAY[401], "today": TODAY})),
        ("0 taken 5, -1 looked", Refusal("before_taken", "on", {"on": DAY[-1], "taken_on": START})),
        ("0 taken 5, 5 rooted 0", Refusal("count_not_positive", "count")),
        ("0 taken 5, 5 harvested", Refusal("nothing_planted", "on")),
        ("0 taken 5, 5 potted_up", Refusal("nothing_potted", "on")),
        (
            "0 taken 5, 5 rooted 3, 9 potted 4",
            Refusal(
                "more_than_there", "count",
                {"kind": "potted", "count": 4, "there": 3, "stage": "rooted", "on": DAY[9]},
            ),
        ),
        (
            "0 taken 5, 5 lost 6",
            Refusal(
                "more_than_there", "count",
                {"kind": "lost", "count": 6, "there": 5, "stage": "waiting", "on": DAY[5]},
            ),
        ),
    ],
)  # fmt: skip
def test_a_life_that_cannot_be_says_why_and_where(life: str, refusal: Refusal) -> None:
    assert replay(written(life), today=TODAY) == refusal


def test_the_last_day_of_all_is_not_the_future_and_the_first_is_not_before_it() -> None:
    assert isinstance(replay(written("0 taken 1, 0 looked, 400 looked"), today=TODAY), BatchState)


AIMS = (Aim(45, set_out=True, harvest=55), Aim(70, set_out=False, harvest=0))


def standing(plain: Plain) -> Stand:
    """How the plain life stands, in days from the cut."""

    def since(*stages: str) -> list[tuple[int, int]]:
        days = sorted((one.since - START).days for stage in stages for one in plain.at(stage))
        return [(day, len(list(same))) for day, same in groupby(days)]

    looks = plain.days.get("looks", [])
    return Stand(
        waiting=len(plain.at("waiting")),
        lost_waiting=plain.lost["waiting"],
        looks=sorted({(look - START).days for look in looks}),
        rooted_seen=[((lot.since - START).days, lot.count) for lot in plain.days.get("rooted", [])],
        rooted=since("rooted"),
        potted=since("potted"),
        hardening=since("hardening"),
        out=since("planted", "given"),
        hardened=[],
    )


@pytest.mark.parametrize("life", LIVES)
def test_a_life_has_the_chances_and_the_tasks_a_plain_script_gives_it(life: str, north: Climate, tomato: Plant) -> None:
    entries = [entry._replace(signs=()) for entry in written(life)]
    today = max((entry.on for entry in entries if entry.key), default=START)
    state = replay(entries, today=today)
    assert isinstance(state, BatchState)
    room = Place("room", day_c=21, night_c=21)
    found = forecast(state, Setting(tomato, tomato.method("jar"), north, room, room, today))
    plain, age = lived(entries), (today - START).days
    stand = standing(plain)
    for after in (0, 9, 20, 33):
        counts = plain_life.ready_counts(JAR, stand, age, age + after)
        assert found.ready_on(today + timedelta(days=after)) == pytest.approx(counts, abs=4e-4), after
    if stand.waiting:
        assert found.hope == pytest.approx(plain_life.hope(JAR, stand, stand.looked), abs=4e-4)
        assert found.give_up_on == START + timedelta(days=plain_life.give_up_on(JAR, stand))
    for aim in AIMS:
        gate = START + timedelta(days=aim.day)
        told = due(state, found, Onward(gate, harden_days=7, set_out=aim.set_out, harvest_days=aim.harvest))
        plainly = plain_life.due(JAR, _planted_only(stand, plain), aim, bool(state.first_harvest))
        assert [((task.due - START).days, task.verb, task.count) for task in told] == plainly


def _planted_only(stand: Stand, plain: Plain) -> Stand:
    """For what is due: those given away are no longer anybody's here."""
    days = sorted((one.since - START).days for one in plain.at("planted"))
    return replace(stand, out=[(day, len(list(same))) for day, same in groupby(days)])
