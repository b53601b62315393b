"""Archives that nobody wrote in good faith: each is refused whole, with a sentence, and nothing is written."""

from __future__ import annotations

import io
import json
import random
import zipfile
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from django.apps import apps
from django.urls import reverse

from elder.engine.refusal import Refusal
from elder.web.archive import opening
from elder.web.archive.contents import TABLES
from elder.web.archive.reading import Looked, look_over
from elder.web.archive.taking_in import take_in
from elder.web.garden.models import Garden
from elder.web.say.refusals import refusal_words
from elder.web.ui.limits import MOST
from tests.factories import HouseholdFactory
from tests.web.test_archive import TODAY, archived, changed
from tests.web.whole_garden import whole_garden

Files = dict[str, bytes]


@pytest.fixture(scope="module")
def files(django_db_setup: None, django_db_blocker: Any) -> Iterator[Files]:
    """A whole garden's archive, file by file; the garden itself is gone again."""
    with django_db_blocker.unblock():
        garden = whole_garden()
        file = archived(garden)
        garden.household.delete()
    with zipfile.ZipFile(file) as archive:
        yield {name: archive.read(name) for name in archive.namelist()}


def zipped(files: Files) -> io.BytesIO:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out


def rows_changed(files: Files, table: str, change: Callable[[list[dict[str, Any]]], Any]) -> io.BytesIO:
    return changed(zipped(files), table, change)


def everything() -> int:
    return sum(model._base_manager.count() for model in apps.get_models() if model._meta.app_label != "contenttypes")


def refused(file: io.BytesIO) -> Refusal:
    """Why it is refused; and that nothing was written for it."""
    before = everything()
    found = look_over(file)
    if isinstance(found, Looked):
        made = take_in(found, file, HouseholdFactory(name="Elsewhere"))
        assert isinstance(made, Refusal)
        found, before = made, before + 1
    assert everything() == before
    assert refusal_words(found, TODAY)
    return found


def where(file: io.BytesIO) -> str:
    found = refused(file)
    assert found.code == "archive_fault"
    return str(found.params["where"])


ONE_ROW: list[tuple[str, dict[str, Any], str]] = [
    ("batches", {"want": 99}, "batches, row 1: want"),
    ("batches", {"want": 0}, "batches, row 1: want"),
    ("batches", {"want": True}, "batches, row 1: want"),
    ("batches", {"also_for": [1, 99]}, "batches, row 1: also_for"),
    ("batches", {"rooting_place": None}, "batches, row 1: rooting_place"),
    ("batches", {"n": 7}, "batches, row 1: its number"),
    ("batches", {"garden": 1}, "batches, row 1: its shape"),
    ("batches", {"id": 1}, "batches, row 1: its shape"),
    ("batches", {"plan": {}}, "batches, row 1: plan"),
    ("batches", {"plan": {"target": "2027-06-10", "taken_on": 3}}, "batches, row 1: plan.taken_on"),
    ("batches", {"plan": {"target": "0000-00-00"}}, "batches, row 1: plan.target"),
    ("batches", {"label": "HA"}, "batches, row 1: label"),
    ("batches", {"plant": "../../etc"}, "batches, row 1: plant"),
    ("batches", {"stock_plant": "x" * 81}, "batches, row 1: stock_plant"),
    ("batches", {"stock_plant": "a\x00b"}, "batches, row 1: a sign that is none"),
    ("batches", {"stock_plant": "a\ud800b"}, "batches, row 1: a sign that is none"),
    ("entries", {"batch": 3}, "entries, row 1: batch"),
    ("entries", {"strikes": 1}, "entries, row 1: strikes"),
    ("entries", {"strikes": 3}, "entries, row 1: strikes"),
    ("entries", {"on": "2027-02-30"}, "entries, row 1: on"),
    ("entries", {"on": "9999-12-31"}, "entries, row 1: on"),
    ("entries", {"count": -1}, "entries, row 1: count"),
    ("entries", {"count": 1e9}, "entries, row 1: count"),
    ("entries", {"count": "1"}, "entries, row 1: count"),
    ("entries", {"kind": "eaten"}, "entries, row 1: kind"),
    ("entries", {"made_at": "2027-03-06T09:00:00"}, "entries, row 1: made_at"),
    ("garden", {"latitude": 91}, "garden, row 1: latitude"),
    ("garden", {"timezone": "Mars/Crater"}, "garden: its time zone"),
    ("garden", {"t_min": [1] * 11}, "garden, row 1: t_min"),
    ("garden", {"kit": {"own": [{"key": "own-1"}]}}, "garden, row 1: kit.own.0"),
    ("garden", {"household": 1}, "garden, row 1: its shape"),
    ("places", {"light": {"facing": 400}}, "places, row 1: light.facing"),
    ("places", {"name": "Bed, “long”"}, "places, row 2: name"),
    ("wants", {"mother": 3}, "wants, row 1: mother"),
    ("wants", {"wanted": 100_000}, "wants, row 1: wanted"),
    ("supplies", {"price": "1e9"}, "supplies, row 1: price"),
    ("photos", {"entry": 5}, "photos, row 1: entry"),
    ("moved_plants", {"what": "s9-pot-1"}, "moved_plants, row 1: what"),
    ("moved_plants", {"what": "s1'; drop table"}, "moved_plants, row 1: what"),
    ("trial_arms", {"letter": "B"}, "trial_arms, row 2: trial and letter"),
    ("mothers", {"name": "Ours 1"}, "mothers, row 2: name"),
]  # fmt: skip


