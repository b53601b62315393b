"""The want sheet."""

from __future__ import annotations

import math
from datetime import date
from typing import ClassVar, Final, Unpack, cast

from django import forms

from elder.engine.handbook.model import Plant
from elder.web.garden.models import Garden
from elder.web.read.handbook import clonable_here
from elder.web.say.words import in_ten
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from elder.web.ui.fields import FilledRow, Sent, choosing, choosing_row
from elder.web.ui.widgets import Stepper

MEASURED: Final = {"hedge": ("hedge_m", "hedge_each"), "patch": ("patch_m2", "patch_each")}
MOST_PLANTS = 200
MOST_NIGHTS = 200  # on which anybody would carry pots in

SURE = ((0.5, "even chance"), (0.75, "3 in 4"), (0.8, "8 in 10"), (0.9, "9 in 10"), (0.95, "19 in 20"))


def _measure(label: str, *, start: float | None = None) -> forms.FloatField:
    """A length, an area or a density, for a number of plants."""
    return forms.FloatField(
        label=label,
        required=False,
        min_value=0.1,
        max_value=500,
        initial=start,
        widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "any"}),
        error_messages={"invalid": "A number, please.", "min_value": "More than nothing.", "max_value": "At most 500."},
    )


class WantForm(forms.ModelForm):  # type: ignore[type-arg]
    """A want as a person says it. "By" is empty for as soon as it is safe."""

    plant = forms.ChoiceField(label="Plant")
    when = forms.ChoiceField(
        label="Ready", choices=(("safe", "as soon as it is safe"), ("by", "by a day")), widget=forms.RadioSelect
    )
    confidence = forms.TypedChoiceField(label="How sure", choices=SURE, coerce=float)
    method = forms.CharField(label="Rooted", required=False, widget=forms.Select)
    ask = forms.ChoiceField(
        label="Ask for",
        required=False,
        choices=(
            ("wanted", "so many plants"),
            ("cuttings", "as many as I can"),
            ("hedge", "a hedge"),
            ("patch", "a patch"),
        ),
        widget=forms.RadioSelect,
    )
    hedge_m = _measure("Metres of hedge")
    hedge_each = _measure("Plants to the metre", start=3)
    patch_m2 = _measure("Square metres to cover")
    patch_each = _measure("Plants to the square metre", start=6)
    # So many nights and for which plant, as the press says it: "33 rosemary".
    carry_nights = forms.CharField(required=False, max_length=60, widget=forms.HiddenInput)
    lots = forms.IntegerField(
        label="In how many lots", required=False, min_value=1, max_value=6, initial=1, widget=Stepper,
        error_messages={"min_value": "One lot at least.", "max_value": "Six lots at most."},
    )  # fmt: skip
    apart_days = forms.IntegerField(
        label="Days between lots", required=False, min_value=3, max_value=120, initial=21, widget=Stepper,
        error_messages={"min_value": "Three days at least.", "max_value": "120 days at most."},
    )  # fmt: skip

    class Meta:
        model = Want
        fields: ClassVar = [
            "plant",
            "variety",
            "wanted",
            "cuttings",
            "spares",
            "when",
            "by",
            "confidence",
            "purpose",
            "rooting_place",
            "growing_place",
            "stock",
            "mother",
            "cut_on",
            "carry_nights",
        ]
        labels: ClassVar = {
            "variety": "Variety, if you like",
            "wanted": "How many good plants",
            "cuttings": "As many as so many cuttings give",
            "spares": "Spares besides",
            "by": "The day",
            "purpose": "For",
            "rooting_place": "Root them at",
            "growing_place": "Grow them on at",
            "stock": "The mother stands",
            "mother": "Cut from",
        }
        widgets: ClassVar = {
            "by": forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
            "cut_on": forms.HiddenInput,
            "wanted": Stepper,
            "cuttings": Stepper,
            "spares": Stepper,
        }
        error_messages: ClassVar = {
            "wanted": {
                "required": "Say how many plants you want.",
                "invalid": "How many plants? A whole number, please.",
                "min_value": "At least one plant.",
                "max_value": "At most 200 plants to a want; make two wants of it.",
            },
            "cuttings": {
                "invalid": "How many cuttings? A whole number, please.",
                "min_value": "At least one cutting.",
                "max_value": "At most 500 cuttings.",
            },
            "spares": {"invalid": "A whole number of spares, please.", "max_value": "At most 50 spares."},
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

    def __init__(self, data: Sent = None, *, garden: Garden, today: date, **rest: Unpack[FilledRow]) -> None:
        super().__init__(data, **rest)
        self.garden, self.today = garden, today
        plants = choosing(self, "plant")
        self.plants = clonable_here(garden)
        plants.choices = [(plant.slug, plant.name) for plant in self.plants.values()]
        chosen = self.plants.get(self["plant"].value() or "", next(iter(self.plants.values())))
        methods = cast(forms.Select, self.fields["method"].widget)
        methods.choices = [(way.slug, f"{way.name}, {in_ten(way.take.mean)} take") for way in chosen.ways]
        if self.instance.lots > 1:  # one lot of several is changed by itself
            del self.fields["lots"], self.fields["apart_days"]
        for name in ("rooting_place", "growing_place"):
            place = choosing_row(self, name)
            place.queryset = garden.places.all()
            place.empty_label = None
        mother = choosing_row(self, "mother")
        mother.queryset = StockPlant.objects.filter(garden=garden)
        mother.empty_label = "any mother"
        mother.error_messages["invalid_choice"] = "Choose a mother plant of this garden."
        for name in ("when", "cut_on", "carry_nights", "wanted", "cuttings", "spares"):
            self.fields[name].required = False

    @property
    def plant_chosen(self) -> Plant:
        """The plant chosen. Only for a form that is valid."""
        return self.plants[self.cleaned_data["plant"]]

    @property
    def asks_for_more(self) -> bool:
        """Spares or lots are asked for, or something is wrong with them: what is seldom used stands open then."""
        wrong = any(self[name].errors for name in ("spares", "lots", "apart_days") if name in self.fields)
        lots = self["lots"].value() or 1 if "lots" in self.fields else 1
        return wrong or bool(self["spares"].value()) or str(lots) != "1"

    def clean(self) -> dict[str, object]:
        """A chosen day needs its date; without one the date is left out."""
        data = super().clean() or {}
        if data.get("when") == "by" and not data.get("by") and "by" not in self.errors:
            self.add_error("by", "Choose the day, or take “as soon as it is safe”.")
        if data.get("when") != "by":
            data["by"] = None
        self._how_many()
        mother = data.get("mother")
        if mother and mother.plant != data.get("plant"):
            data["mother"] = None  # left over from another plant, as a way would be
        data["spares"] = data.get("spares") or 0
        return data

    def clean_carry_nights(self) -> int | None:
        """The nights that were promised, where they were for this plant; what is no such promise is none."""
        nights, _, plant = str(self.cleaned_data.get("carry_nights", "")).partition(" ")
        kept = nights.isdecimal() and int(nights) <= MOST_NIGHTS and plant == self.data.get("plant")
        return int(nights) if kept else None

    def _how_many(self) -> None:
        """Either so many plants, or as many as so many cuttings give."""
        data = self.cleaned_data
        if data.get("ask") == "cuttings":
            if not data.get("cuttings") and "cuttings" not in self.errors:
                self.add_error("cuttings", "Say how many cuttings the mother can give.")
            data["wanted"], data["spares"], data["lots"] = data.get("wanted") or 1, 0, 1
            return
        data["cuttings"] = None
        if data.get("ask") in MEASURED:
            self._as_many_as_fit(*MEASURED[data["ask"]])
        if data.get("wanted") is None and "wanted" not in self.errors:
            self.add_error("wanted", "Say how many plants you want.")
        if (data.get("lots") or 1) > (data.get("wanted") or 1):
            self.add_error("lots", f"{data['lots']} lots of {data['wanted']}: each lot wants a plant.")

    def _as_many_as_fit(self, size: str, each: str) -> None:
        """A hedge or a patch as a number of plants."""
        data = self.cleaned_data
        for name in (size, each):
            if data.get(name) is None and name not in self.errors:
                self.add_error(name, "Say how much.")
        if data.get(size) and data.get(each):
            count = math.ceil(data[size] * data[each] - 1e-9)
            if count > MOST_PLANTS:
                self.add_error(size, f"That is {count} plants; at most {MOST_PLANTS} to a want. Make two of it.")
            data["wanted"] = min(count, MOST_PLANTS)

    def build(self) -> Want:
        """The row as filled in, unsaved. Only for a form that is valid."""
        row: Want = super().save(commit=False)
        row.garden = self.garden
        # A way left over from another plant is no choice: the plant's usual way then.
        ways = {way.slug for way in self.plant_chosen.ways}
        asked = self.cleaned_data.get("method", "")
        row.method = asked if asked in ways else self.plant_chosen.ways[0].slug
        return row

    def series(self) -> tuple[int, int]:
        """In how many lots, how many days apart. Only for a form that is valid."""
        return self.cleaned_data.get("lots") or 1, self.cleaned_data.get("apart_days") or 21
