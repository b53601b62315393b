"""Wants: the sheet, its refusals, the board, choosing a day."""

from __future__ import annotations

import re
from datetime import date
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse

from elder.web.garden.models import Person
from elder.web.season.models import Want
from tests.factories import WantFactory, take


def sheet(garden: Any, **given: Any) -> dict[str, Any]:
    place = garden.places.first().pk
    start = {"plant": "tomato", "wanted": 8, "when": "safe", "confidence": 0.9, "purpose": "bed", "stock": "usual"}
    return {**start, "rooting_place": place, "growing_place": place, **given}


@pytest.fixture
def new_url(garden: Any) -> str:
    return reverse("want-new", args=[garden.pk])


def test_the_sheet_answers_before_anything_is_kept(owner: Client, new_url: str) -> None:
    page = owner.get(new_url).content.decode()
    assert "Cut 12 side shoots between" in page
    assert "The gate opens 15 May;" in page
    assert "first fruit about 8 Jul" in page
    assert Want.objects.count() == 0


@pytest.mark.parametrize("topic", ["Frost", "Soil", "Roots", "Losses", "Days"])
def test_the_reasons_are_there(owner: Client, new_url: str, topic: str) -> None:
    assert f"<dt>{topic}</dt>" in owner.get(new_url).content.decode()


def test_the_answer_follows_the_sheet(owner: Client, garden: Any, new_url: str) -> None:
    answer = owner.get(new_url, sheet(garden, wanted=3), headers={"X-Alpine-Request": "true"}).content.decode()
    assert "Cut 5 side shoots" in answer  # plain_plan: five give three with 0.947, four with 0.858
    assert "<html" not in answer


@pytest.mark.parametrize(
    ("targets", "sent"),
    [
        ("answer-words row-picture curve-picture answer-reasons way-field", {"way-field"}),
        ("answer-words way-field place-fields", {"way-field", "place-fields"}),
        ("answer-words", set()),
    ],
)
def test_only_what_is_swapped_is_sent(owner: Client, garden: Any, new_url: str, targets: str, sent: set[str]) -> None:
    headers = {"X-Alpine-Request": "true", "X-Alpine-Target": targets}
    answer = owner.get(new_url, sheet(garden, wanted=3), headers=headers).content.decode()
    assert "Cut 5 side shoots" in answer
    assert {name for name in ("way-field", "place-fields") if f'id="{name}"' in answer} == sent


def test_a_chosen_day_moves_the_answer(owner: Client, garden: Any, new_url: str) -> None:
    answer = owner.get(new_url, sheet(garden, cut_on="2027-04-05")).content.decode()
    assert "Cut 17 side shoots on Mon 5 Apr." in answer  # plain_plan: with 40 days left 17 give eight with 0.907
    closed = owner.get(new_url, sheet(garden, cut_on="2027-05-10")).content.decode()
    assert "Mon 10 May is closed:" in closed


@pytest.mark.parametrize(
    ("given", "field", "sentence"),
    [
        ({"when": "by", "by": "2027-04-20"}, "by", "keeps the gate shut until 15 May"),
        ({"when": "by", "by": "2027-10-20"}, "by", "The next window is 15 May 2028"),
        ({"when": "by", "by": "2027-03-01"}, "by", "is not after today"),
        ({"when": "by", "by": ""}, "by", "Choose the day"),
        ({"when": "by", "by": "2027-02-30"}, "by", "not a day of the calendar"),
        ({"wanted": ""}, "wanted", "Say how many plants you want."),
        ({"wanted": "0"}, "wanted", "At least one plant."),
        ({"wanted": "900"}, "wanted", "At most 200 plants"),
        ({"wanted": "many"}, "wanted", "A whole number, please."),
    ],
)
def test_what_cannot_be_is_said_beside_its_field(
    owner: Client, garden: Any, new_url: str, given: dict[str, str], field: str, sentence: str
) -> None:
    answer = owner.post(new_url, sheet(garden, variety="Ninepin", **given))
    page = answer.content.decode()
    assert answer.status_code == 200
    assert Want.objects.count() == 0
    block = page[page.index(f'id="div_id_{field}"') :]
    assert sentence in block[: block.index('id="div_id_', 20)]
    assert 'value="Ninepin"' in page  # nothing typed is lost


def test_too_late_says_so_and_gives_the_soonest(owner: Client, garden: Any, new_url: str, monkeypatch: Any) -> None:
    from elder.web.garden import access

    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 8, 25))
    page = owner.get(new_url).content.decode()
    strong = re.search(r"<strong>(.*?)</strong>", page)
    assert strong
    assert strong[1].startswith("For spring 2028: cut ")  # what is true first, then why not sooner
    assert "Nothing cut from today would be ready before the gate shuts on" in page


def test_what_was_asked_for_by_a_day_is_not_told_why_not_sooner(
    owner: Client, garden: Any, new_url: str, monkeypatch: Any
) -> None:
    from elder.web.garden import access

    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 8, 25))
    given = sheet(garden, when="by", by="2028-06-20")
    page = owner.get(new_url, given).content.decode()
    strong = re.search(r"<strong>(.*?)</strong>", page)
    assert strong
    assert strong[1].startswith("Cut ")
    assert "before the gate shuts on" not in page


