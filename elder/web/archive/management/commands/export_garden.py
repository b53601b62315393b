"""A garden written to a file."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from elder.web.archive.views import file_name
from elder.web.archive.writing import write_archive
from elder.web.garden.clock import today_in
from elder.web.garden.models import Garden


class Command(BaseCommand):
    """``manage.py export_garden 3 --to garden.zip``."""

    help = "Write a garden, by its number in its addresses, to one file."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Which garden, and where to."""
        parser.add_argument("garden", type=int)
        parser.add_argument("--to", type=Path, default=None, help="a file, or a folder for a file named by the day")

    def handle(self, *args: object, **options: Any) -> None:
        """Write it beside its name first, so that no half file bears it."""
        garden = Garden.objects.select_related("household").filter(pk=options["garden"]).first()
        if garden is None:
            raise CommandError(f"There is no garden {options['garden']}.")
        today = today_in(garden)
        to: Path = options["to"] or Path()
        path = to / file_name(garden, today) if to.is_dir() else to
        unfinished = path.with_name(f"{path.name}.unfinished")
        try:
            with unfinished.open("wb") as file:
                counts = write_archive(garden, file, today=today)
            unfinished.replace(path)
        except OSError as error:
            raise CommandError(f"Nothing was written: {error}.") from error
        finally:
            unfinished.unlink(missing_ok=True)
        self.stdout.write(f"{garden.name}: {sum(counts.values()):,} rows to {path}, {path.stat().st_size // 1024} KB.")
