"""What a person does to batches: one function a verb. Each checks, writes, and nothing is altered."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from uuid import UUID, uuid5

from django.db import transaction

from elder.engine.batch.history import replay, retold
from elder.engine.batch.state import BatchState
from elder.engine.handbook.bench import AT_ONCE
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch, Entry, WithdrawnPress
from elder.web.garden.models import Garden, Person
from elder.web.read.histories import entries_of
from elder.web.read.ways import way_of


@transaction.atomic
def add_entries(
    batch: Batch, new: Sequence[Entry], *, today: date, person: Person, seen: int | None = None
) -> BatchState | Refusal:
    """Add entries to a history if they all add up; otherwise add none and say why.

    ``seen`` is the last entry the person knew of: what somebody else has counted since then, and this would count
    again, is refused, so that neither look is lost in the other.
    """
    # Locked until written, so that two people's looks cannot both count the same cutting.
    Batch.objects.select_for_update().get(pk=batch.pk)
    route = way_of(batch)[1].route
    old = list(Entry.objects.filter(batch=batch))  # read again: what the page was drawn from may be stale
    keys = {entry.key for entry in old}
    if any(entry.key in keys for entry in new):  # the same form, sent twice
        return retold(entries_of(old), route)
    if refusal := _not_to_be_written(batch, new) or _counted_since(old, new, seen, person):
        return refusal
    for entry in new:
        entry.batch, entry.by = batch, person
    struck = {entry.pk: entry for entry in old}
    for entry in new:
        if entry.strikes_id and (refusal := _may_strike(struck[entry.strikes_id], entry, old)):
            return refusal
    own_day = _own_day(old, new, today)
    state = replay(entries_of([*old, *new]), today=own_day, route=route)
    if isinstance(state, BatchState):
        for entry in new:
            entry.save()
        batch.over_on = state.last_entry_on if state.over else None
        Batch.objects.filter(pk=batch.pk).update(over_on=batch.over_on)
    return state


def _not_to_be_written(batch: Batch, new: Sequence[Entry]) -> Refusal | None:
    """Why a press is not to be written at all: taken back while it was on its way, or its key is another batch's."""
    keys = [entry.key for entry in new]
    if WithdrawnPress.objects.filter(garden=batch.garden_id, key__in=keys).exists():
        return Refusal("taken_back", "")
    return Refusal("sent_elsewhere", "") if Entry.objects.filter(key__in=keys).exists() else None


@transaction.atomic
def withdraw(garden: Garden, keys: Sequence[UUID]) -> bool:
    """Take presses back by their keys, whether they have come or not: true where one was written already; those that
    were not are never taken."""
    if Entry.objects.filter(batch__garden=garden, key__in=keys).exists():
        return True
    WithdrawnPress.objects.bulk_create([WithdrawnPress(garden=garden, key=key) for key in keys], ignore_conflicts=True)
    return False


def _own_day(old: Sequence[Entry], new: Sequence[Entry], today: date) -> date:
    """A batch's own day, which does not run back: where the day has stepped back since its last line, what is done
    today comes after that line, and is dated so."""
    own_day = max([today, *(entry.on for entry in old)])
    for entry in new:
        entry.on = own_day if entry.on == today else entry.on
    return own_day


COUNTED = frozenset(
    {Entry.Kind.ROOTED, Entry.Kind.LOST, Entry.Kind.POTTED, Entry.Kind.HARDENING, Entry.Kind.PLANTED,
     Entry.Kind.LIFTED, Entry.Kind.GIVEN}
)  # fmt: skip


def _counted_since(old: Sequence[Entry], new: Sequence[Entry], seen: int | None, person: Person) -> Refusal | None:
    """That others have counted, since the person's page was drawn, what this would count again."""
    if seen is None or not any(entry.kind in COUNTED for entry in new):
        return None
    struck = {entry.strikes_id for entry in old}
    since = [
        entry
        for entry in old
        if entry.pk > seen and entry.by_id != person.pk and entry.kind in COUNTED and entry.pk not in struck
    ]
    return Refusal("changed_since", "", {"entries": since}) if since else None


def restore_entry(correction: Entry, *, today: date, person: Person) -> BatchState | Refusal:
    """Take a correction back: the entry it struck is written anew, striking what was put in its place."""
    old = correction.strikes
    if old is None:
        raise ValueError("only a correction can be taken back")
    copied = ("kind", "on", "count", "stage", "why", "note", "deed", "signs", "root_cm", "place_id")
    again = Entry(**{name: getattr(old, name) for name in copied}, key=uuid5(correction.key, "restored"))
    if correction.kind != Entry.Kind.STRUCK:
        again.strikes = correction
    return add_entries(correction.batch, [again], today=today, person=person)


@transaction.atomic
def untake(batch: Batch, *, with_want: bool) -> bool:
    """Forget a batch of which nothing but its taking is written; ``with_want``: and the want that was made with it,
    where nothing else serves that. Whether it was."""
    Batch.objects.select_for_update().get(pk=batch.pk)
    written = Entry.objects.filter(batch=batch)
    taken = written.filter(kind=Entry.Kind.TAKEN).first()
    since = written.exclude(kind=Entry.Kind.TAKEN) if taken else written
    if taken and batch.treatment.get("callus") == AT_ONCE:  # written down with the taking itself
        since = since.exclude(kind=Entry.Kind.TENDED, deed="stick", on=taken.on)
    if written.filter(kind=Entry.Kind.TAKEN).count() != 1 or since.exists():
        return False
    want = batch.want
    batch.delete()
    if with_want and want and not want.batches.exists() and not want.also_from.exists():
        want.delete()
    return True


def _may_strike(target: Entry, entry: Entry, old: Sequence[Entry]) -> Refusal | None:
    if target.kind == Entry.Kind.STRUCK or any(other.strikes_id == target.pk for other in old):
        return Refusal("already_struck")
    if target.kind == Entry.Kind.TAKEN and entry.kind != Entry.Kind.TAKEN:
        return Refusal("cannot_strike_taken")
    return None
