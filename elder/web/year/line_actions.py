"""What a person does with a line: begin it, cut a lot of it, put it away."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID, uuid5

from django.db import transaction

from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Person, Place
from elder.web.read.line_rows import Source
from elder.web.read.lines import LineToday
from elder.web.season.models import Want
from elder.web.season.taking import Taken, take_batch, want_spoken_for
from elder.web.stock.models import StockPlant
from elder.web.year.models import LineLot, Multiplying


@transaction.atomic
def begin_line(
    row: Multiplying, mothers: Iterable[StockPlant], garden: Garden, person: Person, today: date
) -> Multiplying:
    """Keep a line and its first mothers."""
    row.garden, row.made_by, row.made_on = garden, person, today
    row.save()
    row.mothers.set(mothers)
    return row


@dataclass(frozen=True)
class CutNow:
    """What is cut of a line in one go: from each source so many, on a day, into a place."""

    on: date
    counts: Mapping[str, int]
    rooting_place: Place
    key: UUID


@transaction.atomic
def cut_lot(found: LineToday, cut: CutNow, garden: Garden, person: Person, today: date) -> list[Batch] | Refusal:
    """Cut a lot: a batch of each source, so that every line of descent can be told. The same press twice makes them
    once; all or none."""
    Multiplying.objects.select_for_update().get(pk=found.row.pk)
    made: list[Batch] = []
    for source in found.sources:
        count = cut.counts.get(source.key, 0)
        if not count:
            continue
        batch = _cut_one(found, source, cut, garden, person, today)
        if isinstance(batch, Refusal):
            transaction.set_rollback(True)
            return batch
        plants = min(-(-count // source.gives), source.plants)
        LineLot.objects.get_or_create(
            batch=batch,
            defaults={
                "line": found.row,
                "source_id": source.lot,
                "generation": source.generation + 1,
                "plants_cut": plants,
                "plant_on": _plant_on(found, cut.on),
            },
        )
        made.append(batch)
    return made


def _plant_on(found: LineToday, on: date) -> date:
    """The day on which what is cut on a day counts as plants."""
    line, today = found.wanted.line, found.wanted.today
    return today + timedelta(days=line.plant_on((on - today).days))


def was_cut(garden: Garden, key: UUID, names: Iterable[str]) -> bool:
    """Whether a press has been written already, from any of these sources."""
    keys = [uuid5(key, name) for name in names]
    return Entry.objects.filter(batch__garden=garden, key__in=keys).exists()


def _cut_one(
    found: LineToday, source: Source, cut: CutNow, garden: Garden, person: Person, today: date
) -> Batch | Refusal:
    row, count = found.row, cut.counts[source.key]
    taken = Taken(
        on=cut.on,
        count=count,
        stock_plant=source.name,
        rooting_place=cut.rooting_place,
        growing_place=row.growing_place,
        key=uuid5(cut.key, source.key),
    )
    return take_batch(_want_of(row, count, person, today), taken, garden=garden, person=person, today=today)


def _want_of(row: Multiplying, count: int, person: Person, today: date) -> Want:
    """The want a lot is raised for: as many plants as are likely of it, by the line's day."""
    take = handbook()[row.plant].method(row.method).take.mean
    return want_spoken_for(
        row.garden,
        person,
        today,
        plant=row.plant,
        variety=row.variety,
        method=row.method,
        wanted=max(round(count * take), 1),
        by=row.by,
        purpose=Want.Purpose.SPARE,
        rooting_place=row.rooting_place,
        growing_place=row.growing_place,
    )


def put_away(row: Multiplying, today: date) -> None:
    """Put a line away; its batches stay what they are."""
    Multiplying.objects.filter(pk=row.pk).update(closed_on=today)


def take_out(row: Multiplying) -> None:
    """Take it out again."""
    Multiplying.objects.filter(pk=row.pk).update(closed_on=None)
