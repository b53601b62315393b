"""Fields and forms that several rooms ask with: a day, a count, a form of one day."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import uuid4

from django import forms

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


class DatedForm(forms.Form):
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
