"""What a person does at the bench: one function a verb."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch, Entry
from elder.web.cut.models import TrayLabel
from elder.web.garden.models import Garden, Person, Place
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.say.words import plural
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
    seen: tuple[str, ...] = ()
    treatment: dict[str, str] = field(default_factory=dict)
    variety: str = ""
    cut_on: date | None = None  # where it was cut before today, and has lain to dry since


@transaction.atomic
def take_windfall(found: ChosenWay, *, garden: Garden, person: Person, today: date) -> Batch | Refusal:
    """Write down the batch, and the want it serves: the number that is likely to come of it."""
    again = Entry.objects.filter(batch__garden=garden, key=found.key, kind="taken").select_related("batch").first()
    if again:
        return again.batch
    want = Want.objects.create(
        garden=garden,
        plant=found.plant,
        variety=found.variety,
        method=found.method,
        wanted=found.wanted,
        by=found.by,
        confidence=0.5,
        purpose=found.purpose,
        rooting_place=found.places[0],
        growing_place=found.places[1],
        made_by=person,
    )
    given = {"key": found.key, "seen": found.seen, "treatment": found.treatment}
    on = min(found.cut_on or today, today)
    taken = Taken(on, found.count, found.stock_plant or UNNAMED, *found.places, **given)  # type: ignore[arg-type]
    made = take_batch(want, taken, garden=garden, person=person, today=today)
    if isinstance(made, Refusal):
        transaction.set_rollback(True)
    return made


def prepare(want: Want, today: date) -> Undo:
    """The branch has been got ready for the cut."""
    want.prepared_on = today
    want.save(update_fields=["prepared_on"])
    return Undo("prepared", {"want": want.pk})


@takes_back("prepared", verb="tend")
def unprepare(asked: Asked) -> Undone:
    """It has not, then."""
    want = get_object_or_404(Want, pk=asked.number("want"), garden=asked.garden)
    want.prepared_on = None
    want.save(update_fields=["prepared_on"])
    return Undone("Not ready yet, then.", "cut-sheet", (want.pk,))


def unprinting(job: UUID) -> Undo:
    """The way back from a printed job."""
    return Undo("labels", {"job": str(job)})


@takes_back("labels", verb="tend")
def unprint(asked: Asked) -> Undone:
    """The labels of a job are taken out of the tray."""
    many = clear_tray(asked.garden, job=UUID(asked.text("job")))
    return Undone(f"{plural(many, 'label', 'labels')} taken out of the tray.", "label-tray")


def clear_tray(garden: Garden, *, job: UUID | None = None) -> int:
    """Take labels out of the tray: those of one job, or all. How many."""
    rows = TrayLabel.objects.filter(garden=garden)
    rows = rows.filter(job=job) if job else rows
    many = rows.count()
    rows.delete()
    return many
