"""Which batches to label, how many of each, on what."""

from __future__ import annotations

from typing import Unpack

from django import forms

from elder.drawing.label import SIZES
from elder.web.batches.models import Batch, Entry
from elder.web.cut.labels import MOST_LABELS
from elder.web.garden.models import Garden
from elder.web.read.batches import stands_of
from elder.web.ui.fields import Filled, Sent, choosing
from elder.web.ui.widgets import Stepper

MOST_EACH = 50


class LabelsForm(forms.Form):
    """Which batches, how many of each, what size, what paper."""

    batch = forms.TypedMultipleChoiceField(
        label="Which batches",
        coerce=int,
        widget=forms.CheckboxSelectMultiple,
        error_messages={"required": "Tick at least one batch.", "invalid_choice": "That batch is not of this garden."},
    )
    size = forms.ChoiceField(
        label="What size",
        choices=[(size.key, size.name) for size in SIZES.values()],
        widget=forms.RadioSelect,
        error_messages={"required": "Choose one of the sizes.", "invalid_choice": "Choose one of the sizes."},
    )
    paper = forms.ChoiceField(
        label="Paper",
        choices=(("a4", "A4"), ("letter", "US Letter")),
        widget=forms.RadioSelect,
        error_messages={"required": "Choose the paper.", "invalid_choice": "Choose the paper."},
    )
    copies = forms.IntegerField(
        label="Of each; left empty, one to a pot or jar",
        required=False,
        min_value=1,
        max_value=MOST_EACH,
        widget=Stepper,
        error_messages={
            "invalid": "A whole number, please.", "min_value": "At least one.", "max_value": f"At most {MOST_EACH}.",
        },
    )  # fmt: skip

    def __init__(self, data: Sent = None, *, rows: list[Batch], garden: Garden, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        batch = choosing(self, "batch")
        batch.choices = [(row.pk, row.code) for row in rows]
        self.rows = {row.pk: row for row in rows}
        self.garden = garden

    def clean(self) -> dict[str, object]:
        """No more than a sensible stack."""
        data = super().clean() or {}
        if "batch" in data and sum(many for _, many in self.counts()) > MOST_LABELS:
            self.add_error("copies", f"At most {MOST_LABELS} labels at a time.")
        return data

    def counts(self) -> list[tuple[Batch, int]]:
        """How many of each. Only where the batches were read."""
        data = self.cleaned_data
        chosen = [self.rows[pk] for pk in data["batch"]]
        return [(row, data.get("copies") or containers_of(row, self.garden)) for row in chosen]


def containers_of(row: Batch, garden: Garden) -> int:
    """How many labels a batch wants today: one to each container it stands in; to a row one."""
    stands = stands_of(row, garden)
    return min(max(sum(one.filled.vessels for one in stands), 1), MOST_EACH)


def taken_of(row: Batch) -> Entry | None:
    """The entry that says how many were taken and when, as it was last put right."""
    standing = [one for one in row.entries.all() if one.kind == Entry.Kind.TAKEN]
    return standing[-1] if standing else None
