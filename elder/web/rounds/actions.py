"""What a person does on a round: one function a verb."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Sequence
from datetime import date
from uuid import UUID, uuid5

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.batch.state import BatchState
from elder.engine.refusal import Refusal
from elder.web.batches.actions import add_entries
from elder.web.batches.models import Batch, Entry, Photo
from elder.web.garden.models import Garden, Person, Place
from elder.web.garden.undo import Asked, Told, Undo, Undone, takes_back
from elder.web.rounds.models import CalendarFeed
from elder.web.say.words import WEEKDAYS, listed
from elder.web.season.models import Want
from elder.web.ui.photos import FitPhoto


@transaction.atomic
def tend(
    batches: Sequence[Batch], deed: str, *, on: date, key: UUID, today: date, person: Person
) -> tuple[list[Entry], Refusal | None]:
    """Write a deed down for several batches in one press; those that had it that day already are passed over, so
    that neither a second press nor a second person writes it twice. The entries written, and the first refusal."""
    passed = {entry.batch_id for entry in done_on(batches, deed, on)}
    written, refusal = [], None
    for batch in batches:
        if batch.pk in passed:
            continue
        entry = Entry(kind=Entry.Kind.TENDED, on=on, deed=deed, key=uuid5(key, str(batch.pk)))
        state = add_entries(batch, [entry], today=today, person=person)
        if isinstance(state, Refusal):
            refusal = refusal or state
        elif entry.pk:
            written.append(entry)
    return written, refusal


def done_on(batches: Sequence[Batch], deed: str, on: date) -> list[Entry]:
    """Where a deed was written down for a day already, and not struck again."""
    struck = Entry.objects.filter(strikes__batch__in=batches).values("strikes")
    found = Entry.objects.filter(batch__in=batches, kind=Entry.Kind.TENDED, deed=deed, on=on).exclude(pk__in=struck)
    return list(found.select_related("by"))


@transaction.atomic
def look(
    batch: Batch, entries: Sequence[Entry], photo: FitPhoto | None, *, seen: int | None, today: date, person: Person
) -> BatchState | Refusal:
    """Write a look down with its photo: all of it or none."""
    state = add_entries(batch, entries, today=today, person=person, seen=seen)
    if isinstance(state, BatchState) and photo and entries[0].pk:
        Photo.objects.create(
            batch=batch, entry=entries[0], data=photo.data, width_px=photo.width_px, height_px=photo.height_px
        )
    return state


def recut(
    batch: Batch, count: int, *, on: date, key: UUID, today: date, person: Person
) -> tuple[Entry, BatchState | Refusal]:
    """Write down that so many were cut back to sound wood: what was seen at the foot is gone with what was cut off."""
    entry = Entry(kind=Entry.Kind.TENDED, on=on, deed="recut", count=count, key=key)
    return entry, add_entries(batch, [entry], today=today, person=person)


def move_to(
    batch: Batch, place: Place, stage: str, *, key: UUID, today: date, person: Person
) -> tuple[Entry, BatchState | Refusal]:
    """Write down that those of a stage were carried to another place today."""
    entry = Entry(kind=Entry.Kind.MOVED, on=today, place=place, stage=stage, key=key)
    return entry, add_entries(batch, [entry], today=today, person=person)


def settle(want: Want, *, count: int | None, by: date | None) -> Undo:
    """Settle for fewer or for later; ``None`` for as it was asked at first."""
    before: dict[str, Told] = {
        "count": want.settled_count or 0,
        "by": want.settled_by.isoformat() if want.settled_by else "",
    }
    want.settled_count, want.settled_by = count, by
    want.save(update_fields=["settled_count", "settled_by"])
    return Undo("settle", {"want": want.pk, **before})


@takes_back("settle", verb="plan")
def unsettle(asked: Asked) -> Undone:
    """What was settled for before holds again."""
    want = get_object_or_404(Want, pk=asked.number("want"), garden=asked.garden)
    settle(want, count=asked.number("count") or None, by=asked.day("by"))
    return Undone("As it was asked for before.", "want", (want.pk,))


def choose_water_days(garden: Garden, days: Sequence[int]) -> Undo:
    """The weekdays on which jars are changed; none for every two or three days."""
    before, garden.water_days = list(garden.water_days), sorted(days)
    garden.save(update_fields=["water_days"])
    return Undo("water-days", {"days": before})


@takes_back("water-days", verb="keep")
def water_days_again(asked: Asked) -> Undone:
    """The weekdays that held before."""
    days = asked.numbers("days")
    choose_water_days(asked.garden, days)
    return Undone(water_days_words(days), "round")


def water_days_words(days: Sequence[int]) -> str:
    """On which days jars are changed."""
    return f"Jars are changed on {listed(WEEKDAYS[day] for day in days)}." if days else "Every two or three days."


@transaction.atomic
def walk_first(garden: Garden, place: Place, step: int) -> None:
    """Move a place one up (−1) or down (1) in the walk."""
    order = list(garden.places.all())
    at = next(i for i, one in enumerate(order) if one.pk == place.pk)
    to = min(max(at + step, 0), len(order) - 1)
    order.insert(to, order.pop(at))
    for i, one in enumerate(order, start=1):
        Place.objects.filter(pk=one.pk).update(walk=i)


def digest_of(secret: str) -> str:
    """What is kept of a feed's secret."""
    return hashlib.sha256(secret.encode()).hexdigest()


def open_feed(person: Person) -> str:
    """A new secret for a person's calendar; the one before stops to work. Only shown now."""
    secret = secrets.token_urlsafe(32)
    CalendarFeed.objects.update_or_create(person=person, defaults={"digest": digest_of(secret)})
    return secret


def close_feed(person: Person) -> None:
    """Revoke a person's calendar address."""
    CalendarFeed.objects.filter(person=person).delete()
