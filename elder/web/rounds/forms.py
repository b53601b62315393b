"""Forms of the round: a look with its signs, and a deed done to several batches at once."""

from __future__ import annotations

from datetime import date
from typing import Unpack

from django import forms

from elder.engine.round.care import DEEDS
from elder.engine.round.verdicts import table
from elder.web.batches.forms import BenchForm
from elder.web.batches.models import Entry
from elder.web.say.units import US, length_sign, read_length, shown_length
from elder.web.ui.fields import Files, Filled, FilledDay, Sent, choosing, count_field, day_field
from elder.web.ui.photos import PhotoField

MOST_ROOT_CM = 60


class SignsForm(BenchForm):
    """A look: how many newly rooted, how many lost and why, the signs that were seen, the longest root, a photo, and
    the last entry that was known of."""

    on = day_field("Looked on")
    rooted = count_field("Newly rooted", least=0, required=False)
    lost = count_field("Lost", least=0, required=False)
    stage = forms.ChoiceField(label="Which of them", required=False)
    why = forms.ChoiceField(label="Why lost", choices=Entry.Why, required=False, initial=Entry.Why.UNKNOWN)
    note = forms.CharField(
        label="Note", required=False, max_length=2000, widget=forms.Textarea(attrs={"rows": 2}), strip=True
    )
    signs = forms.MultipleChoiceField(
        label="What do you see?", required=False, error_messages={"invalid_choice": "That is not one of the signs."}
    )
    root_cm = forms.FloatField(
        label="Longest root, cm",
        required=False,
        min_value=0,
        max_value=MOST_ROOT_CM,
        error_messages={"invalid": "A length in centimetres.", "max_value": f"At most {MOST_ROOT_CM} cm."},
    )
    photo = PhotoField()
    seen = forms.IntegerField(required=False, widget=forms.HiddenInput)

    def __init__(
        self,
        data: Sent = None,
        files: Files = None,
        *,
        stages: list[tuple[str, str]],
        units: str = "",
        **rest: Unpack[FilledDay],
    ) -> None:
        super().__init__(data, files, **rest)
        self.units = units
        length = self.fields["root_cm"]
        length.label = f"Longest root, {length_sign(units)}"
        length.error_messages["invalid"] = f"A length in {'inches' if units == US else 'centimetres'}."
        stage = choosing(self, "stage")
        signs = choosing(self, "signs")
        stage.choices, signs.choices = stages, table().signs

    def clean_root_cm(self) -> float | None:
        """The length in cm."""
        typed: float | None = self.cleaned_data["root_cm"]
        length = typed if typed is None else read_length(typed, self.units)
        if length and length > MOST_ROOT_CM:
            raise forms.ValidationError(f"At most {shown_length(MOST_ROOT_CM, self.units)}.")
        return length

    def entries(self) -> list[Entry]:
        """The entries the look comes to; what was seen goes on the first. Only for a form that is valid."""
        data, made = self.cleaned_data, []
        on, stage, length = data["on"], data["stage"], data["root_cm"] or 0
        if data["rooted"]:
            made.append(Entry(kind=Entry.Kind.ROOTED, on=on, count=data["rooted"], stage=stage))
        if data["lost"]:
            why = data["why"] or Entry.Why.UNKNOWN
            made.append(Entry(kind=Entry.Kind.LOST, on=on, count=data["lost"], stage=stage, why=why))
        if not made:
            made.append(Entry(kind=Entry.Kind.LOOKED, on=on, stage=stage))
        made[0].signs = " ".join(sorted({*data["signs"], *(["root_length"] if length else [])}))
        made[0].root_cm, made[0].note = length, data["note"]
        return made


class DoneForm(forms.Form):
    """A deed and the batches it was done to. ``key`` tells one press from two."""

    deed = forms.ChoiceField(choices=[(deed, deed) for deed in DEEDS])
    batch = forms.TypedMultipleChoiceField(coerce=int)
    key = forms.UUIDField()
    on = forms.DateField(required=False)

    def __init__(self, data: Sent = None, *, batches: list[int], today: date, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.today = today
        chosen = choosing(self, "batch")
        chosen.choices = [(pk, str(pk)) for pk in batches]

    def clean_on(self) -> date:
        """The day it was done: today, unless a phone that was out of reach sends it later."""
        on: date | None = self.cleaned_data["on"]
        return min(on or self.today, self.today)
