"""What a person does for the winter: carries in, digs, covers, strikes tops, looks through, counts in spring."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from uuid import uuid5

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.refusal import Refusal
from elder.engine.year.winter import WinterWay
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.batches.undoing import strike_all
from elder.web.garden.hands import Hands
from elder.web.garden.models import Place
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.read.winter import WinterLine
from elder.web.season.models import Want
from elder.web.season.taking import Taken, take_batch, want_spoken_for
from elder.web.stock.models import StockPlant
from elder.web.year.models import WinterCheck, Wintered


@dataclass(frozen=True)
class SeenTo:
    """What is done with a line of the list: how many, where to, how many are wanted in spring, whether they are carried
    out on mild days."""

    count: int
    wanted: int
    place: Place | None
    airs: bool = False


@transaction.atomic
def see_to(line: WinterLine, deed: SeenTo, winter: int, hands: Hands) -> Wintered | Refusal:
    """Carry in, dig or cover what a line says. The same press twice does it once."""
    hands = hands.own(line.standing.key, line.way)
    again = Wintered.objects.filter(key=hands.key).first()
    if again:
        return again
    standing, way = line.standing, Wintered.DoneBy(line.way)
    moves = way in (Wintered.DoneBy.POT_IN, Wintered.DoneBy.DUG)
    row = _row(line, way, deed, winter, hands)
    row.place = deed.place if moves else standing.place
    if moves and standing.batch and deed.place:
        refused = _moved(standing.batch, deed, deed.place, dug=way == Wintered.DoneBy.DUG, hands=hands)
        if refused:
            transaction.set_rollback(True)
            return refused
    if moves and standing.stock:
        StockPlant.objects.filter(pk=standing.stock, garden=hands.garden).update(place=deed.place)
    row.save()
    return row


def _row(line: WinterLine, way: Wintered.DoneBy, deed: SeenTo, winter: int, hands: Hands) -> Wintered:
    standing = line.standing
    return Wintered(
        garden=hands.garden,
        winter=winter,
        key=hands.key,
        plant=standing.plant.slug,
        variety=standing.variety,
        way=way,
        stock_id=standing.stock,
        batch_id=standing.batch,
        stood_at=standing.place,
        count=deed.count,
        wanted=deed.wanted,
        on=hands.today,
        out_on=line.answer.out_on,
        airs=deed.airs,
        made_by=hands.person,
    )


def _moved(batch_id: int, deed: SeenTo, place: Place, *, dug: bool, hands: Hands) -> Refusal | None:
    """Write into the batch's history that so many were lifted, and that what is potted stands elsewhere now."""
    batch = Batch.objects.get(pk=batch_id, garden=hands.garden)
    new = []
    if dug:
        new.append(Entry(kind=Entry.Kind.LIFTED, on=hands.today, count=deed.count, key=uuid5(hands.key, "lifted")))
    new.append(Entry(kind=Entry.Kind.MOVED, on=hands.today, stage="potted", place=place, key=uuid5(hands.key, "moved")))
    done = actions.add_entries(batch, new, today=hands.today, person=hands.person)
    return done if isinstance(done, Refusal) else None


@transaction.atomic
def strike_tops(line: WinterLine, deed: SeenTo, winter: int, hands: Hands) -> Wintered | Refusal:
    """Strike tops as insurance: a batch of their own, kept apart."""
    hands = hands.own(line.standing.key, "tops")
    again = Wintered.objects.filter(key=hands.key).first()
    if again:
        return again
    way, place = line.answer.tops, deed.place
    if way is None or place is None:
        raise ValueError("no tops may be struck of it")
    want = want_spoken_for(
        hands.garden,
        hands.person,
        hands.today,
        plant=line.standing.plant.slug,
        variety=line.standing.variety,
        method=way.slug,
        wanted=max(line.many.kept if line.many else deed.wanted, 1),
        purpose=Want.Purpose.WINTER,
        rooting_place=place,
        growing_place=place,
    )
    taken = Taken(hands.today, deed.count, line.standing.name, place, place, key=uuid5(hands.key, "tops"))
    batch = take_batch(want, taken, garden=hands.garden, person=hands.person, today=hands.today)
    if isinstance(batch, Refusal):
        transaction.set_rollback(True)
        return batch
    row = _row(line, Wintered.DoneBy.TOPS, deed, winter, hands)
    row.place, row.tops = place, batch
    row.save()
    return row


