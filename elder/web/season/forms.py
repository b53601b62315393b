"""The want sheet."""

from __future__ import annotations

from datetime import date
from typing import Any, ClassVar

from django import forms

from elder.engine.handbook import handbook
from elder.web.garden.models import Garden
from elder.web.season.models import Want
from elder.web.ui.widgets import Stepper

SURE = ((0.5, "even chance"), (0.75, "3 in 4"), (0.8, "8 in 10"), (0.9, "9 in 10"), (0.95, "19 in 20"))


class WantForm(forms.ModelForm):  # type: ignore[type-arg]
    """A want as a person says it. "By" is empty for as soon as it is safe."""

    plant = forms.ChoiceField(label="Plant")
    when = forms.ChoiceField(
        label="Ready", choices=(("safe", "as soon as it is safe"), ("by", "by a day")), widget=forms.RadioSelect
    )
    confidence = forms.TypedChoiceField(label="How sure", choices=SURE, coerce=float)

    class Meta:
        model = Want
        fields: ClassVar = [
            "plant",
            "variety",
            "wanted",
            "when",
            "by",
            "confidence",
            "purpose",
            "rooting_place",
            "growing_place",
            "stock",
            "cut_on",
        ]
        labels: ClassVar = {
            "variety": "Variety, if you like",
            "wanted": "How many good plants",
            "by": "The day",
            "purpose": "For",
            "rooting_place": "Root them at",
            "growing_place": "Grow them on at",
            "stock": "The mother stands",
        }
        widgets: ClassVar = {
            "by": forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
            "cut_on": forms.HiddenInput,
            "wanted": Stepper,
        }
        error_messages: ClassVar = {
            "wanted": {
                "required": "Say how many plants you want.",
                "invalid": "How many plants? A whole number, please.",
                "min_value": "At least one plant.",
                "max_value": "At most 200 plants to a want; make two wants of it.",
            },
            "by": {"invalid": "That is not a day of the calendar."},
            "rooting_place": {
                "required": "Choose where they root.",
                "invalid_choice": "Choose a place of this garden.",
            },
            "growing_place": {
                "required": "Choose where they grow on.",
                "invalid_choice": "Choose a place of this garden.",
            },
        }

    def __init__(self, *args: Any, garden: Garden, today: date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.garden, self.today = garden, today
        plants: Any = self.fields["plant"]
        plants.choices = [(plant.slug, plant.name) for plant in handbook().values()]
        for name in ("rooting_place", "growing_place"):
            place: Any = self.fields[name]
            place.queryset = garden.places.all()
            place.empty_label = None
        self.fields["when"].required = False
        self.fields["cut_on"].required = False

    def clean(self) -> dict[str, Any]:
        """A chosen day needs its date; without one the date is left out."""
        data = super().clean() or {}
        if data.get("when") == "by" and not data.get("by") and "by" not in self.errors:
            self.add_error("by", "Choose the day, or take “as soon as it is safe”.")
        if data.get("when") != "by":
            data["by"] = None
        return data

    def build(self) -> Want:
        """The row as filled in, unsaved. Only for a form that is valid."""
        row: Want = super().save(commit=False)
        row.garden = self.garden
        row.method = handbook()[row.plant].methods[0].slug
        return row
