"""A garden read back from a file."""

from __future__ import annotations

from argparse import ArgumentParser
from collections.abc import Mapping
from pathlib import Path
from typing import IO, Any

from django.core.management.base import BaseCommand, CommandError

from elder.engine.refusal import Refusal
from elder.web.archive.reading import look_over
from elder.web.archive.taking_in import take_in
from elder.web.archive.wording import behind_words, coming_words
from elder.web.garden.clock import today_nowhere
from elder.web.garden.models import Household
from elder.web.say.refusals import refusal_words


class Command(BaseCommand):
    """``manage.py import_garden garden.zip --for gardener``."""

    help = "Read an archive back as a new garden of a person's household; --look only says what would come."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """The file, whose household, under what name, or only a look."""
        parser.add_argument("file", type=Path)
        parser.add_argument(
            "--for", dest="person", required=True, help="the name an owner of the household signs in with"
        )
        parser.add_argument("--name", default="", help="what the garden is to be called, if not as it was")
        parser.add_argument("--look", action="store_true", help="say what would come, and write nothing")

    def handle(self, *args: object, **options: Any) -> None:
        """Look it over, say what comes and what stays behind, and write it down."""
        owned = Household.objects.filter(memberships__person__username=options["person"], memberships__role="owner")
        into = owned.order_by("pk").first()
        if into is None:
            raise CommandError(f"{options['person']} owns no household.")
        try:
            with options["file"].open("rb") as file:
                self._read(file, into, options)
        except OSError as error:
            raise CommandError(f"The file cannot be read: {error}.") from error

    def _read(self, file: IO[bytes], into: Household, options: Mapping[str, str]) -> None:
        looked = look_over(file)
        if isinstance(looked, Refusal):
            raise CommandError(refusal_words(looked, today_nowhere()))
        self.stdout.write(f"{looked.name}: {coming_words(looked)}.")
        for said in (*behind_words(looked), *looked.remarks):
            self.stdout.write(f"  {said}")
        if options["look"]:
            return
        made = take_in(looked, file, into, name=options["name"])
        if isinstance(made, Refusal):
            raise CommandError(refusal_words(made, today_nowhere()))
        self.stdout.write(f"Read back as garden {made.pk}, {made.name}, of {into.name}.")
