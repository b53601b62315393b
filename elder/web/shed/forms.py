"""What the shed asks: how much there is, how a thing is bought, what is to be mixed, containers and recipes."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Final, Unpack
from uuid import uuid4

from django import forms

from elder.engine.shed.containers import STEM
from elder.engine.shed.kit import Kit
from elder.engine.shed.mix import SETTLE
from elder.engine.shed.recipes import mix_parts
from elder.engine.shed.shapes import SHAPES
from elder.engine.shed.uses import GEL, POWDER
from elder.engine.shed.vessels import Vessel, vessel_of
from elder.web.say.containers import vessel_words
from elder.web.say.shed import measure_of, thing_words
from elder.web.say.units import US, length_sign, read_length, read_volume
from elder.web.shed.models import MOST
from elder.web.ui.fields import Filled, Sent, choosing, count_field, day_field

MOST_MIXED: Final = 2000  # containers at a time
MOST_CM: Final = 2000.0
SHAPE_CHOICES: Final = (
    ("frustum", "round, narrower at the foot"),
    ("square frustum", "square, narrower at the foot"),
    ("cylinder", "round, straight up"),
    ("box", "a box"),
)
KIND_CHOICES: Final = (("pot", "pots"), ("jar", "jars of water"), ("tray", "trays"), ("bin", "bins"))
NUMBER: Final = {"inputmode": "decimal", "step": "any"}
WRONG: Final = {"invalid": "A number, please.", "min_value": "Nought or more.", "required": "Say how much."}
WET_KG: Final = 1.2  # a litre of wet mix of a recipe nobody weighed (from memory: 1.1 to 1.4)


def amount_field(label: str, *, required: bool = False, least: float = 0, most: float = MOST) -> forms.FloatField:
    """An amount of anything, with sentences for what is none."""
    return forms.FloatField(
        label=label, required=required, min_value=least, max_value=most, widget=forms.NumberInput(attrs=NUMBER),
        error_messages={**WRONG, "max_value": f"At most {most:g}."},
    )  # fmt: skip


class CountForm(forms.Form):
    """How much there is of each thing; what is left empty is not counted."""

    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)

    def __init__(self, data: Sent = None, *, things: list[str], kit: Kit, units: str, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.things, self.units = things, units
        for i, what in enumerate(things):
            name = thing_words(what, kit, units)
            sign = measure_of(what, units).sign
            label = name[:1].upper() + name[1:]
            self.fields[f"of-{i}"] = amount_field(f"{label}, {sign}" if sign else label)

    @property
    def amounts(self) -> dict[str, float]:
        """What was counted, in the engine's measure. Only for a form that is valid."""
        said = {what: self.cleaned_data.get(f"of-{i}") for i, what in enumerate(self.things)}
        return {what: measure_of(what, self.units).read(said) for what, said in said.items() if said is not None}


