"""The Stock room: what each mother gives, how it is seen, its line, and plants kept from batches."""

from __future__ import annotations

import io
import re
import uuid
from datetime import date
from importlib import import_module
from typing import Any

import pytest
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from PIL import Image

from elder.web.batches.keeping import unkeeping
from elder.web.batches.models import Batch, Entry
from elder.web.stock.models import StockLook, StockPhoto, StockPlant
from tests.factories import WantFactory, take
from tests.web.presses import TODAY, at, page, take_back, text, way_back
from tests.web.reading import read


@pytest.fixture
def mother(garden: Any) -> StockPlant:
    return StockPlant.objects.create(
        garden=garden, name="Ferry Lamp 1", plant="tomato", variety="Ferry Lamp", gives=12, again_days=14,
        since=date(2025, 3, 1),
    )  # fmt: skip


def looked(client: Client, mother: StockPlant, **given: Any) -> Any:
    data = {"on": TODAY.isoformat(), "growth": "growing", "health": "well", "key": uuid.uuid4(), **given}
    return client.post(at("stock-look", mother.garden, mother.pk), data)


def grow(batch: Batch, *, rooted: int = 6, potted: int = 0) -> None:
    for kind, count in (("rooted", rooted), ("potted", potted)):
        if count:
            Entry.objects.create(batch=batch, kind=kind, on=date(2027, 3, 18), count=count)


def test_a_mother_gives_a_third_of_what_was_counted(garden: Any, owner: Client, mother: StockPlant) -> None:
    assert "12 side shoots today." in text(page(owner, "stock", garden))
    assert looked(owner, mother, shoots=20).status_code == 302
    said = text(page(owner, "stock-plant", garden, mother.pk))
    assert "6 side shoots today." in said
    assert "A third of its 20 shoots" in said


def test_what_was_taken_from_it_is_missed_until_it_grew_again(
    garden: Any, owner: Client, mother: StockPlant, want: Any
) -> None:
    batch = take(want, on=date(2027, 3, 13), count=11)
    assert batch.mother == mother, "found by her name"
    said = text(page(owner, "stock-plant", garden, mother.pk))
    # Twelve a fortnight: a week after eleven were cut, 1 + 6.
    assert "7 side shoots today." in said
    assert "12 again by 26 Mar" in said
    assert "11 Tomato" in said


@pytest.mark.parametrize(
    ("given", "said"),
    [
        ({"health": "hungry"}, "6 side shoots today. Half its usual, since it is yellow or hungry"),
        ({"health": "diseased"}, "No side shoots today. It proved diseased"),
        ({"shoots": 2}, "No side shoots today. It has 2 shoots; a third of that is less than one."),
    ],
)
def test_its_health_tells(garden: Any, owner: Client, mother: StockPlant, given: Any, said: str) -> None:
    looked(owner, mother, **given)
    assert said in text(page(owner, "stock-plant", garden, mother.pk))


def test_it_rests_while_its_wood_is_not_in_season(garden: Any, owner: Client) -> None:
    rose = StockPlant.objects.create(garden=garden, name="By the shed", plant="rosemary", gives=9, again_days=30)
    said = text(page(owner, "stock-plant", garden, rose.pk))
    assert "At rest: its wood is in season from" in said


def test_a_spent_pineapple_keeps_one(garden: Any, owner: Client) -> None:
    top = StockPlant.objects.create(garden=garden, name="In the tub", plant="pineapple", gives=1, again_days=400)
    looked(owner, top, growth="fruited", pups=3)
    assert "2 pups today. It is spent, and keeps 1 of 3" in text(page(owner, "stock-plant", garden, top.pk))
    looked(owner, top, growth="growing", pups=3)
    assert "3 pups today. It is still growing, and gives up all" in text(page(owner, "stock-plant", garden, top.pk))


def test_a_look_is_kept_once_with_its_photo_and_taken_back(garden: Any, owner: Client, mother: StockPlant) -> None:
    picture = io.BytesIO()
    exif = Image.Exif()
    exif[0x010F] = "A camera"
    Image.new("RGB", (2000, 1000), "green").save(picture, "JPEG", exif=exif)
    key = uuid.uuid4()
    for _ in range(2):
        picture.seek(0)
        sent = SimpleUploadedFile("a.jpg", picture.read(), "image/jpeg")
        answer = looked(owner, mother, key=key, note="Sound.", wood="half", photo=sent)
    row = StockLook.objects.get()
    assert (row.note, row.wood, row.by is not None) == ("Sound.", "half", True)
    photo = StockPhoto.objects.get()
    shown = owner.get(at("stock-photo", garden, photo.pk))
    with Image.open(io.BytesIO(shown.content)) as kept:
        assert max(kept.size) == 1280
        assert not kept.getexif()
    take_back(owner, garden, way_back(owner, answer))
    assert not StockLook.objects.exists()


