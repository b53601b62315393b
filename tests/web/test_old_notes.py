"""Old notes read in as batches: looked at first, kept in one press, taken back in one."""

from __future__ import annotations

import re
from datetime import date
from typing import Any
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from elder.web.batches.models import Batch, Entry
from elder.web.formats.old_notes import NotesAsked, NotesTable, read_notes, table_of
from elder.web.garden.hands import Hands
from elder.web.read.records import record_of
from elder.web.record.old_notes import NotesFrame, OldBatch, keep_notes, old_batches
from elder.web.stock.models import StockPlant
from tests.factories import PersonFactory, PlaceFactory
from tests.web.presses import take_back, undo_on

TODAY = date(2027, 3, 20)
NOTES = """Plant,Way,From,Where,Cut on,No.,Rooted,Rooted on,Potted,Planted out,Notes
Mint,water,Old one,Kitchen sill,2026-05-03,12,9,2026-05-17,8,6,wet spring
Tomatoes,,,,2026-06-01,10,10,,,10,
Rosmary,,,,2025-04-02,20,,,,,
Rosemary,,,the attic,2025-04-02,20,,,,,
Basil,jar,,,2027-03-01,6,,,,,
Lettuce,,,,2026-05-03,6,6,,,,
Mint,,,,2026-05-03,6,9,,,,
"""


def found_in(garden: Any, text: str = NOTES, became: str = "planted") -> list[OldBatch]:
    table = table_of(text)
    assert isinstance(table, NotesTable)
    place = garden.places.first()
    frame = NotesFrame(place, place, became)
    return old_batches(read_notes(table, NotesAsked(table.guesses)).lines, garden, frame, TODAY)


def history(one: OldBatch) -> list[tuple[str, date, int]]:
    return [(entry.kind, entry.on, entry.count) for entry in one.entries]


def test_each_line_is_a_batch_with_its_history_or_says_why_not(garden: Any) -> None:
    mint, tomato, near, nothing, living, sown, many = found_in(garden)
    may, june = date(2026, 5, 17), date(2026, 7, 31)
    assert history(mint) == [
        ("taken", date(2026, 5, 3), 12), ("rooted", may, 9), ("lost", may, 3), ("potted", may, 8),
        ("planted", may, 6), ("planted", may, 3), ("note", may, 0),
    ]  # fmt: skip
    assert (mint.method.slug, mint.guessed) == ("jar", ("“water” is jar of water",))  # type: ignore[union-attr]
    assert history(tomato) == [
        ("taken", date(2026, 6, 1), 10), ("rooted", june, 10), ("planted", june, 10),
    ]  # sixty days after the cut, since nothing says when  # fmt: skip
    assert "no day for roots: it teaches the take, not the speed" in tomato.guessed
    assert near.wrong == "no plant of that name; is it Rosemary?"
    assert nothing.wrong == "nothing is said of what came of them"
    assert history(living) == [("taken", date(2027, 3, 1), 6)]
    assert sown.wrong == "Lettuce is not struck, but sown"
    assert many.wrong == "9 rooted of 6 cut"


@pytest.mark.parametrize(
    ("became", "after"),
    [("planted", [("planted", 3)]), ("standing", []), ("lost", [("lost", 2), ("lost", 1)])],
)
def test_what_is_not_told_of_is_what_the_gardener_says(garden: Any, became: str, after: list[Any]) -> None:
    """Nine rooted, eight potted, six planted: two are left in pots, and one that was never potted."""
    mint = found_in(garden, became=became)[0]
    assert [(entry.kind, entry.count) for entry in mint.entries[5:-1]] == after
    assert [entry.stage for entry in mint.entries if entry.kind == "lost"][1:] == (
        ["potted", "rooted"] if became == "lost" else []
    )


@pytest.mark.parametrize(
    ("line", "wrong"),
    [
        ("Mint,,4,2", "no day of the cut"),
        ("Mint,2026-05-03,,2", "no number of cuttings"),
        ("Mint,2028-05-03,4,2", "a day that is yet to come"),
        (",2026-05-03,4,2", "no plant is named"),
        ("Mint,2026-05-03,9999,2", "more than 2000 at once"),
    ],
)
def test_a_line_that_cannot_be_a_batch_says_why(garden: Any, line: str, wrong: str) -> None:
    assert found_in(garden, f"Plant,Date,No.,Rooted\n{line}")[0].wrong == wrong


def test_something_before_its_cut_is_refused(garden: Any) -> None:
    (one,) = found_in(garden, "Plant,Cut on,No.,Rooted,Rooted on\nMint,2026-05-03,4,2,2026-05-01")
    assert one.wrong == "something came of it before it was cut"


