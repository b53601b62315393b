"""Reckon the morning's answers before anybody asks: seasons, rounds and what the year wants, of gardens in use.

For several processes or machines, with a cache they share (CACHE_URL): what one has reckoned the others fetch. Where
each process keeps its own, there is nothing to be warmed from outside.
"""

from __future__ import annotations

from argparse import ArgumentParser, ArgumentTypeError
from collections.abc import Callable
from datetime import timedelta
from time import perf_counter
from typing import Any, Final

from django.core.management.base import BaseCommand, CommandError
from django.db.models import F
from django.utils import timezone

from elder.engine.keeping import STORE
from elder.web.garden.clock import today_in
from elder.web.garden.models import Garden
from elder.web.logbook.standing import as_it_stands
from elder.web.read.wants import reckon_all
from elder.web.read.year_tasks import year_tasks
from elder.web.rounds.round import round_of

USED_DAYS: Final = 30


def warm(garden: Garden) -> None:
    """What its pages will be asked for today."""
    today = today_in(garden)
    garden = as_it_stands(garden, today)
    for reckoning in reckon_all(garden, today):
        _ = reckoning.option, reckoning.standing_word, reckoning.shortfall
    round_of(garden, today)
    year_tasks(garden, today)


def part_of(text: str) -> tuple[int, int]:
    """Which part of how many: "2/3". Raises ArgumentTypeError for what is none."""
    part, _, parts = text.partition("/")
    if not (part.isdecimal() and parts.isdecimal() and 1 <= int(part) <= int(parts)):
        raise ArgumentTypeError("say which part of how many, as in 2/3")
    return int(part), int(parts)


class Command(BaseCommand):
    """``manage.py warm``."""

    help = "Reckon today's answers of gardens in use, for all processes that share a cache."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Which gardens are in use."""
        parser.add_argument("--days", type=int, default=USED_DAYS, help="where somebody signed in so lately")
        parser.add_argument(
            "--part", type=part_of, default=(1, 1), metavar="K/N", help="the Kth of N parts: for several at one time"
        )

    def handle(self, *args: object, **options: Any) -> None:
        """Garden by garden; one that cannot be reckoned keeps none of the others waiting."""
        if STORE.behind is None:
            raise CommandError("No cache is shared (CACHE_URL): each process reckons for itself, when it is asked.")
        since = timezone.now() - timedelta(days=options["days"])
        used = Garden.objects.filter(closed_on=None, household__memberships__person__last_login__gte=since)
        begin, done, (part, parts) = perf_counter(), 0, options["part"]
        for garden in used.annotate(part=F("pk") % parts).filter(part=part % parts).distinct().order_by("pk"):
            done += self._one(garden, warm)
        self.stdout.write(f"{done} gardens warm, in {perf_counter() - begin:.0f} s.")

    def _one(self, garden: Garden, reckon: Callable[[Garden], None]) -> bool:
        try:
            reckon(garden)
        except Exception as error:  # whatever is wrong with one garden, its own page says
            self.stderr.write(f"Garden {garden.pk} could not be reckoned: {type(error).__name__}.")
            return False
        return True
