"""What every page knows: the garden it stands in, the day there, and how the person reads."""

from __future__ import annotations

from datetime import date
from typing import Final

from django.conf import settings
from django.db.models import Max
from django.http import HttpRequest

from elder.web.garden.access import gardens_of, may
from elder.web.garden.models import Garden, Person
from elder.web.logbook.standing import once_looking
from elder.web.ui.bundles import ROOM_SCRIPTS
from elder.web.ui.rooms import GROUPS, THUMBS
from elder.web.ui.saved import take_saved

# The room the rail marks, by the first word of an address's name.
ROOM_AT: Final = {
    "season": "season", "wants": "season", "want": "season",
    "cut": "cut", "windfall": "cut", "labels": "cut", "label": "cut",
    "round": "rounds",
    "batches": "batches", "batch": "batches", "take": "batches", "entry": "batches",
    "plants": "plants", "plant": "plants",
    "stock": "stock",
    "places": "places", "place": "places",
    "shed": "shed",
    "record": "record", "trial": "record", "trials": "record",
    "year": "year", "passing": "year", "moving": "year",
    "almanac": "almanac", "frost": "almanac", "records": "almanac",
    "garden": "garden", "person": "garden", "assumptions": "garden", "find": "find",
}  # fmt: skip


def newest_after(garden: Garden, today: date) -> date | None:
    """The day of the newest line written in a garden, where the day has stepped back before it."""

    def newest() -> date | None:
        lines = garden.batches.filter(entries__on__gt=today)
        found: date | None = lines.aggregate(Max("entries__on"))["entries__on__max"]
        return found

    return once_looking(garden, ("ahead", today), newest)


def surroundings(request: HttpRequest) -> dict[str, object]:
    """Garden, day, role and reading habits for the base template."""
    person = getattr(request, "user", None)
    garden = getattr(request, "garden", None)
    role = getattr(request, "role", "")
    at = request.resolver_match
    today = getattr(request, "today", None)
    room = ROOM_AT.get((at.url_name or "").split("-")[0], "") if at else ""
    return {
        "garden": garden,
        "ahead": lambda: newest_after(garden, today) if garden and today else None,
        "rooms": GROUPS,
        "in_more": bool(garden) and room not in THUMBS,
        "at_room": room,
        "room_script": ROOM_SCRIPTS.get(room, ""),
        "today": today,
        "demo": settings.DEMO,
        # A page fetched only to be kept for later does not take what the next page is to say.
        "kept": lambda: None if request.headers.get("X-Elder-Keep") else take_saved(request),
        "units": person.units if isinstance(person, Person) else Person.Units.METRIC,
        "theme": person.theme if isinstance(person, Person) else Person.Theme.SYSTEM,
        "my_gardens": gardens_of(person) if isinstance(person, Person) else [],
        "may_plan": bool(role) and may(role, "plan"),
        "may_tend": bool(role) and may(role, "tend"),
        "may_keep": bool(role) and may(role, "keep"),
    }
