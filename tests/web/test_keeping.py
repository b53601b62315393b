"""For whoever keeps Elder running: backups that are known to be good, restoring, health, what is logged."""

from __future__ import annotations

import io
import logging
import os
import shutil
import sqlite3
import time
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.core.management import CommandError, call_command
from django.db import connection, connections
from django.http import HttpResponse
from django.test import Client, RequestFactory
from django.urls import reverse

from elder.engine.refusal import Refusal
from elder.web.archive import backups, keeping_views
from elder.web.archive.backups import NotReadBackError, garden_in, make_backup
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Person
from elder.web.logbook.files import backups_of
from elder.web.logbook.other import fault_in, newest_line, read_from
from elder.web.ui import health
from elder.web.ui.request_log import PlainStack, RequestLog, Routed
from tests.factories import PASSWORD, GardenFactory, PlaceFactory, WantFactory, take
from tests.web.conftest import TODAY
from tests.web.test_storage import logbook, next_page

__all__ = ["logbook"]  # each test has a database in a file of its own

NIGHT = datetime(2027, 3, 19, 4, 0)  # noqa: DTZ001 - by this machine's clock, as backups are named


@pytest.fixture
def keeper(garden: Any, owner: Client) -> Client:
    Person.objects.update(is_staff=True)
    return owner


def a_batch(garden: Any) -> Batch:
    return take(WantFactory(garden=garden, rooting_place=garden.places.first()), on=TODAY)


# Backups.


def test_the_garden_with_the_longest_record_is_read_back(logbook: Path, garden: Any) -> None:
    other = GardenFactory(name="The longer one")
    PlaceFactory(garden=other)
    a_batch(other)
    made = make_backup(logbook, NIGHT)
    assert (made.path.name, made.garden) == ("elder-2027-03-19-040000.sqlite3", "The longer one")
    assert connection.settings_dict["NAME"] == logbook, "and the database is itself again"


def test_what_is_asked_inside_is_asked_of_the_copy(logbook: Path, garden: Any) -> None:
    copy = make_backup(logbook, NIGHT).path
    Garden.objects.update(name="Changed since")
    with read_from(copy):
        assert Garden.objects.get().name == "Harrow Stair"
    assert Garden.objects.get().name == "Changed since"


