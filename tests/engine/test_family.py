"""Families of clones: who came from whom."""

from __future__ import annotations

import random
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.mother.lineage import OPEN_ROWS, Family, Member, Took

DAY = date(2020, 1, 1)


def member(key: str, from_take: str | None = None, days: int = 0, **more: object) -> Member:
    return Member(key, f"Plant {key}", DAY + timedelta(days=days), from_take=from_take, **more)


def took(key: str, mother: str, days: int = 0, **more: int) -> Took:
    return Took(key, mother, DAY + timedelta(days=days), **{"taken": 10, "living": 4, **more})


@pytest.fixture
def family() -> Family:
    """One from seed; two kept of her first batch; one of those gave another; and a stranger."""
    return Family(
        [member("a"), member("b", "1", 60), member("c", "1", 61), member("d", "3", 300), member("x", days=5)],
        [took("1", "a", 30), took("2", "a", 200, lost=10, living=0), took("3", "b", 250), took("4", "d", 500)],
    )


def keys(members: list[Member]) -> list[str]:
    return [one.key for one in members]


def test_forward_is_all_that_comes_from_a_mother(family: Family) -> None:
    mothers, takes = family.forward("a")
    assert keys(mothers) == ["b", "c", "d"]
    assert [take.key for take in takes] == ["1", "2", "3", "4"]
    mothers, takes = family.forward("c")
    assert (mothers, takes) == ([], [])


def test_back_is_the_line_to_the_first(family: Family) -> None:
    assert keys(family.back("d")) == ["b", "a"]
    assert [family.generation(key) for key in "abcdx"] == [1, 2, 2, 3, 1]
    assert family.line_of("b") == {"a", "b", "d"}
    assert keys(family.children("a")) == ["b", "c"]
    assert keys(list(family.kept_from("3"))) == ["d"]


def test_rows_fold_search_and_open(family: Family) -> None:
    every = family.opened_at_first()
    assert [(row.member.key, row.depth) for row in family.rows(every)] == [
        ("a", 0), ("b", 1), ("d", 2), ("c", 1), ("x", 0),
    ]  # fmt: skip
    folded = family.rows({"a"})
    assert [(row.member.key, row.hidden) for row in folded] == [("a", 0), ("b", 1), ("c", 0), ("x", 0)]
    assert [row.member.key for row in family.rows(set(), shown={"d"})] == ["a", "b", "d"], "the line that leads to it"
    assert family.search("plant D") == {"d"}
    assert family.search("  ") == set()
    family.begin_with("x")
    assert family.rows(set())[0].member.key == "x"


def grown(size: int, seed: int) -> Family:
    """A garden's worth of lines, each kept plant from an earlier one."""
    made = random.Random(seed)  # noqa: S311 - a made-up garden
    members, takes = [], []
    for i in range(size):
        parent = made.randrange(i) if i and made.random() < 0.9 else None
        if parent is None:
            members.append(member(str(i), days=i))
        else:
            takes.append(took(f"t{i}", str(parent), days=i))
            members.append(member(str(i), f"t{i}", days=i))
    return Family(members, takes)


@given(st.integers(0, 120), st.integers(0, 50))
def test_every_plant_is_listed_once_below_its_mother(size: int, seed: int) -> None:
    family = grown(size, seed)
    rows = family.rows(set(family.members))
    assert sorted(row.member.key for row in rows) == sorted(family.members)
    above: list[str] = []
    for row in rows:
        del above[row.depth :]
        parent = family.parent(row.member)
        assert (above[-1] if above else None) == (parent.key if parent else None)
        above.append(row.member.key)
    for key in family.members:
        assert key not in {one.key for one in family.below(key)}
        for other in family.below(key):
            assert key in {one.key for one in family.back(other.key)}, "forward and back agree"


@given(st.integers(0, 30))
def test_five_hundred_plants_begin_readable(seed: int) -> None:
    family = grown(500, seed)
    rows = family.rows(family.opened_at_first())
    assert len(rows) <= max(OPEN_ROWS, len(family.roots))
    assert len(rows) + sum(row.hidden for row in rows) == 500, "what is folded is counted"


def test_what_cannot_be_a_family() -> None:
    with pytest.raises(ValueError, match="not there"):
        Family([member("a", "9")], [])
    with pytest.raises(ValueError, match="descend from itself"):
        Family([member("a", "1"), member("b", "2")], [took("1", "b"), took("2", "a")])
