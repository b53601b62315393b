"""For whoever keeps the installation: how old the last backup is, and a press that makes one."""

from __future__ import annotations

import shutil
import sqlite3
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from django.contrib import messages
from django.core.exceptions import PermissionDenied
from django.db import connection
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods

from elder.web.archive.backups import KEEP, NotReadBackError, make_backup
from elder.web.garden.access import signed_in
from elder.web.garden.models import Garden, Person
from elder.web.logbook.files import backups_of, database_file
from elder.web.say.words import plural
from elder.web.ui.pages import show
from elder.web.ui.saved import saved

OLD_HOURS = 48  # a backup older than that is told of in the words of loss (assumed)
SHOWN = 5


@dataclass(frozen=True)
class KeptBackup:
    """A backup: its name, its age in words, its size."""

    name: str
    age: str
    size: str


@dataclass(frozen=True)
class KeepingPage:
    """The installation: its database, its backups, its room on the disk."""

    answer: str
    is_late: bool
    is_file: bool
    database: str
    gardens: int
    people: int
    free: str
    backups: list[KeptBackup]
    keep: int


@require_http_methods(["GET", "POST"])
@signed_in
def keeping(request: HttpRequest) -> HttpResponse:
    """What whoever keeps the installation looks at; POST makes a backup."""
    if not (isinstance(request.user, Person) and request.user.is_staff):
        raise PermissionDenied("for whoever keeps this installation")
    path = database_file()
    if request.method == "POST" and path:
        _back_up(request, path)
        return redirect("keeping")
    return show(request, "archive/keeping.html", keeping_page(path, datetime.now()))  # noqa: DTZ005 - this machine's


def _back_up(request: HttpRequest, path: Path) -> None:
    try:
        made = make_backup(path, datetime.now())  # noqa: DTZ005 - by this machine's clock
    except (OSError, sqlite3.DatabaseError, NotReadBackError) as error:
        messages.error(request, f"No backup was made: {error}. Those made before are untouched.")
        return
    read = f" {made.garden} was read back out of it." if made.garden else ""
    saved(request, "", f"Backed up as {made.path.name}, and found sound.{read}")


def keeping_page(path: Path | None, now: datetime) -> KeepingPage:
    """The page, as things are."""
    made = backups_of(path)[::-1] if path else []
    age = _hours(made[0], now) if made else None
    return KeepingPage(
        answer=_answer(path, age),
        is_late=path is not None and (age is None or age > OLD_HOURS),
        is_file=path is not None,
        database=f"{path.name}, {_size(path.stat().st_size)}" if path else connection.display_name,
        gardens=Garden.objects.count(),
        people=Person.objects.filter(is_active=True).count(),
        free=_size(shutil.disk_usage(path.parent).free) if path else "",
        backups=[KeptBackup(one.name, _ago(_hours(one, now)), _size(one.stat().st_size)) for one in made[:SHOWN]],
        keep=KEEP,
    )


def _answer(path: Path | None, age: float | None) -> str:
    if path is None:
        return "PostgreSQL is backed up with its own tools: pg_dump, by a timer, kept on another machine."
    return f"The last backup was made {_ago(age)}." if age is not None else "There is no backup yet."


def _hours(backup: Path, now: datetime) -> float:
    made = datetime.fromtimestamp(backup.stat().st_mtime)  # noqa: DTZ006 - this machine's clock, as its name
    return max((now - made).total_seconds() / 3600, 0)


def _ago(hours: float) -> str:
    if hours < 1:
        return "less than an hour ago"
    if hours < OLD_HOURS:
        return f"{plural(int(hours), 'hour', 'hours')} ago"
    return f"{int(hours / 24)} days ago"


def _size(count: int) -> str:
    return f"{count / 1e9:.1f} GB" if count >= 1e9 else f"{max(count / 1e6, 0.1):.1f} MB"
