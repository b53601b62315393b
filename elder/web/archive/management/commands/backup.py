"""A copy of the database that is whole, in the folder ``backups`` beside it."""

from __future__ import annotations

import sqlite3
from argparse import ArgumentParser
from datetime import datetime
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from elder.web.archive.backups import KEEP, NotReadBackError, make_backup
from elder.web.logbook.files import database_file


class Command(BaseCommand):
    """``manage.py backup``."""

    help = "Copy the database, though it is in use, read a garden back out of the copy, and keep the newest (--keep)."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """How many to keep."""
        parser.add_argument("--keep", type=int, default=KEEP, help="how many backups stay; the oldest go")

    def handle(self, *args: object, **options: Any) -> None:
        """Copy, look over, read back, say where it is, and let the oldest go."""
        path = database_file()
        if path is None:
            raise CommandError("The database is no file: back it up with its own tools (pg_dump for PostgreSQL).")
        if options["keep"] < 1:
            raise CommandError("Keep at least one.")
        try:
            made = make_backup(path, datetime.now(), keep=options["keep"])  # noqa: DTZ005 - by this machine's clock
        except (OSError, sqlite3.DatabaseError, NotReadBackError) as error:
            raise CommandError(f"No backup was made: {error}. Those made before are untouched.") from error
        read = f", and {made.garden} was read back out of it" if made.garden else ""
        size = made.path.stat().st_size // 1024
        self.stdout.write(f"Backed up to {made.path}, {size} KB, and found sound{read}.")
