"""A place, what warms it, and how much it holds."""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar, Unpack

from django import forms

from elder.web.garden.forms import NamedInGarden, TemperatureField
from elder.web.garden.models import Garden, Place
from elder.web.say.containers import CONTAINERS
from elder.web.say.units import length_in, length_sign, read_length, temperature_sign
from elder.web.ui.fields import Filled, FilledRow, Sent, choosing
from elder.web.ui.widgets import Stepper


class PlaceForm(NamedInGarden):
    """A place, what warms it, and how much it holds."""

    name_taken: ClassVar = "There is a place of that name already."

    class Meta:
        model = Place
        fields: ClassVar = ["name", "standing", "sheltered", "vents_shut"]
        labels: ClassVar = {
            "name": "Name of the place",
            "standing": "Where it is",
            "sheltered": "Out of the wind",
            "vents_shut": "Its cover or vents are kept shut: it warms by the sun of the day",
        }

    def __init__(self, data: Sent = None, *, units: str, garden: Garden, **rest: Unpack[FilledRow]) -> None:
        super().__init__(data, **rest)
        self.garden, self.units = garden, units
        sign = temperature_sign(units)
        for name, label, lift, required in (
            ("day_c", f"By day, 7 to 22 o'clock, {sign}", False, False),
            ("night_c", f"By night, {sign}", False, False),
            ("lift_day_c", f"Cover adds by day, {sign}", True, False),
            ("lift_night_c", f"Cover adds by night, {sign}", True, False),
            ("floor_c", f"A heat mat keeps it above, {sign}", False, False),
        ):
            field = TemperatureField(units=units, lift=lift, label=label, required=required)
            field.initial = getattr(self.instance, name)
            self.fields[name] = field

        for kind, words in CONTAINERS.items():
            self.fields[f"holds_{kind}"] = forms.IntegerField(
                label=f"In {words}",
                required=False,
                min_value=0,
                max_value=5000,
                initial=(self.instance.capacity or {}).get(kind),
                widget=forms.NumberInput(attrs={"inputmode": "numeric"}),
                error_messages={"invalid": "A whole number of cuttings.", "min_value": "Nought or more."},
            )

        for name, label in (("long_cm", "Long"), ("wide_cm", "Wide")):
            held = getattr(self.instance, name)
            self.fields[name] = forms.FloatField(
                label=f"{label}, {length_sign(units)}",
                required=False,
                initial=None if held is None else round(length_in(held, units), 1),
                widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "any"}),
                error_messages={"invalid": "A number, please."},
            )

    def capacity(self) -> Iterator[forms.BoundField]:
        """The fields that say how much it holds."""
        for kind in CONTAINERS:
            yield self[f"holds_{kind}"]

    def clean(self) -> dict[str, object]:
        """A room wants its two temperatures, a floor its two sides."""
        data = super().clean() or {}
        read_sides(self, data, self.units)
        if data.get("standing") == Place.Standing.ROOM:
            for name in ("day_c", "night_c"):
                if data.get(name) is None and name not in self.errors:
                    self.add_error(name, "A room wants its temperature, by day and by night.")
        return data

    def save(self, commit: bool = True) -> Place:
        """Write the temperatures onto the row; what was left empty keeps the row's own."""
        row: Place = super().save(commit=False)
        row.garden = self.garden
        for name in ("day_c", "night_c", "lift_day_c", "lift_night_c"):
            value = self.cleaned_data.get(name)
            if value is not None:
                setattr(row, name, value)
        row.floor_c = self.cleaned_data.get("floor_c")
        row.long_cm, row.wide_cm = self.cleaned_data.get("long_cm"), self.cleaned_data.get("wide_cm")
        held = {kind: self.cleaned_data.get(f"holds_{kind}") for kind in CONTAINERS}
        row.capacity = {kind: count for kind, count in held.items() if count is not None}
        if commit:
            row.save()
        return row


LEAST_CM, MOST_CM = 5.0, 5000.0


def read_sides(form: forms.BaseForm, data: dict[str, object], units: str) -> None:
    """Both sides of a floor in cm, or neither; what is wrong stands beside its field."""
    for name in ("long_cm", "wide_cm"):
        typed = data.get(name)
        if isinstance(typed, float):
            data[name] = read_length(typed, units)
            if not LEAST_CM <= read_length(typed, units) <= MOST_CM:
                form.add_error(name, "Between a hand's breadth and fifty metres.")
    if (data.get("long_cm") is None) != (data.get("wide_cm") is None) and not form.errors:
        form.add_error("wide_cm" if data.get("wide_cm") is None else "long_cm", "Measure both sides, or neither.")


class FloorForm(forms.Form):
    """A floor as it is measured, and what one would like to stand there besides."""

    long_cm = forms.FloatField()
    wide_cm = forms.FloatField()
    vessel = forms.ChoiceField(label="Would more fit?", required=False)
    many = forms.IntegerField(label="How many", required=False, min_value=0, max_value=2000, widget=Stepper)

    def __init__(
        self, data: Sent = None, *, units: str, vessels: list[tuple[str, str]], **rest: Unpack[Filled]
    ) -> None:
        super().__init__(data, **rest)
        self.units = units
        for name, label in (("long_cm", "Long"), ("wide_cm", "Wide")):
            self.fields[name] = forms.FloatField(
                label=f"{label}, {length_sign(units)}",
                widget=Stepper(attrs={"inputmode": "decimal", "step": "any"}),
                error_messages={"required": "Measure it.", "invalid": "A number, please."},
            )
        choosing(self, "vessel").choices = [("", "nothing more"), *vessels]

    def clean(self) -> dict[str, object]:
        """In cm."""
        data = super().clean() or {}
        read_sides(self, data, self.units)
        return data
