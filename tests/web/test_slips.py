"""Slips, and plants passed on with their families: who may open them, what a file tells, what is taken in."""

from __future__ import annotations

import json
import re
from datetime import date, timedelta
from typing import Any
from uuid import UUID, uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from elder.web.batches.models import Batch
from elder.web.formats.plant_file import read_plant
from elder.web.garden.models import Garden
from elder.web.passing.models import Promise
from elder.web.plants.own_actions import keep_own
from elder.web.read.families import family_of
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant, VarietyAnswer
from tests.factories import GardenFactory, PersonFactory, PlaceFactory
from tests.web.conftest import TODAY, asked_promise, own_text
from tests.web.presses import at, page, take_back, text, way_back
from tests.web.test_passing import answered, mother, standing


@pytest.fixture
def line(garden: Garden) -> tuple[StockPlant, StockPlant, Batch]:
    """A grandmother of 2019, her daughter kept from a batch of two weeks ago, and a batch of the daughter."""
    old = mother(garden, "Gran", "mint", since=date(2019, 4, 20))
    first = standing(garden, 4)
    Batch.objects.filter(pk=first.pk).update(mother=old, stock_plant="Gran")
    young = mother(garden, "Daughter", "mint", since=TODAY - timedelta(days=27), origin="ours")
    StockPlant.objects.filter(pk=young.pk).update(raised_from=first)
    second = standing(garden, 6)
    Batch.objects.filter(pk=second.pk).update(mother=young, stock_plant="Daughter")
    return old, StockPlant.objects.get(pk=young.pk), Batch.objects.get(pk=second.pk)


def test_the_slip_says_what_it_is_and_its_line(owner: Client, garden: Garden, line: Any) -> None:
    promise = asked_promise(garden, wanted=4, reserved=[line[2]])
    shown = text(page(owner, "passing-slip", garden, promise.pk))
    assert "Mint Mentha" in shown
    assert "Cut on 8 Feb 2027 from Daughter, which stood from 2027." in shown
    assert "Daughter was cut on 8 Feb 2027 from Gran, which stood from 2019." in shown
    assert "That makes it a clone of two generations." in shown
    assert "Water them at once, and stand them out of sun and wind for three days." in shown
    assert "Mint runs." in shown
    assert "<svg" in page(owner, "passing-slip", garden, promise.pk)


def test_whoever_has_the_slip_in_hand_opens_it_and_nobody_else(garden: Garden, line: Any) -> None:
    promise = asked_promise(garden, wanted=4, reserved=[line[2]], who="Aunt M.")
    stranger = Client()
    shown = stranger.get(reverse("slip-open", args=[promise.slip_key]))
    assert shown.status_code == 200
    assert shown["X-Robots-Tag"] == "noindex"
    said = text(shown.content.decode())
    assert "Cut on 8 Feb 2027 from Daughter" in said
    assert "Aunt M." not in said
    assert garden.name not in said
    assert stranger.get(reverse("slip-open", args=[uuid4()])).status_code == 404
    Promise.objects.update(over_on=TODAY)  # called off
    assert stranger.get(reverse("slip-open", args=[promise.slip_key])).status_code == 404


def file_of(promise: Promise) -> bytes:
    answer = Client().get(reverse("slip-file", args=[promise.slip_key]))
    assert answer["Content-Disposition"] == 'attachment; filename="mint.json"'
    return bytes(answer.content)


def looked(client: Client, garden: Garden, data: bytes) -> Any:
    return client.post(at("passing-bring", garden), {"file": SimpleUploadedFile("mint.json", data)})


def signed_in(html: str) -> str:
    found = re.search(r'name="of" value="([^"]+)"', html)
    assert found
    return found[1]


@pytest.fixture
def other(garden: Garden, sign_in: Any) -> tuple[Client, Garden]:
    """Another household's garden and its owner."""
    there = GardenFactory(name="Across the lane")
    PlaceFactory(garden=there, name="Porch")
    return sign_in("owner", into=there), there


