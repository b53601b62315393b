"""What was really taken."""

from __future__ import annotations

from typing import Final, Unpack

from django import forms

from elder.web.garden.models import Garden, Place
from elder.web.read.what_if import seen_in
from elder.web.ui.fields import DatedForm, FilledDay, Sent, choosing_row, count_field, day_field

SHARES: Final = (("also_count", "also_plant"), ("third_count", "third_plant"))


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
    also_count = count_field("Of these, from another", required=False, least=0)
    also_plant = forms.CharField(label="which", max_length=80, required=False)
    third_count = count_field("And from a third", required=False, least=0)
    third_plant = forms.CharField(label="which", max_length=80, required=False)
    rooting_place = forms.ModelChoiceField(Place.objects.none(), label="Into which place", empty_label=None)
    growing_place = forms.ModelChoiceField(Place.objects.none(), label="Then grown on at", empty_label=None)

    def __init__(self, data: Sent = None, *, garden: Garden, **rest: Unpack[FilledDay]) -> None:
        super().__init__(data, **rest)
        for name in ("rooting_place", "growing_place"):
            place = choosing_row(self, name)
            place.queryset = garden.places.all()
            place.error_messages["invalid_choice"] = "Choose a place of this garden."

    def clean(self) -> dict[str, object]:
        """What came from other mothers is part of the whole, and each is named."""
        data = super().clean() or {}
        for count, plant in SHARES:
            if data.get(count) and not str(data.get(plant, "")).strip():
                self.add_error(plant, "Name the plant those were cut from.")
        if data.get("count") and sum(data.get(count) or 0 for count, _ in SHARES) >= data["count"]:
            self.add_error("also_count", f"More than the {data['count']} that were cut, or all of them.")
        return data

    @property
    def shares(self) -> list[tuple[str, int]]:
        """From which plants and how many of each, the first what is left. Only for a form that is valid."""
        data = self.cleaned_data
        others = [(data[plant].strip(), data[count]) for count, plant in SHARES if data.get(count)]
        return [(data["stock_plant"], data["count"] - sum(count for _, count in others)), *others]

    @property
    def plain(self) -> dict[str, object]:
        """What was taken, without the shares. Only for a form that is valid."""
        left_out = {name for pair in SHARES for name in pair}
        return {name: value for name, value in self.cleaned_data.items() if name not in left_out}

    def clean_seen(self) -> tuple[str, ...]:
        """What was seen of the stem, by name; what nobody knows is passed over."""
        return seen_in(self.cleaned_data["seen"])
