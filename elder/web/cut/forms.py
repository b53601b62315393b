"""What is in the hand."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final, Unpack
from uuid import uuid4

from django import forms

from elder.engine.cut.suitability import Question
from elder.engine.handbook.loading import named, unknown
from elder.engine.handbook.model import Method, Plant
from elder.engine.plan.material import MOST_DAYS, STEMS, WHOLE, Material
from elder.web.say.pieces import PIECE_WORDS
from elder.web.say.units import read_length, shown_length
from elder.web.stock.models import VarietyAnswer
from elder.web.ui.fields import Filled, Sent, choosing, count_field
from elder.web.ui.widgets import Stepper

PIECE_GROUPS: Final = (
    ("Of a stem", ("broken stem", "pruning", "tip", "shoot", "sucker", "heel", "stick", "joint")),
    ("With a base or roots", ("pup", "crown", "runner", "slip", "rooted piece")),
    ("Else", ("top", "leaf")),
)
PIECE_CHOICES: Final = [(name, [(piece, PIECE_WORDS[piece]) for piece in pieces]) for name, pieces in PIECE_GROUPS]
KEPT_CHOICES: Final = (("bag", "in a damp bag"), ("water", "in water"), ("dry", "dry"))
STATE_CHOICES = (
    ("sound", "sound"),
    ("soft", "soft and green"),
    ("woody", "woody"),
    ("flowering", "in flower or bud"),
    ("wilted", "wilted"),
)
MOST_CM = 500.0


class HandForm(forms.Form):
    """A plant, what it is of it, how much, and how it looks."""

    plant = forms.ChoiceField(label="What plant")
    piece = forms.ChoiceField(label="What it is", choices=PIECE_CHOICES)
    pieces = forms.IntegerField(
        label="How many", min_value=1, max_value=200, widget=Stepper,
        error_messages={
            "required": "Say how many.", "invalid": "A whole number, please.",
            "min_value": "At least one.", "max_value": "At most 200 at a time.",
        },
    )  # fmt: skip
    length = forms.FloatField(
        required=False,
        min_value=0.1,
        widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "any"}),
        error_messages={"invalid": "A number, please.", "min_value": "Longer than nothing."},
    )
    state = forms.ChoiceField(label="How it looks", choices=STATE_CHOICES, widget=forms.RadioSelect)
    cut_days = forms.IntegerField(
        label="Cut how many days ago", required=False, min_value=0, max_value=MOST_DAYS, widget=Stepper,
        error_messages={
            "invalid": "A whole number of days, please.", "min_value": "Not before it is cut.",
            "max_value": f"After {MOST_DAYS} days nobody can say.",
        },
    )  # fmt: skip
    kept = forms.ChoiceField(label="Kept since", choices=KEPT_CHOICES, required=False, widget=forms.RadioSelect)
    variety = forms.CharField(label="Variety", max_length=60, required=False)
    mother = forms.CharField(label="From which plant", max_length=80, required=False)

    def __init__(
        self,
        data: Sent = None,
        *,
        units: str,
        mothers: Iterable[str] = (),
        own: Iterable[Plant] = (),
        **rest: Unpack[Filled],
    ) -> None:
        super().__init__(data, **rest)
        self.units = units
        self.mothers = list(mothers)
        self.fields["mother"].widget.attrs["list"] = "hand-mothers"
        self.fields["length"].label = f"How long each, {'in' if units == 'us' else 'cm'}"
        plants = choosing(self, "plant")
        nameless = [(plant.slug, plant.name.removeprefix("Unknown, ")) for plant in unknown().values()]
        plants.choices = [
            *((plant.slug, plant.name) for plant in (*own, *named().values())),
            ("I do not know what it is", nameless),
        ]

    def clean_length(self) -> float | None:
        """The length in cm."""
        typed = self.cleaned_data["length"]
        if typed is None:
            return None
        length = read_length(typed, self.units)
        if length > MOST_CM:
            raise forms.ValidationError(f"Longer than {shown_length(MOST_CM, self.units)}? Cut it up and say how many.")
        return length

    def clean(self) -> dict[str, object]:
        """A stem has a length."""
        data = super().clean() or {}
        if data.get("piece") not in (*WHOLE, None) and data.get("length") is None and "length" not in self.errors:
            hand, forearm = shown_length(18, self.units), shown_length(45, self.units)
            self.add_error("length", f"Say how long it is; a hand is about {hand}, a forearm {forearm}.")
        return data

    @property
    def material(self) -> Material:
        """What is in the hand. Only for a form that is valid."""
        data = self.cleaned_data
        length = None if data["piece"] in WHOLE else data["length"]
        days, kept = data["cut_days"] or 0, data["kept"] or "bag"
        return Material(data["piece"], data["pieces"], data["state"], length, cut_days=days, kept=kept)


class TakeHandForm(forms.Form):
    """One press: the way, its places, the count, and a key that tells one press from two."""

    key = forms.UUIDField(initial=uuid4)
    plant = forms.CharField(max_length=40)
    method = forms.CharField(max_length=40)
    rooting = forms.IntegerField()
    growing = forms.IntegerField()
    count = forms.IntegerField(min_value=1, max_value=500)
    likely = forms.IntegerField(min_value=1, max_value=200)
    stock_plant = forms.CharField(max_length=80, required=False)
    by = forms.DateField(required=False)
    purpose = forms.ChoiceField(choices=(("bed", "bed"), ("winter", "winter"), ("spare", "spare")))
    seen = forms.CharField(max_length=200, required=False)
    size = forms.ChoiceField(choices=(("kept whole", "kept whole"),), required=False)
    variety = forms.CharField(max_length=60, required=False)
    cut_on = forms.DateField(required=False)
    stem = forms.ChoiceField(choices=(("snapped", "snapped"),), required=False)


def _rule(label: str, least: float, most: float) -> forms.FloatField:
    return forms.FloatField(
        label=label,
        required=False,
        min_value=least,
        max_value=most,
        widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "any"}),
        error_messages={
            "invalid": "A number, please.",
            "min_value": f"At least {least:g}.",
            "max_value": f"At most {most:g}.",
        },
    )


class RulesForm(forms.Form):
    """What one cutting must be; what is left empty is the plant's own."""

    plant = forms.ChoiceField(label="What plant")
    method = forms.ChoiceField(label="Rooted how", required=False)
    wanted = forms.IntegerField(required=False, min_value=1, max_value=500, widget=forms.HiddenInput)
    least = count_field("Nodes, at least", most=60, required=False)
    most = count_field("Nodes, at most", most=60, required=False)
    buried = count_field("Nodes under", least=0, most=20, required=False)
    shortest = _rule("Shortest", 0, 600)
    longest = _rule("Longest", 0.5, 600)
    short = forms.BooleanField(label="Material is short: fewer nodes will do", required=False)

    def __init__(
        self,
        data: Sent = None,
        *,
        units: str,
        ways: list[tuple[str, str]],
        plants: Iterable[Plant],
        **rest: Unpack[Filled],
    ) -> None:
        super().__init__(data, **rest)
        self.units = units
        plant = choosing(self, "plant")
        plant.choices = [(one.slug, one.name) for one in plants if any(_has_stem(w) for w in one.ways)]
        method = choosing(self, "method")
        method.choices = ways
        unit = "in" if units == "us" else "cm"
        for name in ("shortest", "longest"):
            self.fields[name].label = f"{self.fields[name].label}, {unit}"

    def clean(self) -> dict[str, object]:
        """Bounds that something can meet."""
        data = super().clean() or {}
        for name in ("shortest", "longest"):
            if data.get(name) is not None:
                data[name] = read_length(data[name], self.units)
        for low, high, said in (
            ("least", "most", "At most is less than at least."),
            ("shortest", "longest", "The longest is shorter than the shortest."),
            ("buried", "least", "More would be under than a cutting has."),
        ):
            if data.get(low) is not None and data.get(high) is not None and data[low] > data[high]:
                self.add_error(high if low != "buried" else "buried", said)
        return data


