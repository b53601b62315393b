"""Wants in people's own words: how many, of what, by when."""

from __future__ import annotations

from datetime import date

import pytest

from elder.web.formats.own_words import read_own_words

TODAY = date(2027, 4, 6)
JUNE = date(2027, 6, 15)


@pytest.mark.parametrize(
    ("said", "asked"),
    [
        (
            "8 tomatoes, some mint and 4 chillies by mid June",
            [(8, "tomatoes", "", JUNE), (6, "mint", "", JUNE), (4, "chillies", "", JUNE)],
        ),
        ("I'd like a dozen ‘Ferry Lamp’ tomatoes", [(12, "tomatoes", "Ferry Lamp", None)]),
        ("We want 'Tarbrand' chillies please", [(6, "chillies", "Tarbrand", None)]),
        ("two dozen basil by 3/4\nmint", [(24, "basil", "", date(2028, 4, 3)), (6, "mint", "", None)]),
        ("sweet potatoes in May", [(6, "sweet potatoes", "", date(2027, 5, 1))]),
        ("a fig; 3 figs by 29 Feb", [(1, "fig", "", date(2028, 2, 29)), (3, "figs", "", date(2028, 2, 29))]),
        ("two hundred mint", [(200, "mint", "", None)]),
        ("0 mint", [(1, "mint", "", None)]),
        ("mint for June", [(6, "mint June", "", None)]),
        ("20 plants", []),
        ("and , ;", []),
        ("", []),
    ],
)
def test_what_is_said_is_understood(said: str, asked: list[tuple[int, str, str, date | None]]) -> None:
    assert [(one.count, one.name, one.variety, one.by) for one in read_own_words(said, TODAY)] == asked


def test_a_day_can_be_meant_month_first() -> None:
    assert read_own_words("mint by 5/4", TODAY, month_first=True)[0].by == date(2027, 5, 4)


def test_today_is_not_a_day_to_come() -> None:
    assert read_own_words("mint by 6 April", TODAY)[0].by == date(2028, 4, 6)


def test_no_end_of_plants_is_answered() -> None:
    assert len(read_own_words(", ".join(["mint"] * 40), TODAY)) == 12


def test_a_day_that_is_none_is_kept_to_be_asked_again() -> None:
    """While it is being typed, too: "by mid J" is no plant."""
    for said, unread in (("mint by the door", "the door"), ("mint by mid J", "mid J"), ("mint by", "")):
        (one,) = read_own_words(said, TODAY)
        assert (one.name, one.by, one.unread) == ("mint", None, unread)
    first, second = read_own_words("mint by the door, basil by 1 June", TODAY)
    assert (first.by, second.by) == (None, date(2027, 6, 1))
