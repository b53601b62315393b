"""A mother plant."""

from __future__ import annotations

from datetime import date
from typing import ClassVar, Unpack

from django import forms

from elder.web.garden.forms import NamedInGarden
from elder.web.garden.models import Garden
from elder.web.read.handbook import clonable_here
from elder.web.say.words import day_words
from elder.web.stock.models import StockLook, StockPlant
from elder.web.ui.fields import (
    DatedForm,
    Files,
    FilledDay,
    FilledRow,
    Sent,
    choosing,
    choosing_row,
    count_field,
    day_field,
)
from elder.web.ui.photos import PhotoField
from elder.web.ui.widgets import Stepper


class StockForm(NamedInGarden):
    """Its name, what it is, what it gives. What is left empty is the handbook's."""

    name_taken: ClassVar = "There is a mother plant of that name already."
    plant = forms.ChoiceField(label="Plant")

    class Meta:
        model = StockPlant
        fields: ClassVar = [
            "name", "plant", "variety", "origin", "place", "since", "gives", "again_days", "note",
        ]  # fmt: skip
        labels: ClassVar = {
            "origin": "Where it came from",
            "place": "Where it stands",
            "since": "Here since",
            "note": "Note",
            "name": "What you call it",
            "variety": "Variety, if you like",
            "gives": "Cuttings it gives at a time",
            "again_days": "Days until it gives as many again",
        }
        widgets: ClassVar = {
            "gives": Stepper,
            "again_days": Stepper,
            "since": forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
            "note": forms.Textarea(attrs={"rows": 2}),
        }
        error_messages: ClassVar = {
            "since": {"invalid": "That is not a day of the calendar."},
            "place": {"invalid_choice": "Choose a place of this garden."},
            "name": {"required": "Give it a name, so that its line can be told later."},
            "gives": {"min_value": "At least one.", "max_value": "At most 500.", "invalid": "A whole number, please."},
            "again_days": {
                "min_value": "At least a day.", "max_value": "At most 1500 days.", "invalid": "A whole number, please.",
            },
        }  # fmt: skip

    def __init__(self, data: Sent = None, *, garden: Garden, today: date, **rest: Unpack[FilledRow]) -> None:
        super().__init__(data, **rest)
        self.garden, self.today = garden, today
        place = choosing_row(self, "place")
        place.queryset, place.empty_label = garden.places.all(), "elsewhere in the garden"
        if self.instance.pk is None or self.instance.raised_from_id is None:  # only Elder knows which batch
            origin = choosing(self, "origin")
            origin.choices = [one for one in StockPlant.Origin.choices if one[0] != StockPlant.Origin.OURS]
        plants = choosing(self, "plant")
        plants.choices = [(plant.slug, plant.name) for plant in clonable_here(garden).values()]
        self.fields["origin"].required = False
        if self.instance.pk and self.instance.takes.exists():
            self.fields["plant"].disabled = True  # what was cut from it is of that plant
        for name in ("gives", "again_days"):
            self.fields[name].required = False
            self.fields[name].help_text = "Left empty: what the handbook says."

    def clean_since(self) -> date | None:
        """A plant cannot have come after today."""
        since: date | None = self.cleaned_data["since"]
        if since and since > self.today:
            raise forms.ValidationError(f"{day_words(since, self.today)} is still to come.")
        return since

    def clean(self) -> dict[str, object]:
        """What was left empty comes from the handbook."""
        data = super().clean() or {}
        data["origin"] = data.get("origin") or self.instance.origin or StockPlant.Origin.THERE
        plant = clonable_here(self.garden).get(data.get("plant", ""))
        if plant:
            for name, usual in (("gives", plant.gives), ("again_days", plant.again_days)):
                if data.get(name) is None and name not in self.errors:
                    data[name] = usual
        return data

    def save(self, commit: bool = True) -> StockPlant:
        """The row, in its garden."""
        row: StockPlant = super().save(commit=False)
        row.garden = self.garden
        if commit:
            row.save()
        return row


MOST_COUNTED = 2000


class LookForm(DatedForm):
    """A mother as it is seen: growth, wood, health, what was counted, a note, a photo."""

    on = day_field("Looked on")
    growth = forms.ChoiceField(label="It is", choices=StockLook.Growth, widget=forms.RadioSelect, initial="growing")
    health = forms.ChoiceField(label="Its health", choices=StockLook.Health, widget=forms.RadioSelect, initial="well")
    wood = forms.ChoiceField(
        label="Its young wood is", choices=[("", "not looked at"), *StockLook.Wood.choices], required=False
    )
    shoots = count_field("Shoots fit to cut", least=0, most=MOST_COUNTED, required=False)
    pups = count_field("Pups", least=0, most=MOST_COUNTED, required=False)
    stalks = count_field("Stalks standing", least=0, most=MOST_COUNTED, required=False)
    note = forms.CharField(
        label="Note", required=False, max_length=2000, widget=forms.Textarea(attrs={"rows": 2}), strip=True
    )
    photo = PhotoField()

    def __init__(self, data: Sent = None, files: Files = None, *, has_pups: bool, **rest: Unpack[FilledDay]) -> None:
        super().__init__(data, files, **rest)
        for name in ("pups", "stalks") if not has_pups else ():
            del self.fields[name]
        self.fields["shoots"].help_text = "Left empty: as it was."

    @property
    def look(self) -> StockLook:
        """The look, not yet kept. Only for a form that is valid."""
        plain = ("key", "on", "growth", "health", "wood", "shoots", "pups", "stalks", "note")
        return StockLook(**{name: self.cleaned_data.get(name) for name in plain})


class EndForm(DatedForm):
    """That a mother is no more."""

    on = day_field("On")
    why = forms.ChoiceField(label="What became of it", choices=StockPlant.Ended)
