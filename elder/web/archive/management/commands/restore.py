"""A backup put in the database's place."""

from __future__ import annotations

from argparse import ArgumentParser
from datetime import datetime
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.db import connections

from elder.web.logbook.files import backups_of, database_file, put_in_place
from elder.web.logbook.other import fault_in, newest_line


class Command(BaseCommand):
    """``manage.py restore``, with Elder stopped."""

    help = "Put a backup (the newest, or the file named) in the database's place; what stood there is put aside."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Which backup, and whether over what is newer."""
        parser.add_argument("backup", type=Path, nargs="?", help="the file; the newest backup where none is named")
        parser.add_argument("--over-newer", action="store_true", help="though lines were written since it was made")

    def handle(self, *args: object, **options: Any) -> None:
        """Look the backup over, compare, and put it in place."""
        path = database_file()
        if path is None:
            raise CommandError("The database is no file: restore it with its own tools (pg_restore for PostgreSQL).")
        made = backups_of(path)
        backup: Path | None = options["backup"] or (made[-1] if made else None)
        if backup is None:
            raise CommandError("There is no backup in the folder “backups” beside the database; name a file.")
        if fault := fault_in(backup):
            raise CommandError(f"{backup} is no sound database of Elder’s: {fault}. Nothing was changed.")
        self._not_newer(path, backup, told=options["over_newer"])
        connections.close_all()
        try:
            aside = put_in_place(backup, path, datetime.now())  # noqa: DTZ005 - names the file by this machine's clock
        except OSError as error:
            raise CommandError(f"It could not be put in place: {error}.") from error
        self.stdout.write(f"{backup.name} stands in the place of {path.name} now.")
        if aside:
            self.stdout.write(f"What stood there is {aside.name} beside it.")
        self.stdout.write("Run `manage.py migrate`, then start Elder.")

    def _not_newer(self, path: Path, backup: Path, *, told: bool) -> None:
        """Refuse where the database holds lines that the backup does not, unless that is meant."""
        here, there = newest_line(path) if path.exists() else None, newest_line(backup)
        if here and (there is None or here > there) and not told:
            raise CommandError(
                f"The database was written to on {here:%-d %B %Y at %H:%M} UTC, after that backup"
                f"{f' ({there:%-d %B %Y at %H:%M})' if there else ''}. What was written since would be lost: say"
                " --over-newer if you mean it. Nothing was changed."
            )
