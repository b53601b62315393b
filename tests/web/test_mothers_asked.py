"""What is asked of a mother is what she gives, and no other plant is offered in her place."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from django.test import Client

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.read.demand import asks_of_all
from elder.web.read.mothers import known
from elder.web.read.wants import reckon_all
from elder.web.stock.models import StockLook, StockPlant
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.presses import TODAY, page, text


@pytest.fixture
def pineapple(garden: Any) -> StockPlant:
    """A pineapple in fruit with three pups."""
    made: StockPlant = StockPlant.objects.create(
        garden=garden, name="In the tub", plant="pineapple", gives=3, again_days=90
    )
    StockLook.objects.create(mother=made, on=date(2027, 3, 15), growth="fruiting", pups=3)
    return made


def pineapples(garden: Any, method: str, mother: StockPlant) -> Any:
    return WantFactory(
        garden=garden, plant="pineapple", method=method, wanted=1, purpose="pot", rooting_place=garden.places.first(),
        mother=mother,
    )  # fmt: skip


def _anew(garden: Any) -> Garden:
    """As the next request has it: a garden's mothers are read once a request."""
    return Garden.objects.get(pk=garden.pk)


def _asks(garden: Any) -> Any:
    here = _anew(garden)
    return asks_of_all([one.row for one in known(here, TODAY)], reckon_all(here, TODAY), TODAY)


def test_a_crown_top_costs_the_pup_mother_nothing(garden: Any, owner: Client, pineapple: StockPlant) -> None:
    top, pup = pineapples(garden, "peeled", pineapple), pineapples(garden, "pup", pineapple)
    asks = _asks(garden)[pineapple]
    assert {ask.who for ask in asks} == {pup.pk}
    batch = take(top, on=date(2027, 3, 18), count=1)
    Batch.objects.filter(pk=batch.pk).update(mother=pineapple)
    (mother,) = known(_anew(garden), TODAY)
    assert (mother.now, mother.taken) == (3, [])
    asks = _asks(garden)[pineapple]
    assert [ask.who for ask in asks if ask.done] == []
    later = take(pup, on=date(2027, 3, 18), count=1)
    Batch.objects.filter(pk=later.pk).update(mother=pineapple)
    (mother,) = known(_anew(garden), TODAY)
    assert (mother.now, mother.taken) == (2, [(date(2027, 3, 18), 1)])
    asks = _asks(garden)[pineapple]
    assert [ask.who for ask in asks if ask.done] == [pup.pk]


def test_a_mother_without_pups_says_so(garden: Any, owner: Client, pineapple: StockPlant) -> None:
    StockLook.objects.create(mother=pineapple, on=date(2027, 3, 19), growth="fruited", pups=0)
    said = text(page(owner, "stock", garden))
    assert "No pup stands on it yet. Count them at the next look." in said
    assert "0 of 0" not in said


def test_another_variety_is_not_offered_as_if_it_were_this_one(garden: Any, owner: Client) -> None:
    for name, variety in (("By the shed", "Ninepin"), ("On the terrace", "Ferry Lamp"), ("In the corner", "")):
        StockPlant.objects.create(garden=garden, name=name, plant="tomato", variety=variety, gives=9, again_days=9)
    want = WantFactory(garden=garden, rooting_place=garden.places.first(), variety="Ferry Lamp")
    sheet = text(page(owner, "cut-sheet", garden, want.pk))
    assert "On the terrace" in sheet
    assert "In the corner" in sheet, "whose variety nobody wrote down"
    assert "By the shed" not in sheet
    any_tomato = WantFactory(garden=garden, rooting_place=garden.places.first(), variety="")
    assert "By the shed" in text(page(owner, "cut-sheet", garden, any_tomato.pk))


def test_a_joint_cut_next_month_is_stuck_after_it_is_cut(garden: Any, owner: Client) -> None:
    """Cut on 24 Apr and dried three days: stuck on 27 Apr, not three days from today."""
    want = WantFactory(
        garden=garden, plant="dragon-fruit", method="gritty", wanted=1, purpose="pot",
        rooting_place=garden.places.first(), cut_on=date(2027, 4, 24),
    )  # fmt: skip
    sheet = text(page(owner, "cut-sheet", garden, want.pk))
    assert "Stick on Tue 27 Apr, if cut on Sat 24 Apr: it comes up in Rounds that day." in sheet
    assert "23 Mar" not in sheet


def test_pots_are_counted_as_the_sheet_fills_them(garden: Any, owner: Client, mild: None) -> None:
    """Ten dormant sticks stand in one pot, seven joints in seven."""
    frame = PlaceFactory(garden=garden, name="Cold frame", standing="air")
    sticks = WantFactory(garden=garden, plant="grapevine", method="stick", wanted=5, rooting_place=frame)
    take(sticks, on=date(2027, 3, 1), count=10)
    assert "Moisten the pot" in text(page(owner, "round", garden))
