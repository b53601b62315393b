"""Can this be cut? Every answer for every kind of wood. Common practice of the trade; the shares are assumed."""

from __future__ import annotations

import itertools
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.cut.suitability import GRADES, asked_of, asks, kind_of, look_over
from elder.engine.handbook.loading import clonable, handbook

WAYS = {
    "soft": handbook()["basil"].method("jar"),
    "ripe": handbook()["rosemary"].method("gritty"),
    "bare": handbook()["grapevine"].method("stick"),
    "fleshy": handbook()["dragon-fruit"].method("gritty"),
    "top": handbook()["pineapple"].method("peeled"),
    "pup": handbook()["banana"].method("pup"),
}
AS_IT_SHOULD = {"soft": "crisp", "ripe": "half", "bare": "woody", "fleshy": "woody"}
ANSWERS = [(kind, ask.key, way) for kind, method in WAYS.items() for ask in asked_of(method) for way, _ in ask.ways]


def good(kind: str) -> dict[str, str]:
    first = {ask.key: ask.ways[0][0] for ask in asked_of(WAYS[kind])}
    return {**first, "softness": AS_IT_SHOULD[kind]} if kind in AS_IT_SHOULD else first


@pytest.mark.parametrize("kind", WAYS)
def test_a_sound_stem_of_the_right_wood_is_suitable(kind: str) -> None:
    assert kind_of(WAYS[kind]) == kind
    found = look_over(good(kind), WAYS[kind])
    assert (found.grade, found.found, found.take, found.days) == ("ok", (), 1, 1)
    assert found.changed(WAYS[kind]) == WAYS[kind]


@pytest.mark.parametrize(("kind", "key", "answer"), ANSWERS)
def test_every_answer_for_every_kind_of_wood(kind: str, key: str, answer: str) -> None:
    found = look_over({**good(kind), key: answer}, WAYS[kind])
    usual = answer == good(kind)[key]
    harmless = {("softness", "soft", "soft"), ("softness", "crisp", "ripe"), ("softness", "crisp", "fleshy"),
                ("softness", "half", "fleshy"), ("softness", "half", "ripe"), ("thickness", "thick", "ripe"),
                ("thickness", "thick", "bare"), ("thickness", "thick", "fleshy")}  # fmt: skip
    if usual or (key, answer, kind) in harmless:
        assert found.grade == "ok"
        return
    assert found.grade in ("care", "no")
    assert found.take < 1
    for one in found.found:
        assert one.cause
        assert one.deed
        assert one.why
        assert one.days >= 1


@pytest.mark.parametrize(
    ("kind", "answers", "grade", "first"),
    [
        ("soft", {"softness": "woody"}, "no", "woody_soft"),  # herbs strike from young green stems, not old bases
        ("bare", {"softness": "soft"}, "no", "soft_bare"),  # vines from dormant wood, not from green
        ("ripe", {"softness": "soft"}, "care", "soft_ripe"),  # shrubs from wood neither soft
        ("ripe", {"softness": "woody"}, "care", "woody_ripe"),  # nor hard
        ("soft", {"flower": "open"}, "care", "flowering"),  # a stem that has flowered roots badly
        ("bare", {"scratch": "brown"}, "no", "brown"),  # pith brown all through
        ("soft", {"colour": "yellow"}, "care", "yellow"),
        ("soft", {"pests": "sick"}, "no", "sick"),  # one diseased mother spoils the batch
        ("soft", {"nodes": "tight"}, "care", "tight"),  # nodes packed tight on late thin growth
        ("soft", {"softness": "limp"}, "no", "limp"),  # soft tips too limp to hold
        ("soft", {"form": "rosette"}, "no", "rosette"),
        ("pup", {"own_roots": "none"}, "care", "rootless"),  # a piece without roots is only a cutting
        ("pup", {"size": "small"}, "care", "small"),  # hand high or more
        ("top", {"base": "rotten"}, "no", "foot_rotten"),
        ("top", {"base": "brown", "size": "small"}, "care", "foot_brown"),
        ("soft", {"flower": "buds", "pests": "many", "colour": "yellow"}, "no", "pests_many"),
    ],
)
def test_what_is_rejected(kind: str, answers: dict[str, str], grade: str, first: str) -> None:
    found = look_over({**good(kind), **answers}, WAYS[kind])
    assert (found.grade, found.found[0].code) == (grade, first)


def test_a_top_is_not_bent_and_a_stem_is_not_asked_for_roots() -> None:
    assert {ask.key for ask in asked_of(WAYS["pup"])} == {"colour", "size", "base", "own_roots", "pests"}
    assert {ask.key for ask in asked_of(WAYS["top"])} == {"colour", "size", "base", "pests"}
    assert not {"size", "base", "own_roots"} & {ask.key for ask in asked_of(WAYS["soft"])}


@given(st.fixed_dictionaries({ask.key: st.sampled_from([way for way, _ in ask.ways]) for ask in asks()}))
def test_more_that_is_wrong_never_makes_it_better(answers: dict[str, str]) -> None:
    way = WAYS["soft"]
    whole = look_over(answers, way)
    for one in whole.found:
        assert whole.take <= one.take + 1e-12 or whole.take == pytest.approx(0.02)
        assert GRADES.index(whole.grade) >= GRADES.index(one.grade)
    order = [GRADES.index(one.grade) for one in whole.found]
    assert order == sorted(order, reverse=True), "graver first"
    changed = whole.changed(way)
    assert changed.take.mean == pytest.approx(way.take.mean * whole.take)
    assert changed.rooting.early >= way.rooting.early
    assert changed.rooting.late > changed.rooting.early


def test_what_it_costs_is_multiplied() -> None:
    both = look_over({**good("soft"), "flower": "open", "colour": "yellow"}, WAYS["soft"])
    assert both.take == pytest.approx(0.6 * 0.7)
    assert both.days == pytest.approx(1.15 * 1.15)


@pytest.mark.parametrize("wrong", [{"mood": "good"}, {"flower": "blue"}])
def test_a_question_that_is_not_asked_is_a_mistake_of_ours(wrong: dict[str, str]) -> None:
    with pytest.raises(KeyError):
        look_over(wrong, WAYS["soft"])


def test_every_way_of_the_handbook_can_be_looked_over() -> None:
    every: list[Any] = [way for plant in clonable().values() for way in plant.ways]
    for way, (key, answer) in itertools.product(every, [pair[1:] for pair in ANSWERS]):
        assert look_over({key: answer}, way).grade in GRADES
