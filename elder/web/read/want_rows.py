"""Want rows with all that is asked of them, in the same few queries whatever their number."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Final

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.read.histories import History
from elder.web.season.models import Want

WANTS_BYTES: Final = 150_000  # of a want as it is reckoned, with its plan and its batches (measured, rounded)


def batches_of(row: Want) -> list[Batch]:
    """The batches that serve a want: its own, and those of others that serve it too."""
    own = list(row.batches.all())
    for batch in own:
        batch.want = row
    return [*own, *row.also_from.all()]


# A want's own batches serve it first; of those of others one asks whom else they serve. Places are the garden's, and
# known already.
WITH_BATCHES = ("batches", "also_from__want", "also_from__also_for")


def want_rows(garden: Garden) -> QuerySet[Want]:
    """A garden's wants with their places, mothers and batches, in the same few queries whatever their number."""
    rows = Want.objects.filter(garden=garden).select_related("rooting_place", "growing_place", "mother__place")
    return rows.prefetch_related("mother__looks", *WITH_BATCHES)


def want_row(garden: Garden, want_id: int) -> Want:
    """A want of the garden. Raises Http404 for one that is not there."""
    return get_object_or_404(want_rows(garden), pk=want_id)


def served_before(batch: Batch, row: Want) -> int:
    """Plants of a batch that go to wants served before this one: its own first, then the others as made."""
    if batch.want_id == row.pk or batch.pk is None:
        return 0
    earlier = [want.claims for want in batch.also_for.all() if row.pk is None or want.pk < row.pk]
    own = batch.want.claims if batch.want else 0
    return own + sum(earlier)


@dataclass(frozen=True)
class Serving:
    """The batches of a want, and the histories of all batches of its garden."""

    batches: list[Batch]
    histories: Mapping[int, History]

    def __iter__(self) -> Iterator[Batch]:
        return iter(self.batches)
