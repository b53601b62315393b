"""A mother plant."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from elder.engine.handbook import clonable
from elder.web.garden.forms import NamedInGarden
from elder.web.garden.models import Garden
from elder.web.stock.models import StockPlant
from elder.web.ui.widgets import Stepper


class StockForm(NamedInGarden):
    """Its name, what it is, what it gives. What is left empty is the handbook's."""

    name_taken: ClassVar = "There is a mother plant of that name already."
    plant = forms.ChoiceField(label="Plant")

    class Meta:
        model = StockPlant
        fields: ClassVar = ["name", "plant", "variety", "gives", "again_days"]
        labels: ClassVar = {
            "name": "What you call it",
            "variety": "Variety, if you like",
            "gives": "Cuttings it gives at a time",
            "again_days": "Days until it gives as many again",
        }
        widgets: ClassVar = {"gives": Stepper, "again_days": Stepper}
        error_messages: ClassVar = {
            "name": {"required": "Give it a name, so that its line can be told later."},
            "gives": {"min_value": "At least one.", "max_value": "At most 500.", "invalid": "A whole number, please."},
            "again_days": {
                "min_value": "At least a day.", "max_value": "At most 1500 days.", "invalid": "A whole number, please.",
            },
        }  # fmt: skip

    def __init__(self, *args: Any, garden: Garden, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.garden = garden
        plants: Any = self.fields["plant"]
        plants.choices = [(plant.slug, plant.name) for plant in clonable().values()]
        for name in ("gives", "again_days"):
            self.fields[name].required = False
            self.fields[name].help_text = "Left empty: what the handbook says."

    def clean(self) -> dict[str, Any]:
        """What was left empty comes from the handbook."""
        data = super().clean() or {}
        plant = clonable().get(data.get("plant", ""))
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
