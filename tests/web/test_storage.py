"""What the records lie on gives way: a page says what is true, what to do, and where the backup is. Reading goes on."""

from __future__ import annotations

import shutil
import sqlite3
import subprocess
from collections.abc import Iterator
from contextlib import closing, suppress
from datetime import date, datetime
from io import StringIO
from pathlib import Path
from typing import Any

import pytest
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import DatabaseError, OperationalError, connection, connections
from django.http import HttpResponse
from django.test import Client, RequestFactory

from elder.web.batches.models import Entry
from elder.web.garden.models import Garden
from elder.web.logbook.files import back_up, backups_of, note_of
from elder.web.logbook.management.commands.migrate import Command
from elder.web.logbook.sqlite.base import DatabaseWrapper
from elder.web.logbook.trouble import Trouble, trouble_of
from elder.web.ui.sessions import Sessions
from tests.factories import PASSWORD
from tests.web.conftest import all_names
from tests.web.presses import at
from tests.web.test_walls import GARDEN_NAMES, POST_ONLY

FOUR_AT_NIGHT = datetime(2027, 3, 19, 4, 0)  # noqa: DTZ001 - by this machine's clock, as backups are named
NOTE = {"on": "2027-03-20", "note": "Two of them lean to the light.", "key": ""}


@pytest.fixture(autouse=True)
def logbook(db: None, tmp_path: Path) -> Iterator[Path]:
    """A database in a folder of its own, opened as a serving process opens it, instead of the tests' common one."""
    if connection.vendor != "sqlite":
        pytest.skip("what a server lies on is its own to tell of")
    before, file = connections["default"], tmp_path / "var" / "elder.sqlite3"
    file.parent.mkdir()
    with closing(sqlite3.connect(before.settings_dict["NAME"])) as source, closing(sqlite3.connect(file)) as copy:
        source.backup(copy)
    options = {**before.settings_dict["OPTIONS"], "timeout": 0.1}
    connections["default"] = DatabaseWrapper({**before.settings_dict, "NAME": file, "OPTIONS": options}, "default")
    yield file
    connections["default"].close()
    connections["default"] = before


def next_page() -> None:
    """What Django does at the start of a request, and its test client does not."""
    connection.close_if_unusable_or_obsolete()


def read(client: Client, garden: Garden, name: str = "season") -> tuple[int, str]:
    next_page()
    client.raise_request_exception = False
    page = client.get(at(name, garden))
    return page.status_code, page.content.decode()


def write(client: Client, address: str) -> tuple[int, str]:
    next_page()
    client.raise_request_exception = False
    page = client.post(address, NOTE)
    return page.status_code, page.content.decode()


def error_of(path: Path, sql: str, *, mode: str = "rw", first: str = "select 1") -> sqlite3.Error:
    """The error that SQLite itself gives."""
    with closing(sqlite3.connect(f"file:{path}?mode={mode}", uri=True, timeout=0)) as opened:
        opened.execute(first).fetchall()
        with pytest.raises(sqlite3.Error) as raised:
            opened.execute(sql).fetchall()
    return raised.value


def fill(file: Path) -> None:
    """Write to a file until no more will go."""
    with suppress(OSError), file.open("wb", buffering=0) as filler:
        while filler.write(bytes(4096)):
            pass


def test_what_is_the_matter_is_told_by_sqlites_own_codes(tmp_path: Path, logbook: Path) -> None:
    full = error_of(logbook, "create table more as select zeroblob(100000)", first="pragma max_page_count = 1")
    assert trouble_of(full) is Trouble.FULL
    assert trouble_of(error_of(logbook, "create table more (a)", mode="ro")) is Trouble.READ_ONLY
    with closing(sqlite3.connect(logbook)) as other:
        other.execute("begin immediate")
        assert trouble_of(error_of(logbook, "begin immediate")) is Trouble.BUSY
    with pytest.raises(sqlite3.OperationalError) as raised:
        sqlite3.connect(f"file:{tmp_path / 'nowhere.sqlite3'}?mode=rw", uri=True)
    assert trouble_of(raised.value) is Trouble.GONE
    (tmp_path / "letter").write_bytes(b"Dear all, this is no database whatever its name may say." * 99)
    with pytest.raises(sqlite3.DatabaseError) as raised:
        sqlite3.connect(tmp_path / "letter").execute("select * from sqlite_master")
    assert trouble_of(raised.value) is Trouble.DAMAGED
    crossed = DatabaseError("as Django raises it")
    crossed.__cause__ = type("Deadlock", (Exception,), {"sqlstate": "40P01"})()
    assert trouble_of(crossed) is Trouble.BUSY
    assert trouble_of(ValueError("a fault of ours")) is None
    assert trouble_of(sqlite3.OperationalError("no such table: anything")) is None


