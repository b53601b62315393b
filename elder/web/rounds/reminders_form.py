"""How a person is reminded: alarms in the calendar, a letter in the morning."""

from __future__ import annotations

from typing import ClassVar

from django import forms
from django.core.exceptions import ValidationError

from elder.web.garden.models import Person
from elder.web.rounds.models import Reminders
from elder.web.ui.fields import Sent

HOURS = tuple((hour, f"from {hour} o’clock") for hour in range(4, 11))


def reminders_of(person: Person) -> Reminders:
    """A person's own, kept or not yet."""
    return Reminders.objects.filter(person=person).first() or Reminders(person=person)


def alarm_of(person: Person) -> int | None:
    """The alarm a person wants on each date, in hours from its midnight; nothing for none."""
    return Reminders.objects.filter(person=person).values_list("alarm_hours", flat=True).first()


class RemindersForm(forms.ModelForm):  # type: ignore[type-arg]
    """Alarms and the morning letter, with the address it goes to."""

    class Meta:
        model = Reminders
        fields: ClassVar = ["alarm_hours", "letter", "letter_from_hour"]
        labels: ClassVar = {"alarm_hours": "An alarm on each date of the calendar", "letter": "A letter each morning"}

    email = forms.EmailField(
        label="To this address",
        required=False,
        error_messages={"invalid": "An address such as name@example.org."},
        widget=forms.EmailInput(attrs={"autocomplete": "email"}),
    )
    letter_from_hour = forms.TypedChoiceField(label="Sent", coerce=int, choices=HOURS)

    def __init__(self, data: Sent = None, *, instance: Reminders, person: Person) -> None:
        super().__init__(data, instance=instance)
        self.person = person
        self.fields["email"].initial = person.email
        alarm = self.fields["alarm_hours"]
        assert isinstance(alarm, forms.TypedChoiceField)  # noqa: S101 - what Django makes of a column with choices
        alarm.choices = [("", "none"), *Reminders.Alarm.choices]

    def clean(self) -> dict[str, object]:
        """A letter wants somewhere to go."""
        data = super().clean() or {}
        if data.get("letter") and not data.get("email") and "email" not in self.errors:
            self.add_error("email", ValidationError("Where to? Give an address."))
        return data

    def keep(self, *, origin: str) -> Reminders:
        """Keep them, with where Elder was reached, so that a letter's links lead back here."""
        self.person.email = self.cleaned_data["email"]
        self.person.save(update_fields=["email"])
        row: Reminders = self.save(commit=False)
        row.origin = origin
        row.save()
        return row
