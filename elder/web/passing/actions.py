"""What a person does with promises: makes one, reserves, answers what is asked, hands over, calls it off."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from uuid import uuid5

from django.db import transaction
from django.db.models import F
from django.shortcuts import get_object_or_404

from elder.engine.refusal import Refusal
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.batches.undoing import strike_all
from elder.web.garden.hands import Hands
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.passing.models import Handing, Promise
from elder.web.read.promises import STANDING, PromiseToday
from elder.web.say.refusals import refusal_words
from elder.web.season.models import Want
from elder.web.season.taking import Taken, take_batch


@transaction.atomic
def make_promise(row: Promise, want: Want, reserved: Iterable[Batch], hands: Hands) -> Promise:
    """Keep a promise, its want, and what is reserved for it. The same press twice makes one."""
    hands = hands.own("promise")
    again = Promise.objects.filter(key=hands.key).first()
    if again:
        return again
    want.garden, want.made_by = hands.garden, hands.person
    if want.handed_as == Want.HandedAs.UNROOTED:
        want.closed_on = hands.today  # nothing is raised for it, so it does not stand on the season's board
    want.save()
    for batch in reserved:
        batch.also_for.add(want)
    row.key, row.garden, row.want = hands.key, hands.garden, want
    row.made_by, row.made_on = hands.person, hands.today
    row.save()
    return row


def reserve(row: Promise, batch: Batch) -> None:
    """Let a batch serve a promise, once its own want has its number."""
    batch.also_for.add(row.want)


def release(row: Promise, batch: Batch) -> None:
    """It serves it no longer."""
    batch.also_for.remove(row.want)


def answer(row: Promise, *, border: str, soil: str, on: date) -> None:
    """Keep what was answered before it may go."""
    row.border, row.soil, row.answered_on = border, soil, on
    row.save(update_fields=["border", "soil", "answered_on"])


@dataclass(frozen=True)
class Handed:
    """What goes: of each batch (or, unrooted, of each mother) so many, and what is had for it."""

    counts: Mapping[int, int]
    money: Decimal | None = None
    swap: str = ""

    @property
    def total(self) -> int:
        """All of them."""
        return sum(self.counts.values())


@transaction.atomic
def hand_over(found: PromiseToday, handed: Handed, hands: Hands) -> Handing | Refusal:
    """Hand over what stands, in one press: written into every batch's history, all or none."""
    row = Promise.objects.select_for_update().get(pk=found.row.pk)
    hands = hands.own("hand", row.pk)
    again = Handing.objects.filter(key=hands.key).first()
    if again:
        return again
    written = _cut_and_given(found, handed, hands) if found.is_unrooted else _given(found, handed, hands)
    if isinstance(written, Refusal):
        transaction.set_rollback(True)
        return written
    given = Handing.objects.create(
        promise=row, key=hands.key, on=hands.today, count=handed.total, money=handed.money, swap=handed.swap,
        batch=written, by=hands.person,
    )  # fmt: skip
    Want.objects.filter(pk=row.want_id).update(handed_over=F("handed_over") + handed.total)
    row.want.refresh_from_db()
    if not row.left:
        _close(row, hands.today)
    return given


def _close(row: Promise, today: date) -> None:
    row.over_on = today
    row.save(update_fields=["over_on"])
    if row.want.closed_on is None:
        row.want.closed_on = today
        row.want.save(update_fields=["closed_on"])


def _given(found: PromiseToday, handed: Handed, hands: Hands) -> Batch | Refusal | None:
    """Given away from each batch, of what stands furthest on first."""
    stages = STANDING[Want.HandedAs(found.want.handed_as)]
    for one in found.standings:
        count = handed.counts.get(one.batch.row.pk, 0)
        new = []
        for stage in stages:
            part = min(one.batch.state.count(stage), count)
            if part:
                key = uuid5(hands.key, f"{one.batch.row.pk}:{stage}")
                new.append(
                    Entry(kind=Entry.Kind.GIVEN, on=hands.today, count=part, stage=stage, deed=found.row.how, key=key)
                )
                count -= part
        if count:
            return Refusal("not_so_many", "count", {"stands": one.now})
        if new:
            done = actions.add_entries(one.batch.row, new, today=hands.today, person=hands.person)
            if isinstance(done, Refusal):
                return done
    return None


