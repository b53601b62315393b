"""What a person does to batches: one function a verb. Each checks, writes, and nothing is altered."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Any
from uuid import UUID, uuid4, uuid5

from django.db import transaction

from elder.engine.batch.history import BatchState, replay
from elder.engine.cut.steps import AT_ONCE
from elder.engine.handbook.loading import handbook
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Person, Place
from elder.web.read.histories import entries_of
from elder.web.read.wants import Reckoning, reckon
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant

UNPLANNED_DAYS = 90  # when a batch without a plan is looked for to be ready (assumed)


@dataclass(frozen=True)
class Taken:
    """What was really taken."""

    on: date
    count: int
    stock_plant: str
    rooting_place: Place
    growing_place: Place
    key: UUID | None = None
    treatment: dict[str, str] = field(default_factory=dict)


@transaction.atomic
def take_batch(want: Want, taken: Taken, *, garden: Garden, person: Person, today: date) -> Batch | Refusal:
    """Write down a batch for a want, with the plan it was made under; the same form twice makes one."""
    sent = Entry.objects.filter(batch__garden=garden).select_related("batch")
    again = sent.filter(key=taken.key).first() if taken.key else None
    if again:
        return again.batch
    batch = Batch(
        garden=garden,
        want=want,
        plant=want.plant,
        variety=want.variety,
        method=want.method,
        stock_plant=taken.stock_plant,
        mother=mother_named(garden, want.plant, taken.stock_plant),
        treatment=taken.treatment,
        rooting_place=taken.rooting_place,
        growing_place=taken.growing_place,
    )
    first = Entry(kind=Entry.Kind.TAKEN, on=taken.on, count=taken.count, by=person, key=taken.key or uuid4())
    refused = replay(entries_of([first]), today=today)
    if isinstance(refused, Refusal):
        return refused
    batch.plan = _plan_kept(want, taken, garden, today)
    batch.save()
    first.batch = batch
    first.save()
    if handbook()[want.plant].method(want.method).dry_days and taken.treatment.get("callus") == AT_ONCE:
        Entry.objects.create(batch=batch, kind=Entry.Kind.TENDED, deed="stick", on=taken.on, by=person)
    return batch


def mother_named(garden: Garden, plant: str, name: str) -> StockPlant | None:
    """The garden's own mother of that name and kind, if she is on the list."""
    return StockPlant.objects.filter(garden=garden, plant=plant, name__iexact=name.strip()).first()


def _plan_kept(want: Want, taken: Taken, garden: Garden, today: date) -> dict[str, Any]:
    """The inputs and the forecast of that day, so that the record can set them beside what came."""
    earlier = list(want.batches.prefetch_related("entries").all())
    if earlier:  # the want keeps the day it was first planned for
        first = earlier[0].plan
        return {**first, "count": taken.count, "taken_on": taken.on.isoformat(), "topped_up": True}
    row = Want(**{field.attname: getattr(want, field.attname) for field in Want._meta.concrete_fields})
    row.rooting_place, row.growing_place = taken.rooting_place, taken.growing_place
    plan = _plan_seen_from(row, garden, taken.on, today)
    if isinstance(plan, Refusal):
        # What was really cut is written down even where no plan stands behind it.
        target = want.by or taken.on + timedelta(days=UNPLANNED_DAYS)
        unplanned = {"target": target.isoformat(), "window": None, "refused": plan.code}
        return {**unplanned, "taken_on": taken.on.isoformat(), "count": taken.count, "wanted": want.total}
    option = plan.option(max(taken.on, plan.start))
    window = [plan.window.opens.isoformat(), plan.window.shuts.isoformat()] if plan.window else None
    return {
        "target": plan.target.isoformat(),
        "window": window,
        "taken_on": taken.on.isoformat(),
        "count": taken.count,
        "advised_count": option.count,
        "recommended": plan.recommended.isoformat(),
        "rooted": [day and day.isoformat() for day in option.rooted],
        "ready": [day and day.isoformat() for day in option.ready],
        "harvest": [day and day.isoformat() for day in option.harvest],
        "wanted": want.total,
        "confidence": want.confidence,
        "accepted_risk": garden.accepted_risk,
        "take": [plan.take.mean, plan.take.weight],
    }


def _plan_seen_from(row: Want, garden: Garden, taken_on: date, today: date) -> SeasonPlan | Refusal:
    """The plan as it stood on the day of the cut; from today where no plan could be made then."""
    then = reckon(row, garden, taken_on).plan
    if isinstance(then, SeasonPlan):
        return then
    return reckon(row, garden, today).plan


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
    old = list(Entry.objects.filter(batch=batch))  # read again: what the page was drawn from may be stale
    keys = {entry.key for entry in old}
    if any(entry.key in keys for entry in new):  # the same form, sent twice
        return replay(entries_of(old), today=today)
    since = _counted_since(old, seen, person) if any(entry.kind in COUNTED for entry in new) else []
    if since:
        return Refusal("changed_since", "", {"entries": since})
    for entry in new:
        entry.batch, entry.by = batch, person
    struck = {entry.pk: entry for entry in old}
    for entry in new:
        if entry.strikes_id:
            refusal = _may_strike(struck[entry.strikes_id], entry, old)
            if refusal:
                return refusal
    state = replay(entries_of([*old, *new]), today=today)
    if isinstance(state, BatchState):
        for entry in new:
            entry.save()
        batch.over_on = state.last_entry_on if state.over else None
        Batch.objects.filter(pk=batch.pk).update(over_on=batch.over_on)
    return state


COUNTED = frozenset({Entry.Kind.ROOTED, Entry.Kind.LOST, Entry.Kind.POTTED, Entry.Kind.HARDENING, Entry.Kind.PLANTED})


def _counted_since(old: Sequence[Entry], seen: int | None, person: Person) -> list[Entry]:
    """What others have counted since the person's page was drawn, and not struck again."""
    if seen is None:
        return []
    struck = {entry.strikes_id for entry in old}
    return [
        entry
        for entry in old
        if entry.pk > seen and entry.by_id != person.pk and entry.kind in COUNTED and entry.pk not in struck
    ]


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


def advised(reckoning: Reckoning) -> int:
    """How many to offer in the take form: what is short, else what the plan says."""
    if reckoning.batches:
        return reckoning.shortfall.count if reckoning.shortfall else 1
    return reckoning.to_cut or reckoning.needed
