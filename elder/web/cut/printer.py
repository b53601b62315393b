"""The label printer, behind an interface; and the simulated one that ships, which lays its labels in a tray."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol
from uuid import UUID

from django.conf import settings
from django.db import transaction
from django.utils.module_loading import import_string

from elder.drawing.label import Size
from elder.web.batches.models import Batch
from elder.web.cut.labels import Label
from elder.web.cut.models import TrayLabel
from elder.web.garden.models import Garden, Person
from elder.web.read.bounded import bounded

MOST_IN_TRAY = 200  # the oldest fall out behind


class LabelPrinter(Protocol):
    """Prints labels, one each; says in a sentence where they are. One that is outside may fail, or never answer."""

    is_outside: bool

    def print_labels(
        self, labels: Sequence[tuple[Batch, Label]], size: Size, *, garden: Garden, person: Person, job: UUID
    ) -> str:
        """Print a job. The same job sent twice prints once."""
        ...


class TrayPrinter:
    """The simulated printer: each label a PNG in the garden's tray."""

    is_outside = False

    @transaction.atomic
    def print_labels(
        self, labels: Sequence[tuple[Batch, Label]], size: Size, *, garden: Garden, person: Person, job: UUID
    ) -> str:
        """Lay the labels in the tray."""
        from elder.web.cut.label_drawing import label_png  # what draws is loaded where a label is printed

        if not TrayLabel.objects.filter(garden=garden, job=job).exists():
            TrayLabel.objects.bulk_create(
                TrayLabel(garden=garden, batch=batch, job=job, by=person, png=label_png(label, size))
                for batch, label in labels
            )
            kept = TrayLabel.objects.filter(garden=garden).values_list("pk", flat=True)[:MOST_IN_TRAY]
            TrayLabel.objects.filter(garden=garden).exclude(pk__in=list(kept)).delete()
        return f"{len(labels)} printed: they lie in the tray."


def label_printer() -> LabelPrinter:
    """The printer that the settings name."""
    made: LabelPrinter = import_string(settings.LABEL_PRINTER)()
    return made


def printed(labels: Sequence[tuple[Batch, Label]], size: Size, *, garden: Garden, person: Person, job: UUID) -> str:
    """Print a job at the printer there is. Raises ServiceMissingError where it fails or does not answer."""
    printer = label_printer()

    def work() -> str:
        return printer.print_labels(labels, size, garden=garden, person=person, job=job)

    return bounded(work, what="the label printer") if printer.is_outside else work()