@pytest.mark.django_db
@pytest.mark.parametrize(("table", "said", "at"), ONE_ROW, ids=lambda one: str(one)[:40].replace("\x00", "0"))
def test_a_row_that_cannot_be_is_named(files: Files, table: str, said: dict[str, Any], at: str) -> None:
    assert where(rows_changed(files, table, lambda rows: rows[0].update(said))) == at


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("name", "data", "at"),
    [
        ("../../var/elder.sqlite3", b"", "the file “../../var/elder.sqlite3”"),
        ("/etc/passwd", b"", "the file “/etc/passwd”"),
        ("tables/../x.json", b"[]", "the file “tables/../x.json”"),
        ("photos/batch-2.jpg", b"", "the files in photos"),
        ("readings/2.csv", b"", "the files in readings"),
        ("run.sh", b"", "the file “run.sh”"),
    ],
)
def test_a_file_that_is_not_ours(files: Files, name: str, data: bytes, at: str) -> None:
    assert where(zipped({**files, name: data})) == at


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("name", "data", "at"),
    [
        ("tables/batches.json", b"[{", "tables/batches.json"),
        ("tables/batches.json", b"[" * 100_000, "tables/batches.json"),
        ("tables/batches.json", b"{}", "batches: more than 20000 rows, or none"),
        ("tables/batches.json", b"[1, 2]", "batches, row 1: its shape"),
        ("tables/batches.json", b"[]", "batches: not as many rows as its manifest says"),
        ("tables/batches.json", b"\xff\xfe[]", "tables/batches.json"),
        ("tables/supplies.json", b'[{"n": 1, "what": "x", "pack": NaN}]', "tables/supplies.json"),
        ("tables/supplies.json", b'[{"n": 1, "what": "label", "pack": 1e999}]', "supplies, row 1: pack"),
        ("records/garden.csv", b"date,low_c,high_c\n2027-01-02,1,2\n2027-01-01,1,2\n", "records/garden.csv"),
        ("records/garden.csv", b"date,low_c,high_c\n2027-01-02,1,200\n", "records/garden.csv"),
        ("records/garden.csv", b"date,low_c,high_c\n2027-01-02,nan,2\n", "records/garden.csv"),
        ("records/garden.csv", b"date,high_c,low_c\n2027-01-02,1,2\n", "records/garden.csv"),
        ("records/garden.csv", b"date,low_c,high_c\n", "records/garden.csv"),
        ("readings/1.csv", b"date,hour,celsius,humidity\n2027-01-02,24,1,2\n", "readings/1.csv"),
        ("readings/1.csv", b"date,hour,celsius,humidity\n2027-01-02,3,1,101\n", "readings/1.csv"),
        ("manifest.json", b'{"form": "elder garden 1"}', "manifest.json: its shape"),
    ],
)
def test_a_file_that_cannot_be_read(files: Files, name: str, data: bytes, at: str) -> None:
    assert where(zipped({**files, name: data})) == at


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("manifest", "code"),
    [
        (b"{}", "not_an_archive"), (b"[]", "not_an_archive"), (b'{"form": "another thing 1"}', "not_an_archive"),
        (b'{"form": "elder garden 2"}', "newer_archive"), (b'{"form": "elder garden x"}', "archive_fault"),
        (b'{"form": "elder garden 99999999999999999999"}', "archive_fault"), (b"{", "archive_fault"),
    ],
)  # fmt: skip
def test_a_manifest_of_something_else(files: Files, manifest: bytes, code: str) -> None:
    assert refused(zipped({**files, "manifest.json": manifest})).code == code


