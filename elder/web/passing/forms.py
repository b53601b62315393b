"""Forms of promises: what is promised, what is asked before it goes, what is handed over, a parcel's shoots."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from decimal import Decimal
from typing import Final, Unpack
from uuid import UUID, uuid4

from django import forms

from elder.engine.handbook.model import Plant
from elder.engine.year.promises import handed_from
from elder.web.garden.models import Place
from elder.web.passing.actions import Handed
from elder.web.passing.models import MOST_KEPT, Promise
from elder.web.read.promises import PromiseToday
from elder.web.say.units import length_in, length_sign, read_length, shown_lift, temperature_sign
from elder.web.say.words import day_words
from elder.web.season.forms import MOST_PLANTS, SURE
from elder.web.season.models import Want
from elder.web.stock.models import VarietyAnswer
from elder.web.ui.fields import MOST_TAKEN, Filled, Sent, choosing, count_field, day_field

FAR: Final = (-10, -5, 0, 5, 10)  # the other end is so many °C warmer
USUAL_DAYS: Final = 28
LONGEST: Final = timedelta(days=2 * 365)
INNER_CM: Final = (8.0, 200.0)


def money_field(label: str) -> forms.DecimalField:
    """An amount of money, in whatever the household counts in."""
    return forms.DecimalField(
        label=label, required=False, min_value=0, max_digits=8, decimal_places=2,
        widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "0.01"}),
        error_messages={
            "invalid": "An amount, such as 12.50.", "min_value": "Nothing or more.",
            "max_digits": "At most 999,999.99.", "max_decimal_places": "At most two places after the point.",
            "max_whole_digits": "At most 999,999.99.",
        },
    )  # fmt: skip


def far_words(far_c: int, units: str) -> str:
    """How the other end compares."""
    if not far_c:
        return "about as warm as here"
    by = f"{shown_lift(abs(far_c), units):.0f} {temperature_sign(units)}"
    return f"{by} {'warmer' if far_c > 0 else 'colder'} than here"


class PromiseForm(forms.Form):
    """So many of a plant for somebody by a day."""

    who = forms.CharField(
        label="For whom", max_length=60,
        error_messages={"required": "A word of your own for whom: the fair, next door, M.",
                        "max_length": "At most 60 letters."},
        widget=forms.TextInput(attrs={"placeholder": "the school fair"}),
    )  # fmt: skip
    how = forms.ChoiceField(label="As", choices=Promise.PassedAs)
    plant = forms.ChoiceField(label="Plant")
    variety = forms.CharField(label="Variety, if you like", max_length=60, required=False)
    wanted = count_field("How many", most=MOST_PLANTS)
    spares = count_field("Kept for yourself besides", least=0, most=MOST_KEPT, required=False)
    by = day_field("By")
    handed_as = forms.ChoiceField(label="Handed over", choices=Want.HandedAs, required=False)
    confidence = forms.TypedChoiceField(label="How sure", choices=SURE, coerce=float)
    price = money_field("For how much, all together")
    swap = forms.CharField(label="Or for what in return", max_length=120, required=False)
    goes = forms.ChoiceField(label="It goes", choices=Promise.Goes)
    road_days = count_field("Days on the road", least=1, most=21, required=False)
    inner = forms.FloatField(
        required=False, widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "any"}),
        error_messages={"invalid": "A length, please."},
    )  # fmt: skip
    far_c = forms.TypedChoiceField(label="The other end is", coerce=int, required=False, empty_value="0", initial=0)
    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)

    def __init__(
        self, data: Sent = None, *, plants: Sequence[Plant], today: date, units: str, **rest: Unpack[Filled]
    ) -> None:
        super().__init__(data, **rest)
        self.today, self.units = today, units
        self.plants = {plant.slug: plant for plant in plants}
        choosing(self, "plant").choices = [(plant.slug, plant.name) for plant in plants]
        choosing(self, "far_c").choices = [(far, far_words(far, units)) for far in FAR]
        self.fields["inner"].label = f"Its inner length, {length_sign(units)}"
        self.fields["inner"].initial = round(length_in(35.0, units))

    def clean_by(self) -> date:
        """Today or ahead, and not past what is reckoned."""
        day: date = self.cleaned_data["by"]
        if day < self.today:
            raise forms.ValidationError(f"Today or a day ahead, please: today is {day_words(self.today)}.")
        if day - self.today > LONGEST:
            raise forms.ValidationError("At most two years ahead.")
        return day

    def clean_inner(self) -> float:
        """A parcel's inner length, cm."""
        typed = self.cleaned_data.get("inner")
        inner = 35.0 if typed is None else read_length(typed, self.units)
        if not INNER_CM[0] - 1e-6 <= inner <= INNER_CM[1] + 1e-6:
            least, most = (f"{length_in(one, self.units):.0f}" for one in INNER_CM)
            raise forms.ValidationError(f"Between {least} and {most} {length_sign(self.units)}.")
        return inner

    def pressed(self) -> UUID:
        """Which press it is."""
        return self.cleaned_data.get("key") or uuid4()

    def want(self, places: tuple[Place, Place], method: str) -> Want:
        """The want it is grown by, kept nowhere. Only for a form that is valid."""
        data = self.cleaned_data
        sells = data["how"] in (Promise.PassedAs.ORDER, Promise.PassedAs.SALE)
        return Want(
            plant=data["plant"],
            variety=data["variety"].strip(),
            method=method,
            wanted=data["wanted"],
            spares=0 if data["handed_as"] == Want.HandedAs.UNROOTED else data["spares"] or 0,
            by=data["by"],
            confidence=data["confidence"],
            purpose=Want.Purpose.SALE if sells else Want.Purpose.GIFT,
            handed_as=data["handed_as"],
            rooting_place=places[0],
            growing_place=places[1],
        )

    def promise(self) -> Promise:
        """The promise, kept nowhere. Only for a form that is valid."""
        data = self.cleaned_data
        return Promise(
            who=data["who"].strip(),
            how=data["how"],
            price=data["price"],
            swap=data["swap"].strip(),
            goes=data["goes"],
            road_days=data["road_days"] or 2,
            inner_cm=data["inner"],
            far_c=float(data["far_c"]),
        )


