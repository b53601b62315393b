"""A garden as it stands: the database itself changes its stamp with whatever is written, and what was read and reckoned
of it is kept from one look to the next for just as long."""

from __future__ import annotations

import io
import os
import re
import sqlite3
import subprocess
import sys
from contextlib import closing
from datetime import date
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from django.apps import apps
from django.core.management import CommandError, call_command
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils import timezone

from elder.engine.keeping import STORE
from elder.web.archive.contents import TABLES
from elder.web.batches.models import Batch, Entry
from elder.web.garden import access
from elder.web.garden.models import Garden, Household, Place
from elder.web.logbook.stamps import drop_stamps, make_stamps, ways_to_gardens
from elder.web.logbook.standing import as_it_stands, hangs, keep, once
from elder.web.read.there import ASKED, has_any
from elder.web.rounds.management.commands import warm
from elder.web.rounds.models import ToldEvent
from elder.web.season.models import Want
from tests.factories import GardenFactory, WantFactory, member
from tests.web.conftest import TODAY, asked_move
from tests.web.presses import look
from tests.web.whole_garden import whole_garden

ROOT = Path(__file__).resolve().parents[2]
WATCHED = sorted(model._meta.label for model in ways_to_gardens())


def stamp(garden: Any) -> Any:
    return Garden.objects.values_list("stamp", flat=True).get(pk=garden.pk)


# Stamps.


def test_every_table_of_a_garden_is_watched_and_no_other() -> None:
    archived = {table.label for table in TABLES} - {"garden.Garden"}
    passing = {"garden.RecordsDraft", "batches.WithdrawnPress", "cut.TrayLabel"}
    joined = {"batches.Batch_also_for", "year.Multiplying_mothers"}
    assert set(WATCHED) == archived | passing | joined


def test_a_row_leads_to_its_garden_by_the_shortest_way_that_is_always_there() -> None:
    ways = {model._meta.label: found for model, found in ways_to_gardens().items()}
    into_batch = (("batch_id", "batches_batch"), ("garden_id", "garden_garden"))
    assert ways["batches.Entry"] == (into_batch,), "by its batch, which it always has, and not by its place"
    assert ways["moving.HouseMove"] == ((("garden_id", "garden_garden"),), (("to_id", "garden_garden"),))
    looked = ("mother_id", "stock_stockplant")
    assert ways["stock.StockPhoto"] == ((("look_id", "stock_stocklook"), looked, ("garden_id", "garden_garden")),)


@pytest.fixture
def whole(db: None) -> Any:
    return whole_garden()


def test_whatever_row_is_written_by_whatever_hand(whole: Any) -> None:
    other = GardenFactory(name="Other")
    stands, before, seen = stamp(other), stamp(whole), set()
    unmoved = []
    for label in WATCHED:
        table = apps.get_model(label)._meta.db_table
        with connection.cursor() as cursor:
            cursor.execute(f"UPDATE {table} SET id = id")  # noqa: S608 - a statement typed by hand
            written = cursor.rowcount
        after = stamp(whole)
        if written and after == before:
            unmoved.append(label)
        seen |= {label} if written else set()
        before = after
    assert unmoved == []
    assert set(WATCHED) - seen <= {"garden.RecordsDraft", "batches.WithdrawnPress", "cut.TrayLabel"}, (
        "rows of each kind"
    )
    assert stamp(other) == stands


def test_what_comes_and_goes_at_once_is_seen(garden: Any, batch: Batch, today: date) -> None:
    stamps = [stamp(garden)]
    Entry.objects.bulk_create([Entry(batch=batch, kind="tended", on=TODAY, deed="water") for _ in range(3)])
    stamps.append(stamp(garden))
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM batches_entry WHERE kind = 'tended'")
    stamps.append(stamp(garden))
    Want.objects.filter(garden=garden).update(spares=1)
    stamps.append(stamp(garden))
    Household.objects.update(name="Another name")
    stamps.append(stamp(garden))
    ToldEvent.objects.create(garden=garden, uid=uuid4(), said="x", changed_at=timezone.now())  # what a calendar told
    stamps.append(stamp(garden))
    assert len(set(stamps)) == 5
    assert stamps[-1] == stamps[-2]


def test_a_garden_written_back_whole_does_not_bring_its_old_stamp_back(garden: Any, batch: Batch) -> None:
    read = Garden.objects.get(pk=garden.pk)
    batch.entries.create(kind="tended", on=TODAY, deed="water")
    between = stamp(garden)
    read.save()
    assert len({read.stamp, between, stamp(garden)}) == 3


def test_both_gardens_of_a_row_and_the_one_that_goes_on_from_another(garden: Any, batch: Batch) -> None:
    there = GardenFactory(name="There")
    before = stamp(there)
    asked_move(garden, there)
    moved = stamp(there)
    Garden.objects.filter(pk=there.pk).update(came_from=garden)
    goes_on = stamp(there)
    Garden.objects.filter(pk=garden.pk).update(accepted_risk=0.2)  # its record goes on there
    last = stamp(there)
    batch.entries.create(kind="tended", on=TODAY, deed="water")
    assert len({before, moved, goes_on, last, stamp(there)}) == 5