@pytest.mark.django_db
def test_a_missing_table_is_named(files: Files) -> None:
    assert where(zipped({name: data for name, data in files.items() if name != "tables/wants.json"})) == (
        "tables/wants.json is missing"
    )


@pytest.mark.django_db
def test_a_bomb_is_refused_before_it_is_unpacked(files: Files, monkeypatch: pytest.MonkeyPatch) -> None:
    """Sixty-one megabytes of spaces pack to sixty kilobytes; told truly or not, no more than the bound is unpacked."""
    bomb = zipped({**files, "tables/wants.json": b" " * 61_000_000})
    assert len(bomb.getvalue()) < 120_000
    assert where(bomb) == "tables/wants.json is longer than it can be"
    monkeypatch.setattr(opening, "MOST_WHOLE", 50_000_000)
    assert refused(bomb).code == "archive_too_long"
    lying = bytearray(bomb.getvalue())
    at = lying.index(b"PK\x01\x02", lying.index(b"tables/wants.json"))
    while b"tables/wants.json" not in lying[at + 46 : at + 46 + 20]:
        at = lying.index(b"PK\x01\x02", at + 4)
    lying[at + 24 : at + 28] = (100).to_bytes(4, "little")  # the size it says it has
    assert refused(io.BytesIO(bytes(lying))).code == "archive_fault"


