"""What a mother can give, and what is asked of it."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.mother.demand import CuttingsAsked, shortages

DAY = date(2027, 4, 6)


def day(offset: int) -> date:
    return DAY + timedelta(days=offset)


def test_two_wants_of_one_mother_on_one_day() -> None:
    (short,) = shortages([CuttingsAsked("a", day(0), 6), CuttingsAsked("b", day(0), 6)], gives=8, again_days=14)
    assert (short.who, short.asked, short.has) == ("b", 6, 2)
    # Four more at 8 a fortnight is a week.
    assert (short.begin_by, short.all_by) == (day(-7), day(7))


def test_a_mother_comes_back() -> None:
    assert shortages([CuttingsAsked("a", day(0), 8), CuttingsAsked("b", day(14), 8)], gives=8, again_days=14) == []
    (short,) = shortages([CuttingsAsked("a", day(0), 8), CuttingsAsked("b", day(7), 8)], gives=8, again_days=14)
    assert short.has == 4


def test_it_never_holds_more_than_it_gives() -> None:
    (short,) = shortages([CuttingsAsked("a", day(0), 1), CuttingsAsked("b", day(900), 9)], gives=8, again_days=14)
    assert short.has == 8


def test_what_was_taken_was_there() -> None:
    assert shortages([CuttingsAsked("a", day(0), 20, done=True)], gives=8, again_days=14) == []
    (short,) = shortages(
        [CuttingsAsked("a", day(0), 20, done=True), CuttingsAsked("b", day(0), 1)], gives=8, again_days=14
    )
    assert short.has == 0


@given(
    st.lists(st.tuples(st.integers(0, 60), st.integers(1, 12)), min_size=1, max_size=6),
    st.integers(1, 20),
    st.integers(1, 60),
)
def test_nobody_is_short_of_a_mother_that_gives_enough(
    wanted: list[tuple[int, int]], gives: int, again_days: int
) -> None:
    asks = [CuttingsAsked(i, day(on), count) for i, (on, count) in enumerate(wanted)]
    found = shortages(asks, gives=gives, again_days=again_days)
    assert all(short.asked > short.has >= 0 for short in found)
    assert all(short.begin_by < short.day < short.all_by for short in found)
    if sum(count for _, count in wanted) <= gives:
        assert found == []


def test_a_barren_mother_is_an_error() -> None:
    with pytest.raises(ValueError, match="at least one"):
        shortages([], gives=0, again_days=5)
