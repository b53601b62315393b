"""Want rows with all that is asked of them, in the same few queries whatever their number."""

from __future__ import annotations

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.season.models import Want


def batches_of(row: Want) -> list[Batch]:
    """The batches that serve a want: its own, and those of others that serve it too."""
    return [*row.batches.all(), *row.also_from.all()]


BATCH_PARTS = ("entries", "rooting_place", "growing_place", "want", "also_for")
WITH_BATCHES = tuple(f"{name}__{part}" for name in ("batches", "also_from") for part in BATCH_PARTS)


def want_rows(garden: Garden) -> QuerySet[Want]:
    """A garden's wants with their places, mothers and batches, in the same few queries whatever their number."""
    rows = Want.objects.filter(garden=garden).select_related("rooting_place", "growing_place", "mother__place")
    return rows.prefetch_related("mother__looks", *WITH_BATCHES)


def want_row(garden: Garden, want_id: int) -> Want:
    """A want of the garden. Raises Http404 for one that is not there."""
    return get_object_or_404(want_rows(garden), pk=want_id)
