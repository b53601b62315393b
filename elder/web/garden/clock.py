"""Today. Everything in Elder that wants the day asks here and nowhere else."""

from __future__ import annotations

from datetime import date, datetime
from zoneinfo import ZoneInfo

from django.conf import settings
from django.utils import timezone

from elder.web.garden.models import Garden


def today_in(garden: Garden) -> date:
    """The day in a garden: the demo's own where this is the demo, else the day by its time zone."""
    if settings.DEMO and garden.household.demo_day:
        return garden.household.demo_day
    return datetime.now(ZoneInfo(garden.timezone)).date()


def today_nowhere() -> date:
    """The day for somebody who has no garden yet: this machine's."""
    return timezone.localdate()


def moment_in(garden: Garden) -> datetime:
    """The real moment by a garden's time zone, the demo's too: for what lapses by the clock on the wall."""
    return datetime.now(ZoneInfo(garden.timezone))
