"""A plant of a batch kept as a mother, its parent known."""

from __future__ import annotations

from datetime import date

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.batch.state import BatchState
from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch
from elder.web.garden.models import Place
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.stock.actions import is_used
from elder.web.stock.models import StockPlant


@transaction.atomic
def keep_as_mother(
    batch: Batch, state: BatchState, *, name: str, place: Place | None, today: date
) -> StockPlant | Refusal:
    """Keep a plant of a batch as a mother, its parent known. Refuses where all that live are kept already."""
    Batch.objects.select_for_update().get(pk=batch.pk)
    grown = sum(state.count(stage) for stage in ("rooted", "potted", "hardening", "planted"))
    if batch.kept_plants.count() >= grown:
        return Refusal("none_left_to_keep", "name", {"grown": grown})
    plant = handbook()[batch.plant]
    return StockPlant.objects.create(
        garden=batch.garden,
        name=name,
        plant=batch.plant,
        variety=batch.variety,
        gives=plant.gives,
        again_days=plant.again_days,
        origin=StockPlant.Origin.OURS,
        raised_from=batch,
        place=place,
        since=state.since("planted") or state.since("potted") or today,
    )


def unkeeping(mother: StockPlant) -> Undo:
    """The way back from keeping a plant as a mother."""
    return Undo("kept", {"mother": mother.pk})


@takes_back("kept", verb="tend")
def unkeep(asked: Asked) -> Undone:
    """She leaves the list, unless she was looked at or cut since."""
    row = get_object_or_404(StockPlant, pk=asked.number("mother"), garden=asked.garden, raised_from__isnull=False)
    batch, used = row.raised_from_id or 0, is_used(row)
    if not used:
        row.delete()
    said = f"{row.name} has been used since and stays." if used else f"{row.name} is no mother any more."
    return Undone(said, "batch", (batch,))
