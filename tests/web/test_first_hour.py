"""The first hour: several wants in one's own words, empty rooms, and one box that finds everything."""

from __future__ import annotations

from datetime import date

import pytest
from django.test import Client
from django.urls import reverse

from elder.web.batches.models import Batch
from elder.web.finding.finds import find
from elder.web.garden.models import Garden, Person
from elder.web.read.wants import reckon
from elder.web.say.wants import headline
from elder.web.season.first import first_answers
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from tests.factories import GardenFactory, PlaceFactory, WantFactory, take

TODAY = date(2027, 4, 6)
pytestmark = pytest.mark.django_db


def test_each_plant_said_has_the_answer_its_want_has(garden: Garden) -> None:
    answers = first_answers(garden, "8 tomatoes, 4 eggplants, rosmary, carrots", TODAY, "metric")
    assert [answer.name for answer in answers] == ["8 Tomato", "4 Tomato", "6 Rosemary", "Carrot"]
    first = answers[0]
    assert first.row is not None
    assert first.said == headline(reckon(first.row, garden, TODAY))
    assert answers[1].near == "Elder has no eggplant of its own yet."
    assert answers[2].near == "Did you mean Rosemary?"
    assert answers[3].row is None, "carrots are sown"


def test_what_can_be_had_is_kept_and_the_rest_asked_again(owner: Client, garden: Garden) -> None:
    answer = owner.post(reverse("want-first", args=[garden.pk]), {"said": "8 tomatoes by mid July, 4 aubergines"})
    want = Want.objects.get()
    assert (want.plant, want.wanted, want.by) == ("tomato", 8, date(2027, 7, 15))
    assert answer.url == f"{reverse('want-first', args=[garden.pk])}?said=4+aubergines"  # type: ignore[attr-defined]
    page = owner.get(answer.url).content.decode()  # type: ignore[attr-defined]
    assert "4 aubergines</textarea>" in page
    assert "Elder has no aubergine of its own yet." in page
    assert "Keep th" not in page, "what is only near is not kept by the press"


def test_all_kept_leads_to_the_season(owner: Client, garden: Garden) -> None:
    answer = owner.post(reverse("want-first", args=[garden.pk]), {"said": "6 mint, 3 ‘Stairhead’ tomatoes"})
    assert answer.url == reverse("season", args=[garden.pk])  # type: ignore[attr-defined]
    assert list(Want.objects.values_list("plant", "variety")) == [("mint", ""), ("tomato", "Stairhead")]


def test_the_answers_alone_come_while_one_types(owner: Client, garden: Garden) -> None:
    page = owner.get(
        reverse("want-first", args=[garden.pk]), {"said": "9 basil"}, headers={"X-Alpine-Request": "true"}
    ).content.decode()
    assert page.lstrip().startswith('<div class="first-answers"')
    assert "9 Basil" in page
    assert "Keep this\n    want" in page or "Keep this want" in " ".join(page.split())
    assert not Want.objects.exists()


def test_an_empty_season_asks_in_ones_own_words(owner: Client, garden: Garden) -> None:
    page = owner.get(reverse("season", args=[garden.pk])).content.decode()
    assert "Say it in your own words" in page
    WantFactory(garden=garden)
    assert "Say it in your own words" not in owner.get(reverse("season", args=[garden.pk])).content.decode()


def test_without_a_place_a_place_comes_first(owner: Client, garden: Garden) -> None:
    garden.places.all().delete()
    answer = owner.get(reverse("want-first", args=[garden.pk]))
    assert answer.url == reverse("place-new", args=[garden.pk])  # type: ignore[attr-defined]


def _cut(garden: Garden, plant: str, way: str = "jar") -> Batch:
    """Eleven of a plant, cut yesterday."""
    row = WantFactory(garden=garden, plant=plant, method=way, rooting_place=garden.places.first())
    return take(row, on=date(2027, 3, 5))


def _found(garden: Garden, typed: str) -> dict[str, list[str]]:
    return {group.kind: [one.name for one in group.found] for group in find(garden, typed).groups}


def test_one_box_finds_whatever_goes_by_a_word(garden: Garden) -> None:
    batch = _cut(garden, "perilla")
    mother = StockPlant.objects.create(
        garden=garden, name="The old one", plant="chilli", variety="Tarbrand", gives=3, again_days=20
    )
    WantFactory(garden=garden, plant="tomato", wanted=7)
    place = garden.places.first()
    assert place is not None
    assert _found(garden, "shiso") == {"Plants": ["Perilla"], "Batches": ["Perilla"], "Wants": ["8 Perilla"]}
    assert _found(garden, batch.code)["Batches"] == ["Perilla"]
    assert _found(garden, "tarbrnd") == {"Mothers": [mother.name]}, "a letter missing"
    assert _found(garden, place.name) == {"Places": [place.name], "Batches": ["Perilla"]}
    assert _found(garden, "capsicum")["Mothers"] == [mother.name]
    assert _found(garden, "love apple") == {"Plants": ["Tomato"], "Wants": ["7 Tomato"]}
    assert _found(garden, "gate")["Words"] == ["Gate"]
    assert _found(garden, "almanac")["Rooms"] == ["Almanac"]
    assert "Tomato" in _found(garden, "sucker")["Plants"]


def test_a_batch_is_found_by_its_code_however_it_is_typed(garden: Garden) -> None:
    batch, other = _cut(garden, "mint"), _cut(garden, "basil")
    typed = f"{batch.code[:2]}·{batch.code[2:4]}·{batch.code[4:]}".lower()
    urls = [one.url for group in find(garden, typed).groups if group.kind == "Batches" for one in group.found]
    assert urls == [reverse("batch", args=[garden.pk, batch.pk])]
    assert batch.pk != other.pk


def test_what_elder_has_not_is_named_with_its_nearest(owner: Client, garden: Garden) -> None:
    for address in ("find", "plants"):
        page = owner.get(reverse(address, args=[garden.pk]), {"q": "aubergine"}).content.decode()
        assert "Elder has no aubergine of its own yet." in page
        assert f"{reverse('own-new', args=[garden.pk])}?like=tomato" in page
        page = owner.get(reverse(address, args=[garden.pk]), {"q": "xyzzy"}).content.decode()
        assert "No plant is called “xyzzy” here. Most like it:" in page


def test_the_box_searches_ones_own_gardens_alone(owner: Client, garden: Garden) -> None:
    stranger = GardenFactory()
    PlaceFactory(garden=stranger, name="Their sill")
    _cut(stranger, "mint")
    assert _found(garden, "mint") == {"Plants": ["Mint"]}
    assert _found(stranger, "mint") == {"Plants": ["Mint"], "Batches": ["Mint"], "Wants": ["8 Mint"]}
    assert owner.get(reverse("find", args=[stranger.pk]), {"q": "mint"}).status_code == 404


def test_letters_can_be_switched_off(owner: Client, garden: Garden) -> None:
    season = reverse("season", args=[garden.pk])
    assert 'data-letters="off"' not in owner.get(season).content.decode()
    owner.post(reverse("habits"), {"units": "metric", "theme": "system"})
    assert Person.objects.get(households__gardens=garden).letter_keys is False
    assert 'data-letters="off"' in owner.get(season).content.decode()