def test_a_gift_read_into_another_garden_brings_its_line(garden: Garden, line: Any, other: Any) -> None:
    promise = asked_promise(garden, wanted=4, reserved=[line[2]])
    data = file_of(promise)
    found = read_plant(data)
    assert (found.plant, found.count, found.handed, [one.name for one in found.line]) == (  # type: ignore[union-attr]
        "mint", 4, "potted", ["Daughter", "Gran"],
    )  # fmt: skip
    client, there = other
    preview = looked(client, there, data).content.decode()
    assert "Nothing is kept yet." in text(preview)
    assert not there.stock_plants.exists()
    porch = there.places.get()
    sent_in = {"of": signed_in(preview), "name": "Mint from the lane", "place": porch.pk, "key": uuid4()}
    answer = client.post(at("passing-bring-take", there), sent_in)
    offered = way_back(client, answer)
    client.post(at("passing-bring-take", there), sent_in)
    row = StockPlant.objects.get(garden=there)
    assert answer.url == at("stock-plant", there, row.pk)
    assert (row.name, row.plant, row.origin, row.place, row.since) == (
        "Mint from the lane",
        "mint",
        "gift",
        porch,
        TODAY,
    )
    family = family_of(there, TODAY, plant="mint")
    assert [one.name for one in family.back(str(row.pk))] == ["Daughter", "Gran"]
    assert family.generation(str(row.pk)) == 3
    takes = [(take.on, take.mother.split(":")[0]) for take in family.takes.values()]
    assert takes == [(date(2027, 2, 8), "far"), (date(2027, 2, 8), "far")]
    shown = text(page(client, "stock-plant", there, row.pk))
    assert "generation 3" in shown
    assert text(page(client, "stock-families", there)).count("cut in another garden") == 2
    take_back(client, there, offered)
    assert not there.stock_plants.exists()


def test_unrooted_ones_are_struck_where_they_come(garden: Garden, shoots: date, other: Any, owner: Client) -> None:
    one = mother(garden)
    promise = asked_promise(garden, plant="rosemary", method="mix", wanted=10, by=shoots, handed_as="unrooted")
    answered(owner, promise)
    owner.post(at("passing-hand", garden, promise.pk), {f"from_{one.pk}": 10, "key": uuid4()})
    data = Client().get(reverse("slip-file", args=[promise.slip_key])).content
    client, there = other
    preview = looked(client, there, data).content.decode()
    assert "10 cuttings, unrooted." in text(preview)
    sent_in = {"of": signed_in(preview), "name": "Their rosemary", "place": there.places.get().pk, "method": "mix"}
    answer = client.post(at("passing-bring-take", there), {**sent_in, "key": uuid4()})
    batch = Batch.objects.get(garden=there)
    assert answer.url == at("batch", there, batch.pk)
    assert (batch.plant, batch.method, batch.entries.get().count, batch.stock_plant) == (
        "rosemary", "mix", 10, "Their rosemary",
    )  # fmt: skip
    far = StockPlant.objects.get(garden=there)
    assert (far.ended_why, batch.mother) == ("left", far)
    take_back(client, there, way_back(client, answer))
    assert not Batch.objects.filter(garden=there).exists()
    assert not there.stock_plants.exists()


