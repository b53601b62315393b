"""Forms of trials: the question, one count of every arm, and splitting what rooted."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import Final, Unpack

from django import forms

from elder.engine.handbook.model import Plant
from elder.web.batches.models import Entry
from elder.web.garden.models import Place
from elder.web.record.models import MOST_EACH, Trial
from elder.web.record.trial_actions import ArmAsked, ArmCount, Split
from elder.web.record.trial_pages import DIFFERENCES, ArmLine
from elder.web.say.plants import way_words
from elder.web.ui.fields import Filled, Sent, choosing, count_field, day_field

ARMS: Final = 4
LEAST_ARMS: Final = 2
REASONS: Final = [(value, label) for value, label in Entry.Why.choices if value != Entry.Why.ACCIDENT]


class TrialForm(forms.Form):
    """A question asked of cuttings: what differs between two to four arms, how many each, and when it is judged."""

    question = forms.CharField(
        label="What do you want to know?", max_length=120, error_messages={"required": "Ask the question first."}
    )
    way = forms.ChoiceField(label="Of which plant, rooted how")
    variety = forms.CharField(label="Variety, if you like", max_length=60, required=False)
    stock_plant = forms.CharField(
        label="From which mother", max_length=80, error_messages={"required": "Say which plant they come from."}
    )
    differs = forms.CharField(
        label="The one thing that differs", max_length=80, error_messages={"required": "Say what differs."}
    )
    alike = forms.CharField(
        label="What must not differ", max_length=240, required=False, initial="day, mother, mix, place, hand"
    )
    each = count_field("Stems to each arm", least=2, most=MOST_EACH)
    difference = forms.TypedChoiceField(
        label="The difference you care about", coerce=float, initial=0.4,
        choices=[(share, f"{round(10 * share)} in 10") for share in DIFFERENCES],
    )  # fmt: skip
    judged_on = day_field("Judged on")

    def __init__(
        self,
        data: Sent = None,
        *,
        plants: Iterable[Plant],
        places: Sequence[Place],
        today: date,
        **rest: Unpack[Filled],
    ) -> None:
        super().__init__(data, **rest)
        self.today, self.places = today, {str(place.pk): place for place in places}
        choosing(self, "way").choices = [
            (f"{plant.slug}/{method.slug}", f"{plant.name}: {way_words(method.form, method.name)}")
            for plant in sorted(plants, key=lambda one: one.name)
            for method in plant.methods
        ]
        for i in range(ARMS):
            needed = i < LEAST_ARMS
            self.fields[f"arm{i}"] = forms.CharField(
                label=f"Arm {'ABCD'[i]}", max_length=60, required=needed,
                error_messages={"required": "Say what is done to this arm."},
            )  # fmt: skip
            self.fields[f"place{i}"] = forms.ChoiceField(
                label="at", choices=[(str(place.pk), place.name) for place in places], required=needed
            )
            day = day_field("cut on")
            day.required = False
            self.fields[f"cut{i}"] = day

    @property
    def arm_rows(self) -> list[tuple[forms.BoundField, forms.BoundField, forms.BoundField]]:
        """The fields of each arm."""
        return [(self[f"arm{i}"], self[f"place{i}"], self[f"cut{i}"]) for i in range(ARMS)]

    def clean(self) -> dict[str, object]:
        """Arms have names of their own, and it is judged after the last of them is cut."""
        data = super().clean() or {}
        names = [str(data.get(f"arm{i}") or "").strip() for i in range(ARMS)]
        seen: set[str] = set()
        for i, name in enumerate(names):
            if name and name.lower() in seen:
                self.add_error(f"arm{i}", "Another arm is called that.")
            seen.add(name.lower())
            day = data.get(f"cut{i}")
            if isinstance(day, date) and day < self.today:
                self.add_error(f"cut{i}", "That day is past; leave it blank for today.")
        judged = data.get("judged_on")
        last = max([day for i in range(ARMS) if isinstance(day := data.get(f"cut{i}"), date)], default=self.today)
        if isinstance(judged, date) and judged <= last:
            self.add_error("judged_on", "Judge it after the last arm is cut.")
        return data

    def trial(self) -> Trial:
        """The question. Only for a form that is valid."""
        data = self.cleaned_data
        plant, method = data["way"].split("/")
        plain = ("question", "variety", "stock_plant", "differs", "alike", "each", "difference", "judged_on")
        return Trial(plant=plant, method=method, **{name: data[name] for name in plain})

    def arms(self) -> list[ArmAsked]:
        """The arms that were given a name."""
        data = self.cleaned_data
        named = [i for i in range(ARMS) if data.get(f"arm{i}")]
        return [
            ArmAsked(
                data[f"arm{i}"].strip(), self.places[data[f"place{i}"] or next(iter(self.places))], data[f"cut{i}"]
            )
            for i in named
        ]


class ArmCountForm(forms.Form):
    """One look at every arm: newly rooted, newly lost."""

    on = day_field("Looked at on")
    why = forms.ChoiceField(label="Lost to", choices=REASONS, initial=Entry.Why.ROT, required=False)

    def __init__(self, data: Sent = None, *, arms: Sequence[ArmLine], today: date, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.arms, self.today = [line for line in arms if line.waiting], today
        self.fields["on"].initial = today
        for line in self.arms:
            for name, label in (("rooted", "newly rooted"), ("lost", "newly lost")):
                field = count_field(f"{line.arm.name}: {label}", least=0, most=line.waiting, required=False)
                field.initial = 0
                self.fields[f"{name}{line.arm.pk}"] = field

    @property
    def rows(self) -> list[tuple[ArmLine, forms.BoundField, forms.BoundField]]:
        """Of each arm its fields."""
        return [(line, self[f"rooted{line.arm.pk}"], self[f"lost{line.arm.pk}"]) for line in self.arms]

    def clean(self) -> dict[str, object]:
        """No more come of an arm than waited in it."""
        data = super().clean() or {}
        for line in self.arms:
            rooted, lost = (data.get(f"{name}{line.arm.pk}") or 0 for name in ("rooted", "lost"))
            if int(str(rooted)) + int(str(lost)) > line.waiting:
                self.add_error(f"lost{line.arm.pk}", f"Only {line.waiting} were waiting there.")
        day = data.get("on")
        if isinstance(day, date) and day > self.today:
            self.add_error("on", "That day is still to come.")
        return data

    def counts(self) -> Mapping[int, ArmCount]:
        """What was counted, by arm."""
        data = self.cleaned_data
        return {
            line.arm.pk: ArmCount(
                data.get(f"rooted{line.arm.pk}") or 0, data.get(f"lost{line.arm.pk}") or 0, data.get("why") or "unknown"
            )
            for line in self.arms
        }


class GrownForm(forms.Form):
    """How many of each arm have grown into plants, and how many have failed, in all."""

    def __init__(self, data: Sent = None, *, arms: Sequence[ArmLine], **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.arms = list(arms)
        for line in arms:
            for name, label, start in (("grown", "grown", line.grown), ("failed", "failed", line.lost)):
                field = count_field(f"{line.arm.name}: {label}", least=0, most=line.total or 1, required=False)
                field.initial = start
                self.fields[f"{name}{line.arm.pk}"] = field

    @property
    def rows(self) -> list[tuple[ArmLine, forms.BoundField, forms.BoundField]]:
        """Of each arm its fields."""
        return [(line, self[f"grown{line.arm.pk}"], self[f"failed{line.arm.pk}"]) for line in self.arms]

    def clean(self) -> dict[str, object]:
        """No more grew and failed than were begun with."""
        data = super().clean() or {}
        for line in self.arms:
            grown, failed = (data.get(f"{name}{line.arm.pk}") or 0 for name in ("grown", "failed"))
            if int(str(grown)) + int(str(failed)) > line.total:
                self.add_error(f"failed{line.arm.pk}", f"Only {line.total} were begun with.")
        return data

    def counts(self) -> Mapping[int, tuple[int, int]]:
        """Grown and failed, by arm."""
        data = self.cleaned_data
        return {
            line.arm.pk: (data.get(f"grown{line.arm.pk}") or 0, data.get(f"failed{line.arm.pk}") or 0)
            for line in self.arms
        }


class SplitForm(forms.Form):
    """What rooted, split anew between two to four treatments."""

    begun = count_field("How many of the rooted", least=4)
    judged_on = day_field("Judged on")

    def __init__(self, data: Sent = None, *, most: int, today: date, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.today, self.most = today, most
        self.fields["begun"].initial = most
        for i in range(ARMS):
            self.fields[f"arm{i}"] = forms.CharField(
                label=f"Treatment {'ABCD'[i]}", max_length=60, required=i < LEAST_ARMS,
                error_messages={"required": "Say what is done to these."},
            )  # fmt: skip

    def clean(self) -> dict[str, object]:
        """As many as rooted, at most; judged on a day to come."""
        data = super().clean() or {}
        begun, judged = data.get("begun"), data.get("judged_on")
        if isinstance(begun, int) and begun > self.most:
            self.add_error("begun", f"Only {self.most} have rooted.")
        if isinstance(judged, date) and judged <= self.today:
            self.add_error("judged_on", "Judge it on a day to come.")
        return data

    def split(self) -> Split:
        """What is split. Only for a form that is valid."""
        data = self.cleaned_data
        names = tuple(name for i in range(ARMS) if (name := data[f"arm{i}"].strip()))
        return Split(names, data["begun"], data["judged_on"])
