"""Forms of a move: when and by what, what becomes of a plant, what is asked, who came alive."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Final, Unpack
from uuid import UUID, uuid4

from django import forms

from elder.engine.year.moving import MoveWay
from elder.web.garden.models import Garden, Place
from elder.web.moving.actions import Decided
from elder.web.moving.models import MOST_HEDGE_M, HouseMove
from elder.web.read.moves import Coming, MoveToday
from elder.web.say.moving import DEEDS
from elder.web.say.units import length_in, length_sign, read_length, read_weight, weight_in, weight_sign
from elder.web.say.words import day_words
from elder.web.ui.fields import Filled, Sent, choosing, count_field, day_field

USUAL_AHEAD: Final = 180
LONGEST: Final = timedelta(days=3 * 365)
SAID: Final = (
    ("", "not asked yet"),
    ("yes", "yes, it is fine"),
    ("no", "no, it may not"),
    ("asked", "asked, no answer yet"),
)


def measure(label: str, *, least: float, most: float, required: bool = True) -> forms.FloatField:
    """A length or a weight."""
    return forms.FloatField(
        label=label, required=required, min_value=least, max_value=most,
        widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "any"}),
        error_messages={"required": "Say how much.", "invalid": "A number, please.",
                        "min_value": "More than that, please.", "max_value": "Less than that, please."},
    )  # fmt: skip


class HouseMoveForm(forms.Form):
    """The day, where to, and what carries it."""

    day = day_field("The day of the move")
    to = forms.ChoiceField(label="To the garden", required=False)
    vehicle = forms.CharField(label="It goes in", max_length=60, required=False,
                              widget=forms.TextInput(attrs={"placeholder": "a hired trailer"}))  # fmt: skip
    long = measure("Its floor, long", least=10, most=1400)
    wide = measure("and wide", least=10, most=1400)
    high = measure("Height inside; empty for open", least=10, most=400, required=False)
    carries = measure("It may carry", least=5, most=44_000)
    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)

    def __init__(
        self, data: Sent = None, *, gardens: Sequence[Garden], today: date, units: str, row: HouseMove | None = None,
    ) -> None:  # fmt: skip
        start: dict[str, object] = {"day": today + timedelta(days=USUAL_AHEAD)}
        shown = row or HouseMove()
        start |= {"vehicle": shown.vehicle, "carries": round(weight_in(shown.carries_kg, units))}
        start |= {"long": round(length_in(shown.long_cm, units)), "wide": round(length_in(shown.wide_cm, units))}
        start["high"] = round(length_in(shown.high_cm, units)) if shown.high_cm else None
        if row:
            start |= {"day": row.day, "to": str(row.to_id or "")}
        super().__init__(data, initial=start)
        self.today, self.units = today, units
        self.gardens = {str(garden.pk): garden for garden in gardens}
        named = [(pk, garden.name) for pk, garden in self.gardens.items()]
        choosing(self, "to").choices = [("", "not described yet"), *named]
        for name in ("long", "wide", "high"):
            self.fields[name].label = f"{self.fields[name].label}, {length_sign(units)}"
        self.fields["carries"].label = f"It may carry, {weight_sign(units)}"

    def clean_day(self) -> date:
        """Today or ahead."""
        day: date = self.cleaned_data["day"]
        if day < self.today:
            raise forms.ValidationError(f"Today or a day ahead, please: today is {day_words(self.today)}.")
        if day - self.today > LONGEST:
            raise forms.ValidationError("At most three years ahead.")
        return day

    def clean(self) -> dict[str, object]:
        """Lengths in cm, a load in kg, between what there is."""
        data: dict[str, object] = super().clean() or {}
        bounds = {"long": (40, 1400), "wide": (40, 300), "high": (30, 400)}
        for name, (least, most) in bounds.items():
            typed = data.get(name)
            if isinstance(typed, float):
                cm = data[name] = read_length(typed, self.units)
                if not least <= cm <= most:
                    few, many = length_in(least, self.units), length_in(most, self.units)
                    self.add_error(name, f"Between {few:.0f} and {many:.0f} {length_sign(self.units)}.")
        if isinstance(data.get("carries"), float):
            kg = data["carries"] = read_weight(float(str(data["carries"])), self.units)
            if not 20 <= kg <= 20_000:
                few, many = weight_in(20, self.units), weight_in(20_000, self.units)
                self.add_error("carries", f"Between {few:.0f} and {many:.0f} {weight_sign(self.units)}.")
        return data

    def move(self, row: HouseMove | None = None) -> HouseMove:
        """The move as it is asked for. Only for a form that is valid."""
        data, found = self.cleaned_data, row or HouseMove()
        found.day, found.vehicle = data["day"], data["vehicle"].strip()
        found.to = self.gardens.get(data["to"])
        found.long_cm, found.wide_cm, found.high_cm = data["long"], data["wide"], data["high"]
        found.carries_kg = data["carries"]
        return found

    def pressed(self) -> UUID:
        """Which press it is."""
        return self.cleaned_data.get("key") or uuid4()


class DecideForm(forms.Form):
    """What becomes of a plant: how, how tall it stands, how long a hedge of it."""

    way = forms.ChoiceField(label="It comes", required=False)
    height = measure("How tall it stands", least=1, most=600, required=False)
    stem = measure("How thick its stem is, a hand above the ground", least=0, most=40, required=False)
    hedge_m = measure("Metres of hedge to be cut of it", least=0.5, most=MOST_HEDGE_M, required=False)

    def __init__(self, data: Sent = None, *, one: Coming, units: str) -> None:
        row = one.row
        start: dict[str, object] = {"way": row.way if row else "", "hedge_m": row.hedge_m if row else None}
        start["height"] = round(length_in(one.thing.height_cm, units))
        start["stem"] = round(length_in(one.thing.stem_cm, units), 1)
        super().__init__(data, initial=start)
        self.units = units
        advised = f"as Elder says: {DEEDS[one.answer.way].lower()}"
        choosing(self, "way").choices = [("", advised), *((way.value, DEEDS[way].lower()) for way in one.answer.may)]
        for name in ("height", "stem"):
            self.fields[name].label = f"{self.fields[name].label}, {length_sign(units)}"
        if one.thing.in_pot:
            del self.fields["stem"]
        if MoveWay.CUTTINGS not in one.answer.may:
            del self.fields["hedge_m"]

    def decided(self) -> Decided:
        """What is decided. Only for a form that is valid."""
        data = self.cleaned_data
        tall, thick = data.get("height"), data.get("stem")
        return Decided(
            data["way"],
            read_length(tall, self.units) if tall else None,
            read_length(thick, self.units) if thick is not None else None,
            data.get("hedge_m"),
        )


class AskForm(forms.Form):
    """An answer to what is asked before a move, and whom one asked."""

    question = forms.CharField(max_length=10)
    said = forms.ChoiceField(choices=SAID, required=False)
    whom = forms.CharField(max_length=80, required=False, error_messages={"max_length": "At most 80 letters."})


class ArriveForm(forms.Form):
    """Who came alive, and where they stand at first."""

    outdoors = forms.ChoiceField(label="Pots stand at first at")
    indoors = forms.ChoiceField(label="What is indoors stands at")
    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)

    def __init__(self, data: Sent = None, *, found: MoveToday, places: Sequence[Place], **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.places = {str(place.pk): place for place in places}
        named = [(pk, place.name) for pk, place in self.places.items()]
        rooms = [place.pk for place in places if place.standing == Place.Standing.ROOM]
        air = [place.pk for place in places if place.standing == Place.Standing.AIR]
        for name, first in (("outdoors", air), ("indoors", rooms)):
            choosing(self, name).choices = named
            self.fields[name].initial = str(first[0]) if first else named[0][0] if named else ""
        self.keys: dict[str, str] = {}
        for i, one in enumerate(found.along):
            count = alive_of(one)
            if not count:  # nothing of it was struck
                continue
            field = count_field(f"{one.standing.name}, of {count}", least=0, most=count, required=False)
            field.initial = count
            self.fields[f"alive_{i}"] = field
            self.keys[f"alive_{i}"] = one.key

    @property
    def rows(self) -> list[forms.BoundField]:
        """The fields of who came alive."""
        return [self[name] for name in self.keys]

    def alive(self) -> dict[str, int]:
        """How many of each. Only for a form that is valid."""
        return {key: self.cleaned_data.get(name) or 0 for name, key in self.keys.items()}

    def pressed(self) -> UUID:
        """Which press it is."""
        return self.cleaned_data.get("key") or uuid4()


def alive_of(one: Coming) -> int:
    """How many of it could come: what stands, or what was struck."""
    if one.way is MoveWay.CUTTINGS:
        return sum(batch.state.living for batch in one.reckoning.batches) if one.reckoning else 0
    return one.standing.count


class PlantHereForm(forms.Form):
    """Where it is planted."""

    place = forms.ChoiceField(label="Planted at")

    def __init__(self, data: Sent = None, *, places: Sequence[Place], **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.places = {str(place.pk): place for place in places}
        choosing(self, "place").choices = [(pk, place.name) for pk, place in self.places.items()]