def test_a_plant_of_ones_own_goes_with_its_text(garden: Garden, other: Any) -> None:
    written = own_text("mint", "Quay mint")
    own = keep_own(garden, name="Quay mint", relative="mint", text=written, person=PersonFactory())
    batch = standing(garden, 5)
    Batch.objects.filter(pk=batch.pk).update(plant=own.slug)
    Want.objects.filter(pk=batch.want_id).update(plant=own.slug)
    promise = asked_promise(garden, plant=own.slug, wanted=3, reserved=[batch])
    data = Client().get(reverse("slip-file", args=[promise.slip_key])).content
    client, there = other
    preview = looked(client, there, data).content.decode()
    assert "a plant of the giver’s own, which comes with all its values" in text(preview)
    sent_in = {"of": signed_in(preview), "name": "Quay mint", "place": there.places.get().pk, "key": uuid4()}
    client.post(at("passing-bring-take", there), sent_in)
    row = StockPlant.objects.get(garden=there)
    assert row.plant.startswith("own")
    assert row.plant != own.slug
    assert there.own_plants.get().name == "Quay mint"


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (lambda raw: b"frog", "That is no plant passed on by Elder"),
        (lambda raw: b"\xff\xfe", "That is no plant passed on by Elder"),
        (lambda raw: b"[" * 50_000, "That is no plant passed on by Elder"),
        (lambda raw: b"x" * 130_000, "longer than any plant’s: at most 120 kB"),
        (lambda raw: json.dumps({**raw, "form": "elder plant 9"}).encode(), "“elder plant 9”, too new"),
        (lambda raw: json.dumps({**raw, "count": -3}).encode(), "Something in that file cannot be: count"),
        (lambda raw: json.dumps({**raw, "more": 1}).encode(), "cannot be: the file"),
        (lambda raw: json.dumps({**raw, "cut_on": "2027-02-31"}).encode(), "cannot be: a day"),
        (lambda raw: json.dumps({**raw, "line": [{"name": ""}]}).encode(), "cannot be: line.0.name"),
        (lambda raw: json.dumps({**raw, "plant": "../x"}).encode(), "cannot be: plant"),
        (lambda raw: json.dumps({**raw, "plant": "moonwort"}).encode(), "knows no such plant"),
        (lambda raw: json.dumps({**raw, "own": "name: [", "relative": "mint"}).encode(), "Line"),
    ],
)
def test_a_file_that_cannot_be_is_refused_whole(garden: Garden, line: Any, other: Any, change: Any, said: str) -> None:
    raw = json.loads(file_of(asked_promise(garden, wanted=4, reserved=[line[2]])))
    client, there = other
    answer = looked(client, there, change(raw))
    assert answer.status_code == 200
    assert said in text(answer.content.decode())
    assert not there.stock_plants.exists()


def test_only_what_was_looked_at_is_taken_in(garden: Garden, line: Any, other: Any) -> None:
    client, there = other
    place = there.places.get().pk
    raw = file_of(asked_promise(garden, wanted=4, reserved=[line[2]])).decode()
    assert client.post(at("passing-bring-take", there), {"of": raw, "name": "x", "place": place}).status_code == 200
    preview = looked(client, there, raw.encode()).content.decode()
    mother(there, "Taken name", "mint")
    sent_in = {"of": signed_in(preview), "name": "taken name", "place": place, "key": uuid4()}
    answer = client.post(at("passing-bring-take", there), sent_in)
    assert "taken name is the name of another mother here" in text(answer.content.decode())
    assert there.stock_plants.count() == 1


def test_a_licence_does_not_pass_on(garden: Garden, other: Any) -> None:
    batch = standing(garden, 5, variety="Ferry")
    VarietyAnswer.objects.create(garden=garden, plant="mint", variety="Ferry", protected="licence", on=TODAY)
    promise = asked_promise(garden, wanted=3, variety="Ferry", reserved=[batch])
    data = Client().get(reverse("slip-file", args=[promise.slip_key])).content
    client, there = other
    preview = looked(client, there, data).content.decode()
    sent_in = {"of": signed_in(preview), "name": "Ferry", "place": there.places.get().pk, "key": uuid4()}
    client.post(at("passing-bring-take", there), sent_in)
    assert VarietyAnswer.objects.get(garden=there).protected == "yes"


def test_a_mother_s_own_file(owner: Client, garden: Garden, line: Any) -> None:
    found = read_plant(owner.get(at("passing-mother", garden, line[1].pk)).content)
    assert ([one.name for one in found.line], found.cut_on) == (["Gran"], date(2027, 2, 8))  # type: ignore[union-attr]
    cut = read_plant(owner.get(at("passing-mother", garden, line[1].pk), {"as": "unrooted"}).content)
    assert ([one.name for one in cut.line], cut.handed) == (["Daughter", "Gran"], "unrooted")  # type: ignore[union-attr]


def test_keys_on_slips_are_no_ones_guess(garden: Garden) -> None:
    keys = {asked_promise(garden).slip_key for _ in range(3)}
    assert len(keys) == 3
    assert all(isinstance(key, UUID) and key.version == 4 for key in keys)
