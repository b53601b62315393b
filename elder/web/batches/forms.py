"""Forms of the bench: taking a batch, a look, a move, a correction."""

from __future__ import annotations

from datetime import date
from typing import Any, ClassVar
from uuid import uuid4

from django import forms

from elder.web.batches.models import Entry
from elder.web.garden.models import Garden
from elder.web.say.words import day_words
from elder.web.ui.widgets import Stepper

MOST_TAKEN = 500


def day_field(label: str = "Day") -> forms.DateField:
    """A day, with sentences for what is not one."""
    return forms.DateField(
        label=label,
        widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
        error_messages={"required": "Say on which day.", "invalid": "That is not a day of the calendar."},
    )


def count_field(label: str, *, least: int = 1, most: int = MOST_TAKEN, required: bool = True) -> forms.IntegerField:
    """A count between two bounds."""
    return forms.IntegerField(
        label=label,
        min_value=least,
        max_value=most,
        required=required,
        widget=Stepper,
        error_messages={
            "required": "Say how many.",
            "invalid": "A whole number, please.",
            "min_value": f"At least {least}.",
            "max_value": f"At most {most}.",
        },
    )


class Dated(forms.Form):
    """A form whose day may lie back but not ahead. Its key tells one press from two."""

    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)

    def __init__(self, *args: Any, today: date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.today = today
        self.fields["on"].initial = today
        self.fields["on"].widget.attrs["max"] = today.isoformat()

    def clean_on(self) -> date:
        """Refuse a day that is still to come."""
        on: date = self.cleaned_data["on"]
        if on > self.today:
            raise forms.ValidationError(
                f"{day_words(on, self.today)} is still to come. Today is {day_words(self.today)}."
            )
        return on


class TakeForm(Dated):
    """What was really taken."""

    on = day_field("Cut on")
    count = count_field("How many")
    stock_plant = forms.CharField(
        label="From which plant",
        max_length=80,
        error_messages={"required": "Name the plant they were cut from, so that its line can be told later."},
    )
    rooting_place: Any = forms.ModelChoiceField(None, label="Into which place", empty_label=None)
    growing_place: Any = forms.ModelChoiceField(None, label="Then grown on at", empty_label=None)

    def __init__(self, *args: Any, garden: Garden, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name in ("rooting_place", "growing_place"):
            place: Any = self.fields[name]
            place.queryset = garden.places.all()
            place.error_messages["invalid_choice"] = "Choose a place of this garden."


class BenchForm(Dated):
    """A form that comes to entries in a batch's history."""

    def entries(self) -> list[Entry]:
        """The entries it comes to. Only for a form that is valid."""
        raise NotImplementedError


class MoveForm(BenchForm):
    """Some that go on to the next stage."""

    on = day_field("On")
    count = count_field("How many")

    kinds: ClassVar = {
        "pot-on": Entry.Kind.POTTED,
        "harden": Entry.Kind.HARDENING,
        "plant-out": Entry.Kind.PLANTED,
        "give": Entry.Kind.GIVEN,
        "pot-up": Entry.Kind.POTTED_UP,
    }

    def entries(self) -> list[Entry]:
        """One move. The form's prefix is its verb."""
        data = self.cleaned_data
        return [Entry(kind=self.kinds[str(self.prefix)], on=data["on"], count=data["count"])]


class HarvestForm(BenchForm):
    """The first harvest."""

    on = day_field("First harvest on")

    def entries(self) -> list[Entry]:
        """The harvest."""
        return [Entry(kind=Entry.Kind.HARVESTED, on=self.cleaned_data["on"])]


class NoteForm(BenchForm):
    """Something to remember that changes nothing."""

    on = day_field("On")
    note = forms.CharField(
        label="Note",
        max_length=2000,
        widget=forms.Textarea(attrs={"rows": 3}),
        error_messages={"required": "Write the note first."},
    )

    def entries(self) -> list[Entry]:
        """The note."""
        return [Entry(kind=Entry.Kind.NOTE, on=self.cleaned_data["on"], note=self.cleaned_data["note"])]


class CorrectForm(Dated):
    """Put an entry right, or strike it."""

    on = day_field("The right day")
    count = count_field("The right number", required=False)
    note = forms.CharField(
        label="Why, if you like", required=False, max_length=2000, widget=forms.Textarea(attrs={"rows": 2})
    )

    def __init__(self, *args: Any, entry: Entry, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.entry = entry
        self.fields["on"].initial = entry.on
        if entry.count:
            self.fields["count"].initial = entry.count
            self.fields["count"].required = True
        else:
            del self.fields["count"]

    def replacement(self, *, strike: bool) -> Entry:
        """The new entry that strikes the old one, alone or in its place."""
        old, data = self.entry, self.cleaned_data
        if strike:
            return Entry(kind=Entry.Kind.STRUCK, on=old.on, note=data.get("note", ""), strikes=old)
        return Entry(
            kind=old.kind,
            on=data["on"],
            count=data.get("count") or 0,
            stage=old.stage,
            why=old.why,
            note=data.get("note") or old.note,
            strikes=old,
        )
