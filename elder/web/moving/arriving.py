"""The day of the move: the old garden closes, the new one begins with those who live, each with its family."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from uuid import uuid5

from django.db import transaction
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from elder.engine.batch.history import retold
from elder.engine.year.moving import MoveWay
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.formats.plant_file import line_told
from elder.web.garden.hands import Hands
from elder.web.garden.models import Garden, Place
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.moving.models import HouseMove, MovedPlant
from elder.web.read.heritage import Passed, file_of_mother
from elder.web.read.histories import entries_of
from elder.web.read.moves import Coming, MoveToday
from elder.web.read.records import CARRIED_FROM
from elder.web.read.ways import way_of
from elder.web.stock.models import Heritage, StockPlant

STANDS = ("waiting", "rooted", "potted", "hardening")


@dataclass(frozen=True)
class Arrival:
    """Who came alive, by key on the list: how many; and where pots and what is indoors stand at first."""

    alive: Mapping[str, int]
    outdoors: Place
    indoors: Place


@transaction.atomic
def arrive(found: MoveToday, arrival: Arrival, hands: Hands) -> HouseMove:
    """HouseMove: what came along begins in the new garden, everything else is left, and the old garden closes. The same
    press twice moves once."""
    row = HouseMove.objects.select_for_update().get(pk=found.row.pk)
    there = row.to
    if row.moved_on or there is None:
        return row
    Garden.objects.select_for_update().get(pk=there.pk)  # nobody writes there meanwhile, nor here
    # Mothers first, so that their batches find them there.
    for one in sorted(found.coming, key=lambda one: bool(one.standing.batch) or one.way is MoveWay.CUTTINGS):
        _moved(one, row, there, arrival, hands)
    row.moved_on = hands.today
    row.save(update_fields=["moved_on"])
    Garden.objects.filter(pk=found.garden.pk).update(closed_on=hands.today)
    Garden.objects.filter(pk=there.pk).update(came_from=found.garden.pk)
    return row


def _moved(one: Coming, move: HouseMove, there: Garden, arrival: Arrival, hands: Hands) -> None:
    standing, alive = one.standing, arrival.alive.get(one.key, 0)
    row, _ = MovedPlant.objects.get_or_create(move=move, what=one.key)
    row.way = one.way.value
    if one.way is MoveWay.CUTTINGS:
        struck = list(one.reckoning.batches) if one.reckoning else []
        for batch in struck if alive else []:
            living = batch.state.living
            row.batch = _carried(batch.row, there, arrival, hands, lost=max(living - alive, 0)) or row.batch
            alive = max(alive - living, 0)
        row.arrived = row.batch_id is not None
    elif one.way in (MoveWay.POT, MoveWay.DIG) and alive:
        row.arrived = True
        if standing.batch:
            batch_row = Batch.objects.get(pk=standing.batch, garden=hands.garden)
            row.batch = _carried(batch_row, there, arrival, hands, lost=max(standing.count - alive, 0))
        elif standing.stock:
            old = StockPlant.objects.get(pk=standing.stock, garden=hands.garden)
            row.stock = _replanted(old, there, arrival, hands)
    row.save()
    if standing.stock:
        StockPlant.objects.filter(pk=standing.stock, ended_on=None).update(
            ended_on=hands.today, ended_why=StockPlant.Ended.LEFT
        )


def _replanted(old: StockPlant, there: Garden, arrival: Arrival, hands: Hands) -> StockPlant:
    """The same plant as a mother of the new garden, with her line."""
    new = _as_mother(old, there, hands)
    indoors = old.place is not None and old.place.standing == Place.Standing.ROOM
    new.place = arrival.indoors if indoors else arrival.outdoors
    new.save(update_fields=["place"])
    return new


def _mother_there(old: StockPlant | None, there: Garden, hands: Hands) -> StockPlant | None:
    """The mother of what came along: herself, where she came too; else kept as one that stands in another garden."""
    if old is None:
        return None
    found = StockPlant.objects.filter(garden=there, heritage__told__stock=old.pk).first()
    if found is None:
        found = _as_mother(old, there, hands)
        found.ended_on, found.ended_why = hands.today, StockPlant.Ended.LEFT
        found.save(update_fields=["ended_on", "ended_why"])
    return found


def _as_mother(old: StockPlant, there: Garden, hands: Hands) -> StockPlant:
    file = file_of_mother(old, hands.garden, hands.today, Passed(1, "potted"))
    taken = set(there.stock_plants.values_list("name", flat=True))
    name = next(one for one in (old.name, *(f"{old.name} {i}"[:80] for i in range(2, 999))) if one not in taken)
    new = StockPlant.objects.create(
        garden=there, name=name, plant=old.plant, variety=old.variety, gives=old.gives, again_days=old.again_days,
        origin=old.origin if old.origin != StockPlant.Origin.OURS else StockPlant.Origin.THERE,
        since=old.since or hands.today, note=old.note,
    )  # fmt: skip
    told = {"stock": old.pk}
    key = uuid5(hands.own("moved", old.pk).key, "heritage")
    Heritage.objects.create(stock=new, key=key, line=line_told(file.line), told=told, on=hands.today)
    return new


def _carried(old: Batch, there: Garden, arrival: Arrival, hands: Hands, *, lost: int = 0) -> Batch | None:
    """A batch as it goes on in the new garden, with its history and what was lost on the way; in the old one what lived
    of it is carried away."""
    lines = old.entries.filter(struck_by=None).exclude(kind__in=(Entry.Kind.MOVED, Entry.Kind.STRUCK))
    if not lines:
        return None
    new = Batch(**{field.attname: getattr(old, field.attname) for field in Batch._meta.concrete_fields})
    new.pk, new.garden, new.want = None, there, None
    new.mother = _mother_there(old.mother, there, hands)
    new.rooting_place, new.growing_place = arrival.indoors, arrival.outdoors
    new.plan = {**old.plan, CARRIED_FROM: old.pk}
    new.save()
    copied = ("kind", "on", "count", "stage", "why", "note", "deed", "signs", "root_cm")
    for entry in lines:
        Entry(
            batch=new, by=entry.by, key=uuid5(hands.own("carried", old.pk).key, str(entry.key)),
            **{name: getattr(entry, name) for name in copied},
        ).save()  # fmt: skip
    _lose(new, lost, hands)
    _gone(old, hands)
    return new


def _lose(new: Batch, lost: int, hands: Hands) -> None:
    """What did not live through the journey, of what stood furthest on first: an accident, which says nothing of the
    take."""
    state = retold(entries_of(list(new.entries.all())), way_of(new)[1].route)
    entries = []
    for stage in reversed(STANDS):
        part = min(state.count(stage), lost)
        lost -= part
        if part:
            why = Entry.Why.ACCIDENT
            entries.append(Entry(kind=Entry.Kind.LOST, on=hands.today, count=part, stage=stage, why=why))
    actions.add_entries(new, entries, today=hands.today, person=hands.person)


def _gone(old: Batch, hands: Hands) -> None:
    """What lived of it has left: written, so that its counts add up."""
    state = retold(entries_of(list(old.entries.all())), way_of(old)[1].route)
    counts = {stage: state.count(stage) for stage in STANDS}
    new = [
        Entry(kind=Entry.Kind.GIVEN, on=hands.today, count=count, stage=stage, deed=Entry.How.CARRIED)
        for stage, count in counts.items()
        if count
    ]
    actions.add_entries(old, new, today=hands.today, person=hands.person)


def unarriving(move: HouseMove) -> Undo:
    """The way back from having moved."""
    return Undo("moved", {"move": move.pk})


@takes_back("moved", verb="keep")
def unarrive(asked: Asked) -> Undone:
    """As if nobody had moved yet, unless something was done in the new garden since."""
    move = get_object_or_404(HouseMove, pk=asked.number("move"), garden=asked.garden)
    ours = list(asked.garden.batches.values_list("pk", flat=True))
    carried = Batch.objects.filter(garden=move.to, **{f"plan__{CARRIED_FROM}__in": ours})
    if _is_used(move, carried):
        return Undone(
            "Something was done in the new garden since; the move stays.", "moving-one", (move.pk,), held=True
        )
    with transaction.atomic():
        for batch in carried:
            _back(batch, asked)
        for row in move.plants.all():
            _taken_back(row, asked)
        _came(move).delete()
        HouseMove.objects.filter(pk=move.pk).update(moved_on=None)
        Garden.objects.filter(pk=asked.garden.pk).update(closed_on=None)
        Garden.objects.filter(moves_here=move, came_from=asked.garden).update(came_from=None)
    return Undone("Taken back: nobody has moved yet.", "moving-one", (move.pk,))


def _is_used(move: HouseMove, carried: QuerySet[Batch]) -> bool:
    """Whether something was done in the new garden since with what came along."""
    if move.plants.exclude(planted_on=None).exists() or move.moved_on is None:
        return True
    if Entry.objects.filter(batch__in=carried, on__gt=move.moved_on).exists():
        return True
    mothers = _came(move)
    cut = Batch.objects.filter(mother__in=mothers).exclude(pk__in=carried.values("pk"))
    return cut.exists() or mothers.filter(looks__isnull=False).exists() or mothers.filter(wants__isnull=False).exists()


def _came(move: HouseMove) -> QuerySet[StockPlant]:
    """The mothers of the new garden that came along by a move."""
    ours = list(StockPlant.objects.filter(garden=move.garden_id).values_list("pk", flat=True))
    return StockPlant.objects.filter(garden=move.to, heritage__told__stock__in=ours)


def _back(batch: Batch, asked: Asked) -> None:
    """A batch goes on in the old garden: what was carried away of it stands there again."""
    source = Batch.objects.get(pk=batch.plan[CARRIED_FROM], garden=asked.garden)
    left = source.entries.filter(kind=Entry.Kind.GIVEN, deed=Entry.How.CARRIED, struck_by=None)
    strikes = [Entry(kind=Entry.Kind.STRUCK, on=entry.on, strikes=entry) for entry in left]
    actions.add_entries(source, strikes, today=asked.today, person=asked.person)
    batch.delete()


def _taken_back(row: MovedPlant, asked: Asked) -> None:
    old = row.what.split("-")[0]
    if old.startswith("s"):
        stock = StockPlant.objects.filter(pk=int(old[1:]), garden=asked.garden, ended_why=StockPlant.Ended.LEFT)
        stock.update(ended_on=None, ended_why="")
    row.arrived, row.stock, row.batch = False, None, None
    row.save(update_fields=["arrived", "stock", "batch"])