def test_a_wrong_look_keeps_what_was_typed(garden: Any, owner: Client, mother: StockPlant) -> None:
    answer = looked(owner, mother, on="2027-04-01", note="Long words.", shoots=-3)
    html = answer.content.decode()
    assert answer.status_code == 200
    assert "is still to come" in html
    assert "At least 0." in html
    assert "Long words." in html
    assert not StockLook.objects.exists()
    bad = looked(owner, mother, photo=SimpleUploadedFile("a.jpg", b"nothing", "image/jpeg"))
    assert "not a photo that can be read" in bad.content.decode()


def test_it_ends_and_that_is_taken_back(garden: Any, owner: Client, mother: StockPlant, sign_in: Any) -> None:
    answer = owner.post(at("stock-end", garden, mother.pk), {"on": TODAY.isoformat(), "why": "died"})
    undo = way_back(owner, answer)
    assert "1 that is no more" in text(page(owner, "stock", garden))
    assert "No side shoots today. Died in Mar 2027." in text(page(owner, "stock-plant", garden, mother.pk))
    WantFactory(garden=garden, rooting_place=garden.places.get(), mother=mother, cut_on=date(2027, 4, 2))
    assert "Ferry Lamp 1 is no more: 14 are asked of it on 2 Apr" in text(page(owner, "season", garden))
    take_back(owner, garden, undo)
    mother.refresh_from_db()
    assert mother.ended_on is None


def test_a_plant_of_a_batch_is_kept_and_knows_its_mother(
    garden: Any, owner: Client, mother: StockPlant, want: Any
) -> None:
    batch = take(want, on=date(2027, 3, 6))
    refused = owner.post(at("stock-keep", garden, batch.pk), {"name": "Ferry Lamp 2"})
    assert "None of this batch has rooted yet." in refused.content.decode()
    grow(batch, rooted=1)
    start = owner.get(at("stock-keep", garden, batch.pk)).content.decode()
    assert "Tomato 1" in start, "a name is offered"
    StockPlant.objects.create(garden=garden, name="Tomato 7", plant="tomato", gives=6, again_days=9)
    assert "Tomato 8" in owner.get(at("stock-keep", garden, batch.pk)).content.decode()
    answer = owner.post(at("stock-keep", garden, batch.pk), {"name": "Ferry Lamp 2", "place": garden.places.get().pk})
    undo = way_back(owner, answer)
    kept = StockPlant.objects.get(name="Ferry Lamp 2")
    assert (kept.raised_from, kept.origin, kept.plant) == (batch, "ours", "tomato")
    said = text(page(owner, "stock-plant", garden, kept.pk))
    assert f"kept from batch {batch.code}, cut from Ferry Lamp 1" in said
    assert "generation 2, from Ferry Lamp 1" in said
    more = owner.post(at("stock-keep", garden, batch.pk), {"name": "Ferry Lamp 3"})
    assert "The one that lives is a mother already." in more.content.decode()
    take_back(owner, garden, undo)
    assert not StockPlant.objects.filter(name="Ferry Lamp 2").exists()


def test_one_that_was_used_is_not_taken_off_by_an_undo(garden: Any, owner: Client, want: Any) -> None:
    batch = take(want, on=date(2027, 3, 6))
    grow(batch)
    answer = owner.post(at("stock-keep", garden, batch.pk), {"name": "Ferry Lamp 2"})
    kept = StockPlant.objects.get()
    looked(owner, kept)
    assert answer.status_code == 302
    after = take_back(owner, garden, unkeeping(kept).offered(garden), follow=True)
    assert "has been used since and stays" in after.content.decode()
    assert StockPlant.objects.exists()


@pytest.fixture
def line(garden: Any, mother: StockPlant, want: Any) -> StockPlant:
    """First, her daughter kept from a batch, and a batch of the daughter's."""
    first = take(want, on=date(2027, 1, 6))
    second = StockPlant.objects.create(
        garden=garden, name="Ferry Lamp 2", plant="tomato", gives=6, again_days=14, raised_from=first,
        since=date(2027, 2, 1), place=garden.places.get(),
    )  # fmt: skip
    row = take(want, on=date(2027, 3, 6), count=4)
    Batch.objects.filter(pk=row.pk).update(mother=second, stock_plant=second.name)
    return second


def test_forward_from_a_diseased_mother(garden: Any, owner: Client, mother: StockPlant, line: StockPlant) -> None:
    looked(owner, mother, health="diseased")
    said = text(page(owner, "stock-plant", garden, mother.pk))
    assert "Forward: one mother and two batches; 15 plants live. It proved diseased: look at each of these." in said
    assert "Ferry Lamp 2 mother Kitchen sill" in said
    assert "6 Mar: 4 cut; 4 live, Kitchen sill from Ferry Lamp 2" in said
    families = text(page(owner, "stock-families", garden))
    assert families.count("diseased line") == 2, "the daughter is told apart as well"