class AmountForm(forms.Form):
    """So much of one thing, counted, bought or used."""

    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)
    amount = amount_field("How much", required=True)
    kind = forms.ChoiceField(choices=(("counted", "there is"), ("bought", "bought"), ("used", "used")))

    def __init__(self, data: Sent = None, *, what: str, units: str, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.measure = measure_of(what, units)
        if self.measure.sign:
            self.fields["amount"].label = f"How much, {self.measure.sign}"

    def clean_amount(self) -> float:
        """In the engine's measure."""
        return self.measure.read(self.cleaned_data["amount"])


class SupplyForm(forms.Form):
    """How a thing is bought, and the dates on its jar."""

    pack = amount_field("In one pack", required=True, least=0.01)
    price = forms.DecimalField(
        label="Price of a pack", required=False, min_value=Decimal(0), max_digits=9, decimal_places=2,
        widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "0.01"}),
        error_messages={"invalid": "A price is a number, such as 6.50.", "min_value": "Nought or more."},
    )  # fmt: skip
    opened_on = day_field("Opened on")
    use_by = day_field("Use by")

    def __init__(self, data: Sent = None, *, what: str, units: str, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.measure = measure_of(what, units)
        if self.measure.sign:
            self.fields["pack"].label = f"In one pack, {self.measure.sign}"
        for name in ("opened_on", "use_by"):
            self.fields[name].required = False
        if what not in (POWDER, GEL):
            del self.fields["opened_on"], self.fields["use_by"]

    def clean_pack(self) -> float:
        """In the engine's measure."""
        return self.measure.read(self.cleaned_data["pack"])


class MixForm(forms.Form):
    """A recipe and what is to be filled with it."""

    recipe = forms.ChoiceField(label="Mix")
    vessel = forms.ChoiceField(label="Into")
    count = count_field("How many", most=MOST_MIXED)
    settle = forms.FloatField(
        label="It settles by, %", min_value=0, max_value=60, initial=100 * SETTLE,
        widget=forms.NumberInput(attrs=NUMBER),
        error_messages={**WRONG, "max_value": "More than 60% is no mix."},
    )  # fmt: skip
    by = day_field("To be mixed by")

    def __init__(self, data: Sent = None, *, kit: Kit, units: str, today: date, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        recipe, vessel = choosing(self, "recipe"), choosing(self, "vessel")
        recipe.choices = [(one.key, one.name) for one in kit.every_mix()]
        vessel.choices = [
            (one.key, vessel_words(one, 1, units)) for one in kit.every() if one.kind in ("pot", "tray", "bin")
        ]
        self.fields["by"].required = False
        self.today = today

    def clean_by(self) -> date | None:
        """Not in the past."""
        by: date | None = self.cleaned_data["by"]
        if by and by < self.today:
            raise forms.ValidationError("That day is past.")
        return by


class ContainerForm(forms.Form):
    """A container of one's own: what it is called, its shape and size, how many stems it takes."""

    name = forms.CharField(label="One is called", max_length=40, error_messages={"required": "Give it a name."})
    many = forms.CharField(label="Several are called", max_length=40, required=False)
    kind = forms.ChoiceField(label="Places count it among", choices=KIND_CHOICES)
    shape = forms.ChoiceField(label="Its shape", choices=SHAPE_CHOICES, widget=forms.RadioSelect)
    top = amount_field("Across the top", required=True, least=0.5, most=MOST_CM)
    base = amount_field("Across the foot", least=0.5, most=MOST_CM)
    height = amount_field("High", required=True, least=0.5, most=MOST_CM)
    litres = amount_field("Or as printed on it", least=0.001, most=10_000)
    cells = count_field("Cells, where it has some", required=False, most=1000)
    stems = count_field("Stems to one, where you know", required=False)

    def __init__(self, data: Sent = None, *, units: str, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.units = units
        for name in ("top", "base", "height"):
            self.fields[name].label = f"{self.fields[name].label}, {length_sign(units)}"
        self.fields["litres"].label = f"Or as printed on it, {'qt' if units == US else 'litres'}"

    def clean(self) -> dict[str, object]:
        """A shape that narrows says how far; a box how wide it is."""
        data = super().clean() or {}
        if data.get("shape") != "cylinder" and data.get("base") is None and "base" not in self.errors:
            box = data.get("shape") == "box"
            self.add_error("base", "Say how wide it is." if box else "Say how wide its foot is.")
        return data

    @property
    def raw(self) -> dict[str, object]:
        """As the handbook writes containers. Only for a form that is valid."""
        data = self.cleaned_data
        cm = {name: read_length(data[name], self.units) for name in ("top", "base", "height") if data[name]}
        sizes = [cm["top"], cm["height"]] if data["shape"] == "cylinder" else [cm["top"], cm["base"], cm["height"]]
        found: dict[str, object] = {
            "kind": data["kind"], "one": data["name"], "many": data["many"] or f"{data['name']}s",
            "shape": {data["shape"]: [round(size, 3) for size in sizes]}, "fill": 0.5 if data["kind"] == "jar" else 0.9,
        }  # fmt: skip
        if data["litres"]:
            found["litres"] = round(read_volume(data["litres"], self.units), 4)
        if data["cells"]:
            found["cells"] = data["cells"]
        elif data["stems"]:
            found["takes"] = {STEM: data["stems"], "water stem": data["stems"]}
        return found

    @property
    def vessel(self) -> Vessel:
        """What it comes to. Only for a form that is valid."""
        return vessel_of({"key": "", **self.raw})


def started_from(vessel: Vessel, units: str, length: float) -> dict[str, object]:
    """What the form of a container one has starts with; ``length`` is one centimetre in the person's unit."""
    shape = next(name for name, made in SHAPES.items() if isinstance(vessel.shape, made))
    base = getattr(vessel.shape, "base_cm", getattr(vessel.shape, "wide_cm", None))
    return {
        "name": vessel.one, "many": vessel.many, "kind": vessel.kind, "shape": shape,
        "top": round(vessel.shape.top_cm * length, 2), "base": base and round(base * length, 2),
        "height": round(vessel.shape.height_cm * length, 2),
        "litres": (vessel.litres and round(measure_of("part:", units).shown(vessel.litres), 3)) or None,
        "cells": vessel.cells or None, "stems": vessel.takes.get(STEM),
    }  # fmt: skip


class RecipeForm(forms.Form):
    """A recipe of one's own, by parts in any scale."""

    name = forms.CharField(label="Its name", max_length=60, error_messages={"required": "Give it a name."})

    def __init__(self, data: Sent = None, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        for key, part in mix_parts().items():
            self.fields[f"part-{key}"] = amount_field(part.short[:1].upper() + part.short[1:], most=1000)

    def clean(self) -> dict[str, object]:
        """Something is in it."""
        data = super().clean() or {}
        if not self.errors and not self.parts:
            self.add_error(None, "Say how many parts of at least one thing.")
        return data

    @property
    def parts(self) -> dict[str, float]:
        """The parts that were said."""
        said = {key: self.cleaned_data.get(f"part-{key}") for key in mix_parts()}
        return {key: share for key, share in said.items() if share}