def _cut_and_given(found: PromiseToday, handed: Handed, hands: Hands) -> Batch | Refusal | None:
    """Cut from each mother and given away the same day, unrooted: a batch of each, so that her line can be told."""
    batch = None
    for one in found.mothers:
        count = handed.counts.get(one.row.pk, 0)
        if not count:
            continue
        want = found.want
        taken = Taken(
            hands.today,
            count,
            one.row.name,
            want.rooting_place,
            want.growing_place,
            uuid5(hands.key, f"cut:{one.row.pk}"),
        )
        made = take_batch(want, taken, garden=hands.garden, person=hands.person, today=hands.today)
        if isinstance(made, Refusal):
            return made
        key = uuid5(hands.key, f"given:{one.row.pk}")
        given = Entry(kind=Entry.Kind.GIVEN, on=hands.today, count=count, stage="waiting", deed=found.row.how, key=key)
        done = actions.add_entries(made, [given], today=hands.today, person=hands.person)
        if isinstance(done, Refusal):
            return done
        batch = made
    return batch


def unhanding(given: Handing) -> Undo:
    """The way back from handing over."""
    return Undo("handed", {"handing": given.pk})


@takes_back("handed", verb="tend")
def unhand(asked: Asked) -> Undone:
    """They stand where they stood, and the promise is open again. What was cut for it stays a batch."""
    given = get_object_or_404(
        Handing.objects.select_related("promise__want"), pk=asked.number("handing"), promise__garden=asked.garden
    )
    row = given.promise
    with transaction.atomic():
        keys = [
            uuid5(given.key, f"{pk}:{stage}") for pk in _batches_of(row) for stage in STANDING[Want.HandedAs.PLANTS]
        ]
        keys += [uuid5(given.key, f"{pk}:rooted") for pk in _batches_of(row)]
        mothers = asked.garden.stock_plants.values_list("pk", flat=True)
        keys += [uuid5(given.key, f"given:{pk}") for pk in mothers]
        written = Entry.objects.filter(batch__garden=asked.garden, key__in=keys, struck_by=None)
        refused = strike_all(
            asked.garden, list(written.values_list("pk", flat=True)), today=asked.today, person=asked.person
        )
        if refused:
            transaction.set_rollback(True)
            said = f"It cannot be undone any more: {refusal_words(refused, asked.today)}"
            return Undone(said, "passing-one", (row.pk,), held=True)
        Want.objects.filter(pk=row.want_id).update(handed_over=F("handed_over") - given.count)
        if row.over_on is not None:
            Promise.objects.filter(pk=row.pk).update(over_on=None)
            if row.want.handed_as != Want.HandedAs.UNROOTED:
                Want.objects.filter(pk=row.want_id).update(closed_on=None)
        given.delete()
    return Undone("Taken back: they stand where they stood.", "passing-one", (row.pk,))


def _batches_of(row: Promise) -> list[int]:
    want = row.want
    return [*want.batches.values_list("pk", flat=True), *want.also_from.values_list("pk", flat=True)]


def call_off(row: Promise, today: date) -> Undo:
    """Call a promise off: what was raised for it stays, and serves whom it serves."""
    open_want = row.want.closed_on is None
    _close(row, today)
    return Undo("promise-off", {"promise": row.pk, "open": open_want})


@takes_back("promise-off", verb="plan")
def call_on(asked: Asked) -> Undone:
    """It holds again."""
    row = get_object_or_404(Promise.objects.select_related("want"), pk=asked.number("promise"), garden=asked.garden)
    row.over_on = None
    row.save(update_fields=["over_on"])
    if asked.told.get("open"):
        Want.objects.filter(pk=row.want_id).update(closed_on=None)
    return Undone("It holds again.", "passing-one", (row.pk,))
