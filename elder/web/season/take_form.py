"""What was really taken."""

from __future__ import annotations

from typing import Unpack

from django import forms

from elder.web.garden.models import Garden, Place
from elder.web.read.what_if import seen_in
from elder.web.ui.fields import DatedForm, FilledDay, Sent, choosing_row, count_field, day_field


class TakeForm(DatedForm):
    """What was really taken."""

    on = day_field("Cut on")
    seen = forms.CharField(required=False, widget=forms.HiddenInput({"data-asked": ""}))
    count = count_field("How many")
    stock_plant = forms.CharField(
        label="From which plant",
        max_length=80,
        error_messages={"required": "Name the plant they were cut from, so that its line can be told later."},
    )
    rooting_place = forms.ModelChoiceField(Place.objects.none(), label="Into which place", empty_label=None)
    growing_place = forms.ModelChoiceField(Place.objects.none(), label="Then grown on at", empty_label=None)

    def __init__(self, data: Sent = None, *, garden: Garden, **rest: Unpack[FilledDay]) -> None:
        super().__init__(data, **rest)
        for name in ("rooting_place", "growing_place"):
            place = choosing_row(self, name)
            place.queryset = garden.places.all()
            place.error_messages["invalid_choice"] = "Choose a place of this garden."

    def clean_seen(self) -> tuple[str, ...]:
        """What was seen of the stem, by name; what nobody knows is passed over."""
        return seen_in(self.cleaned_data["seen"])
