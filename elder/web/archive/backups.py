"""Backups that are known to be good: copied, looked over by SQLite, and a garden read back out of each."""

from __future__ import annotations

import tempfile
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Final

from django.db.models import Count

from elder.engine.refusal import Refusal
from elder.web.archive.reading import look_over
from elder.web.archive.writing import write_archive
from elder.web.garden.clock import today_nowhere
from elder.web.garden.models import Garden
from elder.web.logbook.files import back_up, backups_of
from elder.web.logbook.other import read_from
from elder.web.say.refusals import refusal_words

KEEP: Final = 14


class NotReadBackError(ValueError):
    """A copy was made, and the garden in it cannot be read back: the message says why."""


@dataclass(frozen=True)
class MadeBackup:
    """A backup: where it lies, and which garden was read back out of it (none where there is none yet)."""

    path: Path
    garden: str


def make_backup(path: Path, now: datetime, *, keep: int = KEEP) -> MadeBackup:
    """Copy the database, look the copy over, read its largest garden back out of it, and let the oldest copies go.

    Raises ``OSError``, ``sqlite3.DatabaseError`` or NotReadBackError; those made before are untouched then.
    """
    read: list[str] = []
    made = back_up(path, now, look=lambda copy: read.append(garden_in(copy)))
    for old in backups_of(path)[:-keep]:
        old.unlink()
    return MadeBackup(made, read[0])


def garden_in(copy: Path) -> str:
    """Read the garden with the longest record back out of a copy; its name, or nothing where there is no garden. Raises
    NotReadBackError."""
    with read_from(copy):
        garden = Garden.objects.annotate(lines=Count("batches__entries")).order_by("-lines", "pk").first()
        if garden is None:
            return ""
        with tempfile.TemporaryFile() as file:
            write_archive(garden, file, today=today_nowhere())
            found = look_over(file)
        if isinstance(found, Refusal):
            raise NotReadBackError(refusal_words(found, today_nowhere()))
        return garden.name
