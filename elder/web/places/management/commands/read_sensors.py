"""Read every sensor of every garden up to the end of yesterday: for a timer that runs once a day."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from elder.web.garden.clock import today_in
from elder.web.garden.models import Garden
from elder.web.places.readings import read_sensors


class Command(BaseCommand):
    """Read the sensors."""

    help = "Read every sensor of every garden up to the end of yesterday."

    def handle(self, *args: object, **options: Any) -> None:
        """Garden by garden."""
        for garden in Garden.objects.select_related("household"):
            count = read_sensors(garden, today=today_in(garden))
            if count:
                self.stdout.write(f"{garden.name}: {count} read")
