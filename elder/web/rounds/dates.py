"""Dates of a garden's calendar: what is to come, and what was done."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Final
from uuid import NAMESPACE_URL, UUID, uuid5

from elder.web.garden.models import Garden

# The categories a calendar can show or colour apart.
CUTS: Final = "Cuts"
WORK: Final = "Bench"
LOOKING: Final = "Looks"
SHOPPING: Final = "Shopping"
YEAR: Final = "Year"
DONE: Final = "Done"


@dataclass(frozen=True)
class Version:
    """How often an event was changed since it was first told, and when last."""

    sequence: int
    changed_at: datetime


@dataclass(frozen=True)
class CalendarDate:
    """One thing on one day, of one of the categories above; ``weekdays`` makes it come back each week on those,
    Monday 0."""

    uid: UUID
    day: date
    summary: str
    about: str
    path: tuple[str, int, int | str | None]
    category: str
    weekdays: tuple[int, ...] = ()
    version: Version | None = None

    @property
    def is_past(self) -> bool:
        """Whether it is something that was done, kept in the subscriber's past."""
        return self.category == DONE


def garden_id(garden: Garden) -> UUID:
    """A garden's own name, of which the names of its events are made."""
    return uuid5(NAMESPACE_URL, f"elder:{garden.pk}:{garden.latitude}:{garden.longitude}")
