"""Plants of a household's own in its rooms: begun, refused, kept, changed, written out, read in, put away."""

from __future__ import annotations

from typing import Any

import pytest
from django.test import Client

from elder.engine.handbook.loading import handbook
from elder.engine.handbook.own import raw_of
from elder.web.batches.models import Batch
from elder.web.plants.models import OwnPlant
from elder.web.season.models import Want
from tests.factories import GardenFactory, WantFactory, take
from tests.web.conftest import TODAY, own_text
from tests.web.presses import at, page, take_back, text, undo_on
from tests.web.reading import read


def as_it_stands(client: Client, address: str) -> dict[str, str]:
    """What the form would send as it stands."""
    form = read(client.get(address)).select_one("form.own-form")
    assert form
    sent: dict[str, str] = {}
    for field in form.select("input[name], select[name]"):
        if field.get("type") == "checkbox" and not field.has_attr("checked"):
            continue
        chosen = field.select_one("option[selected]") if field.name == "select" else field
        usual = "on" if field.get("type") == "checkbox" else ""
        sent[str(field["name"])] = str(chosen.get("value", usual)) if chosen else ""
    return sent


def begin(client: Client, garden: Any, **changes: str) -> Any:
    address = f"{at('own-new', garden)}?like=coleus"
    sent = as_it_stands(client, address) | {"name": "Cooking coleus", "latin": "Coleus amboinicus"}
    return client.post(at("own-new", garden), sent | {key.replace("__", "-"): value for key, value in changes.items()})


def test_a_coleus_is_begun_from_its_relative_and_rooted(owner: Client, garden: Any) -> None:
    answer = begin(owner, garden, warmth__t_opt__value="26", warmth__t_opt__value__why="loves the lean-to")
    row = OwnPlant.objects.get()
    assert answer.url == at("plant", garden, row.slug)
    said = text(page(owner, "plant", garden, row.slug))
    assert "Cooking coleus (yours)" in said
    assert "26 °C , the handbook 24: loves the lean-to" in said.replace("26 °C,", "26 °C ,")
    assert "(Of its relative, coleus.)" in said
    assert "Nothing is known of eating it" in said
    assert "Cooking coleus (yours)" in page(owner, "plant", garden, "coleus"), "and beside its relative"
    assert "Yours" in text(page(owner, "plants", garden))
    place = garden.places.get()
    sheet = {
        "plant": row.slug, "method": "jar", "ask": "wanted", "wanted": 4, "when": "safe", "confidence": "0.9",
        "purpose": "bed", "stock": "usual", "rooting_place": place.pk, "growing_place": place.pk,
    }  # fmt: skip
    owner.post(at("want-new", garden), sheet)
    want = Want.objects.get()
    assert want.plant == row.slug
    batch = take(want, on=TODAY, count=6)
    assert "Cooking coleus (yours)" in page(owner, "batch", garden, batch.pk)
    assert "Stand them in the jars" in page(owner, "cut-after", garden, batch.pk)
    for name in ("season", "round", "batches", "cut", "places", "almanac"):
        page(owner, name, garden)
    assert f'<option value="{row.slug}"' in page(owner, "windfall", garden)


def test_what_is_struck_of_it_goes_on_by_the_new_value(owner: Client, garden: Any) -> None:
    begin(owner, garden)
    row = OwnPlant.objects.get()
    want = WantFactory(garden=garden, plant=row.slug, method="jar", rooting_place=garden.places.get())
    batch = take(want, on=TODAY, count=6)
    address = at("own-change", garden, row.pk)
    sent = as_it_stands(owner, address)
    why = {"methods-0-rooting-late": "20", "methods-0-rooting-late-why": "slow here"}
    owner.post(address, {**sent, **why, "name": "Cooking coleus"})
    new = OwnPlant.objects.get(current=True)
    assert new.slug != row.slug
    assert OwnPlant.objects.filter(pk=row.pk, current=False).exists()
    assert (Want.objects.get().plant, Batch.objects.get(pk=batch.pk).plant) == (new.slug, new.slug)
    assert handbook()[new.slug].method("jar").rooting.late == 20
    assert handbook()[row.slug].method("jar").rooting.late == 13, "what a slug names never changes"


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"warmth__t_opt__value": "9", "warmth__t_opt__value__why": "x"}, "The best warmth lies above the least."),
        ({"warmth__t_opt__value": "26"}, "Why? It is shown beside the value."),
        ({"methods__0__rooting__late": "3", "methods__0__rooting__late__why": "x"}, "Late comes after early."),
        ({"methods__0__take__value": "2"}, "At most 0.98."),
        ({"stock__gives__value": "many"}, "A number, please."),
        ({"latin": "coleus"}, "Two words, the first with a capital"),
        ({"name": ""}, "This field is required"),
        ({"like": "jar", "called": "Jar of water"}, ""),
        ({"like": "jar", "called": ""}, "Say what it is called: a name no other way has."),
        ({"like": "jar", "called": "Mix"}, "Say what it is called: a name no other way has."),
    ],
)
def test_a_bad_value_is_said_at_its_field(owner: Client, garden: Any, changes: dict[str, str], said: str) -> None:
    answer = begin(owner, garden, **changes)
    if not said:
        assert [way["slug"] for way in raw_of(OwnPlant.objects.get().text)["methods"]][-1] == "jar-of-water"
        return
    assert said in answer.content.decode()
    assert not OwnPlant.objects.exists()
    assert "Cooking coleus" in answer.content.decode() or "name" in changes, "nothing typed is lost"


