"""What lies beside the database: a note that there is one, and its backups."""

from __future__ import annotations

import shutil
import sqlite3
from collections.abc import Callable
from contextlib import closing
from datetime import date, datetime
from pathlib import Path
from typing import Final

from django.conf import settings
from django.db import connection

BACKUPS: Final = "backups"  # the folder, beside the database


def database_file() -> Path | None:
    """The database's file; nothing where it is not a file."""
    return getattr(connection, "file", None)


def sign_of(path: Path) -> tuple[int, int] | None:
    """What tells a file from another that was put in its place: device and inode. Nothing where there is none."""
    try:
        stat = path.stat()
    except OSError:
        return None
    return stat.st_dev, stat.st_ino


def same_file(opened: tuple[int, int] | None, path: Path) -> bool:
    """Whether that is still what stands there."""
    return opened is not None and sign_of(path) == opened


def note_of(path: Path) -> Path:
    """The note that a database was begun here. It outlives the database, if that is ever lost."""
    return path.with_name(f"{path.name}.begun")


def lost(path: Path) -> bool:
    """Whether there was a database here once, and now there is none."""
    return note_of(path).exists() and not path.exists()


def note_down(path: Path, today: date) -> None:
    """Note that a database was begun here."""
    if not note_of(path).exists():
        note_of(path).write_text(
            f"{path.name} was begun here, or first seen, on {today.isoformat()}.\n"
            "As long as this note lies here, Elder makes no new database in its place should it be gone.\n"
        )


def backups_of(path: Path) -> list[Path]:
    """The backups that lie beside a database, the oldest first; their names tell when they were made."""
    try:
        return sorted((path.parent / BACKUPS).glob(f"{path.stem}-*.sqlite3"))
    except OSError:
        return []


def made_on(backup: Path) -> date:
    """The day a backup was made, by the file's own clock."""
    return datetime.fromtimestamp(backup.stat().st_mtime, tz=None).date()  # noqa: DTZ006 - this machine's own day


def back_up(path: Path, now: datetime, *, look: Callable[[Path], None] = lambda copy: None) -> Path:
    """A whole copy of a database, though it is being written to (SQLite's online backup), looked over before it is
    given its name: by SQLite, and by ``look``, which raises what it likes where it is not content.

    Raises ``sqlite3.DatabaseError`` where the database or the copy is not sound, ``OSError`` where there is no room.
    """
    folder = path.parent / BACKUPS
    folder.mkdir(exist_ok=True)
    made = folder / f"{path.stem}-{now:%Y-%m-%d-%H%M%S}.sqlite3"
    unfinished = made.with_suffix(".unfinished")
    try:
        with (
            closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as source,
            closing(sqlite3.connect(unfinished)) as copy,
        ):
            source.backup(copy)
            said = copy.execute("PRAGMA integrity_check").fetchone()[0]
            if said != "ok":
                raise sqlite3.DatabaseError(said)
            copy.execute("PRAGMA journal_mode=DELETE")  # so that the copy is whole in its one file
        look(unfinished)
        unfinished.replace(made)
    finally:
        unfinished.unlink(missing_ok=True)
    return made


def put_in_place(backup: Path, path: Path, now: datetime) -> Path | None:
    """Put a backup where the database is. What stood there is put aside under the moment's name, with what lies beside
    it, and is returned; ``None`` where there was nothing. Raises ``OSError``."""
    coming = path.with_name(f"{path.name}.coming")
    shutil.copyfile(backup, coming)
    aside = path.with_name(f"{path.stem}-put-aside-{now:%Y-%m-%d-%H%M%S}.sqlite3")
    was = path.exists()
    for ending in ("", "-wal", "-shm"):
        there = path.with_name(path.name + ending)
        if there.exists():
            there.replace(aside.with_name(aside.name + ending))
    coming.replace(path)
    return aside if was else None


def is_remembered() -> bool:
    """Whether a database is noted down; not for tests, whose databases come and go."""
    return bool(settings.REMEMBER_DATABASE)
