"""A copy of the database that is whole, in the folder ``backups`` beside it."""

from __future__ import annotations

import sqlite3
from argparse import ArgumentParser
from datetime import datetime
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from elder.web.logbook.files import back_up, backups_of, database_file


class Command(BaseCommand):
    """``manage.py backup``."""

    help = "Copy the database, though it is in use, look the copy over, and keep the newest few (--keep)."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """How many to keep."""
        parser.add_argument("--keep", type=int, default=14, help="how many backups stay; the oldest go")

    def handle(self, *args: object, **options: Any) -> None:
        """Copy, look over, say where it is, and let the oldest go."""
        path = database_file()
        if path is None:
            raise CommandError("The database is no file: back it up with its own tools (pg_dump for PostgreSQL).")
        if options["keep"] < 1:
            raise CommandError("Keep at least one.")
        try:
            made = back_up(path, datetime.now())  # noqa: DTZ005 - names the file by this machine's clock
        except (OSError, sqlite3.DatabaseError) as error:
            raise CommandError(f"No backup was made: {error}. Those made before are untouched.") from error
        self.stdout.write(f"Backed up to {made}, {made.stat().st_size // 1024} KB, and found sound.")
        for old in backups_of(path)[: -options["keep"]]:
            old.unlink()
