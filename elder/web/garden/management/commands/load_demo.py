"""Fill the demo garden if it is empty."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand

from demo.loader import load


class Command(BaseCommand):
    """``manage.py load_demo``."""

    help = "Fill the demo garden if it is empty; --afresh throws it away first."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Whether to start afresh."""
        parser.add_argument("--afresh", action="store_true")

    def handle(self, *args: object, **options: Any) -> None:
        """Load, and say so."""
        if load(afresh=options["afresh"]):
            self.stdout.write("The demo garden is laid out: Harrow Stair and Marram Yard, Tuesday 6 April 2027.")
