"""What is the matter when everything stands still: told by SQLite's result codes and PostgreSQL's, never by an error's
text (https://www.sqlite.org/rescode.html; "PostgreSQL Error Codes", appendix A of its manual), and said as what is
true, what to do, and where the backup is."""

from __future__ import annotations

import shutil
import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass
from enum import Enum
from pathlib import Path
from typing import Final

from django.db import OperationalError

from elder.web.logbook.files import BACKUPS, backups_of, database_file, made_on

LEAST_ROOM: Final = 2_000_000  # bytes free below which a failing disk is a full one


class MissingStaticError(ValueError):
    """A style, script or font of Elder's own is not where it was collected."""


@dataclass(frozen=True)
class TroubleWords:
    """What a person reads: what is so, what becomes of the press, what whoever keeps Elder does about it."""

    heading: str
    so: str
    remedy: str
    status: int = 503
    tells_backup: bool = False


NOT_WRITTEN = "Nothing was written. What you typed is kept in this tab."


class Trouble(Enum):
    """What may be the matter."""

    FULL = TroubleWords(
        "The disk is full",
        f"{NOT_WRITTEN} What was written before is safe, and you can go on reading.",
        "Make room on the disk that holds Elder’s records, then press again. Nothing else is needed.",
    )
    READ_ONLY = TroubleWords(
        "Elder may read its records, not write them",
        NOT_WRITTEN,
        "The database, or the folder it lies in, is write-protected. Let Elder’s user write to both, or mount the disk"
        " for writing, then press again.",
    )
    BUSY = TroubleWords(
        "The records are held by something else",
        f"Another program has been writing to them for longer than Elder waits. {NOT_WRITTEN} Press again in a minute.",
        "If it goes on: look for a second copy of Elder, or a backup that never ends.",
    )
    DAMAGED = TroubleWords(
        "The records are damaged",
        "Elder cannot read its database as it lies there, and writes nothing more to it.",
        "Stop Elder. Put the damaged file aside with those beside it that have its name (-wal, -shm): much can often"
        " be saved from them. Then put the newest backup in its place and start again.",
        tells_backup=True,
    )
    GONE = TroubleWords(
        "The records are not where they should be",
        "Elder finds no database, and makes no empty one in its place.",
        "Is the disk mounted? Was the folder moved, or may Elder’s user not open it? Put it right. Else take"
        " away what still lies there and ends in -wal or -shm, and put the newest backup in its place.",
        tells_backup=True,
    )
    DISK = TroubleWords(
        "The disk does not answer as it should",
        NOT_WRITTEN,
        "Look at the disk before anything else is written to it, and have a backup at hand.",
        tells_backup=True,
    )
    AWAY = TroubleWords("The database does not answer", NOT_WRITTEN, "Look whether it runs and can be reached.")
    STATIC = TroubleWords(
        "Elder’s styles and scripts are missing",
        "The records are not touched. No page can be drawn as it should be.",
        "Run `manage.py collectstatic` with the settings Elder is served under, and start it again.",
    )
    CUT_SHORT = TroubleWords(
        "Only part of it came",
        f"The line broke off, or was too slow. {NOT_WRITTEN} Go back and press again.",
        "",
        status=408,
    )

    @property
    def words(self) -> TroubleWords:
        """Its words."""
        return self.value


BY_CODE: Final = {
    sqlite3.SQLITE_FULL: Trouble.FULL,
    sqlite3.SQLITE_READONLY: Trouble.READ_ONLY,
    sqlite3.SQLITE_BUSY: Trouble.BUSY,
    sqlite3.SQLITE_LOCKED: Trouble.BUSY,
    sqlite3.SQLITE_CORRUPT: Trouble.DAMAGED,
    sqlite3.SQLITE_NOTADB: Trouble.DAMAGED,
    sqlite3.SQLITE_CANTOPEN: Trouble.GONE,
    sqlite3.SQLITE_IOERR: Trouble.DISK,
}
# Two presses that each wait for what the other holds, one of which is ended; a row that is held for too long.
HELD: Final = frozenset({"40P01", "40001", "55P03"})
PRIMARY: Final = 0xFF  # the low byte of an extended result code


def causes(error: BaseException | None) -> Iterator[BaseException]:
    """An error and what lies behind it."""
    while error is not None:
        yield error
        error = error.__cause__ or error.__context__


def without_room(path: Path | None) -> bool:
    """Whether the disk a file lies on has no room left worth the name."""
    try:
        return path is not None and shutil.disk_usage(path.parent).free < LEAST_ROOM
    except OSError:
        return False


def trouble_of(error: BaseException | None) -> Trouble | None:
    """What is the matter, or nothing that is known: then it is a fault of ours. A disk too full to make the small files
    that SQLite reads by fails in other ways than *full*."""
    for one in causes(error):
        if isinstance(one, MissingStaticError):
            return Trouble.STATIC
        if isinstance(one, sqlite3.Error):
            found = BY_CODE.get(getattr(one, "sqlite_errorcode", 0) & PRIMARY)
            vague = found in (Trouble.DISK, Trouble.GONE)
            return Trouble.FULL if vague and without_room(database_file()) else found
        if getattr(one, "sqlstate", None) in HELD:
            return Trouble.BUSY
    return Trouble.AWAY if isinstance(error, OperationalError) and database_file() is None else None


def backup_words(path: Path | None) -> str:
    """Where the newest backup is, by its name alone: a path is nobody's business but the keeper's."""
    if path is None:
        return "Backups are where whoever keeps the database puts them."
    made = backups_of(path)
    if not made:
        return f"No backup lies in the folder “{BACKUPS}” beside the database; use one kept elsewhere, if there is one."
    return (
        f"The newest backup is {made[-1].name}, of {made_on(made[-1]):%-d %B %Y}, in “{BACKUPS}” beside the database."
    )
