"""Codes that survive being said over a bench and read off a wet label."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.cut.codes import SYLLABLES, code_of, number_of, spoken

numbers = st.integers(1, 2_000_000)


def syllables(code: str) -> list[str]:
    return [code[i : i + 2] for i in range(0, len(code), 2)]


@given(numbers)
def test_a_code_leads_back_to_its_batch(number: int) -> None:
    code = code_of(number)
    assert number_of(code) == number
    assert number_of(f" {spoken(code).lower()} ") == number
    assert not set(code) & set("BDGILNOQSVYZ0123456789"), "no letter that is taken for another or a figure"


def test_no_two_batches_share_a_code_and_codes_stay_short() -> None:
    codes = [code_of(number) for number in range(1, 5000)]
    assert len(set(codes)) == len(codes)
    assert {len(code) for code in codes[:528]} == {6}
    assert max(map(len, codes)) == 8


@given(numbers, st.data())
def test_one_syllable_misheard_is_noticed(number: int, data: st.DataObject) -> None:
    parts = syllables(code_of(number))
    at = data.draw(st.integers(0, len(parts) - 1))
    other = data.draw(st.sampled_from([one for one in SYLLABLES if one != parts[at]]))
    assert number_of("".join([*parts[:at], other, *parts[at + 1 :]])) is None


@given(numbers, st.data())
def test_two_syllables_exchanged_are_noticed(number: int, data: st.DataObject) -> None:
    parts = syllables(code_of(number))
    at = data.draw(st.integers(0, len(parts) - 2))
    if parts[at] != parts[at + 1]:
        parts[at], parts[at + 1] = parts[at + 1], parts[at]
        assert number_of("".join(parts)) is None


@pytest.mark.parametrize("said", ["", "HA", "HAHE", "HA·HE·W", "PUPUPU", "123456", "HAHEWI", "HAHAHAHEWE", "HAHAHA"])
def test_what_is_no_code(said: str) -> None:
    assert number_of(said) is None


def test_batches_are_numbered_from_one() -> None:
    with pytest.raises(ValueError, match="from 1"):
        code_of(0)