def test_triggers_go_and_come_again(garden: Any, batch: Batch) -> None:
    drop_stamps()
    before = stamp(garden)
    batch.entries.create(kind="tended", on=TODAY, deed="water")
    assert stamp(garden) == before
    make_stamps()
    make_stamps()
    batch.entries.create(kind="tended", on=TODAY, deed="water")
    assert stamp(garden) != before


def test_tables_are_changed_without_them_and_they_are_there_after(tmp_path: Path) -> None:
    path = tmp_path / "elder.sqlite3"
    world = {**os.environ, "DATABASE_URL": f"sqlite:///{path}", "DJANGO_SETTINGS_MODULE": "elder.config.settings.local"}
    world["ELDER_STATE"] = str(tmp_path)

    def migrate(*to: str) -> int:
        subprocess.run(
            [sys.executable, "manage.py", "migrate", *to, "-v0"], cwd=ROOT, env=world, check=True, capture_output=True
        )
        with closing(sqlite3.connect(path)) as found:
            (count,) = found.execute("SELECT count(*) FROM sqlite_master WHERE type = 'trigger'").fetchone()
        return int(count)

    first = migrate()
    assert first == 3 * len(WATCHED) + 2
    assert migrate("garden", "0015") == 0, "before there were stamps"
    assert migrate() == first


# What is kept by them.


@pytest.fixture
def asked() -> Any:
    """A page as a person sees it, and how many questions the database was asked for it."""

    def look_at(client: Client, garden: Any, name: str = "season") -> tuple[str, int]:
        with CaptureQueriesContext(connection) as counted:
            page = client.get(reverse(name, args=[garden.pk]))
        assert page.status_code == 200
        return page.content.decode(), len(counted)

    return look_at


@pytest.mark.parametrize(
    ("name", "questions"), [("season", 4), ("round", 4), ("stock", 4), ("cut", 4), ("record-became", 4)]
)
def test_looking_again_asks_for_who_looks_and_which_garden(
    asked: Any, owner: Client, garden: Any, batch: Batch, name: str, questions: int
) -> None:
    first, asked_first = asked(owner, garden, name)
    again, asked_again = asked(owner, garden, name)
    assert asked_again == questions < asked_first
    assert plain(again) == plain(first)


def plain(page: str) -> str:
    """A page without what is drawn anew each time."""
    return re.sub(r'(name="csrfmiddlewaretoken" value|nonce|name="key" value)="[^"]*"|"\d{10}"', "", page)


def test_a_line_written_past_all_doors_is_on_the_page(asked: Any, owner: Client, garden: Any, batch: Batch) -> None:
    before, _ = asked(owner, garden, "batches")
    with connection.cursor() as cursor:
        cursor.execute("UPDATE batches_entry SET count = 9 WHERE kind = 'taken'")
        cursor.execute("UPDATE garden_place SET name = 'Attic window'")
    after, _ = asked(owner, garden, "batches")
    assert "Attic window" not in before
    assert "Attic window" in after


def test_what_another_may_do_is_not_kept_with_the_garden(asked: Any, sign_in: Any, garden: Any, batch: Batch) -> None:
    page, _ = asked(sign_in("owner"), garden, "round")
    assert "Water" in page
    for role, may in (("viewer", False), ("owner", True), ("viewer", False)):
        one = sign_in(role)
        assert (one.get(reverse("garden-edit", args=[garden.pk])).status_code == 200) is may
        _, _ = asked(one, garden, "round")
    kept = STORE.held(("garden", garden.pk, TODAY))
    assert "role" not in vars(kept.garden)


def test_a_day_is_a_day(asked: Any, owner: Client, garden: Any, batch: Batch, monkeypatch: pytest.MonkeyPatch) -> None:
    one, _ = asked(owner, garden)
    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 3, 27))
    other, _ = asked(owner, garden)
    monkeypatch.setattr(access, "today_in", lambda garden: TODAY)
    assert plain(asked(owner, garden)[0]) == plain(one) != plain(other)


def test_who_presses_has_a_row_of_their_own(owner: Client, garden: Any, batch: Batch) -> None:
    owner.get(reverse("round", args=[garden.pk]))
    kept = STORE.held(("garden", garden.pk, TODAY)).garden
    owner.post(reverse("record-plan-by", args=[garden.pk]), {"by": "handbook"})  # it is set on the row in hand
    assert Garden.objects.get(pk=garden.pk).plan_by == "handbook"
    assert kept.plan_by == "both"
    look(owner, batch, rooted=3)
    owner.get(reverse("round", args=[garden.pk]))
    assert STORE.held(("garden", garden.pk, TODAY)).garden is not kept


