"""A garden's batches that are over, by the page."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from django.core.paginator import Page, Paginator

from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.read.batches import BatchToday, batch_today
from elder.web.read.gardens import stands_at
from elder.web.read.histories import histories_here, histories_of

OVER_A_PAGE = 40


def over_batches(garden: Garden, page: str | None) -> Page[Batch]:
    """A page of a garden's batches that are over, the last to end first. A page that is not there is the nearest."""
    rows = Batch.objects.filter(garden=garden, over_on__isnull=False).select_related("want", "mother")
    return Paginator(rows.order_by("-over_on", "-pk"), OVER_A_PAGE).get_page(page)


def not_marked(garden: Garden, today: date) -> tuple[list[BatchToday], list[BatchToday]]:
    """Every batch not marked as over, the last cut first: those that live, and those that are over all the same. Of a
    garden that was left too, whose record stays to be read."""
    rows = Batch.objects.filter(garden=garden, over_on=None).select_related("want", "mother")
    written, found = histories_here(garden), []
    for row in rows:
        if row.pk in written:  # one taken a moment ago, between the two questions, is there the next time
            stands_at(row, garden)
            found.append(batch_today(row, garden, today, want=row.want, history=written[row.pk]))
    found.sort(key=lambda item: item.state.taken_on, reverse=True)
    return [item for item in found if not item.state.over], [item for item in found if item.state.over]


def those_over(rows: Iterable[Batch], garden: Garden, today: date) -> list[BatchToday]:
    """Batches that are over, from their histories' columns alone."""
    asked = list(rows)
    written = histories_of(Entry.objects.filter(batch__in=asked))
    for row in asked:
        stands_at(row, garden)
    return [
        batch_today(row, garden, today, want=row.want, history=written[row.pk]) for row in asked if row.pk in written
    ]
