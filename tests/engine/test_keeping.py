"""What a process keeps: bounded in bytes, reckoned once when asked twice at the same time, lent from further away."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any

import numpy as np
import pytest

from elder.engine import keeping
from elder.engine.keeping import (
    EACH_BYTES,
    FIRST,
    LIGHT_BYTES,
    SAMPLED,
    STORE,
    Scale,
    Store,
    cached_property,
    kept,
    kept_at,
    kept_growing,
    lent,
    weight_of,
)


def test_an_answer_is_reckoned_once_and_kept() -> None:
    asked: list[int] = []

    @kept
    def twice(value: int, *, more: int = 0) -> int:
        asked.append(value)
        return 2 * value + more

    assert [twice(3), twice(3), twice(4), twice(3, more=1), twice(3, more=1)] == [6, 6, 8, 7, 7]
    assert asked == [3, 4, 3]
    STORE.forget()
    assert (twice(3), asked) == (6, [3, 4, 3, 3])


def test_what_is_kept_stays_within_its_bytes_and_the_oldest_asked_goes_first() -> None:
    store = Store(most_bytes=3 * (1000 + EACH_BYTES))
    for name in "abc":
        store.hold(name, name.upper(), 1000)
    assert (store.bytes, len(store)) == (3 * (1000 + EACH_BYTES), 3)
    assert store.held("a") == "A"  # asked for last now
    store.hold("d", "D", 1000)
    assert [store.held(name) for name in "abcd"] == ["A", None, "C", "D"]
    assert store.bytes == 3 * (1000 + EACH_BYTES)
    store.hold("e", "E", 10_000)  # more than there is room for: it is not kept, and nothing goes for it
    assert (store.held("e"), len(store)) == (None, 3)
    store.hold("a", "again", 500)
    assert store.held("a") == "again"
    assert store.bytes == 3 * EACH_BYTES + 2500


def test_asked_twice_at_the_same_time_it_is_reckoned_once() -> None:
    store, begun, asked = Store(), threading.Event(), []

    def slowly() -> str:
        asked.append(1)
        begun.set()
        time.sleep(0.2)
        return "answer"

    found: list[str] = []
    threads = [threading.Thread(target=lambda: found.append(store.ask("it", slowly))) for _ in range(6)]
    threads[0].start()
    assert begun.wait(5)
    for thread in threads[1:]:
        thread.start()
    for thread in threads:
        thread.join(5)
    assert (found, asked) == (["answer"] * 6, [1])


def test_who_waited_for_what_failed_asks_for_itself() -> None:
    store, begun = Store(), threading.Event()

    def fails() -> str:
        begun.set()
        time.sleep(0.2)
        raise ArithmeticError("no")

    def ask() -> None:
        with pytest.raises(ArithmeticError):
            store.ask("it", fails)

    first = threading.Thread(target=ask)
    first.start()
    assert begun.wait(5)
    assert store.ask("it", lambda: "mine") == "mine"
    first.join(5)
    assert len(store) == 0, "neither a failure nor what was reckoned beside one is kept"
    assert store.ask("it", lambda: "now") == "now"


def test_arrays_weigh_what_they_hold_and_a_view_its_whole() -> None:
    whole = np.zeros(1000)
    assert weight_of(whole) == 8000 + 112
    assert weight_of(whole[:3]) == 8000 + 2 * 112
    assert weight_of((whole, whole[:3])) == weight_of(whole) + weight_of(()) + 16 + 112, "each thing once"
    many = [np.zeros(1000) for _ in range(10 * SAMPLED)]
    assert abs(weight_of(many) / (10 * SAMPLED * 8112) - 1) < 0.01


@dataclass(frozen=True)
class Shelf:
    """What is only referred to belongs to no one answer."""

    shared = True
    data: Any


def test_what_is_shared_is_weighed_where_it_is_the_answer_alone() -> None:
    shelf = Shelf(np.zeros(1000))
    assert weight_of(shelf) > 8000
    assert weight_of((shelf, 1)) < 300


def test_an_answer_may_be_taken_to_weigh_so_much_or_to_grow() -> None:
    STORE.forget()

    @kept_at(5_000)
    def fixed(value: int) -> list[int]:
        return [value] * 10_000

    @kept_growing(7_000)
    def growing(value: int) -> bool:
        return value > 0

    fixed(1)
    assert STORE.bytes == 5_000 + EACH_BYTES
    growing(1)
    question = weight_of((True, (growing.name, (1,))))
    assert STORE.bytes == 12_000 + question + 2 * EACH_BYTES


def test_a_question_weighs_what_it_holds() -> None:
    """A short answer to a long history is not a short thing to keep."""
    store = Store(most_bytes=1_000_000)
    history = tuple(f"look {number}" for number in range(2_000))  # about 57 bytes each, and 8 for its place
    for press in range(40):
        store.ask(("learned", press, tuple(f"{press} {look}" for look in history)), lambda: 1.0)
    assert len(store) in (7, 8)  # 1,000,000 / (2,000 × 65)
    assert store.bytes <= 1_000_000


def test_of_light_answers_one_in_so_many_is_weighed(monkeypatch: pytest.MonkeyPatch) -> None:
    weighed: list[tuple[int, int]] = []

    def weigh(pair: tuple[int, int]) -> int:
        weighed.append(pair)
        return 1_000 if len(weighed) <= FIRST else 3_000

    monkeypatch.setattr(keeping, "weight_of", weigh)
    scale = Scale()
    told = [scale.weigh(number, number) for number in range(1, 2 * SAMPLED + 1)]
    assert told[: SAMPLED - 1] == [1_000] * (SAMPLED - 1), "after the first eight as they on the mean"
    assert told[SAMPLED - 1] == 3_000, "weighed"
    assert told[SAMPLED] == 1_222, "(8 × 1,000 + 3,000) ÷ 9"
    assert [number for number, _ in weighed] == [1, 2, 3, 4, 5, 6, 7, 8, 24, 48]


def test_heavy_answers_are_weighed_each(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(keeping, "weight_of", lambda pair: pair[0])
    scale = Scale()
    assert [scale.weigh(LIGHT_BYTES + number, ()) for number in range(60)] == [LIGHT_BYTES + n for n in range(60)]


def test_what_lies_behind_is_asked_of_what_is_lent_alone(monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[tuple[str, Hashable]] = []

    class Far:
        def answer(self, name: str, question: Hashable, reckon: Callable[[], Any]) -> Any:
            asked.append((name.rsplit(".", 1)[-1], question))
            return ("lent", reckon())

    @lent
    def far(value: int) -> int:
        return value + 1

    @kept
    def near(value: int) -> int:
        return value + 1

    STORE.forget()
    monkeypatch.setattr(STORE, "behind", Far())
    assert [far(1), far(1), near(1)] == [("lent", 2), ("lent", 2), 2]
    assert asked == [("far", ((1,),))]


def test_two_objects_are_asked_at_one_time_and_each_once() -> None:
    """Both are at it before either is done: a lock over the class would let the second wait for the first for ever."""
    meet, asked = threading.Barrier(2, timeout=5), []

    class Slow:
        @cached_property
        def answer(self) -> int:
            """What it answers."""
            asked.append(self)
            meet.wait()
            return 6

    both, found = (Slow(), Slow()), []
    threads = [threading.Thread(target=lambda one=one: found.append(one.answer)) for one in both]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert found == [6, 6]
    assert [one.answer for one in both] == [6, 6]
    assert len(asked) == 2, "kept on each"
    assert Slow.answer.__doc__ == "What it answers."
