"""The windfall and the handbook's pages."""

from __future__ import annotations

import re
from datetime import date
from typing import Any

import pytest
from django.urls import reverse

from elder.engine.handbook.loading import handbook
from elder.web.batches.models import Batch
from elder.web.garden import access
from elder.web.garden.models import Garden
from elder.web.season.models import Want
from tests.factories import GardenFactory, PlaceFactory
from tests.web.reading import read, words

STEM = {"plant": "tomato", "piece": "broken stem", "pieces": 1, "length": 45, "state": "sound"}


def ask(client: Any, garden: Garden, **changes: object) -> str:
    return client.get(reverse("windfall", args=[garden.pk]), {**STEM, **changes}).content.decode()


def fields(page: str) -> dict[str, str]:
    """What the best way's one press would send."""
    form = page.split("hand/take/")[1].split("</form>")[0]
    return dict(re.findall(r'name="(\w+)" value="([^"]*)"', form))


@pytest.fixture
def in_june(garden: Garden, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 6, 12))


def test_the_same_stem_in_june_and_in_september(garden: Garden, owner: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 6, 12))
    june = ask(owner, garden)
    assert "Worth it this year" in june
    assert "first fruit about" in june
    assert "Rescue the snapped stem" in june
    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 9, 12))
    september = ask(owner, garden)
    assert "Worth it this year" not in september
    assert "Only as a plant kept indoors" in september


def test_one_press_takes_the_batch_once(garden: Garden, owner: Any, in_june: None) -> None:
    press = fields(ask(owner, garden))
    for _ in range(2):
        answer = owner.post(reverse("windfall-take", args=[garden.pk]), press, follow=True)
    batch = Batch.objects.get()
    want = Want.objects.get()
    assert batch.want == want
    assert (batch.entries.get().count, want.wanted) == (int(press["count"]), int(press["likely"]))
    assert answer.redirect_chain[-1][0] == reverse("batch", args=[garden.pk, batch.pk])
    assert "Tomato" in owner.get(reverse("season", args=[garden.pk])).content.decode()


@pytest.mark.parametrize(
    "change", [{"method": "cloud"}, {"plant": "brick"}, {"rooting": "999999"}, {"count": "0"}, {"key": "x"}]
)
def test_a_press_that_has_grown_old_is_asked_again(
    garden: Garden, owner: Any, in_june: None, change: dict[str, str]
) -> None:
    press = {**fields(ask(owner, garden)), **change}
    answer = owner.post(reverse("windfall-take", args=[garden.pk]), press, follow=True)
    assert b"That answer had grown old." in answer.content
    assert not Batch.objects.exists()
    assert not Want.objects.exists()


def test_a_place_of_another_garden_is_none(garden: Garden, owner: Any, in_june: None) -> None:
    elsewhere = PlaceFactory(garden=GardenFactory())
    press = {**fields(ask(owner, garden)), "rooting": str(elsewhere.pk)}
    owner.post(reverse("windfall-take", args=[garden.pk]), press)
    assert not Batch.objects.exists()


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"plant": "lettuce", "piece": "shoot"}, "Sow instead."),
        ({"plant": "apple", "piece": "pruning"}, "Graft instead."),
        (
            {"plant": "mint", "piece": "slip"},
            "Mint is not raised from a slip: it sprouts no slips from a tuber. What does: a shoot, a tip and a sucker.",
        ),
        ({"length": 2}, "Too short."),
        ({"length": ""}, "Say how long it is"),
        ({"length": "long"}, "A number, please."),
        ({"length": 4000}, "Cut it up and say how many."),
        ({"pieces": 0}, "At least one."),
        ({"plant": "citrus", "piece": "leaf"}, "Not recommended"),
        ({"state": "flowering"}, "it is in flower, which roots worse"),
        ({"plant": "banana", "piece": "pup", "length": ""}, "It has no season in open ground here"),
        ({"plant": "pineapple", "piece": "top", "length": ""}, "then peel the lowest leaves, one by one"),
    ],
)
def test_every_answer_has_its_words(
    garden: Garden, owner: Any, in_june: None, changes: dict[str, object], words: str
) -> None:
    assert words in ask(owner, garden, **changes)


def test_inches_are_read_as_inches(garden: Garden, owner: Any, in_june: None) -> None:
    metric = fields(ask(owner, garden, length=45.72))["count"]
    owner.post(reverse("habits"), {"units": "us", "theme": "system"})
    page = ask(owner, garden, length=18)
    assert fields(page)["count"] == metric
    assert "2 to 4 nodes and about 5 in, just below a node at the foot." in page


def test_an_address_need_not_say_all_of_it(garden: Garden, owner: Any, in_june: None) -> None:
    page = owner.get(reverse("windfall", args=[garden.pk]), {"plant": "mint"}).content.decode()
    assert "Worth it this year" in page
    assert "No answer yet." not in page


