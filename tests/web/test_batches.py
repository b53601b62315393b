"""Taking a batch, looking at it, moving it on, putting entries right."""

from __future__ import annotations

import re
from datetime import date
from typing import Any

import pytest
from bs4 import BeautifulSoup
from django.test import Client
from django.urls import reverse

from elder.engine.batch.state import BatchState
from elder.engine.refusal import Refusal
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.batches.undoing import untaking
from elder.web.garden.undo import Undo
from elder.web.read.batches import batch_of
from elder.web.read.want_rows import batches_of, want_row
from elder.web.read.wants import reckon
from elder.web.rounds.course import course_of_want
from elder.web.say.wants import row_words
from tests.factories import WantFactory, take
from tests.web.presses import take_back, undo_on
from tests.web.reading import board, read


def url(name: str, batch: Batch, *more: Any) -> str:
    return reverse(name, args=[batch.garden_id, batch.pk, *more])


def look_url(batch: Batch) -> str:
    return reverse("round-look", args=[batch.garden_id, batch.pk])


def taking(want: Any, **given: Any) -> dict[str, Any]:
    place = want.rooting_place_id
    start = {"on": "2027-03-18", "count": 11, "stock_plant": "Ferry Lamp 2"}
    return {**start, "rooting_place": place, "growing_place": place, **given}


def kinds(batch: Batch) -> list[tuple[str, int]]:
    return [(entry.kind, entry.count) for entry in batch.entries.all()]


def test_the_take_form_offers_what_the_plan_says(owner: Client, want: Any) -> None:
    page = owner.get(reverse("take", args=[want.garden_id, want.pk])).content.decode()
    assert 'value="12"' in page
    assert "Wipe the blade between plants" in page


def test_taking_a_batch_keeps_the_plan_it_was_made_under(owner: Client, want: Any) -> None:
    owner.post(reverse("take", args=[want.garden_id, want.pk]), taking(want))
    made = Batch.objects.get()
    assert kinds(made) == [("taken", 11)]
    assert made.stock_plant == "Ferry Lamp 2"
    assert made.plan["target"] == "2027-05-15"
    assert made.plan["advised_count"] == 12
    assert len([day for day in made.plan["ready"] if day]) == 3


@pytest.mark.parametrize(
    ("given", "sentence"),
    [
        ({"on": "2027-03-21"}, "Sun 21 Mar is still to come. Today is Sat 20 Mar."),
        ({"on": ""}, "Say on which day."),
        ({"count": "0"}, "At least 1."),
        ({"count": "501"}, "At most 500."),
        ({"stock_plant": ""}, "Name the plant they were cut from"),
    ],
)
def test_what_cannot_be_taken(owner: Client, want: Any, given: dict[str, str], sentence: str) -> None:
    answer = owner.post(reverse("take", args=[want.garden_id, want.pk]), taking(want, **given))
    assert answer.status_code == 200
    assert sentence in answer.content.decode()
    assert Batch.objects.count() == 0


def test_what_was_really_cut_is_written_down_even_where_no_plan_stands(owner: Client, want: Any) -> None:
    want.by = date(2027, 4, 2)  # long before the gate opens
    want.save()
    owner.post(reverse("take", args=[want.garden_id, want.pk]), taking(want))
    made = Batch.objects.get()
    assert made.plan["refused"] == "gate_not_open"
    page = owner.get(url("batch", made)).content.decode()
    assert "11 cut: 11 waiting" in page
    assert "Short" in owner.get(reverse("season", args=[want.garden_id])).content.decode()


def test_plants_for_the_winter_are_not_hardened(owner: Client, garden: Any, today: date) -> None:
    want = WantFactory(garden=garden, rooting_place=garden.places.first(), purpose="winter", wanted=2)
    made = take(want, on=date(2027, 3, 1), count=4)
    owner.post(look_url(made), {"on": "2027-03-15", "rooted": 4, "lost": 0})
    owner.post(url("move", made, "pot-on"), {"pot-on-on": "2027-03-16", "pot-on-count": 4})
    assert "it grows on" in owner.get(url("batch", made)).content.decode()