def test_every_page_is_read_without_a_write(address: Any, owner: Client) -> None:
    """Under ``query_only`` SQLite refuses every write, a session's too."""
    owner.raise_request_exception = False
    assert owner.get(address("season")).status_code == 200
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA query_only = ON")
    names = [name for name in all_names() if name not in POST_ONLY]
    answers = {name: owner.get(address(name), follow=True).status_code for name in names if name in GARDEN_NAMES}
    assert {name: code for name, code in answers.items() if code not in (200, 404)} == {}
    assert len([code for code in answers.values() if code == 200]) > 45
    code, said = write(owner, address("note"))
    assert code == 503
    assert "Elder may read its records, not write them" in said
    assert "What you typed is kept in this tab." in said


def test_a_press_whose_session_cannot_be_saved_says_what_is_the_matter(garden: Any, owner: Client) -> None:
    """Signing in writes nothing but a session."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA query_only = ON")
    client = Client(raise_request_exception=False)
    person = garden.household.memberships.get(role="owner").person
    page = client.post("/sign-in/", {"username": person.username, "password": PASSWORD})
    assert (page.status_code, "Elder may read its records" in page.content.decode()) == (503, True)


def test_a_session_that_cannot_be_saved_costs_a_page_nothing_and_a_press_its_answer() -> None:
    sessions = Sessions(lambda request: HttpResponse())
    request = RequestFactory().get("/")
    sessions.process_request(request)
    request.session["kept"] = {"sentence": "Kept."}
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA query_only = ON")
    page = HttpResponse("read")
    assert sessions.process_response(request, page) is page
    request.method = "POST"
    with pytest.raises(OperationalError):
        sessions.process_response(request, page)
    request.session.save = lambda *_, **__: 1 / 0  # type: ignore[method-assign]
    request.method = "GET"
    with pytest.raises(ZeroDivisionError):
        sessions.process_response(request, page)


def test_a_full_disk_stops_writing_alone(garden: Any, owner: Client, address: Any) -> None:
    note, before = address("note"), Entry.objects.count()
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA journal_mode = DELETE")
        cursor.execute("PRAGMA page_count")
        cursor.execute(f"PRAGMA max_page_count = {cursor.fetchone()[0]}")
    answers = [write(owner, note) for _ in range(60)]  # its last pages have room for a few
    written = [code for code, _ in answers].index(503)
    assert "The disk is full" in answers[-1][1]
    assert "you can go on reading" in answers[-1][1]
    assert read(owner, garden)[0] == 200
    assert Entry.objects.count() == before + written, "what was acknowledged, and nothing else"


def test_a_disk_that_is_really_full(tmp_path: Path, logbook: Path, garden: Any, owner: Client, address: Any) -> None:
    disk = tmp_path / "disk"
    disk.mkdir()
    made = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=8m", "tmpfs", disk], capture_output=True)
    if made.returncode:
        pytest.skip("making a small disk of one's own is not allowed here")
    note = address("note")
    connection.close()
    file = shutil.copy(logbook, disk / "elder.sqlite3")
    try:
        connections["default"].settings_dict["NAME"] = Path(file)
        assert read(owner, garden)[0] == 200
        fill(disk / "photos.tar")
        code, said = write(owner, note)
        assert (code, "The disk is full" in said) == (503, True)
        assert read(owner, garden)[0] == 200, "what is open goes on being read"
        connection.close()
        fill(disk / "more.tar")
        code, said = read(owner, garden)
        assert (code, "The disk is full" in said) == (503, True), "opened anew there, it says why it cannot be"
        (disk / "photos.tar").unlink()
        assert read(owner, garden)[0] == 200
        assert write(owner, note)[0] == 302
    finally:
        connection.close()
        subprocess.run(["umount", "-l", disk], check=True)


def test_held_by_another_it_is_read_and_says_so(logbook: Path, garden: Any, owner: Client, address: Any) -> None:
    note, before = address("note"), Entry.objects.count()
    with closing(sqlite3.connect(logbook)) as other:
        other.execute("begin immediate")
        assert read(owner, garden)[0] == 200
        code, said = write(owner, note)
        assert code == 503
        assert "The records are held by something else" in said
        assert "Press again in a minute." in said
        owner.raise_request_exception = False
        told = owner.post(note, NOTE, headers={"accept": "application/json"})
        assert told.json() == {"ok": False, "said": "The records are held by something else"}
        assert (told.status_code, told["Retry-After"], told["X-Elder-Answer"]) == (503, "20", "1")
    assert write(owner, note)[0] == 302
    assert Entry.objects.count() == before + 1


def test_a_database_that_vanished_is_not_made_anew(logbook: Path, garden: Any, owner: Client) -> None:
    assert read(owner, garden)[0] == 200
    made = back_up(logbook, FOUR_AT_NIGHT)
    logbook.unlink()
    code, said = read(owner, garden)
    assert code == 503
    assert "The records are not where they should be" in said
    assert "makes no empty one in its place" in said
    assert "ends in -wal or -shm" in said, "what the lost one left there would be read into the backup"
    assert "elder-2027-03-19-040000.sqlite3" in said
    assert str(logbook.parent) not in said, "where it lies is the keeper's business"
    assert read(owner, garden)[0] == 503
    assert not logbook.exists()
    shutil.copy(made, logbook)
    assert read(owner, garden)[0] == 200, "put back while Elder runs"


def test_a_database_that_was_replaced_is_read_as_it_is_now(logbook: Path, garden: Any, owner: Client) -> None:
    made = back_up(logbook, FOUR_AT_NIGHT)
    Garden.objects.update(name="Written since")
    assert "Written since" in read(owner, garden)[1]
    made.replace(logbook)
    for beside in logbook.parent.glob("elder.sqlite3-*"):
        beside.unlink()
    assert "Written since" not in read(owner, garden)[1]


def test_a_damaged_database_says_so_and_where_the_backup_is(logbook: Path, garden: Any, owner: Client) -> None:
    connection.close()
    with logbook.open("r+b") as file:
        file.write(bytes(range(256)) * 64)
    code, said = read(owner, garden)
    assert code == 503
    assert "The records are damaged" in said
    assert "No backup lies in the folder “backups” beside the database" in said


def test_missing_styles_are_said_on_a_page_that_needs_none(
    tmp_path: Path, garden: Any, owner: Client, settings: Any
) -> None:
    settings.STATIC_ROOT = tmp_path / "nothing"
    settings.STORAGES = {**settings.STORAGES, "staticfiles": {"BACKEND": "elder.web.ui.collected.CollectedFiles"}}
    settings.DEBUG = False
    code, said = read(owner, garden)
    assert code == 503
    assert "Elder’s styles and scripts are missing" in said
    assert "collectstatic" in said
    assert 'href="/static/elder/css/shared/tokens.css"' in said


def test_migrate_makes_no_database_where_there_was_one(logbook: Path, settings: Any) -> None:
    settings.REMEMBER_DATABASE = True
    call_command("migrate", verbosity=0)
    assert note_of(logbook).read_text().startswith("elder.sqlite3 was begun here, or first seen, on 20")
    connection.close()
    logbook.unlink()
    with pytest.raises(CommandError, match=r"take elder\.sqlite3\.begun away too"):
        call_command("migrate", verbosity=0)
    assert not logbook.exists()


def test_only_migrate_begins_a_database(tmp_path: Path, settings: Any) -> None:
    connection.close()
    connection.settings_dict["NAME"] = tmp_path / "new.sqlite3"
    code, said = Client(raise_request_exception=False).get("/sign-in/").status_code, (tmp_path / "new.sqlite3").exists()
    assert (code, said) == (503, False)
    with pytest.MonkeyPatch.context() as patched:
        patched.setattr("django.core.management.commands.migrate.Command.handle", lambda *_, **__: None)
        Command().run_from_argv(["manage.py", "migrate"])  # its checks alone look into the database
    assert (tmp_path / "new.sqlite3").exists()


def test_a_backup_is_whole_and_the_oldest_go(logbook: Path, garden: Any) -> None:
    for day in (17, 18, 19):
        back_up(logbook, FOUR_AT_NIGHT.replace(year=2025, day=day))
    said = StringIO()
    call_command("backup", keep=2, stdout=said)
    names = [made.name for made in backups_of(logbook)]
    assert len(names) == 2
    assert names[0] == "elder-2025-03-19-040000.sqlite3"
    assert names[1].startswith(f"elder-{date.today():%Y}")  # noqa: DTZ011
    assert f"found sound, and {garden.name} was read back out of it." in said.getvalue()
    with closing(sqlite3.connect(logbook.parent / "backups" / names[1])) as copy:
        assert copy.execute("select name from garden_garden").fetchall() == [(garden.name,)]
    assert not list(logbook.parent.glob("backups/*.unfinished"))
    with pytest.raises(CommandError, match="Keep at least one"):
        call_command("backup", keep=0)


def test_no_backup_is_made_of_what_is_damaged(logbook: Path) -> None:
    connection.close()
    with logbook.open("r+b") as file:
        file.write(bytes(range(256)) * 64)
    with pytest.raises(CommandError, match="No backup was made"):
        call_command("backup")
    assert backups_of(logbook) == []
