"""What a person does with a move: begins it, decides for a plant, cuts for it, digs, answers, plants, waters."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from uuid import uuid5

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.engine.year.moving import MoveWay
from elder.engine.year.root_ball import LEAST_WATER_L, ball_of
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden.hands import Hands
from elder.web.garden.models import Place
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.moving.models import HouseMove, MovedPlant, Watering
from elder.web.read.moves import Coming, size_of
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant


@transaction.atomic
def begin_move(row: HouseMove, hands: Hands) -> HouseMove:
    """Begin to move. The same press twice begins once."""
    hands = hands.own("move")
    again = HouseMove.objects.filter(key=hands.key).first()
    if again:
        return again
    row.key, row.garden, row.made_by, row.made_on = hands.key, hands.garden, hands.person, hands.today
    row.save()
    return row


@dataclass(frozen=True)
class Decided:
    """What is decided for a plant: the way (none: as advised), its size as measured, how long a hedge."""

    way: str = ""
    height_cm: float | None = None
    stem_cm: float | None = None
    hedge_m: float | None = None


def decide(move: HouseMove, what: str, decided: Decided) -> MovedPlant:
    """Keep what was decided for a plant."""
    row, _ = MovedPlant.objects.update_or_create(move=move, what=what, defaults=vars(decided))
    return row


@transaction.atomic
def cut_for(move: HouseMove, one: Coming, hands: Hands) -> Want | None:
    """Want its cuttings, so that the season counts them in; the same press twice wants them once."""
    row = _row_of(move, one)
    if row.want:
        return row.want
    if one.reckoning is None:
        return None
    want = one.reckoning.row
    want.made_by = hands.person
    want.save()
    row.want = want
    row.save(update_fields=["want"])
    return want


def _row_of(move: HouseMove, one: Coming) -> MovedPlant:
    row, _ = MovedPlant.objects.select_for_update().get_or_create(move=move, what=one.key)
    return row


@transaction.atomic
def mark_done(move: HouseMove, one: Coming, hands: Hands) -> MovedPlant | Refusal:
    """It is dug and potted, or its seed is gathered. Of a batch the lifting is written into its history."""
    row = _row_of(move, one)
    if row.done_on:
        return row
    standing = one.standing
    if one.way is MoveWay.DIG and standing.batch:
        batch = Batch.objects.get(pk=standing.batch, garden=hands.garden)
        key = uuid5(hands.own("dig", row.pk).key, "lifted")
        lifted = Entry(kind=Entry.Kind.LIFTED, on=hands.today, count=standing.count, key=key)
        done = actions.add_entries(batch, [lifted], today=hands.today, person=hands.person)
        if isinstance(done, Refusal):
            transaction.set_rollback(True)
            return done
    row.way, row.done_on = one.way.value, hands.today
    row.save(update_fields=["way", "done_on"])
    return row


def undoing(row: MovedPlant) -> Undo:
    """The way back from what was dug or gathered."""
    return Undo("moved-done", {"plant": row.pk})


@takes_back("moved-done", verb="tend")
def undo_done(asked: Asked) -> Undone:
    """It is to be done yet. What was lifted of a batch stays lifted."""
    row = get_object_or_404(
        MovedPlant.objects.select_related("move"), pk=asked.number("plant"), move__garden=asked.garden
    )
    if row.arrived:
        return Undone("It has moved already, and stays as it is.", "moving-one", (row.move_id,), held=True)
    row.done_on = None
    row.save(update_fields=["done_on"])
    return Undone("Taken back: it is to be done yet.", "moving-one", (row.move_id,))


def answer_ask(move: HouseMove, key: str, *, said: str, whom: str, on: date) -> None:
    """Keep what was answered to a question, and whom one asked."""
    move.asks = {**move.asks, key: {"said": said, "whom": whom, "on": on.isoformat()}}
    move.save(update_fields=["asks"])


def call_off(move: HouseMove, today: date) -> Undo:
    """Call the move off; what was dug and struck stays what it is."""
    HouseMove.objects.filter(pk=move.pk).update(off_on=today)
    return Undo("move-off", {"move": move.pk})


@takes_back("move-off", verb="keep")
def call_on(asked: Asked) -> Undone:
    """It is on again."""
    row = get_object_or_404(HouseMove, pk=asked.number("move"), garden=asked.garden, moved_on=None)
    HouseMove.objects.filter(pk=row.pk).update(off_on=None)
    return Undone("The move is on again.", "moving-one", (row.pk,))


@transaction.atomic
def plant_here(row: MovedPlant, place: Place, hands: Hands) -> None:
    """It is in the ground at the new place: from now on it is watered deeply once a week."""
    tall, thick = size_of_row(row)
    row.planted_on, row.planted_at = hands.today, place
    row.water_l = max(ball_of(tall, thick).water_l, LEAST_WATER_L)
    row.save(update_fields=["planted_on", "planted_at", "water_l"])
    StockPlant.objects.filter(moved_as=row, garden=hands.garden).update(place=place)


def size_of_row(row: MovedPlant) -> tuple[float, float]:
    """How tall it stands and how thick its stem is, as far as anybody said."""
    plant = handbook()[row.stock.plant] if row.stock else None
    return size_of(plant, row) if plant else (40.0, 0.5)


def unplanting(row: MovedPlant) -> Undo:
    """The way back from planting."""
    return Undo("moved-planted", {"plant": row.pk})


@takes_back("moved-planted", verb="tend")
def unplant(asked: Asked) -> Undone:
    """It stands in its pot yet, unless it was watered since."""
    row = get_object_or_404(MovedPlant, pk=asked.number("plant"), move__to=asked.garden)
    if row.waterings.exists():
        return Undone("It was watered since, and stays planted.", "moving-here", held=True)
    row.planted_on, row.planted_at = None, None
    row.save(update_fields=["planted_on", "planted_at"])
    return Undone("Taken back: it is to be planted yet.", "moving-here")


@transaction.atomic
def water(row: MovedPlant, hands: Hands) -> Watering:
    """A deep watering; the same press twice waters once."""
    hands = hands.own("water", row.pk)
    found, _ = Watering.objects.get_or_create(
        key=hands.key, defaults={"plant": row, "on": hands.today, "by": hands.person}
    )
    return found


def unwatering(row: Watering) -> Undo:
    """The way back from a watering."""
    return Undo("moved-watered", {"watering": row.pk})


@takes_back("moved-watered", verb="tend")
def unwater(asked: Asked) -> Undone:
    """It is to be watered yet."""
    row = get_object_or_404(Watering, pk=asked.number("watering"), plant__move__to=asked.garden)
    row.delete()
    return Undone("Taken back: it is to be watered yet.", "moving-here")
