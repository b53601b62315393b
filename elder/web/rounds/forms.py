"""Forms of the round: a look with its signs, and a deed done to several batches at once."""

from __future__ import annotations

from datetime import date
from typing import Any

from django import forms

from elder.engine.care import DEEDS
from elder.engine.verdicts import table
from elder.web.batches.forms import LookForm
from elder.web.batches.models import Entry
from elder.web.rounds.photos import FitPhoto, NotAPhotoError, fit_photo
from elder.web.ui.widgets import Stepper

MOST_ROOT_CM = 60


class SignsForm(LookForm):
    """A look: counts, the signs that were seen, the longest root, a photo, and the last entry that was known of."""

    signs = forms.MultipleChoiceField(
        label="What do you see?", required=False, error_messages={"invalid_choice": "That is not one of the signs."}
    )
    root_cm = forms.FloatField(
        label="Longest root, cm",
        required=False,
        min_value=0,
        max_value=MOST_ROOT_CM,
        widget=Stepper({"min": 0, "max": MOST_ROOT_CM, "inputmode": "decimal"}),
        error_messages={"invalid": "A length in centimetres.", "max_value": f"At most {MOST_ROOT_CM} cm."},
    )
    photo = forms.FileField(
        label="A photo",
        required=False,
        widget=forms.FileInput(attrs={"accept": "image/*", "capture": "environment"}),
    )
    seen = forms.IntegerField(required=False, widget=forms.HiddenInput)

    def __init__(self, *args: Any, today: date, stages: list[tuple[str, str]], **kwargs: Any) -> None:
        super().__init__(*args, today=today, stages=stages, **kwargs)
        signs: Any = self.fields["signs"]
        signs.choices = table().signs
        self.fields["stage"].label = "Which of them"

    def clean_photo(self) -> FitPhoto | None:
        """The photo made fit to keep."""
        sent = self.cleaned_data["photo"]
        if not sent:
            return None
        try:
            return fit_photo(sent)
        except NotAPhotoError as error:
            raise forms.ValidationError(str(error)) from error

    def entries(self) -> list[Entry]:
        """The entries the look comes to; what was seen goes on the first."""
        made = super().entries()
        data = self.cleaned_data
        length = data["root_cm"] or 0
        made[0].signs = " ".join(sorted({*data["signs"], *(["root_length"] if length else [])}))
        made[0].root_cm = length
        made[0].stage = made[0].stage or data["stage"]
        return made


class DoneForm(forms.Form):
    """A deed and the batches it was done to. ``key`` tells one press from two."""

    deed = forms.ChoiceField(choices=[(deed, deed) for deed in DEEDS])
    batch = forms.TypedMultipleChoiceField(coerce=int)
    key = forms.UUIDField()
    on = forms.DateField(required=False)

    def __init__(self, *args: Any, batches: list[int], today: date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.today = today
        chosen: Any = self.fields["batch"]
        chosen.choices = [(pk, str(pk)) for pk in batches]

    def clean_on(self) -> date:
        """The day it was done: today, unless a phone that was out of reach sends it later."""
        on: date | None = self.cleaned_data["on"]
        return min(on or self.today, self.today)