def test_a_way_that_is_not_kept_is_gone_and_one_must_be(owner: Client, garden: Any) -> None:
    address = f"{at('own-new', garden)}?like=coleus"
    sent = as_it_stands(owner, address) | {"name": "Ours", "latin": "Coleus ours"}
    del sent["keep-mix"]
    owner.post(at("own-new", garden), sent)
    assert [way["slug"] for way in raw_of(OwnPlant.objects.get().text)["methods"]] == ["jar", "growbed", "ground"]
    for name in [name for name in sent if name.startswith("keep-")]:
        del sent[name]
    assert "At least one way is kept" in owner.post(at("own-new", garden), sent).content.decode()


def test_written_out_here_and_read_in_elsewhere(owner: Client, garden: Any, sign_in: Any) -> None:
    begin(owner, garden)
    row = OwnPlant.objects.get()
    answer = owner.get(at("own-write", garden, row.pk))
    assert answer["Content-Type"].startswith("application/yaml")
    other = GardenFactory()
    stranger = sign_in("owner", into=other)
    stranger.post(at("own-read", other), {"text": answer.content.decode()})
    theirs = OwnPlant.objects.get(garden=other)
    assert (theirs.name, theirs.relative, theirs.slug != row.slug) == ("Cooking coleus", "coleus", True)
    assert handbook()[theirs.slug].methods == handbook()[row.slug].methods
    assert stranger.get(at("plant", other, row.slug)).status_code == 404, "another household's is not there"
    assert row.slug not in stranger.get(at("windfall", other)).content.decode()


@pytest.mark.parametrize(
    ("sent", "said"),
    [
        ("", "Paste the whole text."),
        ("slug: [", "Line 2"),
        ("slug: mint\n", "is a required property"),
        (own_text("mint").replace("late: 14", "late: 2"), "Line"),
        (own_text("mint").replace("late: 14", "late: 901"), "Roots, late: between 2 and 900 days."),
        (own_text("mint").replace("late: 14", "late: .inf"), "A number in it is none that a plant has."),
        (own_text("mint").replace("value: 8", "value: .nan"), "A number in it is none that a plant has."),
        (own_text("mint").replace("late: 14", "late: 2027-13-45"), "A number in it is none that a plant has."),
        (own_text("mint").replace("value: -4", "value: -99"), "less than the minimum"),
        (own_text("mint").replace("slug: mix", "slug: jar"), "Two of its ways have one name."),
        ("a: &a [x, x]\nb: &b [*a, *a]\nc: [*b, *b]\n", "no anchors"),
        ("[" * 5000, "It is nested deeper than any plant."),
    ],
)
def test_what_is_no_plant_is_not_read_in(owner: Client, garden: Any, sent: str, said: str) -> None:
    assert said in owner.post(at("own-read", garden), {"text": sent}).content.decode()
    assert not OwnPlant.objects.exists()


def test_it_is_put_away_and_brought_back(owner: Client, garden: Any) -> None:
    begin(owner, garden)
    row = OwnPlant.objects.get()
    answer = owner.post(at("own-away", garden, row.pk), follow=True)
    assert "Cooking coleus is off the list." in answer.content.decode()
    assert row.slug not in page(owner, "windfall", garden)
    take_back(owner, garden, undo_on(answer.content.decode()))
    assert row.slug in page(owner, "windfall", garden)
