"""What a household does with plants of its own: begin one, change it, put it away."""

from __future__ import annotations

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Person
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.plants.models import OwnPlant
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant


@transaction.atomic
def keep_own(
    garden: Garden, *, name: str, relative: str, text: str, person: Person, before: OwnPlant | None = None
) -> OwnPlant:
    """Keep a plant as it stands now; what is wanted, struck or kept of the state before is of this one from now on."""
    row = OwnPlant.objects.create(garden=garden, name=name, relative=relative, text=text, by=person)
    if before is not None:
        _carry_over(before.slug, row.slug, garden)
        OwnPlant.objects.filter(pk=before.pk).update(current=False)
    return row


def _carry_over(old: str, new: str, garden: Garden) -> None:
    for model in (Want, Batch, StockPlant):
        model.objects.filter(garden=garden, plant=old).update(plant=new)


def is_used(row: OwnPlant) -> bool:
    """Whether anything is wanted, struck or kept of it."""
    kept = (Want.objects, Batch.objects, StockPlant.objects)
    return any(rows.filter(garden=row.garden, plant=row.slug).exists() for rows in kept)


def put_away(row: OwnPlant) -> Undo:
    """It is listed no more."""
    OwnPlant.objects.filter(pk=row.pk).update(current=False)
    return Undo("own-away", {"plant": row.pk})


@takes_back("own-away", verb="plan")
def bring_back(asked: Asked) -> Undone:
    """It is listed again."""
    row = get_object_or_404(OwnPlant, pk=asked.number("plant"), garden=asked.garden)
    OwnPlant.objects.filter(pk=row.pk).update(current=True)
    return Undone(f"{row.name} is on the list again.", "plants")
