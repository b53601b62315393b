"""A garden's record, kept as long as nothing it is made of has changed; and made anew only where something has."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any, Final, cast

from django.db.models import DateField, F, JSONField, Model, QuerySet, TextField
from django.db.models.expressions import Combinable
from django.db.models.fields.json import KeyTextTransform, KeyTransform
from django.db.models.functions import Cast

from elder.engine.assumptions import Assumptions
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.keeping import STORE, cached_property
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.record.knowing import PlanBy
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once
from elder.web.read.gardens import assumptions_of, climate_of, places_of, stood_at
from elder.web.read.histories import History, histories_here
from elder.web.read.kit import STUCK_IN
from elder.web.read.mine import GardenRecord
from elder.web.read.told import Told, told_by
from elder.web.season.models import Want

CARRIED_FROM: Final = "carried_from"  # in a batch's plan: the batch of the garden before that it goes on from
PLANNED: Final = ("target", "wanted", CARRIED_FROM, STUCK_IN)  # what is asked of a batch's plan, besides its forecast
FEW: Final = 200  # so many rows are asked for by their keys; of more all are
RECORD_BYTES: Final = 500_000  # about what a record puts on as it is asked (assumed)
EACH_BYTES: Final = 11_000  # of what one batch told, its row and its cells among it (measured, rounded)

AS_TEXT: Final = (JSONField, DateField)  # and so instants, which are days to Django

Cells = tuple[object, ...]


def record_of(garden: Garden, today: date) -> GardenRecord:
    """A garden's record up to a day, made once as the garden stands."""
    name = "record of", garden.pk, today
    return once(garden, name, lambda: _record_of(garden, today), shares=name)


@dataclass(frozen=True, eq=False)
class _Asked:
    """What a record is made of: the day, the garden's year, places and guesses, its histories, the rows of its batches
    and wants by their keys, and what was told in the garden before."""

    garden: int
    guessed: tuple[Assumptions, PlanBy]
    today: date
    climate: Climate
    places: Mapping[int, EnginePlace]
    histories: Mapping[int, History]
    batches: Mapping[int, Cells]
    wants: Mapping[int, Cells]
    before: GardenRecord | None

    @cached_property
    def where(self) -> Cells:
        """What every batch is read under."""
        return self.garden, self.today, self.climate, tuple(self.places.items()), id(handbook())

    @cached_property
    def parts(self) -> Cells:
        """All of it that can be told apart. Histories are kept, and another one for each change."""
        rows = tuple(self.batches.values()), tuple(self.wants.values())
        return self.where, self.guessed, id(self.histories), rows, self.before


def _cells(rows: QuerySet[Any], model: type[Model]) -> dict[int, Cells]:
    """Rows as plain cells by their keys, to tell whether anything in them changed. What is written as JSON, and days,
    are left as text: reading them would cost more than all the rest; of a plan only what a record asks of it."""
    return {int(cast("int", cells[0])): cells for cells in rows.values_list(*_columns(model)).iterator(chunk_size=2000)}


def _columns(model: type[Model]) -> Iterator[Combinable]:
    for field in model._meta.concrete_fields:  # the key comes first
        if field.name == "plan":
            yield from (KeyTextTransform(key, "plan") for key in PLANNED)
        else:
            yield Cast(field.attname, TextField()) if isinstance(field, AS_TEXT) else F(field.attname)


def _record_of(garden: Garden, today: date) -> GardenRecord:
    former = garden.came_from if garden.came_from_id else None
    return _kept(
        _Asked(
            garden.pk,
            (assumptions_of(garden), cast("PlanBy", garden.plan_by)),
            today,
            climate_of(garden),
            {pk: stood_at(place) for pk, place in places_of(garden).items()},
            histories_here(garden),
            _cells(Batch.objects.filter(garden=garden), Batch),
            _cells(Want.objects.filter(garden=garden), Want),
            record_of(former, today) if former and former.closed_on else None,
        )
    )


@dataclass(frozen=True, eq=False)
class _Last:
    """What was read of a garden the last time, and what came of it. One a garden and a day: each press makes another,
    and the one before is of no more use."""

    asked: _Asked
    told: Mapping[int, Told]
    record: GardenRecord


def _kept(asked: _Asked) -> GardenRecord:
    name = "record of", asked.garden, asked.today
    last: _Last | None = STORE.held(name)
    if last is not None and last.asked.parts == asked.parts:
        return last.record
    made = _made(asked, last)
    STORE.hold(name, made, RECORD_BYTES + EACH_BYTES * len(made.told))
    return made.record


def _made(asked: _Asked, last: _Last | None) -> _Last:
    found = _still_so(asked, last)
    found |= {one.row.pk: one for one in _read(asked, [pk for pk in asked.batches if pk not in found])}
    told = {pk: found[pk] for pk in asked.batches if pk in found}
    before = _before(asked.before, {getattr(one.row, "carried_from", None) for one in told.values()})
    return _Last(asked, told, GardenRecord(tuple(told.values()), *asked.guessed, asked.today, before))


def _still_so(asked: _Asked, last: _Last | None) -> dict[int, Told]:
    """What the batches told of which nothing has changed since the last time."""
    if last is None or last.asked.where != asked.where:
        return {}
    before, wants = last.asked, {pk for pk, cells in asked.wants.items() if last.asked.wants.get(pk) != cells}
    return {
        pk: told
        for pk, told in last.told.items()
        if before.batches[pk] == asked.batches.get(pk)
        and before.histories.get(pk) is asked.histories.get(pk)
        and told.row.want_id not in wants
    }


def _read(asked: _Asked, wanted: list[int]) -> Iterator[Told]:
    """What batches told, from their rows and histories."""
    rows = Batch.objects.filter(garden=asked.garden).defer("plan")
    wants: Mapping[int, Want] = {}
    if len(wanted) <= FEW:
        rows = rows.filter(pk__in=wanted).select_related("want")
    else:  # each want once: as many rows of them as of batches would cost a third of all that is read here
        wants = Want.objects.filter(garden=asked.garden).in_bulk()
    rows = rows.annotate(
        ready_by=KeyTextTransform("target", "plan"),
        wanted=KeyTransform("wanted", "plan"),
        carried_from=KeyTransform(CARRIED_FROM, "plan"),
        forecast=KeyTransform("forecast", "plan"),
        stuck_in=KeyTextTransform(STUCK_IN, "plan"),
    )
    for row in rows if wanted else ():
        history = asked.histories.get(row.pk)
        known = history.until(asked.today) if history else None
        if known and known.is_begun:
            if want := wants.get(row.want_id or 0):
                row.want = want
            row.plan = {STUCK_IN: row.stuck_in}  # all that is asked of it later; the whole would be read for each
            yield told_by(row, known, asked.climate, asked.places, asked.today)


def _before(known: GardenRecord | None, carried: set[int | None]) -> tuple[Told, ...]:
    """What was told in the garden these people moved from; what they carried here goes on here, and counts once."""
    return tuple(one for one in (*known.before, *known.told) if one.row.pk not in carried) if known else ()