def test_a_copy_that_cannot_be_read_back_is_none(logbook: Path, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(backups, "look_over", lambda file: Refusal("archive_fault", "file", {"where": "wants, row 1"}))
    with pytest.raises(NotReadBackError, match="wants, row 1"):
        make_backup(logbook, NIGHT)
    with pytest.raises(CommandError, match=r"No backup was made: Something in that archive cannot be: wants, row 1"):
        call_command("backup")
    assert backups_of(logbook) == []
    assert not list(logbook.parent.glob("backups/*"))


def test_an_elder_without_a_garden_is_backed_up_too(logbook: Path) -> None:
    Garden.objects.all().delete()
    assert garden_in(make_backup(logbook, NIGHT).path) == ""


# Restoring.


def test_a_backup_is_put_in_the_place_of_what_was_lost(logbook: Path, garden: Any) -> None:
    batch = a_batch(garden)
    make_backup(logbook, NIGHT)
    before = Entry.objects.count()
    Garden.objects.all().update(name="Spoilt")  # no line that people wrote
    said = io.StringIO()
    call_command("restore", stdout=said)
    next_page()
    assert (Garden.objects.get().name, Entry.objects.count()) == ("Harrow Stair", before)
    assert Batch.objects.get().pk == batch.pk
    aside = next(logbook.parent.glob("elder-put-aside-*.sqlite3"))
    assert f"What stood there is {aside.name} beside it." in said.getvalue()
    with closing(sqlite3.connect(aside)) as opened:
        assert opened.execute("select name from garden_garden").fetchall() == [("Spoilt",)]


def test_it_refuses_over_a_newer_one_unless_told(logbook: Path, garden: Any) -> None:
    a_batch(garden)
    make_backup(logbook, NIGHT)
    later = Entry.objects.latest("made_at").made_at + timedelta(minutes=1)
    Entry.objects.create(batch=Batch.objects.get(), kind="looked", on=TODAY, made_at=later)
    connection.close()  # as it is when Elder was stopped
    with pytest.raises(CommandError, match=rf"written to on {later:%-d %B %Y at %H:%M} UTC, after that backup"):
        call_command("restore")
    assert Entry.objects.count() == 2
    call_command("restore", over_newer=True, stdout=io.StringIO())
    next_page()
    assert Entry.objects.count() == 1


def test_a_damaged_database_is_no_newer_one(logbook: Path, garden: Any) -> None:
    make_backup(logbook, NIGHT)
    connection.close()
    with logbook.open("r+b") as file:
        file.write(b"spoilt" * 400)
    call_command("restore", stdout=io.StringIO())
    next_page()
    assert Garden.objects.get().name == "Harrow Stair"


def test_what_is_no_backup_is_not_put_anywhere(logbook: Path, garden: Any, tmp_path: Path) -> None:
    with pytest.raises(CommandError, match="There is no backup"):
        call_command("restore")
    (tmp_path / "other.sqlite3").write_bytes(b"not a database at all, but long enough to look" * 100)
    with pytest.raises(CommandError, match="is no sound database of Elder’s: file is not a database"):
        call_command("restore", str(tmp_path / "other.sqlite3"))
    with closing(sqlite3.connect(tmp_path / "empty.sqlite3")) as empty:
        empty.execute("create table x (y)")
    with pytest.raises(CommandError, match="no such table: garden_garden"):
        call_command("restore", str(tmp_path / "empty.sqlite3"))
    assert fault_in(logbook) == ""
    assert Garden.objects.get().name == "Harrow Stair"


def test_an_older_database_has_fewer_columns(tmp_path: Path) -> None:
    assert newest_line(tmp_path / "none.sqlite3") is None
    with closing(sqlite3.connect(tmp_path / "old.sqlite3")) as old:
        old.execute("create table season_want (made_at text)")
        old.execute("insert into season_want values ('2026-05-03 09:00:00')")
        old.commit()
    assert newest_line(tmp_path / "old.sqlite3") == datetime(2026, 5, 3, 9)  # noqa: DTZ001 - as SQLite has it


# The page.


def test_the_keeper_sees_how_old_the_last_backup_is(logbook: Path, garden: Any, keeper: Client) -> None:
    page = keeper.get(reverse("keeping")).content.decode()
    assert "There is no backup yet." in page
    kept = keeper.post(reverse("keeping"), follow=True).content.decode()
    assert "Harrow Stair was read back out of it." in kept
    assert "The last backup was made less than an hour ago." in kept
    (made,) = backups_of(logbook)
    ago = time.time() - 75 * 3600
    os.utime(made, (ago, ago))
    page = keeper.get(reverse("keeping")).content.decode()
    assert 'class="answer-line wrong"><strong>The last backup was made 3 days ago.' in page
    ago = time.time() - 5.5 * 3600
    os.utime(made, (ago, ago))
    assert "The last backup was made 5 hours ago." in keeper.get(reverse("keeping")).content.decode()


def test_nobody_else_keeps_it(logbook: Path, garden: Any, owner: Client) -> None:
    assert owner.get(reverse("keeping")).status_code == 403
    assert owner.post(reverse("keeping")).status_code == 403
    assert b"Keeping Elder" not in owner.get(reverse("habits")).content
    assert backups_of(logbook) == []


def test_a_backup_that_fails_is_told(keeper: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(path: Path, now: datetime) -> None:
        raise OSError("No space left on device")

    monkeypatch.setattr(keeping_views, "make_backup", full)
    said = keeper.post(reverse("keeping"), follow=True).content.decode()
    assert "No backup was made: No space left on device." in said


def test_elsewhere_it_is_the_databases_own_tools(keeper: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(keeping_views, "database_file", lambda: None)
    page = keeper.get(reverse("keeping")).content.decode()
    assert "PostgreSQL is backed up with its own tools: pg_dump" in page
    assert "Back it up now" not in page


def test_the_first_account_keeps_elder(logbook: Path, client: Client) -> None:
    from elder.web.garden.door import first_code

    Person.objects.all().delete()
    client.post(
        reverse("first-account"),
        {"username": "first", "password1": PASSWORD, "password2": PASSWORD, "code": first_code()},
    )
    assert Person.objects.get().is_staff


# Health.


def health_of() -> tuple[int, Any]:
    answer = Client().get(reverse("health"))
    return answer.status_code, answer.json()


def test_health_needs_no_session_and_touches_nothing(logbook: Path, django_assert_num_queries: Any) -> None:
    with django_assert_num_queries(0):
        assert health_of() == (200, {"ok": True})


def test_health_says_when_the_database_cannot_be_written(logbook: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(health, "WAITS_S", 0.05)
    with closing(sqlite3.connect(logbook, isolation_level=None)) as other:
        other.execute("BEGIN IMMEDIATE")
        assert health_of() == (503, {"ok": False, "said": "The records are held by something else"})
        other.execute("ROLLBACK")
    monkeypatch.setattr(health, "without_room", lambda path: True)
    assert health_of() == (503, {"ok": False, "said": "The disk is full"})
    monkeypatch.undo()
    connection.close()
    shutil.move(logbook, logbook.with_name("moved"))
    assert health_of() == (503, {"ok": False, "said": "The records are not where they should be"})
    (logbook.with_name("moved")).rename(logbook)


def test_health_of_a_server_that_stands_by(logbook: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(health, "database_file", lambda: None)
    assert health_of() == (200, {"ok": True})
    monkeypatch.setattr(health, "_takes_writes", lambda: False)
    assert health_of()[0] == 503


# What is logged.


class Lines(logging.Handler):
    """What is written, as it would stand in the log."""

    def __init__(self) -> None:
        super().__init__()
        self.lines: list[str] = []
        self.setFormatter(PlainStack("{levelname} {message}", style="{"))
        self.addFilter(Routed())

    def emit(self, record: logging.LogRecord) -> None:
        self.lines.append(self.format(record))


@pytest.fixture
def logged() -> Any:
    handler = Lines()
    loggers = [logging.getLogger(name) for name in ("elder.requests", "django.request")]
    before = [(one.level, one.propagate) for one in loggers]
    for one in loggers:
        one.addHandler(handler)
        one.setLevel(logging.INFO)
    yield handler
    for one, (level, propagate) in zip(loggers, before, strict=True):
        one.removeHandler(handler)
        one.setLevel(level)
        one.propagate = propagate


def test_a_line_a_request_and_no_secret_in_it(logbook: Path, garden: Any, owner: Client, logged: Lines) -> None:
    key = uuid4()
    owner.get(reverse("season", args=[garden.pk]), {"q": "a secret"})
    owner.get(reverse("slip-open", args=[key]))
    owner.get(f"/no/{key}/")
    text = "\n".join(logged.lines)
    assert str(key) not in text
    assert "secret" not in text
    person = garden.household.memberships.get().person_id
    mine = [line for line in logged.lines if "person=" in line]
    assert mine[0].startswith(f"INFO GET /g/<int:garden_id>/season/ garden_id={garden.pk} 200 ")
    assert mine[0].endswith(f" ms person={person}")
    assert mine[1].startswith("INFO GET /slip/<")
    assert mine[2].startswith("INFO GET no address of ours 404 ")
    assert len(mine) == 3


def test_a_stack_for_an_error_without_what_was_typed(logbook: Path, logged: Lines) -> None:
    def broken(request: Any) -> HttpResponse:
        note = "Two of them lean to the light"
        try:
            raise KeyError(note)
        except KeyError as error:
            raise ValueError(f"cannot keep {note}") from error

    request = RequestFactory().get("/slip/a-key/")
    request.resolver_match = None
    try:
        RequestLog(broken)(request)
    except ValueError:
        logging.getLogger("django.request").exception(
            "Internal Server Error: %s", request.path, extra={"status_code": 500, "request": request}
        )
    text = "\n".join(logged.lines)
    assert "lean to the light" not in text
    assert "a-key" not in text
    assert "builtins.KeyError\nthen:\n" in text
    assert text.rstrip().endswith("builtins.ValueError")
    assert "in broken" in text


def test_databases_are_where_they_were(logbook: Path) -> None:
    assert connections["default"].settings_dict["NAME"] == logbook