def test_a_look(owner: Client, batch: Batch) -> None:
    owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 4, "lost": 2, "why": "rot", "stage": "waiting"})
    assert kinds(batch) == [("taken", 11), ("rooted", 4), ("lost", 2)]
    page = owner.get(url("batch", batch)).content.decode()
    assert "11 cut: 5 waiting, 4 rooted and 2 lost" in page


def test_a_look_with_nothing_new_is_still_a_look(owner: Client, batch: Batch) -> None:
    owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 0, "lost": "", "note": "New leaves."})
    entry = batch.entries.last()
    assert entry is not None
    assert (entry.kind, entry.note) == ("looked", "New leaves.")


def test_a_look_that_does_not_add_up_writes_nothing_and_keeps_the_typing(owner: Client, batch: Batch) -> None:
    answer = owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 12, "lost": 0, "note": "Roots all over."})
    page = answer.content.decode()
    assert answer.status_code == 200
    assert "12 rooted does not add up: on Thu 18 Mar only 11 are waiting to root." in page
    assert "Roots all over." in page
    assert kinds(batch) == [("taken", 11)]


def test_the_whole_way_to_the_harvest(owner: Client, batch: Batch, want: Any) -> None:
    owner.post(look_url(batch), {"on": "2027-03-15", "rooted": 9, "lost": 0})
    for verb, day in (("pot-on", "2027-03-15"), ("harden", "2027-03-16"), ("plant-out", "2027-03-19")):
        answer = owner.post(url("move", batch, verb), {f"{verb}-on": day, f"{verb}-count": 9})
        assert answer.status_code == 302
    owner.post(url("harvest", batch), {"on": "2027-03-20"})
    assert kinds(batch)[-4:] == [("potted", 9), ("hardening", 9), ("planted", 9), ("harvested", 0)]
    season = read(owner.get(reverse("season", args=[want.garden_id])))
    assert board(season) == {"8 Tomato": "Done: 9 of 8 out"}


def test_moving_more_than_there_are(owner: Client, batch: Batch) -> None:
    answer = owner.post(url("move", batch, "pot-on"), {"pot-on-on": "2027-03-18", "pot-on-count": 3})
    assert answer.status_code == 200
    assert "3 potted on does not add up" in answer.content.decode()
    assert owner.post(url("move", batch, "sell")).status_code == 404


def test_the_chance_and_the_way_out_follow_the_looks(owner: Client, batch: Batch, want: Any) -> None:
    season = reverse("season", args=[want.garden_id])
    assert "On course" in owner.get(season).content.decode()
    owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 2, "lost": 6, "why": "rot", "stage": "waiting"})
    page = owner.get(season).content.decode()
    assert "Short: cut " in page
    detail = owner.get(reverse("want", args=[want.garden_id, want.pk])).content.decode()
    said = re.search(r"Cut \w+ [a-z ]+ more now; they are enough until (\d+ \w+), \d+ until (\d+ \w+)\.", detail)
    assert said is not None
    enough, late = said.groups()
    assert enough != late
    # The row and the list of the day name the day until which so many are enough, not the last that three times do.
    row = want_row(want.garden, want.pk)
    short = row_words(reckon(row, want.garden, date(2027, 3, 20), batches=batches_of(row)))
    assert f"by {enough} · " in short.plain
    assert f"which is short; until {enough}" in " ".join(BeautifulSoup(page, "html.parser").get_text(" ").split())
    # After a look the same stands once: as a way out, which is what is pressed; or in the sentence where no ways stand.
    item = batch_of(want.garden, batch.pk, date(2027, 3, 20))
    course = course_of_want(item, want.garden)
    alone = course_of_want(item, want.garden, ways=False)
    assert course is not None
    assert alone is not None
    until = f"they are enough until {enough}, "
    assert [until in words for words in (course.said, course.ways[0].said, alone.said)] == [False, True, True]
    assert alone.said.startswith(f"{course.said} Cut ")