def test_families_fold_search_and_show_a_line(garden: Any, owner: Client, mother: StockPlant, line: StockPlant) -> None:
    url = at("stock-families", garden)
    html = owner.get(url).content.decode()
    assert "2 mothers, 2 batches, 2 generations deep" in html
    # The nested list says the same: the daughter's list lies within her mother's.
    nested = html[html.index("The same as a list") :]
    assert re.search(r"Ferry Lamp 1</b></a>.*?<ul>\s*<li>.*?Ferry Lamp 2</b>", nested, re.S)
    folded = text(owner.get(f"{url}?shut={mother.pk}").content.decode())
    assert "1 more folded away" in folded
    assert "Ferry Lamp 2" not in folded
    found = owner.get(f"{url}?q=lamp+2").content.decode()
    assert "1 plant found" in found
    none = owner.get(f"{url}?q=rhubarb").content.decode()
    assert "No mother or place here is called so." in none
    chosen = owner.get(f"{url}?line={line.pk}").content.decode()
    assert 'class="life strong"' in chosen
    assert "from <a" in chosen[chosen.index("Back:") :]
    assert owner.get(f"{url}?line=nonsense&plant=nothing&open=9999").status_code == 200


def test_a_name_on_a_batch_is_a_line_of_its_own(garden: Any, owner: Client, want: Any) -> None:
    take(want, on=date(2027, 3, 6))
    html = owner.get(at("stock-families", garden)).content.decode()
    assert "1 mother, 1 batch" in html


def test_the_stock_room_asks_the_same_few_questions_whatever_its_size(
    garden: Any, owner: Client, django_assert_max_num_queries: Any
) -> None:
    for i in range(40):
        row = StockPlant.objects.create(garden=garden, name=f"Plant {i}", plant="mint", gives=4, again_days=9)
        StockLook.objects.create(mother=row, on=TODAY, shoots=i)
    with django_assert_max_num_queries(24):
        owner.get(at("stock", garden))
    with django_assert_max_num_queries(16):
        owner.get(at("stock-families", garden))


def test_a_plant_cannot_have_come_after_today(garden: Any, owner: Client) -> None:
    given = {"name": "Mint", "plant": "mint", "since": "2027-05-01", "note": "By the tap"}
    html = owner.post(at("stock-new", garden), given).content.decode()
    assert "is still to come" in html
    assert "By the tap" in html


def test_what_has_a_history_is_not_taken_off_the_list(garden: Any, owner: Client, mother: StockPlant) -> None:
    looked(owner, mother)
    answer = owner.post(at("stock-edit", garden, mother.pk), {"remove": 1}, follow=True)
    assert "has a history, which is kept" in answer.content.decode()
    assert StockPlant.objects.exists()


def test_a_mother_added_later_finds_the_batches_of_her_name(garden: Any, owner: Client, want: Any) -> None:
    batch = take(want, on=date(2027, 3, 6))
    assert batch.mother is None
    answer = owner.post(at("stock-new", garden), {"name": "ferry lamp 1", "plant": "tomato"}, follow=True)
    assert "1 batch of that name is its own now." in answer.content.decode()
    batch.refresh_from_db()
    assert batch.mother == StockPlant.objects.get()
    owner.post(at("stock-edit", garden, batch.mother.pk), {"name": "Ferry Lamp 1", "plant": "mint"})
    assert StockPlant.objects.get().plant == "tomato", "what was cut from it is of that plant"
    mint = owner.post(at("stock-new", garden), {"name": "Ferry Lamp 1 ", "plant": "mint"})
    assert "There is a mother plant of that name already." in mint.content.decode()


def test_batches_written_before_there_was_a_link_find_the_mother_they_name(garden: Any, want: Any) -> None:
    batch = take(want, on=date(2027, 3, 6))
    other = take(want, on=date(2027, 3, 7))
    Batch.objects.filter(pk=other.pk).update(plant="mint")
    mother = StockPlant.objects.create(garden=garden, name="Ferry Lamp 1", plant="tomato", gives=6, again_days=9)
    import_module("elder.web.batches.migrations.0007_link_mothers").link(apps, None)
    batch.refresh_from_db()
    other.refresh_from_db()
    assert (batch.mother, other.mother) == (mother, None), "by name and kind"


def test_what_was_given_away_of_a_line_is_told(
    garden: Any, owner: Client, mother: StockPlant, line: StockPlant
) -> None:
    batch = Batch.objects.get(mother=line)
    for kind, day, count in (("rooted", 15, 3), ("given", 17, 2), ("lost", 18, 1)):
        Entry(batch=batch, kind=kind, on=date(2027, 3, day), count=count).save()
    said = text(page(owner, "stock-plant", garden, mother.pk))
    assert "Forward: one mother and two batches; 12 plants live; 2 given away." in said


def test_a_family_is_drawn_roomy_until_it_is_large(garden: Any, owner: Client, mother: StockPlant) -> None:
    def is_snug() -> bool:
        return bool(read(owner.get(at("stock-families", garden))).select(".family-snug"))

    others = [StockPlant(garden=garden, name=f"Mint {i}", plant="mint", gives=4, again_days=9) for i in range(23)]
    StockPlant.objects.bulk_create(others)
    assert not is_snug()  # 24 of them
    StockPlant.objects.create(garden=garden, name="Mint 24", plant="mint", gives=4, again_days=9)
    assert is_snug()
