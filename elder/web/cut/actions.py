"""What a person does with a windfall: one function a verb."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from uuid import UUID

from django.db import transaction

from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Person, Place
from elder.web.season.models import Want
from elder.web.season.taking import Taken, take_batch

UNNAMED = "a windfall"


@dataclass(frozen=True)
class ChosenWay:
    """A way chosen for what was in the hand."""

    plant: str
    method: str
    places: tuple[Place, Place]
    count: int
    wanted: int
    by: date | None
    purpose: str
    stock_plant: str
    key: UUID


@transaction.atomic
def take_windfall(found: ChosenWay, *, garden: Garden, person: Person, today: date) -> Batch | Refusal:
    """Write down the batch, and the want it serves: the number that is likely to come of it."""
    again = Entry.objects.filter(batch__garden=garden, key=found.key).select_related("batch").first()
    if again:
        return again.batch
    want = Want.objects.create(
        garden=garden,
        plant=found.plant,
        method=found.method,
        wanted=found.wanted,
        by=found.by,
        confidence=0.5,
        purpose=found.purpose,
        rooting_place=found.places[0],
        growing_place=found.places[1],
        made_by=person,
    )
    taken = Taken(today, found.count, found.stock_plant or UNNAMED, *found.places, key=found.key)
    made = take_batch(want, taken, garden=garden, person=person, today=today)
    if isinstance(made, Refusal):
        transaction.set_rollback(True)
    return made