def test_a_note(owner: Client, batch: Batch) -> None:
    assert owner.post(url("note", batch), {"on": "2027-03-18", "note": ""}).status_code == 200
    owner.post(url("note", batch), {"on": "2027-03-18", "note": "Moved off the draught."})
    assert "Moved off the draught." in owner.get(url("batch", batch)).content.decode()


def test_putting_right_adds_and_strikes(owner: Client, batch: Batch) -> None:
    owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 8, "lost": 0})
    wrong = batch.entries.last()
    assert wrong is not None
    owner.post(url("entry-correct", batch, wrong.pk), {"on": "2027-03-17", "count": 3})
    assert kinds(batch) == [("taken", 11), ("rooted", 8), ("rooted", 3)]
    page = owner.get(url("batch", batch)).content.decode()
    assert "<del>8 newly rooted</del>" in page
    assert "8 waiting and 3 rooted" in page
    assert owner.get(url("entry-correct", batch, wrong.pk)).status_code == 302  # struck once is struck


def test_striking_a_look(owner: Client, batch: Batch) -> None:
    owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 8, "lost": 0})
    wrong = batch.entries.last()
    assert wrong is not None
    owner.post(url("entry-correct", batch, wrong.pk), {"strike": "1", "on": "2027-03-18", "count": 8})
    assert "11 cut: 11 waiting" in owner.get(url("batch", batch)).content.decode()


def test_what_others_rest_on_cannot_be_struck(owner: Client, batch: Batch) -> None:
    owner.post(look_url(batch), {"on": "2027-03-17", "rooted": 3, "lost": 0})
    rooted = batch.entries.last()
    owner.post(url("move", batch, "pot-on"), {"pot-on-on": "2027-03-18", "pot-on-count": 3})
    assert rooted is not None
    answer = owner.post(url("entry-correct", batch, rooted.pk), {"strike": "1", "on": "2027-03-17", "count": 3})
    assert answer.status_code == 200
    assert "3 potted on does not add up" in answer.content.decode()


def test_the_first_entry_is_put_right_not_struck(owner: Client, batch: Batch) -> None:
    first = batch.entries.get()
    strike = owner.post(url("entry-correct", batch, first.pk), {"strike": "1", "on": "2027-03-06", "count": 11})
    assert strike.status_code == 200
    owner.post(url("entry-correct", batch, first.pk), {"on": "2027-03-05", "count": 10})
    assert "10 cut: 10 waiting" in owner.get(url("batch", batch)).content.decode()


def test_undo_strikes_all_that_was_just_written(owner: Client, batch: Batch) -> None:
    page = owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 4, "lost": 2}, follow=True).content.decode()
    take_back(owner, batch.garden, undo_on(page))
    assert "11 cut: 11 waiting" in owner.get(url("batch", batch)).content.decode()
    assert len(batch.entries.all()) == 5


def test_the_same_form_sent_twice_is_written_once(owner: Client, batch: Batch, want: Any) -> None:
    look = {"on": "2027-03-18", "rooted": 4, "lost": 2, "key": "0b3f8f2e-52a4-4e0c-9d5e-0d7f1f6f3a11"}
    for _ in range(2):
        assert owner.post(look_url(batch), look).status_code == 302
    assert kinds(batch) == [("taken", 11), ("rooted", 4), ("lost", 2)]
    cut = taking(want, key="0b3f8f2e-52a4-4e0c-9d5e-0d7f1f6f3a12")
    for _ in range(2):
        assert owner.post(reverse("take", args=[want.garden_id, want.pk]), cut).status_code == 302
    assert Batch.objects.count() == 2


def test_two_looks_cannot_count_the_same_cutting(batch: Batch, today: date) -> None:
    stale = Batch.objects.prefetch_related("entries").get(pk=batch.pk)
    person: Any = None
    first = actions.add_entries(batch, [Entry(kind="rooted", on=today, count=8)], today=today, person=person)
    second = actions.add_entries(stale, [Entry(kind="rooted", on=today, count=8)], today=today, person=person)
    assert isinstance(first, BatchState)
    assert isinstance(second, Refusal)
    assert second.params["there"] == 3


