"""Forms of lines: what is asked of one, and what is cut of it today."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date, timedelta
from typing import Final, Unpack
from uuid import UUID, uuid4

from django import forms

from elder.engine.handbook.model import Plant
from elder.engine.plan.overwinter import YOUNG_SHARE
from elder.web.garden.models import Place
from elder.web.read.line_rows import Source
from elder.web.say.lines import KEPT
from elder.web.say.plants import way_words
from elder.web.say.words import WEEKDAYS, day_words
from elder.web.season.forms import SURE
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from elder.web.ui.fields import Filled, Sent, choosing, count_field, day_field
from elder.web.year.models import MOST_MULTIPLIED, Multiplying

KEEP: Final = ((0.0, "none"), *KEPT.items())
TUBER_TAKES: Final = (
    8  # a tuber in the warm gives slips so often, a few at a time (assumed; that it does, common practice)
)
USUAL_WANTED: Final = 24
USUAL_DAYS: Final = 365
LONGEST: Final = 3 * 365


class LineForm(forms.Form):
    """So many plants of a mother's line by a day, and what a young plant of it gives."""

    wanted = count_field("Plants wanted", least=2, most=MOST_MULTIPLIED)
    by = day_field("By")
    confidence = forms.TypedChoiceField(label="How sure", choices=SURE, coerce=float)
    all_mothers = forms.BooleanField(required=False)
    method = forms.ChoiceField(label="Rooted")
    rooting_place = forms.ChoiceField(label="at")
    growing_place = forms.ChoiceField(label="Grown on at")
    gives = count_field("One young plant gives", least=0, most=200)
    again_days = count_field("and again after days", least=1, most=1500)
    first_take_days = count_field("First cut, days after it is a plant", least=0, most=1500)
    keep_uncut = forms.TypedChoiceField(label="Left uncut at the end", choices=KEEP, coerce=float)
    weekday = forms.TypedChoiceField(
        label="Cut on", required=False, coerce=int, empty_value=None,
        choices=[("", "any day"), *((i, f"{name} only") for i, name in enumerate(WEEKDAYS))],
    )  # fmt: skip
    mothers_count = forms.BooleanField(label="The mothers count among the plants", required=False)
    mother_takes = count_field("The tuber still gives, times", least=1, most=100, required=False)

    def __init__(
        self,
        data: Sent = None,
        *,
        plant: Plant,
        mothers: Sequence[StockPlant],
        places: Sequence[Place],
        today: date,
        **rest: Unpack[Filled],
    ) -> None:
        super().__init__(data, **rest)
        self.plant, self.mothers, self.today = plant, mothers, today
        self.places = {str(place.pk): place for place in places}
        choosing(self, "method").choices = [(way.slug, way_words(way.form, way.name)) for way in plant.ways]
        for name in ("rooting_place", "growing_place"):
            choosing(self, name).choices = [(str(place.pk), place.name) for place in places]
        if len(mothers) > 1:
            self.fields["all_mothers"].label = f"From all {len(mothers)} of that kind"
        else:
            del self.fields["all_mothers"]
        if not is_tuber(plant):
            del self.fields["mother_takes"]

    def clean_by(self) -> date:
        """A day ahead, and not past what is reckoned."""
        day: date = self.cleaned_data["by"]
        if day <= self.today:
            raise forms.ValidationError(f"A day ahead, please: today is {day_words(self.today)}.")
        if (day - self.today).days > LONGEST:
            raise forms.ValidationError("At most three years ahead.")
        return day

    def chosen(self) -> list[StockPlant]:
        """The first mothers. Only for a form that is valid."""
        return list(self.mothers) if self.cleaned_data.get("all_mothers") else list(self.mothers[:1])

    def row(self) -> Multiplying:
        """The line asked for, kept nowhere. Only for a form that is valid."""
        data, mother = self.cleaned_data, self.mothers[0]
        plain = ("wanted", "by", "confidence", "method", "gives", "again_days", "first_take_days", "keep_uncut")
        row = Multiplying(
            plant=self.plant.slug,
            variety=mother.variety,
            mothers_count=data["mothers_count"],
            mother_takes=data.get("mother_takes"),
            weekday=data["weekday"],
            rooting_place=self.places[data["rooting_place"]],
            growing_place=self.places[data["growing_place"]],
            **{name: data[name] for name in plain},
        )
        row.asked_mothers = [one.pk for one in self.chosen()]  # type: ignore[attr-defined]  # before it is kept
        return row


def is_tuber(plant: Plant) -> bool:
    """Whether its mothers are tubers that give slips for some weeks and are no plants themselves."""
    return plant.methods[0].form == "slip"


def start_of(plant: Plant, places: Sequence[Place], today: date, last: Want | None = None) -> dict[str, object]:
    """What a line starts with: half of what a grown plant gives, cut again and first cut after as long as she takes.
    ``last``: the last want for it, whose places are taken."""
    tuber = is_tuber(plant)
    rooting = next((one for one in places if one.standing != Place.Standing.GROUND), places[0])
    return {
        "wanted": USUAL_WANTED,
        "by": today + timedelta(days=USUAL_DAYS),
        "confidence": 0.9,
        "method": plant.ways[0].slug,
        "rooting_place": str(last.rooting_place_id if last else rooting.pk),
        "growing_place": str(last.growing_place_id if last else rooting.pk),
        "gives": 0 if tuber else max(int(plant.gives * YOUNG_SHARE), 1),
        "again_days": plant.again_days,
        "first_take_days": plant.again_days,
        "keep_uncut": 0.0,
        "weekday": "",
        "mothers_count": not tuber,
        "mother_takes": TUBER_TAKES,
    }


class CutForm(forms.Form):
    """What is cut of a line today, from each that may be cut."""

    on = day_field("Cut on")
    rooting_place = forms.ChoiceField(label="Roots at")
    key = forms.UUIDField(widget=forms.HiddenInput, required=False)

    def __init__(
        self,
        data: Sent = None,
        *,
        sources: Iterable[Source],
        planned: Mapping[str, int],
        places: Sequence[Place],
        today: date,
        **rest: Unpack[Filled],
    ) -> None:
        super().__init__(data, **rest)
        self.today, self.sources = today, [one for one in sources if one.cut_from <= today]
        self.places = {str(place.pk): place for place in places}
        choosing(self, "rooting_place").choices = [(str(place.pk), place.name) for place in places]
        self.fields["on"].initial, self.fields["key"].initial = today, uuid4()
        for source in self.sources:
            field = count_field(f"from {source.name}", least=0, most=source.most, required=False)
            field.initial = planned.get(source.key, 0)
            self.fields[source.key] = field

    @property
    def rows(self) -> list[forms.BoundField]:
        """The fields of each source."""
        return [self[source.key] for source in self.sources]

    def clean_on(self) -> date:
        """Not a day still to come."""
        day: date = self.cleaned_data["on"]
        if day > self.today:
            raise forms.ValidationError("That day is still to come.")
        return day

    def clean(self) -> dict[str, object]:
        """Something is cut."""
        data = super().clean() or {}
        if not self.sources:
            self.add_error(None, "Nothing of the line may be cut today.")
        elif not self.errors and not any(self.counts(data).values()):
            self.add_error(self.sources[0].key, "Say how many were cut.")
        return data

    def counts(self, data: Mapping[str, object] | None = None) -> dict[str, int]:
        """How many from each."""
        given = self.cleaned_data if data is None else data
        return {source.key: int(str(given.get(source.key) or 0)) for source in self.sources}

    def pressed(self) -> UUID:
        """The key of the press."""
        key: UUID | None = self.cleaned_data.get("key")
        return key or uuid4()
