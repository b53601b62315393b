"""What a calendar has told already: how often each event was changed, and what was done, kept in the subscriber's past.

A calendar that subscribes drops whatever it is not told any more; so what was done is told on, by its own name.
"""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from datetime import date, timedelta
from typing import Final
from uuid import uuid5

from django.db import DatabaseError, transaction
from django.utils import timezone

from elder.engine.handbook.loading import handbook
from elder.web.batches.models import Entry
from elder.web.garden.models import Garden
from elder.web.rounds.dates import DONE, CalendarDate, Version, garden_id
from elder.web.rounds.models import ToldEvent
from elder.web.say.batches import entry_words
from elder.web.say.plants import plant_words

PAST_DAYS: Final = 120  # so long what was done is told on
KINDS: Final = (
    Entry.Kind.TAKEN, Entry.Kind.LOOKED, Entry.Kind.ROOTED, Entry.Kind.POTTED, Entry.Kind.POTTED_UP,
    Entry.Kind.HARDENING, Entry.Kind.PLANTED, Entry.Kind.LIFTED, Entry.Kind.HARVESTED,
)  # fmt: skip


def told(garden: Garden, dates: list[CalendarDate]) -> list[CalendarDate]:
    """The same dates, each with how often its day or its words were changed since they were first told, and when last.
    Written down as it is told, so that all who ask are told alike; where nothing can be written (a full disk), it is
    told all the same, and written the next time."""
    now = timezone.now()
    kept = {row.uid: row for row in ToldEvent.objects.filter(garden=garden)}
    new, changed = [], []
    for item in dates:
        said = f"{item.day} {item.weekdays} {item.summary}"[:200]
        row = kept.get(item.uid)
        if row is None:
            kept[item.uid] = ToldEvent(garden=garden, uid=item.uid, said=said, changed_at=now)
            new.append(kept[item.uid])
        elif row.said != said:
            row.said, row.sequence, row.changed_at = said, row.sequence + 1, now
            changed.append(row)
    if new or changed:
        with suppress(DatabaseError), transaction.atomic():
            ToldEvent.objects.bulk_create(new, ignore_conflicts=True)
            ToldEvent.objects.bulk_update(changed, ["said", "sequence", "changed_at"])
    versions = {uid: Version(row.sequence, row.changed_at) for uid, row in kept.items()}
    return [replace(item, version=versions[item.uid]) for item in dates]


def done_in(garden: Garden, today: date) -> list[CalendarDate]:
    """What was done in a garden of late, each line of a history on its day; what was struck out is not told."""
    rows = Entry.objects.filter(
        batch__garden=garden, kind__in=KINDS, on__gte=today - timedelta(days=PAST_DAYS), on__lte=today, struck_by=None
    ).select_related("batch", "place")
    found = []
    for row in rows:
        plant = handbook().get(row.batch.plant)
        name = plant_words(plant.name if plant else row.batch.plant, row.batch.variety)
        path = ("batch", garden.pk, row.batch.pk)
        uid = uuid5(garden_id(garden), f"entry:{row.key}")
        version = Version(0, row.made_at)
        words = entry_words(row)
        found.append(CalendarDate(uid, row.on, f"{name}: {words}", row.note, path, DONE, version=version))
    return found