def test_a_history_is_only_added_to(batch: Batch) -> None:
    entry = batch.entries.get()
    entry.count = 12
    with pytest.raises(TypeError):
        entry.save()
    with pytest.raises(TypeError):
        Entry.objects.all().delete()
    with pytest.raises(TypeError):
        Entry.objects.update(count=1)


def test_a_second_batch_serves_the_same_want(owner: Client, batch: Batch, want: Any) -> None:
    owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 2, "lost": 6, "why": "rot", "stage": "waiting"})
    owner.post(reverse("take", args=[want.garden_id, want.pk]), taking(want, on="2027-03-20", count=9))
    assert Batch.objects.count() == 2
    assert Batch.objects.last().plan["target"] == batch.plan["target"]  # type: ignore[union-attr]
    page = owner.get(reverse("want", args=[want.garden_id, want.pk])).content.decode()
    # Of one mother and one fortnight: what the first shows of their take holds for the second too.
    assert "Tight" in page


def test_the_list_shows_the_living_and_those_that_are_over(owner: Client, batch: Batch) -> None:
    page = owner.get(reverse("batches", args=[batch.garden_id])).content.decode()
    assert "11 cut: 11 waiting" in page
    owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 0, "lost": 11, "why": "cold", "stage": "waiting"})
    assert "Over" in owner.get(reverse("batches", args=[batch.garden_id])).content.decode()


def test_taking_can_be_taken_back_while_nothing_else_is_written(owner: Client, want: Any) -> None:
    page = owner.post(reverse("take", args=[want.garden_id, want.pk]), taking(want), follow=True).content.decode()
    assert (
        "Undone: that batch was never taken."
        in take_back(owner, want.garden, undo_on(page), follow=True).content.decode()
    )
    assert not Batch.objects.exists()
    owner.post(reverse("take", args=[want.garden_id, want.pk]), taking(want))
    made = Batch.objects.get()
    owner.post(look_url(made), {"on": "2027-03-18", "rooted": 2, "lost": 0})
    refused = take_back(owner, want.garden, untaking(made, want.garden), follow=True)
    assert "cannot be undone any more" in refused.content.decode()
    assert Batch.objects.get() == made


def test_a_windfall_taken_back_takes_its_want_with_it(owner: Client, batch: Batch, want: Any) -> None:
    take_back(owner, batch.garden, untaking(batch, batch.garden, with_want=True))
    assert not type(want).objects.exists()


def test_a_correction_has_a_way_back(owner: Client, batch: Batch) -> None:
    owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 4, "lost": 0, "note": "White tips."})
    rooted = batch.entries.get(kind="rooted")
    page = owner.post(url("entry-correct", batch, rooted.pk), {"on": "2027-03-18", "count": 3}, follow=True)
    assert "8 waiting and 3 rooted" in page.content.decode()
    way_back = undo_on(page.content.decode())
    assert "it stands as it did" in take_back(owner, batch.garden, way_back, follow=True).content.decode()
    take_back(owner, batch.garden, way_back)  # and a second press changes nothing
    assert "11 cut: 7 waiting and 4 rooted" in owner.get(url("batch", batch)).content.decode()
    last = batch.entries.last()
    assert last is not None
    assert (last.count, last.note) == (4, "White tips.")


def test_a_strike_has_a_way_back(owner: Client, batch: Batch) -> None:
    owner.post(look_url(batch), {"on": "2027-03-18", "rooted": 4, "lost": 0})
    rooted = batch.entries.get(kind="rooted")
    page = owner.post(url("entry-correct", batch, rooted.pk), {"strike": "1", "on": "2027-03-18"}, follow=True)
    assert "11 cut: 11 waiting" in page.content.decode()
    take_back(owner, batch.garden, undo_on(page.content.decode()))
    assert "11 cut: 7 waiting and 4 rooted" in owner.get(url("batch", batch)).content.decode()
    uncorrected = Undo("correction", {"entry": rooted.pk}).offered(batch.garden)
    assert take_back(owner, batch.garden, uncorrected).status_code == 404, "only a correction is taken back"