def test_who_looks_on_sees_the_answer_and_takes_nothing(garden: Garden, sign_in: Any, in_june: None) -> None:
    page = ask(sign_in("viewer"), garden)
    assert "Worth it this year" in page
    assert "this way</button>" not in page


def test_only_the_answer_for_the_script(garden: Garden, owner: Any, in_june: None) -> None:
    page = owner.get(reverse("windfall", args=[garden.pk]), STEM, headers={"X-Alpine-Request": "true"})
    assert b"<html" not in page.content
    assert b"hand-answer" in page.content


# The handbook's pages


@pytest.mark.no_cover
@pytest.mark.parametrize("slug", sorted(handbook()))
def test_every_plant_has_its_page(garden: Garden, owner: Any, slug: str) -> None:
    page = owner.get(reverse("plant", args=[garden.pk, slug]))
    assert page.status_code == 200
    words = page.content.decode()
    plant = handbook()[slug]
    for method in plant.methods:
        assert method.name in words.replace("&#x27;", "'")
    assert plant.cautions[0].text.split(".")[0].split("’")[0][:20] in words
    assert ("instead" in words) or plant.ways


def test_ways_are_reckoned_for_this_garden(garden: Garden, owner: Any) -> None:
    PlaceFactory(garden=garden, name="Warm shelf", day_c=24, night_c=22)
    page = owner.get(reverse("plant", args=[garden.pk, "tomato"]), {"wanted": 5}).content.decode()
    assert "Warm shelf" in page  # the quickest place is chosen
    assert "not recommended" in page  # the leaf
    assert "Elder starts here" in page
    assert "from memory" in page  # provenance


def test_no_bed_no_way_into_the_ground(garden: Garden, owner: Any) -> None:
    page = owner.get(reverse("plant", args=[garden.pk, "blackcurrant"])).content.decode()
    assert "no bed in the ground here" in page
    PlaceFactory(garden=garden, name="Terrace bed", standing="ground")
    page = owner.get(reverse("plant", args=[garden.pk, "blackcurrant"])).content.decode()
    assert "no bed in the ground here" not in page


def test_no_season_means_a_pot_for_good(garden: Garden, owner: Any) -> None:
    page = owner.get(reverse("plant", args=[garden.pk, "pineapple"])).content.decode()
    assert "No season in open ground here; in a pot for good: cut" in page


def test_an_unknown_plant_is_not_there(garden: Garden, owner: Any) -> None:
    assert owner.get(reverse("plant", args=[garden.pk, "triffid"])).status_code == 404


@pytest.mark.parametrize(
    ("words", "there", "gone"),
    [
        ("shiso", "Perilla", "Tomato"),
        ("lactuca", "sow instead", "Perilla"),
        ("quagmire", "No plant is called “quagmire” here.", "Tomato"),
    ],
)
def test_searching(garden: Garden, owner: Any, words: str, there: str, gone: str) -> None:
    page = owner.get(reverse("plants", args=[garden.pk]), {"q": words}).content.decode()
    assert there in page
    assert f"<b>{gone}</b>" not in page


def test_the_list_says_what_can_be_cut_today(garden: Garden, owner: Any) -> None:
    page = owner.get(reverse("plants", args=[garden.pk])).content.decode()
    assert "<b>now:</b> dormant stick" in page  # 20 March
    lines = [words(line) for line in read(owner.get(reverse("plants", args=[garden.pk]))).select(".plant-line")]
    assert "Mint Mentha spicata softwood tip from 24 Apr" in lines


def test_the_next_hour_is_the_cut_sheets(garden: Garden, owner: Any, in_june: None) -> None:
    """A cactus joint goes 6.5 cm deep, not two thirds of it; a pineapple top to its lowest leaf; a tomato 4 cm."""
    joint = ask(owner, garden, plant="dragon-fruit", piece="broken stem", length=40)
    assert "6.5 cm deep (5 cm to 8 cm), core down" in joint
    assert "Dry till it has scabbed." in joint
    top = ask(owner, garden, plant="pineapple", piece="top", length="")
    assert "Cut away all flesh, then peel the lowest leaves, one by one" in top
    assert "3 cm deep, to the lowest leaf and no further" in top
    assert "Twist the top off" not in top, "it is in the hand"
    assert "No hormone" not in top + joint, "nothing to do"
    assert "4 cm under water, no leaf wet." in ask(owner, garden)
    snapped = ask(owner, garden)
    assert "Recut above the break, to sound wood" in snapped
    assert 'class="way-steps"' in snapped
    assert "<svg" in snapped.split('class="way-steps"')[1].split("</ol>")[0], "it is drawn beside the steps"
    assert "two thirds deep" not in joint + top