def test_once_is_once_and_weighs_what_it_holds(garden: Any) -> None:
    made: list[int] = []

    def make() -> list[int]:
        made.append(1)
        return [1, 2, 3]

    STORE.forget()
    assert once(garden, "three", make, each=1_000) is once(garden, "three", make, each=1_000)
    keep(garden, TODAY)
    assert (len(made), STORE.bytes) == (1, 12_000 + 3_000 + 512)
    once(garden, "more", make, each=10)
    keep(garden, TODAY)
    assert STORE.bytes == 12_000 + 3_000 + 30 + 512
    answer = once(garden, "an answer", lambda: np.zeros(500))
    keep(garden, TODAY)
    assert STORE.bytes == 12_000 + 3_000 + 30 + answer.nbytes + 112 + 512, "what is no list of rows is weighed"
    assert hangs(garden, "three", once(garden, "three", make))
    assert not hangs(garden, "three", [1, 2, 3])


def test_it_goes_with_what_it_shares(garden: Any) -> None:
    STORE.forget()
    garden = Garden.objects.get(pk=garden.pk)  # with the stamp it has, now that it has a place
    STORE.hold("far", [1], 10)
    once(garden, "far", lambda: STORE.held("far"), shares="far")
    keep(garden, TODAY)
    read = Garden.objects.get(pk=garden.pk)
    STORE.most_bytes, before = STORE.bytes + 511, STORE.most_bytes
    STORE.hold("else", [2], 0)  # what was asked for longest ago is let go
    STORE.most_bytes = before
    assert STORE.held("far") is None
    assert as_it_stands(read, TODAY) is read
    STORE.hold("far", [1], 10)
    assert as_it_stands(read, TODAY) is garden
    assert as_it_stands(read, date(2027, 3, 22)) is read


def test_a_stamp_of_another_hand_ends_it(garden: Any) -> None:
    garden = Garden.objects.get(pk=garden.pk)
    keep(garden, TODAY)
    assert as_it_stands(Garden.objects.get(pk=garden.pk), TODAY) is garden
    Place.objects.update(name="Another")
    read = Garden.objects.get(pk=garden.pk)
    assert as_it_stands(read, TODAY) is read


def test_of_what_there_is_none_is_told_in_one_question(whole: Any, django_assert_num_queries: Any) -> None:
    empty = GardenFactory(name="Bare")
    found = {name: [has_any(row, kind) for kind in ASKED] for name, row in (("whole", whole), ("bare", empty))}
    assert found == {"whole": [True] * len(ASKED), "bare": [False] * len(ASKED)}
    looked = as_it_stands(Garden.objects.get(pk=whole.pk), TODAY)
    with django_assert_num_queries(1):
        assert [has_any(looked, kind) for kind in ASKED] == [True] * len(ASKED)


def test_a_calendar_takes_the_garden_as_pages_left_it(owner: Client, garden: Any, batch: Batch, asked: Any) -> None:
    owner.get(reverse("calendar-download", args=[garden.pk]))
    STORE.forget()
    _, cold = asked(owner, garden, "calendar-download")
    batch.entries.create(kind="tended", on=TODAY, deed="water")
    asked(owner, garden, "season")
    _, after_season = asked(owner, garden, "calendar-download")
    assert (cold, after_season) == (21, 8), "what lives, wants, record, places and what there is are known"


def test_gardens_are_warmed_in_parts(garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    others = [GardenFactory(name=f"Garden {number}") for number in range(4)]
    every = [garden, *others]
    for one in every:
        person = member(one)
        person.last_login = timezone.now()
        person.save()
    warmed: list[int] = []
    monkeypatch.setattr(STORE, "behind", object())
    monkeypatch.setattr(warm, "warm", lambda one: warmed.append(one.pk))
    parts = []
    for part in ("1/3", "2/3", "3/3"):
        call_command("warm", "--part", part, stdout=io.StringIO())
        parts.append({pk % 3 for pk in warmed})
        warmed.clear()
    assert sorted(parts, key=sorted) == [{0}, {1}, {2}]
    call_command("warm", stdout=io.StringIO())
    assert warmed == sorted(one.pk for one in every)
    for wrong in ("0/3", "4/3", "1", "a/b", "1/0", "-1/3"):
        with pytest.raises(CommandError, match="say which part of how many"):
            call_command("warm", f"--part={wrong}")


def test_what_serves_a_want_already_is_not_offered_to_it_again(owner: Client, garden: Any, batch: Batch) -> None:
    other = WantFactory(garden=garden, rooting_place=garden.places.get())
    page = reverse("want", args=[garden.pk, other.pk])
    assert owner.get(page).context["could_serve"] == [batch]
    batch.also_for.add(other)
    assert owner.get(page).context["could_serve"] == []
    assert owner.get(reverse("want", args=[garden.pk, batch.want_id])).context["could_serve"] == []