@pytest.mark.django_db
def test_never_more_is_unpacked_than_a_file_of_its_kind_may_have(files: Files, monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[Any] = []
    plain = zipfile.ZipExtFile.read

    def spy(self: zipfile.ZipExtFile, n: int | None = -1) -> bytes:
        asked.append(n)
        return plain(self, n)

    monkeypatch.setattr(zipfile.ZipExtFile, "read", spy)
    look_over(zipped(files))
    assert asked
    assert all(n is not None and 0 < n <= 60_000_001 for n in asked)


@pytest.mark.django_db
def test_a_million_rows_are_refused_before_they_are_made(files: Files) -> None:
    rows = b"[" + b",".join([b'{"n":1}'] * 1_000_000) + b"]"
    assert where(zipped({**files, "tables/entries.json": rows})) == "entries: more than 250000 rows, or none"
    empty = b"[" + b"{}," * 2_000_000 + b"{}]"
    assert where(zipped({**files, "tables/entries.json": empty})) == "tables/entries.json: more rows than there can be"


@pytest.mark.django_db
def test_a_file_twice_is_refused(files: Files) -> None:
    out = zipped(files)
    with pytest.warns(UserWarning, match="Duplicate name"), zipfile.ZipFile(out, "a") as archive:
        archive.writestr("tables/wants.json", b"[]")
    assert where(out) == "the file “tables/wants.json”"


@pytest.mark.django_db
def test_half_an_archive_is_none(files: Files) -> None:
    whole = zipped(files).getvalue()
    assert refused(io.BytesIO(whole[: len(whole) // 2])).code == "not_an_archive"
    broken = bytearray(whole)
    at = broken.index(b"tables/batches.json") + 60
    broken[at : at + 40] = b"\x00" * 40
    assert where(io.BytesIO(bytes(broken))).startswith("tables/batches.json")


def test_what_is_longer_than_any_archive_is_not_read(sign_in: Any) -> None:
    """Bounded by what it says of itself; more than other pages take, since photos lie in it."""
    client, headers = sign_in(), {"content_type": "multipart/form-data; boundary=x"}
    said = {"CONTENT_LENGTH": str(opening.MOST_BYTES + 1)}
    assert client.post(reverse("archive-read"), b"", **headers, **said).status_code == 413
    said = {"CONTENT_LENGTH": str(MOST + 1)}
    assert client.post(reverse("habits"), b"", **headers, **said).status_code == 413
    assert client.post("/no-such-page/", b"", **headers, **said).status_code == 413


VALUES: tuple[Any, ...] = (
    None, True, 0, 1, 2, 99, -1, 1.5, 1e12, "", "x", "own-1", "own-99", "2027-13-40", "2027-06-01", [], [1], {},
    {"a": 1}, "a" * 5000, "\u0000", "9999-12-31", [[]], "s1-pot-1", "water",
)  # fmt: skip


DATES, WORDS = (
    ("1900-01-01", "2199-12-28", "2027-02-28", "2026-07-01"),
    ("", "x", "pot", "waiting", "lost", "none", "jar"),
)


def like(value: Any, drawn: random.Random) -> Any:
    """Something else of the same kind, so that it is not refused for its kind alone."""
    if isinstance(value, bool):
        return not value
    if isinstance(value, int):
        return drawn.choice((0, 1, 2, 3, 7, 200, 366, 5000, 32767))
    if isinstance(value, float):
        return drawn.choice((0.0, 0.01, 0.5, 1.0, 30.0, 1e9, -1.0))
    if isinstance(value, str):
        return drawn.choice(DATES if value[:2] == "20" else WORDS)
    return drawn.choice(([], {}, None)) if value else drawn.choice(({"a": "x"}, ["x"], [1]))


def altered(files: Files, drawn: random.Random) -> io.BytesIO:
    """The archive with up to three values of up to three rows put to something else, deep inside too."""
    out = dict(files)
    for _ in range(drawn.randint(1, 3)):
        table = drawn.choice(TABLES)
        rows = json.loads(out[table.path])
        spot: Any = drawn.choice(rows)
        name = drawn.choice(list(spot))
        while isinstance(spot[name], (dict, list)) and spot[name] and drawn.random() < 0.6:
            spot = spot[name]
            name = drawn.choice(list(spot)) if isinstance(spot, dict) else drawn.randrange(len(spot))
        spot[name] = like(spot[name], drawn) if drawn.random() < 0.8 else drawn.choice(VALUES)
        out[table.path] = json.dumps(rows).encode()
    return zipped(out)


def lived_through(files: Files, seed: int, client: Any) -> str:
    """An altered archive either refused with a sentence and nothing written, or a garden whose rooms all open."""
    before, file = everything(), altered(files, random.Random(seed))  # noqa: S311 - no secret
    looked = look_over(file)
    if isinstance(looked, Refusal):
        assert refusal_words(looked, TODAY)
        assert everything() == before
        return looked.code
    made = take_in(looked, file, client.household)
    if isinstance(made, Refusal):
        assert everything() == before
        return made.code
    for room in ROOMS:
        answer = client.get(reverse(room, args=[made.pk]), follow=True)
        assert answer.status_code == 200, f"{seed}: {room}"
    for batch in made.batches.all():
        assert client.get(reverse("batch", args=[made.pk, batch.pk])).status_code == 200, f"{seed}: a batch"
    for mother in made.stock_plants.all():
        assert client.get(reverse("stock-plant", args=[made.pk, mother.pk])).status_code == 200, f"{seed}: a mother"
    Garden.objects.filter(pk=made.pk).delete()
    return "taken"


ROOMS = (
    "season", "round", "cut", "batches", "stock", "places", "shed", "record", "year", "almanac", "garden", "wants-away",
    "year-winter", "year-long", "passing", "moving",
)  # fmt: skip


@pytest.mark.django_db
def test_whatever_is_altered_is_refused_or_makes_a_garden_that_opens(
    files: Files, sign_in: Any, garden: Any, attack: int
) -> None:
    """A few here, thousands by ``make attack``."""
    client = sign_in("owner")
    client.household = garden.household
    said = {lived_through(files, seed, client) for seed in range(attack or 12)}
    assert "taken" in said
    assert "archive_fault" in said
