"""Fields and forms that several rooms ask with: a day, a count, a form of one day."""

from __future__ import annotations

from collections.abc import Mapping, MutableMapping
from datetime import date
from typing import TYPE_CHECKING, Required, TypeAlias, TypedDict, Unpack, cast
from uuid import uuid4

from django import forms
from django.db.models import Model

if TYPE_CHECKING:
    from django.core.files.uploadedfile import UploadedFile
    from django.utils.datastructures import MultiValueDict

from elder.web.say.words import day_words
from elder.web.ui.widgets import Stepper

MOST_TAKEN = 500

# What a form is filled from: what was posted, what an address asks, or values of our own; and the files beside it.
Sent: TypeAlias = "Mapping[str, object] | None"
Files: TypeAlias = "MultiValueDict[str, UploadedFile[bytes]] | None"


class Filled(TypedDict, total=False):
    """What any form may start with."""

    initial: MutableMapping[str, object]
    prefix: str


class FilledRow(Filled, total=False):
    """And one over a row: the row, or none for a new one."""

    instance: Model | None


class FilledDay(Filled, total=False):
    """And one of a day: today, which no day may lie after."""

    today: Required[date]


def choosing(form: forms.BaseForm, name: str) -> forms.ChoiceField:
    """A field of a form with a list of its own to choose from."""
    return cast(forms.ChoiceField, form.fields[name])


def choosing_row(form: forms.BaseForm, name: str) -> forms.ModelChoiceField[Model]:
    """A field of a form with rows to choose from."""
    return cast("forms.ModelChoiceField[Model]", form.fields[name])


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


class DatedForm(forms.Form):
    """A form whose day may lie back but not ahead. Its key tells one press from two."""

    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)

    def __init__(self, data: Sent = None, files: Files = None, *, today: date, **rest: Unpack[Filled]) -> None:
        super().__init__(data, files, **rest)
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
