"""A plant of a batch kept as a mother, its parent known."""

from __future__ import annotations

from datetime import date

from django.db import transaction

from elder.engine.batch.history import BatchState
from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch
from elder.web.garden.models import Place
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