class AnswersForm(forms.Form):
    """What is asked before plants go: of the variety, of borders, of soil. Asked, never decided."""

    protected = forms.ChoiceField(
        label="Is the variety protected by a patent or breeder’s right?", choices=VarietyAnswer.Said
    )
    quarantine = forms.ChoiceField(
        label="Is moving this plant restricted where you are, or where it goes?",
        choices=[one for one in VarietyAnswer.Said.choices if one[0] != VarietyAnswer.Said.LICENCE],
    )
    border = forms.ChoiceField(label="Does it cross a border?", choices=Promise.Answered)
    soil = forms.ChoiceField(label="May soil go with it?", choices=Promise.Answered)


class HandOverForm(forms.Form):
    """What goes today: of each batch (or mother) so many, and what is had for it."""

    money = money_field("Money had for them")
    swap = forms.CharField(label="Had in return", max_length=120, required=False)
    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)

    def __init__(self, data: Sent = None, *, found: PromiseToday, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.found = found
        left = found.row.left
        self.sources: dict[str, int] = {}
        sources = _sources(found)
        parts = handed_from([(pk, there) for pk, _, there in sources], left)
        for pk, name, there in sources:
            field = count_field(name, least=0, most=min(there, MOST_TAKEN), required=False)
            field.initial = parts.get(pk, 0)
            field.error_messages["max_value"] = f"No more than {there} stand there."
            self.fields[f"from_{pk}"] = field
            self.sources[f"from_{pk}"] = pk
        for name, value in (("money", found.row.price), ("swap", found.row.swap)):
            if value and not found.row.handed:
                self.fields[name].initial = value

    @property
    def rows(self) -> list[forms.BoundField]:
        """The fields of how many from where."""
        return [self[name] for name in self.sources]

    def clean(self) -> dict[str, object]:
        """At least one goes, and no more than are still promised."""
        data: dict[str, object] = super().clean() or {}
        total = sum(_whole(data.get(name)) for name in self.sources)
        if not self.errors and not total:
            raise forms.ValidationError("Say how many go.")
        if total > self.found.row.left:
            raise forms.ValidationError(f"{self.found.row.left} are still promised; {total} is more than that.")
        return data

    def handed(self) -> Handed:
        """What goes. Only for a form that is valid."""
        data = self.cleaned_data
        counts = {pk: data[name] for name, pk in self.sources.items() if data.get(name)}
        money: Decimal | None = data["money"]
        return Handed(counts, money, data["swap"].strip())

    def pressed(self) -> UUID:
        """Which press it is."""
        return self.cleaned_data.get("key") or uuid4()


def _sources(found: PromiseToday) -> list[tuple[int, str, int]]:
    if found.is_unrooted:
        return [(one.row.pk, f"Cut from {one.row.name}, who gives {one.now}", one.now) for one in found.mothers]
    standing = [one for one in found.standings if one.now]
    return [(one.batch.row.pk, f"From {one.batch.row.code}, where {one.now} stand", one.now) for one in standing]


def _whole(value: object) -> int:
    return value if isinstance(value, int) else 0


class ShootsForm(forms.Form):
    """The shoots that sticks for a parcel are cut from."""

    shoots = count_field("Shoots", most=200)
    long = forms.FloatField(
        min_value=1, max_value=600, widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "any"}),
        error_messages={"required": "How long is a shoot?", "invalid": "A length, please.",
                        "min_value": "Longer than that, please.", "max_value": "Shorter than that, please."},
    )  # fmt: skip
    nodes = count_field("Nodes on each", most=120)

    def __init__(self, data: Sent = None, *, units: str, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.units = units
        self.fields["long"].label = f"Each so long, {length_sign(units)}"

    @property
    def long_cm(self) -> float:
        """A shoot's length, cm. Only for a form that is valid."""
        return read_length(self.cleaned_data["long"], self.units)
