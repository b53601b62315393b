"""Days of the year as people write them."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as some

from elder.web.formats.year_days import read_year_day


@pytest.mark.parametrize(
    ("text", "month", "day"),
    [
        ("30 Apr", 4, 30),
        ("30. April", 4, 30),
        ("the 30th of April", 4, 30),
        ("APRIL 30th", 4, 30),
        ("Apr. 30, 2027", 4, 30),
        ("30 apr 2027", 4, 30),
        ("30.4.", 4, 30),
        ("30. 4. 2027", 4, 30),
        ("30/04", 4, 30),
        ("4/30", 4, 30),
        ("2027-04-30", 4, 30),
        ("end of April", 4, 30),
        ("mid-May", 5, 15),
        ("early May", 5, 5),
        ("late Sept", 9, 25),
        ("the beginning of June", 6, 1),
        ("end Feb", 2, 29),
        ("29 Feb", 2, 29),
        ("1st November", 11, 1),
        ("4/5", 5, 4),
    ],
)
def test_spellings(text: str, month: int, day: int) -> None:
    assert read_year_day(text) == date(2000, month, day)


def test_which_way_round_two_numbers_are_meant() -> None:
    assert read_year_day("4/5", month_first=True) == date(2000, 4, 5)
    assert read_year_day("4-25") == read_year_day("25-4", month_first=True) == date(2000, 4, 25)


@pytest.mark.parametrize(
    "text",
    ["", "soonish", "31 Apr", "30", "Aprilis 30", "30 Maypole", "13/13", "mid", "0 May", "30 Mar May", "2027-13-01"],
)
def test_what_is_no_day(text: str) -> None:
    assert read_year_day(text) is None


@given(some.text(max_size=30) | some.from_regex(r"[0-9a-z ./-]{1,20}"))
def test_whatever_is_typed_gives_a_day_or_none(text: str) -> None:
    day = read_year_day(text)
    assert day is None or day.year == 2000