def _has_stem(method: Method) -> bool:
    return method.form in STEMS or method.form in ("node section", "slip")


class CanForm(forms.Form):
    """A plant, a way, and what was seen of the stem."""

    plant = forms.ChoiceField(label="What plant")
    method = forms.ChoiceField(label="Rooted how", required=False)

    def __init__(
        self,
        data: Sent = None,
        *,
        ways: list[tuple[str, str]],
        asked: tuple[Question, ...],
        plants: Iterable[Plant],
        **rest: Unpack[Filled],
    ) -> None:
        super().__init__(data, **rest)
        self.asked = asked
        plant = choosing(self, "plant")
        plant.choices = [(one.slug, one.name) for one in plants]
        method = choosing(self, "method")
        method.choices = ways
        for ask in asked:
            self.fields[ask.key] = forms.ChoiceField(
                label=ask.name, choices=ask.ways, required=False, widget=forms.RadioSelect
            )

    @property
    def answers(self) -> dict[str, str]:
        """What was answered. Only for a form that is valid."""
        return {ask.key: self.cleaned_data[ask.key] for ask in self.asked if self.cleaned_data.get(ask.key)}


class VarietyForm(forms.Form):
    """What a household says of a variety."""

    plant = forms.ChoiceField()
    variety = forms.CharField(max_length=60, required=False)
    protected = forms.ChoiceField(choices=VarietyAnswer.Said, required=False)
    quarantine = forms.ChoiceField(choices=VarietyAnswer.Said, required=False)

    def __init__(self, data: Sent = None, *, plants: Iterable[str], **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        plant = choosing(self, "plant")
        plant.choices = [(slug, slug) for slug in plants]


STRENGTHS: Final = (("percent", "%"), ("ppm", "ppm"), ("mg_g", "mg per g"), ("mg_l", "mg per litre"))


def _number(label: str) -> forms.FloatField:
    return forms.FloatField(
        label=label,
        widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "any"}),
        error_messages={"required": "Say how much.", "invalid": "A number, please."},
    )


FEED_SHARES: Final = (("tenth", "a tenth"), ("quarter", "a quarter"), ("half", "half"), ("whole", "the whole of it"))


class FeedForm(forms.Form):
    """The label's dose, the share of it, and the can or jar it goes into."""

    dose = _number("The label says, ml")
    per = _number("to so many litres")
    share = forms.ChoiceField(label="Of that", choices=FEED_SHARES)
    litres = _number("Your can or jar holds, litres")


class DilutionForm(forms.Form):
    """A strength as the label says it, the strength wanted, and how much of it."""

    strength = _number("The label says")
    unit = forms.ChoiceField(label="in", choices=STRENGTHS)
    wanted = _number("Wanted, ppm")
    volume = _number("How much, ml")
