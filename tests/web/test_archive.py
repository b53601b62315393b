"""A garden as one file: out and back the same, older forms readable, nothing left out without a reason."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from datetime import date
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.urls import reverse

from elder.engine.refusal import Refusal
from elder.web.archive import incoming
from elder.web.archive.columns import columns_of, why_left_out
from elder.web.archive.contents import NOT_ARCHIVED, TABLES
from elder.web.archive.models import ArchiveDraft
from elder.web.archive.reading import Looked, look_over
from elder.web.archive.shapes import schema, written
from elder.web.archive.taking_in import take_in
from elder.web.archive.writing import write_archive
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.moving.models import MovedPlant
from elder.web.plants.models import OwnPlant
from elder.web.stock.models import StockPlant
from tests.factories import GardenFactory, HouseholdFactory, WantFactory, member, take
from tests.web.conftest import own_text
from tests.web.whole_garden import DAY, jpeg, whole_garden

OLD = Path(__file__).parents[1] / "data"
DOCS = Path(__file__).parents[2] / "docs"
TODAY = date(2027, 3, 20)


@pytest.fixture(autouse=True)
def in_a_folder(settings: Any, tmp_path: Path) -> None:
    settings.INCOMING = tmp_path / "incoming"


@pytest.fixture
def whole(db: None) -> Any:
    return whole_garden()


def archived(garden: Any, today: date = TODAY) -> io.BytesIO:
    file = io.BytesIO()
    write_archive(garden, file, today=today)
    return file


def looked_over(file: io.BytesIO) -> Looked:
    found = look_over(file)
    assert isinstance(found, Looked), found
    return found


def read_back(file: io.BytesIO, household: Any = None) -> Garden:
    made = take_in(looked_over(file), file, household or HouseholdFactory(name="Elsewhere"))
    assert isinstance(made, Garden)
    return made


def table(file: io.BytesIO, name: str) -> list[dict[str, Any]]:
    with zipfile.ZipFile(file) as archive:
        rows: list[dict[str, Any]] = json.loads(archive.read(f"tables/{name}.json"))
    return rows


def test_every_model_is_archived_or_listed_with_its_reason() -> None:
    known = {one.label for one in TABLES} | set(NOT_ARCHIVED)
    assert {model._meta.label for model in apps.get_models(include_auto_created=True)} == known
    assert all(len(why) > 8 for why in NOT_ARCHIVED.values())


@pytest.mark.parametrize("one", TABLES, ids=lambda one: one.name)
def test_every_column_comes_along_or_has_its_reason(one: Any) -> None:
    coming = {column.name for column in columns_of(one)}
    for field in [*one.model._meta.concrete_fields, *one.model._meta.many_to_many]:
        assert field.name in coming or why_left_out(one, field.name), f"{one.name}.{field.name}"
    assert coming.isdisjoint(one.left_out), "left out and there"


def test_the_published_schema_is_the_one_that_is_asked() -> None:
    assert (DOCS / "archive.schema.json").read_text() == written()


def test_every_table_has_a_row_and_fits_the_schema_by_another_library(whole: Any) -> None:
    file, whole_schema = archived(whole), schema()
    for one in TABLES:
        rows = table(file, one.name)
        assert rows, one.name
        jsonschema.validate(rows, {**whole_schema, "$ref": f"#/definitions/{one.name}"})


def test_out_in_and_out_again_is_the_same_but_for_the_day(whole: Any) -> None:
    first = archived(whole)
    second = archived(read_back(first))
    assert second.getvalue() == first.getvalue()
    later = archived(whole, date(2027, 3, 21))
    assert later.getvalue() != first.getvalue()
    with zipfile.ZipFile(first) as one, zipfile.ZipFile(later) as other:
        differ = {name for name in one.namelist() if one.read(name) != other.read(name)}
    assert differ == {"manifest.json"}


def test_what_comes_back_is_a_garden_that_lives(whole: Any, today: date) -> None:
    made = read_back(archived(whole))
    assert made.records_digest == whole.records_digest != ""

    batch = made.batches.get(treatment={"hormone": "none"})
    old = whole.batches.get(treatment={"hormone": "none"})
    assert batch.code == old.code
    assert batch.pk != old.pk
    assert [(e.kind, e.on, e.count) for e in batch.entries.all()] == [
        ("taken", DAY, 11), ("looked", DAY, 0), ("lost", DAY, 1), ("lost", DAY, 2),
    ]  # fmt: skip
    assert batch.entries.last().strikes == batch.entries.all()[2]
    assert list(batch.also_for.values_list("lot", flat=True)) == [2]
    assert batch.mother.raised_from.garden == made
    lots = made.wants.exclude(series=None)
    assert len({want.series for want in lots}) == 1
    assert {want.series for want in lots} != {want.series for want in whole.wants.exclude(series=None)}
    assert MovedPlant.objects.get(move__garden=made).what == f"s{batch.mother.pk}-pot-{batch.rooting_place_id}"
    assert batch.entries.all()[1].made_at == old.entries.all()[1].made_at
    assert {e.by for e in Entry.objects.filter(batch__garden=made)} == {None}
    own = OwnPlant.objects.get(garden=made)
    assert own.slug != OwnPlant.objects.get(garden=whole).slug
    assert made.stock_plants.get(name="Ours 1").plant == own.slug
    assert bytes(batch.photos.get().data) == jpeg()


def test_a_plant_of_ones_own_from_the_garden_before_comes_along(whole: Any) -> None:
    before = GardenFactory(household=whole.household)
    own = OwnPlant.objects.create(garden=before, name="Theirs", relative="sage", text=own_text("sage"))
    StockPlant.objects.create(garden=whole, name="Brought", plant=own.slug, gives=2, again_days=9)
    made = read_back(archived(whole))
    assert {plant.name for plant in made.own_plants.all()} == {"Ours", "Theirs"}
    assert made.stock_plants.get(name="Brought").plant == made.own_plants.get(name="Theirs").slug


def test_the_sheets_are_for_people_and_their_spreadsheets(whole: Any) -> None:
    with zipfile.ZipFile(archived(whole)) as archive:
        sheets = {
            n: list(csv.reader(archive.read(n).decode().splitlines())) for n in archive.namelist() if n[:2] == "sh"
        }
    assert set(sheets) == {f"sheets/{n}.csv" for n in ("places", "mothers", "wants", "batches", "entries")}
    batches = sheets["sheets/batches.csv"]
    assert batches[1][:5] == [whole.batches.first().code, "Tomato", "", "jar", "Ferry Lamp 1"]
    entries = sheets["sheets/entries.csv"]
    assert entries[2][11] == "'=SUM(A1) — a note", "no spreadsheet reckons it"
    assert entries[4][:5] == ["4", whole.batches.first().code, "2027-03-06", "lost", "2"]
    assert entries[4][12] == "3"


def test_readings_are_plain_tables(whole: Any) -> None:
    with zipfile.ZipFile(archived(whole)) as archive:
        records = archive.read("records/garden.csv").decode().splitlines()
        readings = archive.read("readings/1.csv").decode().splitlines()
    assert records[0] == "date,low_c,high_c"
    assert len(records) == 1 + 3 * 365 + 1
    first = date(2024, 1, 1).toordinal()
    low = first % 13 - 2.5
    assert records[1] == (f"2024-01-01,{low:.1f},{low + 8.1:.1f}" if first % 7 else "2024-01-01,,")
    assert readings[:3] == ["date,hour,celsius,humidity", "2027-03-01,0,15.0,", "2027-03-01,1,15.1,60.0"]


@pytest.mark.parametrize("path", sorted(OLD.glob("archive-*.zip")), ids=lambda path: path.stem)
def test_archives_of_every_form_there_was_stay_readable(db: None, path: Path) -> None:
    with path.open("rb") as file:
        looked = look_over(file)
        assert isinstance(looked, Looked)
        assert not any(looked.left_out.values())
        made = take_in(looked, file, HouseholdFactory())
    assert isinstance(made, Garden)
    assert (made.batches.count(), Entry.objects.filter(batch__garden=made).count()) == (2, 5)
    assert all(one.model._base_manager.filter(**{one.within: made.pk}).exists() for one in TABLES)


def test_every_form_there_was_has_its_example() -> None:
    from elder.web.archive.contents import FORM

    assert sorted(path.stem for path in OLD.glob("archive-*.zip")) == [f"archive-{n}" for n in range(1, FORM + 1)]


def changed(file: io.BytesIO, name: str, change: Any) -> io.BytesIO:
    """The archive with a table's rows changed, and its manifest's counts with them."""
    out = io.BytesIO()
    with zipfile.ZipFile(file) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        rows = json.loads(old.read(f"tables/{name}.json"))
        rows = change(rows) or rows
        for path in old.namelist():
            data = old.read(path)
            if path == f"tables/{name}.json":
                data = json.dumps(rows).encode()
            if path == "manifest.json":
                manifest = json.loads(data)
                manifest["counts"][name] = len(rows)
                data = json.dumps(manifest).encode()
            new.writestr(path, data)
    return out


def test_a_plant_this_elder_does_not_know_stays_behind_with_all_that_hangs_on_it(whole: Any) -> None:
    def change(rows: list[dict[str, Any]]) -> None:
        rows[0]["plant"] = "moonwort"

    looked = looked_over(changed(archived(whole), "batches", change))
    why = "this Elder’s handbook has no “moonwort”"
    assert looked.left_out["batches"] == {1: why}
    assert looked.left_out["entries"] == dict.fromkeys((1, 2, 3, 4), why)
    assert looked.left_out["photos"] == {1: why}
    assert looked.left_out["line_lots"] == {1: why}
    made = take_in(looked, changed(archived(whole), "batches", change), HouseholdFactory())
    assert isinstance(made, Garden)
    assert made.batches.count() == 1
    assert made.stock_plants.get(name="Old one").raised_from == made.batches.get()


def test_a_text_that_does_not_read_takes_its_mother_with_it(whole: Any) -> None:
    looked = looked_over(changed(archived(whole), "own_plants", lambda rows: rows[0].update(text="name: [")))
    assert list(looked.left_out["own_plants"]) == [1]
    assert looked.left_out["mothers"] == {2: "this Elder’s handbook has no plant of one’s own"}


def test_a_history_that_does_not_add_up_comes_as_it_is_and_is_told(whole: Any) -> None:
    looked = looked_over(changed(archived(whole), "entries", lambda rows: rows[3].update(count=40)))
    assert looked.remarks == [
        f"{whole.batches.first().code}: its history does not add up everywhere; it comes as it is."
    ]
    assert not any(looked.left_out.values())


def test_a_photo_that_is_none_stays_behind(whole: Any) -> None:
    file = archived(whole)
    out = io.BytesIO()
    with zipfile.ZipFile(file) as old, zipfile.ZipFile(out, "w") as new:
        for path in old.namelist():
            new.writestr(path, b"not a photo" if path == "photos/batch-1.jpg" else old.read(path))
    looked = looked_over(out)
    made = take_in(looked, out, HouseholdFactory())
    assert isinstance(made, Garden)
    assert not made.batches.exclude(photos=None).exists()
    assert looked.remarks == ["photos/batch-1.jpg is no photo that can be read; it stays behind."]


def test_two_archives_of_one_garden_stand_beside_it(whole: Any) -> None:
    file = archived(whole)
    made = [read_back(file, whole.household) for _ in range(2)]
    assert {garden.name for garden in made} == {"Harrow Stair"}
    assert whole.household.gardens.count() == 3
    labels = Batch.objects.filter(garden__in=made).values_list("label", flat=True)
    assert set(labels) == {batch.code for batch in whole.batches.all()}


# The pages.


def sent(file: io.BytesIO) -> SimpleUploadedFile:
    return SimpleUploadedFile("harrow.zip", file.getvalue(), "application/zip")


def test_an_owner_carries_a_garden_away(whole: Any, sign_in: Any, today: date) -> None:
    client = sign_in("owner", into=whole)
    page = client.get(reverse("garden-archive", args=[whole.pk])).content.decode()
    assert "2 batches, 5 lines of history, 3 wants, 2 mothers, 2 places and 28 other rows." in page
    answer = client.get(reverse("garden-archive-file", args=[whole.pk]))
    assert answer["Content-Disposition"] == 'attachment; filename="elder-harrow-stair-2027-03-20.zip"'
    assert b"".join(answer.streaming_content) == archived(whole).getvalue()


def test_read_back_after_a_look(whole: Any, sign_in: Any, today: date) -> None:
    client = sign_in("owner", into=whole)
    answer = client.post(reverse("archive-read"), {"file": sent(archived(whole))})
    assert answer.url == reverse("archive-preview")
    assert whole.household.gardens.count() == 1, "nothing is kept yet"
    page = client.get(answer.url).content.decode()
    assert "2 batches, 5 lines of history, 3 wants, 2 mothers, 2 places and 28 other rows." in page
    assert "You have a garden of this name." in page
    kept = client.post(answer.url, {"name": "Harrow Stair, again"}, follow=True)
    made = Garden.objects.get(name="Harrow Stair, again")
    assert made.household == whole.household
    assert "Read back: Harrow Stair, again." in kept.content.decode()
    assert not ArchiveDraft.objects.exists()
    assert not list(Path(incoming.settings.INCOMING).iterdir())
    for room in ("season", "round", "batches", "record", "shed", "year", "stock", "places"):
        assert client.get(reverse(room, args=[made.pk])).status_code == 200, room


def test_thrown_away_leaves_nothing(whole: Any, sign_in: Any) -> None:
    client = sign_in("owner", into=whole)
    client.post(reverse("archive-read"), {"file": sent(archived(whole))})
    client.post(reverse("archive-preview"), {"discard": "1"})
    assert (whole.household.gardens.count(), ArchiveDraft.objects.count()) == (1, 0)
    assert not list(Path(incoming.settings.INCOMING).iterdir())


def test_a_draft_is_its_senders_alone(whole: Any, sign_in: Any) -> None:
    sign_in("owner", into=whole).post(reverse("archive-read"), {"file": sent(archived(whole))})
    assert sign_in("owner", into=whole).get(reverse("archive-preview")).status_code == 404
    assert sign_in("helper", into=whole).get(reverse("archive-read")).status_code == 404


def test_what_is_no_archive_is_said_beside_the_field(whole: Any, sign_in: Any) -> None:
    client = sign_in("owner", into=whole)
    page = client.post(reverse("archive-read"), {"file": SimpleUploadedFile("a.zip", b"PK no")}).content.decode()
    assert "That is not a garden’s archive as Elder writes it." in page
    assert not ArchiveDraft.objects.exists()


def test_a_label_that_came_along_is_found_by_what_it_says(whole: Any, sign_in: Any, today: date) -> None:
    made = read_back(archived(whole), HouseholdFactory())
    batch = made.batches.first()
    client = sign_in("owner", into=made)
    assert client.get(reverse("label-open", args=[batch.label])).url == reverse("batch", args=[made.pk, batch.pk])
    found = client.post(reverse("label-find", args=[made.pk]), {"code": batch.label.lower()})
    assert found.url == reverse("batch", args=[made.pk, batch.pk])
    page = client.get(reverse("find", args=[made.pk]), {"q": batch.label}).content.decode()
    assert reverse("batch", args=[made.pk, batch.pk]) in page


# The commands.


def test_out_and_in_by_command(whole: Any, tmp_path: Path, capsys: Any) -> None:
    person = member(whole)
    call_command("export_garden", str(whole.pk), "--to", str(tmp_path / "g.zip"))
    call_command("import_garden", str(tmp_path / "g.zip"), "--for", person.username, "--look")
    assert Garden.objects.count() == 1
    call_command("import_garden", str(tmp_path / "g.zip"), "--for", person.username, "--name", "Again")
    assert Garden.objects.get(name="Again").batches.count() == 2
    said = capsys.readouterr().out
    assert "Harrow Stair: 2 batches, 5 lines of history" in said
    assert [path.name for path in tmp_path.iterdir() if path.suffix == ".zip"] == ["g.zip"]


def test_commands_say_what_is_wrong(whole: Any, tmp_path: Path) -> None:
    helper = member(whole, "helper")
    (tmp_path / "g.zip").write_bytes(b"nothing")
    with pytest.raises(CommandError, match="owns no household"):
        call_command("import_garden", str(tmp_path / "g.zip"), "--for", helper.username)
    with pytest.raises(CommandError, match="not a garden’s archive"):
        call_command("import_garden", str(tmp_path / "g.zip"), "--for", member(whole).username)
    with pytest.raises(CommandError, match="cannot be read"):
        call_command("import_garden", str(tmp_path / "none.zip"), "--for", member(whole).username)
    with pytest.raises(CommandError, match="no garden 99999"):
        call_command("export_garden", "99999")
    with pytest.raises(CommandError, match="Nothing was written"):
        call_command("export_garden", str(whole.pk), "--to", str(tmp_path / "no" / "g.zip"))


def test_others_write_while_an_archive_is_read(whole: Any) -> None:
    """An archive is one moment: what is written while it is made is not half in it."""
    before = archived(whole)
    WantFactory(garden=whole, rooting_place=whole.places.first())
    assert len(table(archived(whole), "wants")) == len(table(before, "wants")) + 1
    take(whole.wants.first(), on=DAY)
    assert isinstance(look_over(before), Looked)


def test_a_refusal_is_told_by_its_code(db: None) -> None:
    found = look_over(io.BytesIO(b""))
    assert isinstance(found, Refusal)
    assert found.code == "not_an_archive"