def test_keeping_a_want(owner: Client, garden: Any, new_url: str) -> None:
    answer = owner.post(new_url, sheet(garden, variety="Ninepin", cut_on="2027-04-05"))
    row = Want.objects.get()
    assert answer.url == reverse("want", args=[garden.pk, row.pk])  # type: ignore[attr-defined]
    assert (row.variety, row.cut_on, row.method) == ("Ninepin", date(2027, 4, 5), "jar")
    assert "on Mon 5 Apr." in owner.get(answer.url).content.decode()  # type: ignore[attr-defined]


def test_moving_the_cut_and_moving_it_back(owner: Client, garden: Any) -> None:
    row = WantFactory(garden=garden, rooting_place=garden.places.first())
    url = reverse("want-cut", args=[garden.pk, row.pk])
    owner.post(url, {"cut_on": "2027-04-03"})
    assert Want.objects.get().cut_on == date(2027, 4, 3)
    owner.post(url, {"cut_on": ""})
    assert Want.objects.get().cut_on is None
    owner.post(url, {"cut_on": "nonsense"})
    assert Want.objects.get().cut_on is None


def test_changing_a_want_until_something_is_cut(owner: Client, garden: Any) -> None:
    row = WantFactory(garden=garden, rooting_place=garden.places.first())
    url = reverse("want-edit", args=[garden.pk, row.pk])
    owner.post(url, sheet(garden, wanted=5))
    assert Want.objects.get().wanted == 5
    take(row, on=date(2027, 3, 10))
    assert owner.get(url).status_code == 302


def test_putting_away_and_back(owner: Client, garden: Any) -> None:
    row = WantFactory(garden=garden, rooting_place=garden.places.first())
    owner.post(reverse("want-away", args=[garden.pk, row.pk]))
    season = owner.get(reverse("season", args=[garden.pk])).content.decode()
    assert "1 want put away" in season
    assert "Undo" in season
    owner.post(reverse("want-back", args=[garden.pk, row.pk]))
    assert Want.objects.get().closed_on is None


def test_wants_put_away_are_told_by_the_leaf(owner: Client, garden: Any) -> None:
    """Those put away last first, by the plants' own names."""
    for i in range(41):
        plant, variety = (("sweet-potato", "Low Tide"), ("tomato", ""))[i % 2]
        WantFactory(
            garden=garden, rooting_place=garden.places.first(), plant=plant, variety=variety, wanted=i + 1,
            closed_on=date.fromordinal(739_800 + i),
        )  # fmt: skip
    url = reverse("wants-away", args=[garden.pk])
    first, second = (owner.get(url, {"page": page}) for page in (1, 2))
    told = [(row.wanted, plant) for row, plant in first.context["rows"]]
    assert (len(told), told[0], told[1]) == (40, (41, "Sweet potato ‘Low Tide’"), (40, "Tomato"))
    assert [(row.wanted, plant) for row, plant in second.context["rows"]] == [(1, "Sweet potato ‘Low Tide’")]
    assert "page 1 of 2" in first.content.decode()


def test_an_empty_season_says_what_to_do_first(owner: Client, garden: Any) -> None:
    assert "What would you like more of?" in owner.get(reverse("season", args=[garden.pk])).content.decode()


def test_the_board_draws_every_want_and_lists_what_is_due(owner: Client, garden: Any) -> None:
    place = garden.places.first()
    WantFactory(garden=garden, rooting_place=place)
    under_way = WantFactory(garden=garden, rooting_place=place, wanted=4)
    take(under_way, on=date(2027, 3, 10), count=3)
    page = owner.get(reverse("season", args=[garden.pk])).content.decode()
    assert page.count('class="scene scene-row"') == 2
    assert "First look" in page
    assert "Cut 3 more" in page


def test_many_wants_are_drawn_small_unless_asked(owner: Client, garden: Any) -> None:
    for _ in range(9):
        WantFactory(garden=garden, rooting_place=garden.places.first())
    url = reverse("season", args=[garden.pk])
    assert "board-small" in owner.get(url).content.decode()
    assert "board-small" not in owner.get(url + "?rows=large").content.decode()


def test_the_board_asks_the_database_the_same_few_times(
    owner: Client, garden: Any, django_assert_max_num_queries: Any
) -> None:
    place = garden.places.first()
    for _ in range(12):
        take(WantFactory(garden=garden, rooting_place=place), on=date(2027, 3, 10))
    with django_assert_max_num_queries(28):
        owner.get(reverse("season", args=[garden.pk]))


def test_us_units_at_the_edges(owner: Client, garden: Any, new_url: str) -> None:
    Person.objects.update(units="us")
    page = owner.get(new_url).content.decode()
    assert "hurt at 34 °F" in page
    assert "ground at 4 in reaches 54 °F" in page
    assert "°C" not in page.split('id="answer-reasons"')[1]