@transaction.atomic
def check(row: Wintered, lost: int, *, pests: bool, hands: Hands) -> WinterCheck | Refusal:
    """Look what winters through: so many have died since."""
    hands = hands.own("check", row.pk)
    again = WinterCheck.objects.filter(key=hands.key).first()
    if again:
        return again
    refused = _lose(row, lost, "pests" if pests else "unknown", hands)
    if refused:
        transaction.set_rollback(True)
        return refused
    return WinterCheck.objects.create(
        wintered=row, key=hands.key, on=hands.today, lost=lost, pests=pests, by=hands.person
    )


@transaction.atomic
def count_lived(row: Wintered, lived: int, alive: int, hands: Hands) -> Refusal | None:
    """Write down how many see the spring; those that do not are lost."""
    refused = _lose(row, max(alive - lived, 0), "cold", hands)
    if refused:
        transaction.set_rollback(True)
        return refused
    row.lived, row.lived_on = lived, hands.today
    row.save(update_fields=["lived", "lived_on"])
    return None


def _lose(row: Wintered, lost: int, why: str, hands: Hands) -> Refusal | None:
    """The same said to whom it concerns: to the batch they are of; a mother that dies is ended."""
    source = row.tops or row.batch
    if not lost:
        return None
    if source is not None:
        stage = "planted" if row.way == Wintered.DoneBy.COVERED else "potted"
        entry = Entry(
            kind=Entry.Kind.LOST, on=hands.today, count=lost, stage=stage, why=why, key=uuid5(hands.key, "lost")
        )
        done = actions.add_entries(source, [entry], today=hands.today, person=hands.person)
        return done if isinstance(done, Refusal) else None
    if row.stock is not None and row.stock.ended_on is None:
        row.stock.ended_on, row.stock.ended_why = hands.today, StockPlant.Ended.DIED
        row.stock.save(update_fields=["ended_on", "ended_why"])
    return None


def finish(row: Wintered, today: date) -> None:
    """The winter is over for them: they are set out, or cut from."""
    Wintered.objects.filter(pk=row.pk).update(done_on=today)


def unseeing(row: Wintered) -> Undo:
    """The way back from what was done with a line."""
    return Undo("wintered", {"row": row.pk})


@takes_back("wintered", verb="tend")
def unsee(asked: Asked) -> Undone:
    """It stands where it stood; nothing once it was looked through since."""
    row = get_object_or_404(Wintered, pk=asked.number("row"), garden=asked.garden)
    if row.checks.exists() or row.lived is not None:
        return Undone("It was looked through since, and stays.", "year-winter", held=True)
    with transaction.atomic():
        if row.tops and not actions.untake(row.tops, with_want=True):
            return Undone("Its tops have a history of their own, and stay.", "year-winter", held=True)
        keys = [uuid5(row.key, "moved"), uuid5(row.key, "lifted")]
        written = Entry.objects.filter(batch__garden=asked.garden, key__in=keys).values_list("pk", flat=True)
        if strike_all(asked.garden, list(written), today=asked.today, person=asked.person):
            return Undone("Something was written of it since, so it stays.", "year-winter", held=True)
        moves = row.way in (Wintered.DoneBy.POT_IN, Wintered.DoneBy.DUG)
        if row.stock and moves:
            row.stock.place = row.stood_at
            row.stock.save(update_fields=["place"])
        row.delete()
    return Undone("Undone: it stands where it stood.", "year-winter")


def is_moved(way: WinterWay) -> bool:
    """Whether it stands elsewhere over winter."""
    return way in (WinterWay.POT_IN, WinterWay.DUG)
