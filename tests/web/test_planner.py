"""The board's dials, zooms and groups; lots, winters, spares; batches that serve two wants; fitting in."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from elder.engine.chance.counting import Take, chance_at_least, chance_of, count_pmf, cuttings_needed, left_after
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.read.want_rows import batches_of
from elder.web.read.wants import reckon
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.presses import take_back, undo_on
from tests.web.reading import board as board_rows
from tests.web.reading import items, read

SHEET = {"plant": "tomato", "wanted": 8, "when": "safe", "confidence": 0.9, "purpose": "bed", "stock": "usual"}


@pytest.fixture
def sheet(garden: Garden) -> dict[str, Any]:
    place = garden.places.first()
    assert place
    return {**SHEET, "rooting_place": place.pk, "growing_place": place.pk}


def keep(client: Any, garden: Garden, data: dict[str, Any]) -> Any:
    return client.post(reverse("want-new", args=[garden.pk]), data)


def rows_of(owner: Any, garden: Garden, **query: Any) -> dict[str, str]:
    """The board's rows: each want's name, and what stands beside it."""
    return board_rows(read(owner.get(reverse("season", args=[garden.pk]), query)))


def board(client: Any, garden: Garden, **query: object) -> str:
    return client.get(reverse("season", args=[garden.pk]), query).content.decode()


def test_spares_are_grown_besides(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    keep(owner, garden, {**sheet, "spares": 2})
    row = Want.objects.get()
    assert (row.wanted, row.spares, row.total) == (8, 2, 10)
    page = owner.get(reverse("want", args=[garden.pk, row.pk])).content.decode()
    assert "8 Tomato, plus 2" in page
    # plain_plan: with 49 days fifteen give ten with 0.927, fourteen with 0.882.
    assert "Cut 15 side shoots" in page


def test_a_succession_is_kept_as_its_lots(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    keep(owner, garden, {**sheet, "plant": "basil", "wanted": 12, "lots": 3, "apart_days": 21})
    rows = list(Want.objects.order_by("lot"))
    assert [(row.wanted, row.lot, row.lots) for row in rows] == [(4, 1, 3), (4, 2, 3), (4, 3, 3)]
    assert len({row.series for row in rows}) == 1
    assert rows[1].by
    assert rows[2].by
    assert (rows[2].by - rows[1].by).days == 21
    assert "lot 2 of 3" in owner.get(reverse("want", args=[garden.pk, rows[1].pk])).content.decode()


def test_a_want_changed_into_lots_becomes_them(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    keep(owner, garden, {**sheet, "plant": "basil", "wanted": 12})
    kept = Want.objects.get()
    edit = reverse("want-edit", args=[garden.pk, kept.pk])
    owner.post(edit, {**sheet, "plant": "basil", "wanted": 12, "lots": 3, "apart_days": 14})
    rows = list(Want.objects.order_by("lot"))
    assert [row.wanted for row in rows] == [4, 4, 4]
    assert rows[0].pk == kept.pk
    # One lot is changed by itself, and stays a lot.
    second = reverse("want-edit", args=[garden.pk, rows[1].pk])
    assert b"In how many lots" not in owner.get(second).content
    owner.post(second, {**sheet, "plant": "basil", "wanted": 5, "when": "by", "by": rows[1].by.isoformat()})
    rows[1].refresh_from_db()
    assert (rows[1].wanted, rows[1].lot, rows[1].lots, Want.objects.count()) == (5, 2, 3, 3)


def test_a_lot_that_cannot_be_keeps_none(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    answer = keep(owner, garden, {**sheet, "wanted": 12, "lots": 4, "apart_days": 70})
    assert answer.status_code == 200
    assert b"Too late" in answer.content
    assert not Want.objects.exists()
    assert b"5 lots of 2: each lot wants a plant." in keep(owner, garden, {**sheet, "wanted": 2, "lots": 5}).content


def test_next_years_bed_by_way_of_winter(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    sheet = {**sheet, "plant": "scented-pelargonium", "wanted": 6, "purpose": "over"}
    answer = owner.get(reverse("want-new", args=[garden.pk]), sheet).content.decode()
    assert "through winter." in answer
    assert "plant out 6 on" in answer
    keep(owner, garden, sheet)
    first, second = Want.objects.order_by("lot")
    assert (first.purpose, first.lots, second.purpose, second.wanted) == ("winter", 2, "bed", 6)
    assert second.stock == "indoors"
    assert second.by
    assert second.by.year == 2028
    assert list(rows_of(owner, garden)) == ["3 Scented pelargonium 1 of 2", "6 Scented pelargonium 2 of 2"]


def test_too_cold_to_keep_is_said_beside_the_place(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    rack = PlaceFactory(garden=garden, name="Rack", standing="air")
    data = {**sheet, "plant": "scented-pelargonium", "purpose": "over", "growing_place": rack.pk}
    answer = keep(owner, garden, data)
    assert "Too cold to keep scented pelargonium over winter" in answer.content.decode()
    assert "growing_place" in answer.context["form"].errors


def test_as_many_as_the_cuttings_give(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    data = {**sheet, "ask": "cuttings", "cuttings": 12}
    answer = owner.get(reverse("want-new", args=[garden.pk]), data).content.decode()
    assert "Cut 12 side shoots" in answer
    both = Take(0.855, 20.7)  # nine in ten take, 19 in 20 of those stand: the product of both
    sure = max(n for n in range(1, 13) if chance_at_least(n, 12, chance_ready=1.0, take=both) >= 0.9)
    assert f"9 in 10 that {sure} plants come of them." in answer
    keep(owner, garden, data)
    row = Want.objects.get()
    assert (row.cuttings, row.wanted) == (12, reckon(row, garden, date(2027, 3, 20)).needed)
    assert b"Say how many cuttings the mother can give." in keep(owner, garden, {**sheet, "ask": "cuttings"}).content
    few = {**sheet, "ask": "cuttings", "cuttings": 2, "confidence": 0.95, "plant": "bay"}
    assert "2 cuttings do not make even one plant" in keep(owner, garden, few).content.decode()


def test_another_way_is_kept_and_a_strange_one_is_not(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    keep(owner, garden, {**sheet, "method": "plug"})
    keep(owner, garden, {**sheet, "method": "dome"})  # chilli's, left over in the form
    assert list(Want.objects.values_list("method", flat=True)) == ["plug", "jar"]


def test_ways_stand_side_by_side(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    page = owner.get(reverse("want-new", args=[garden.pk]), sheet).content.decode()
    assert "Ways to root it here" in page
    for way in ("jar of water", "pot of loose mix", "plug under a dome", "expanded clay"):
        assert way in page
    assert "sown when you cut" in page  # seed, beside the clone


def test_seed_that_does_not_come_true_is_warned_of(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    page = owner.get(reverse("want-new", args=[garden.pk]), {**sheet, "plant": "mint"}).content.decode()
    assert "does not come true" in page


def test_struck_in_the_ground_wants_ground(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    answer = keep(owner, garden, {**sheet, "plant": "blackcurrant", "method": "ground"})
    assert "choose a place in the ground" in answer.content.decode()
    assert "rooting_place" in answer.context["form"].errors


def test_the_dials_change_the_answer_and_nothing_else(garden: Garden, owner: Any) -> None:
    place = garden.places.first()
    row = WantFactory(garden=garden, rooting_place=place)
    plain, bold, sure = board(owner, garden), board(owner, garden, risk=5), board(owner, garden, sure=0)
    assert rows_of(owner, garden)["8 Tomato"] == "Cut 12 by 29 Mar · out 15 May · fruit 8 Jul"
    assert "Nothing is changed." not in plain
    assert "Nothing is changed." in bold
    assert "accepted a frost risk of 1 in 2?" in bold
    assert "Keep this risk" in bold
    even = cuttings_needed(8, chance_ready=1.0, take=Take(0.9, 20), confidence=0.5)
    assert even != 11
    assert f"Cut {even}" in sure
    row.refresh_from_db()
    garden.refresh_from_db()
    assert (row.confidence, garden.accepted_risk) == (0.9, 0.1)
    assert "Nothing is changed." not in board(owner, garden, risk="x", sure="99")


def test_a_risk_can_be_kept_and_undone(garden: Garden, owner: Any) -> None:
    WantFactory(garden=garden, rooting_place=garden.places.first())
    page = owner.post(reverse("season-risk", args=[garden.pk]), {"risk": 3}, follow=True).content.decode()
    garden.refresh_from_db()
    assert garden.accepted_risk == 0.2
    take_back(owner, garden, undo_on(page))
    garden.refresh_from_db()
    assert garden.accepted_risk == 0.1


@pytest.mark.parametrize("query", [{"zoom": "spring"}, {"zoom": "year"}, {"zoom": "three"}, {"group": "place"}])
def test_every_look_at_the_board(garden: Garden, owner: Any, query: dict[str, str]) -> None:
    place = garden.places.first()
    for plant, method in (("tomato", "jar"), ("grapevine", "stick"), ("vanilla", "bark")):
        WantFactory(garden=garden, rooting_place=place, plant=plant, method=method, wanted=2)
    page = board(owner, garden, **query)
    assert "Tomato" in page
    assert ("Kitchen sill</h2>" in page) == ("group" in query)
    if query.get("zoom") == "three":
        assert "Jan ’30" in page


def test_long_crops_say_their_harvest_in_years(garden: Garden, owner: Any, sheet: dict[str, Any]) -> None:
    page = owner.get(reverse("want-new", args=[garden.pk]), {**sheet, "plant": "fig", "wanted": 2}).content.decode()
    assert "first figs 1.6–3 years later" in page


def test_an_empty_season_starts_a_newcomer(garden: Garden, owner: Any) -> None:
    page = board(owner, garden)
    assert "What would you like more of?" in page
    assert page.count("starter-said") == 3
    assert "Cut " in page
    assert "?start=" in page


# One batch to several wants


def test_what_is_left_of_a_count() -> None:
    import numpy as np

    pmf = count_pmf(10, np.array(0.7))
    left = left_after(pmf, 4)
    assert left.sum() == pytest.approx(1)
    assert left[0] == pytest.approx(pmf[:5].sum())
    assert left[3] == pytest.approx(pmf[7])
    assert chance_of([left], 2) == pytest.approx(float(pmf[6:].sum()))
    assert (left_after(pmf, 0) == pmf).all()
    assert left_after(pmf, 30).tolist() == pytest.approx([1.0])


def test_a_batch_serves_its_own_want_first(garden: Garden, owner: Any, today: date) -> None:
    place = garden.places.first()
    first, second = (WantFactory(garden=garden, rooting_place=place, wanted=n) for n in (8, 4))
    batch = take(first, on=date(2027, 3, 18), count=20)
    url = reverse("want-serve", args=[garden.pk, second.pk])
    assert "Let it serve this too" in owner.get(reverse("want", args=[garden.pk, second.pk])).content.decode()
    owner.post(url, {"batch": batch.pk})
    own, other = (reckon(row, garden, today, batches=batches_of(row)) for row in (first, second))
    assert other.served_before == [8]
    assert own.served_before == [0]
    day = max(own.target or today, today)
    pmf = own.batches[0].forecast.ready_on(day)
    assert own.chance == pytest.approx(float(pmf[8:].sum()))
    assert other.chance == pytest.approx(float(other.batches[0].forecast.ready_on(other.target or day)[12:].sum()))
    assert "which is served first" in owner.get(reverse("want", args=[garden.pk, second.pk])).content.decode()
    owner.post(url, {"batch": batch.pk, "end": 1})
    assert not second.also_from.exists()


def test_a_batch_of_another_garden_cannot_serve(garden: Garden, owner: Any, today: date) -> None:
    mine = WantFactory(garden=garden, rooting_place=garden.places.first())
    theirs = take(WantFactory(), on=date(2027, 3, 18))
    answer = owner.post(reverse("want-serve", args=[garden.pk, mine.pk]), {"batch": theirs.pk})
    assert answer.status_code == 404


def test_the_season_asks_as_little_of_the_database_for_twenty(
    garden: Garden, owner: Any, django_assert_max_num_queries: Any, today: date
) -> None:
    place = garden.places.first()
    for i in range(20):
        row = WantFactory(garden=garden, rooting_place=place)
        if i % 2:
            take(row, on=date(2027, 3, 18))
    with django_assert_max_num_queries(28) as counted:
        board(owner, garden)
    assert isinstance(counted, CaptureQueriesContext)


# Mothers shared by several wants


@pytest.fixture
def mother(garden: Garden) -> StockPlant:
    return StockPlant.objects.create(garden=garden, name="Ferry Lamp 2", plant="tomato", gives=13, again_days=14)


def test_two_wants_of_one_mother(garden: Garden, owner: Any, mother: StockPlant, today: date) -> None:
    place = garden.places.first()
    first = WantFactory(garden=garden, rooting_place=place, mother=mother, cut_on=date(2027, 4, 2), wanted=7)
    assert "Too little to cut" not in board(owner, garden)
    WantFactory(garden=garden, rooting_place=place, mother=mother, cut_on=date(2027, 4, 2), wanted=7)
    said = "Ferry Lamp 2: 12 asked on 2 Apr, it has 1 then; begin cutting on 21 Mar, a few at a time"
    assert said in board(owner, garden)
    (line,) = items(read(owner.get(reverse("stock", args=[garden.pk]))), "Mother plants")
    assert f"Asked of it: 12 on 2 Apr, 12 on 2 Apr {said}" in line
    # What is cut already was given.
    batch = take(first, on=date(2027, 3, 19), count=11)
    Batch.objects.filter(pk=batch.pk).update(mother=mother)
    assert "Too little to cut" not in board(owner, garden)  # a fortnight later it gives as many again


def test_a_mother_is_kept_with_the_handbooks_numbers(garden: Garden, owner: Any) -> None:
    url = reverse("stock-new", args=[garden.pk])
    owner.post(url, {"name": "Mint by the tap", "plant": "mint", "gives": "", "again_days": ""})
    row = StockPlant.objects.get()
    assert (row.gives, row.again_days) == (15, 21)
    again = owner.post(url, {"name": "mint by the tap", "plant": "mint"})
    assert b"There is a mother plant of that name already." in again.content
    edit = reverse("stock-edit", args=[garden.pk, row.pk])
    assert b"At most 500." in owner.post(edit, {"name": "Mint", "plant": "mint", "gives": 900}).content
    owner.post(edit, {"remove": 1})
    assert not StockPlant.objects.exists()


def test_a_want_names_its_mother(garden: Garden, owner: Any, mother: StockPlant, sheet: dict[str, Any]) -> None:
    keep(owner, garden, {**sheet, "mother": mother.pk})
    keep(owner, garden, {**sheet, "plant": "basil", "mother": mother.pk})  # left over from another plant
    assert [row.mother for row in Want.objects.all()] == [mother, None]
    page = owner.get(reverse("take", args=[garden.pk, Want.objects.earliest("pk").pk])).content.decode()
    assert 'value="Ferry Lamp 2"' in page
    stranger = StockPlant.objects.create(garden=WantFactory().garden, name="x", plant="tomato", gives=1, again_days=1)
    answer = keep(owner, garden, {**sheet, "mother": stranger.pk})
    assert b"Choose a mother plant of this garden." in answer.content