def test_kept_they_teach_and_the_same_press_keeps_once(garden: Any) -> None:
    mother = StockPlant.objects.create(garden=garden, name="Old one", plant="mint", gives=4, again_days=9)
    PlaceFactory(garden=garden, name="Landing")
    hands = Hands(garden, PersonFactory(), TODAY, uuid4())
    made = keep_notes(found_in(garden), hands)
    assert [batch.plant for batch in made] == ["mint", "tomato", "basil"]
    assert keep_notes(found_in(garden), hands) == made
    mint = made[0]
    assert (mother, date(2026, 5, 17)) == (mint.mother, mint.over_on)
    assert made[2].over_on is None
    record = record_of(garden, TODAY)
    told = {one.row.plant: one.state for one in record.told}
    assert (told["mint"].taken, told["mint"].count("planted")) == (12, 9)
    assert sum(look.rooted for one in record.told for look in one.looks if one.row.plant == "tomato") == 10


# The page.


def taken_back(client: Any, garden: Any, answer: Any) -> Any:
    """The way back that a page offers, taken."""
    return client.get(take_back(client, garden, undo_on(page_of(answer))).url)


def page_of(answer: Any) -> str:
    return str(answer.content.decode())


def test_looked_at_kept_and_taken_back(garden: Any, owner: Any) -> None:
    address = reverse("record-old-notes", args=[garden.pk])
    key = re.findall(r'name="key" value="([^"]+)"', page_of(owner.get(address)))[0]
    look = page_of(owner.post(address, {"text": NOTES, "key": key}))
    assert key in look
    assert "3 lines are batches, 4 are not and would be left out." in look
    assert "No plant of that name; is it Rosemary?<" in look
    assert "“the attic” is no place here" not in look, "a line that is none is not guessed at"
    assert not Batch.objects.filter(garden=garden).exists()
    kept = owner.post(address, {"text": NOTES, "keep": "1", "key": key}, follow=True)
    assert "Read in: 3 batches of old." in page_of(kept)
    assert Batch.objects.filter(garden=garden).count() == 3
    back = taken_back(owner, garden, kept)
    assert "Taken back: the old notes are not here any more." in page_of(back)
    assert not Entry.objects.filter(batch__garden=garden).exists()


def test_what_was_written_of_since_stays(garden: Any, owner: Any) -> None:
    address = reverse("record-old-notes", args=[garden.pk])
    kept = owner.post(address, {"text": NOTES, "keep": "1"}, follow=True)
    basil = Batch.objects.get(plant="basil")
    Entry.objects.create(batch=basil, kind="looked", on=TODAY)
    assert "1 batch you wrote of since stay" in page_of(taken_back(owner, garden, kept))
    assert list(Batch.objects.filter(garden=garden)) == [basil]


def test_a_file_comes_back_as_typing(garden: Any, owner: Any) -> None:
    sent = SimpleUploadedFile("old.csv", NOTES.encode())
    page = page_of(owner.post(reverse("record-old-notes", args=[garden.pk]), {"file": sent}))
    assert "3 lines are batches" in page
    assert "wet spring</textarea>" not in page
    assert "Old one,Kitchen sill,2026-05-03" in page


def test_a_column_said_to_be_something_else_holds(garden: Any, owner: Any) -> None:
    text = "a,b,c,d\nMint,2026-05-03,12,9"
    asked = {"column-0": "plant", "column-1": "cut_on", "column-2": "count", "column-3": "rooted"}
    address = reverse("record-old-notes", args=[garden.pk])
    assert "No plant is named<" in page_of(owner.post(address, {"text": text}))
    page = page_of(owner.post(address, {"text": text, **asked}))
    assert "1 line is a batch." in page
    assert '<option value="rooted" selected>' in page


def test_nothing_and_too_much_are_said_beside_the_field(garden: Any, owner: Any) -> None:
    address = reverse("record-old-notes", args=[garden.pk])
    assert "Paste your notes, or choose a file." in page_of(owner.post(address, {"text": " "}))
    assert "A line a batch is wanted" in page_of(owner.post(address, {"text": "Plant"}))
    binary = SimpleUploadedFile("old.csv", b"\x00\x01PK")
    assert "That is not a text file." in page_of(owner.post(address, {"file": binary}))


def test_what_roots_in_the_ground_stands_planted(garden: Any) -> None:
    (one,) = found_in(garden, "Plant,Cut on,No.,Rooted,Planted out\nBlackcurrant,2024-11-11,30,22,22")
    assert one.method is not None
    assert one.method.route.in_ground
    assert [(entry.kind, entry.count) for entry in one.entries] == [("taken", 30), ("rooted", 22), ("lost", 8)]


def test_a_garden_without_a_place_is_told_so(garden: Any, owner: Any) -> None:
    garden.places.all().delete()
    page = page_of(owner.post(reverse("record-old-notes", args=[garden.pk]), {"text": NOTES}))
    assert "A batch stands somewhere: describe a place first, under Places." in page
    assert "Old one,Kitchen sill,2026-05-03" in page, "and nothing typed is lost"
