"""Lists of hundreds: a leaf at a time, what is alike said together, and of the mothers only what changed read anew."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from bs4 import BeautifulSoup
from django.core.paginator import Paginator
from django.test import Client
from django.urls import reverse

from elder.engine.keeping import STORE
from elder.web.garden import access
from elder.web.garden.models import Garden
from elder.web.read.mothers import Known, known
from elder.web.read.winter import winter_list
from elder.web.record import right_pages
from elder.web.stock.models import StockLook, StockPlant
from elder.web.year.models import PotUp, Wintered
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.reading import named, read, words

TODAY = date(2027, 3, 20)


def mothers(garden: Garden, plant: str, count: int, place: Any = None) -> list[StockPlant]:
    """So many mothers of a plant: the first gives one cutting, each after it one more."""
    return [
        StockPlant.objects.create(
            garden=garden, name=f"{plant} {i:02}", plant=plant, gives=1 + i, again_days=14, place=place
        )
        for i in range(count)
    ]


def leaf(client: Client, garden: Garden, name: str, query: str = "") -> BeautifulSoup:
    return read(client.get(reverse(name, args=[garden.pk]) + query))


def test_mothers_come_forty_at_a_time_and_the_ended_on_the_first(
    owner: Client, garden: Garden, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 6, 10))
    mothers(garden, "mint", 43)
    StockPlant.objects.create(
        garden=garden, name="old one", plant="mint", gives=4, again_days=14, ended_on=date(2027, 1, 5), ended_why="died"
    )
    first, second = leaf(owner, garden, "stock"), leaf(owner, garden, "stock", "?page=2")
    shown = [words(one) for one in named(first, "Mother plants").select(".mother-name b")]
    assert shown == [f"mint {i:02}" for i in range(42, 2, -1)], "those that give most come first"
    assert [words(one) for one in named(second, "Mother plants").select(".mother-name b")] == [
        "mint 02", "mint 01", "mint 00",
    ]  # fmt: skip
    assert words(named(first, "Mother plants, by the page")) == "page 1 of 2, 43 in all Those that give less"
    assert words(named(second, "Mother plants, by the page")) == "Those that give more page 2 of 2, 43 in all"
    assert "1 that is no more" in words(first)
    assert "no more" not in words(second)


def test_a_short_list_has_no_leaves(owner: Client, garden: Garden) -> None:
    mothers(garden, "mint", 40)
    assert leaf(owner, garden, "stock").select(".leaves") == []


def test_families_keep_what_was_asked_from_leaf_to_leaf(owner: Client, garden: Garden) -> None:
    mothers(garden, "mint", 45)
    first = leaf(owner, garden, "stock-families", "?plant=mint")
    assert len(named(first, "Mothers").select("li")) == 40
    (after,) = first.select(".leaves a")
    assert after["href"] == "?plant=mint&page=2"
    second = leaf(owner, garden, "stock-families", str(after["href"]))
    assert len(named(second, "Mothers").select("li")) == 5
    assert words(second.select(".family .quiet")[0]) == "45 mothers, nothing cut yet"
    assert words(named(second, "Families, by the page")) == "Those before page 2 of 2"


def test_a_family_is_not_torn_in_two(owner: Client, garden: Garden) -> None:
    """One with forty-five kept from her comes first and fills a leaf by herself; the others have the next."""
    want = WantFactory(garden=garden, plant="mint", method="jar", rooting_place=garden.places.get())
    alone = mothers(garden, "mint", 41)
    batch = take(want, on=date(2027, 1, 10))
    type(batch).objects.filter(pk=batch.pk).update(mother=alone[39])
    for i in range(45):
        StockPlant.objects.create(
            garden=garden, name=f"kept {i}", plant="mint", gives=1, again_days=14, raised_from=batch, since=TODAY
        )
    first, second = (leaf(owner, garden, "stock-families", f"?page={page}&open={alone[39].pk}") for page in (1, 2))
    rows = [len(named(page, "Mothers").select("li")) for page in (first, second)]
    assert rows == [46, 40]


def test_what_is_to_be_done_before_the_frost_comes_by_the_leaf_and_what_stays_is_said_together(
    owner: Client, garden: Garden, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 9, 25))
    bed = PlaceFactory(garden=garden, name="Bed", standing="ground")
    mothers(garden, "lemongrass", 42, bed)
    mothers(garden, "mint", 9, bed)
    first, second = leaf(owner, garden, "year-winter"), leaf(owner, garden, "year-winter", "?page=2")
    assert [len(page.select(".winter-line")) for page in (first, second)] == [40, 2]
    assert words(named(first, "Before the frost, by the page")) == "page 1 of 2, 42 in all What comes later"
    (stays,) = first.select("details.sheet li")
    listed = "mint 00, mint 01, mint 02, mint 03, mint 04, mint 05 and 3 more"
    assert words(stays).startswith(f"9 × Mint {listed} . It bears")
    assert "9 stay where they stand" in words(first)
    # What is seen to on the second leaf leads back to it.
    links = [[str(a["href"]) for a in page.select(".winter-presses a")] for page in (first, second)]
    assert {href.partition("?")[2] for href in links[0]} == {""}
    assert {href.partition("?")[2] for href in links[1]} == {"page=2"}
    asked = read(owner.get(links[1][0]))
    back = reverse("year-winter", args=[garden.pk]) + "?page=2"
    assert [a["href"] for a in asked.select("a[data-back]")] == [back]
    key = str(asked.select("form.sheet input[name=key]")[0]["value"])
    place = str(asked.select("form.sheet select[name=place] option[selected]")[0]["value"])
    sent = {"key": key, "count": "1", "wanted": "1", "place": place}
    assert owner.post(links[1][0], {**sent, "count": ""}).status_code == 200, "and stays there until it is right"
    assert owner.post(links[1][0], sent)["Location"] == back
    again = owner.post(links[1][0], sent, follow=True)
    assert again.redirect_chain == [(back, 302)], "pressed twice, dug once"
    assert "It stands on the list no more: it was seen to, or is gone." in again.content.decode()
    assert Wintered.objects.filter(garden=garden).count() == 1
    assert owner.get(links[1][0]).status_code == 404
    assert owner.get(links[0][0] + "?page=x&page=%22%3E").status_code == 200


def test_what_stands_for_years_comes_by_the_leaf(owner: Client, garden: Garden) -> None:
    mothers(garden, "fig", 41)
    first, second = leaf(owner, garden, "year-long"), leaf(owner, garden, "year-long", "?page=2")
    assert [len(page.select(".crop-rows > li")) for page in (first, second)] == [40, 1]


def test_forecasts_that_fell_due_come_by_the_leaf_and_are_drawn_whole(
    owner: Client, garden: Garden, monkeypatch: pytest.MonkeyPatch
) -> None:
    for day in (date(2026, 3, 10), date(2026, 4, 10), date(2026, 5, 10)):
        take(WantFactory(garden=garden, rooting_place=garden.places.get()), on=day, today=day)
    monkeypatch.setattr(right_pages, "leaf_of", lambda items, page: Paginator(items, 2).get_page(page))
    first, second = leaf(owner, garden, "record-right"), leaf(owner, garden, "record-right", "?page=2")
    cut = [[words(row.select("td")[0]) for row in page.select("#right-all ~ * tbody tr")] for page in (first, second)]
    assert cut == [["11 on 10 May 2026", "11 on 10 Apr 2026"], ["11 on 10 Mar 2026"]]
    assert words(first.select("#right-ranges ~ .answer-line")[0]) == words(
        second.select("#right-ranges ~ .answer-line")[0]
    )


def by_name(garden: Garden) -> dict[str, Known]:
    return {one.row.name: one for one in known(Garden.objects.get(pk=garden.pk), TODAY)}


def test_of_the_mothers_only_those_that_changed_are_read_anew(garden: Garden) -> None:
    sill = garden.places.get()
    one, two = mothers(garden, "mint", 2, sill)
    first = by_name(garden)

    def changed() -> set[str]:
        now = by_name(garden)
        found = {name for name in now if now[name] is not first.get(name)}
        first.clear()
        first.update(now)
        return found

    assert changed() == set()
    StockLook.objects.create(mother=one, on=date(2027, 3, 18), shoots=9)
    assert changed() == {"mint 00"}
    assert (first["mint 00"].seen.shoots, first["mint 00"].looks[0].on) == (9, date(2027, 3, 18))
    PotUp.objects.create(stock=two, key="0a4b8a4e-7d1c-4f5e-9b1a-1c2d3e4f5a6b", container="gallon", on=date(2026, 5, 1))
    assert changed() == {"mint 01"}
    assert [pot.container for pot in first["mint 01"].pots] == ["gallon"]
    batch = take(WantFactory(garden=garden, plant="mint", rooting_place=sill), on=date(2027, 3, 10), count=3)
    type(batch).objects.filter(pk=batch.pk).update(mother=two)
    assert changed() == {"mint 01"}
    assert first["mint 01"].taken == [(date(2027, 3, 10), 3)]
    StockPlant.objects.filter(pk=one.pk).update(gives=30)
    assert changed() == {"mint 00"}
    sill.name = "Landing"
    sill.save()
    assert changed() == set(), "what a place is called is asked with each request"
    assert first["mint 00"].row.place.name == "Landing"
    sill.night_c = 9
    sill.save()
    assert changed() == {"mint 00", "mint 01"}, "how warm it is there says when her wood is in season"
    StockPlant.objects.filter(pk=one.pk).delete()
    assert set(by_name(garden)) == {"mint 01"}
    STORE.forget()
    assert set(by_name(garden)) == {"mint 01"}


def test_a_mother_kept_is_what_she_is_read_whole(garden: Garden) -> None:
    (one,) = mothers(garden, "fig", 1, garden.places.get())
    StockLook.objects.create(mother=one, on=date(2027, 3, 18), growth="growing", shoots=5, note="tall")
    want = WantFactory(garden=garden, plant="fig", method="bag", rooting_place=garden.places.get())
    batch = take(want, on=date(2027, 1, 10))
    StockPlant.objects.filter(pk=one.pk).update(raised_from=batch)
    by_name(garden)
    (kept,) = by_name(garden).values()
    (whole,) = known(Garden.objects.get(pk=garden.pk), TODAY, only=one.pk)
    assert (kept.giving, kept.opens, kept.seen, kept.taken) == (whole.giving, whole.opens, whole.seen, whole.taken)
    assert kept.row.raised_from.method == whole.row.raised_from.method == "bag"
    assert [(look.on, look.shoots, look.note) for look in kept.looks] == [(date(2027, 3, 18), 5, "tall")]
    assert (kept.row.place.pk, kept.row.garden_id) == (garden.places.get().pk, garden.pk)


def test_the_winters_list_is_made_anew_only_where_something_changed(garden: Garden) -> None:
    bed = PlaceFactory(garden=garden, name="Bed", standing="ground")
    fuchsia, fig = *mothers(garden, "fuchsia", 1, bed), *mothers(garden, "fig", 1, bed)
    autumn, want = date(2027, 10, 5), WantFactory(garden=garden, rooting_place=garden.places.get(name="Kitchen sill"))
    take(want, on=date(2027, 9, 9))
    last: list[Any] = [None]

    def is_new() -> bool:
        found = winter_list(Garden.objects.get(pk=garden.pk), autumn)
        before, last[0] = last[0], found
        return found is not before

    assert is_new()
    assert not is_new()
    Wintered.objects.create(
        garden=garden, stock=fuchsia, plant="fuchsia", winter=last[0].winter, way="covered", count=1, wanted=1,
        on=date(2027, 10, 1), key="0a4b8a4e-7d1c-4f5e-9b1a-1c2d3e4f5a6c",
    )  # fmt: skip
    assert is_new()
    assert [line.row.way for line in last[0].lines if line.row] == ["covered"]
    Garden.objects.filter(pk=garden.pk).update(accepted_risk=0.2)
    assert is_new()
    sill = garden.places.get(name="Kitchen sill")
    sill.capacity = {"pot": 3}
    sill.save()
    assert is_new()
    StockPlant.objects.filter(pk=fig.pk).update(variety="Stairhead")
    assert is_new()
    assert "Stairhead" in {line.standing.variety for line in last[0].lines}
    take(WantFactory(garden=garden, rooting_place=sill), on=date(2027, 9, 10))
    assert is_new(), "the record is another"
    assert not is_new()
