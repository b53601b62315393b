"""Forms of the garden: climate, records, places."""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar, Unpack, cast

from django import forms
from django.core.exceptions import ValidationError

from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import MONTH_STARTS, doy0
from elder.engine.climate.frost import FROST_FREE
from elder.engine.climate.frost_fit import solved
from elder.engine.climate.normals import Normals
from elder.web.formats.year_days import read_year_day
from elder.web.garden.models import Garden
from elder.web.say.units import US, read_lift, read_temperature, shown_lift, shown_temperature, temperature_sign
from elder.web.say.words import MONTHS, listed
from elder.web.ui.fields import Files, FilledRow, Sent, choosing


class TemperatureField(forms.FloatField):
    """A temperature or a difference, typed as the person reads it and kept in °C."""

    def __init__(self, *, units: str, label: str, lift: bool = False, required: bool = True) -> None:
        self.units, self.lift = units, lift
        look = forms.NumberInput(attrs={"step": "0.1", "inputmode": "decimal"})
        super().__init__(widget=look, label=label, required=required, error_messages={"required": "Needed."})

    def prepare_value(self, value: object) -> object:
        """°C as the person reads it; what was typed stays as typed."""
        if isinstance(value, float | int) and not isinstance(value, bool):
            show = shown_lift if self.lift else shown_temperature
            return round(show(float(value), self.units), 1)
        return value

    def clean(self, value: object) -> float | None:
        """What was typed, in °C."""
        typed = super().clean(value)
        if typed is None:
            return None
        celsius = (read_lift if self.lift else read_temperature)(typed, self.units)
        if not -60 <= celsius <= 60:
            raise ValidationError(f"{typed:g} {temperature_sign(self.units)} is no temperature of a garden.")
        return round(celsius, 3)


class DayOfYearField(forms.CharField):
    """A day without its year, typed as people write one and kept as a day of the year from 0; 29 Feb counts as the
    28th. ``units`` tells how "4/5" is meant."""

    units = ""

    def prepare_value(self, value: object) -> object:
        """A day of the year as people write it."""
        if isinstance(value, int):
            month = int((value >= MONTH_STARTS).sum()) - 1
            return f"{value - int(MONTH_STARTS[month]) + 1} {MONTHS[month]}"
        return value

    def clean(self, value: object) -> int | None:
        """The day of the year, or None for none."""
        text = " ".join(super().clean(value).split())
        if not text:
            return None
        day = read_year_day(text, month_first=self.units == US)
        if day is None:
            raise ValidationError("That is no day Elder can read. Write it like 30 Apr, or end of April.")
        return doy0(day)


FROST_DAYS = ("last_frost_mean", "last_frost_late", "first_frost_mean", "first_frost_early")


LOOKS = ((1, "every day"), (2, "every second day"), (3, "every three days"), (5, "every five days"), (7, "once a week"),
         (14, "every two weeks"))  # fmt: skip


class GardenForm(forms.ModelForm):  # type: ignore[type-arg]
    """A garden, its monthly means and its frost dates."""

    class Meta:
        model = Garden
        fields: ClassVar = ["name", "latitude", "longitude", "elevation_m", "timezone", "look_every_days",
                             "dates_well_known"]  # fmt: skip
        labels: ClassVar = {
            "name": "Name of the garden",
            "latitude": "Latitude, north positive",
            "longitude": "Longitude, east positive",
            "elevation_m": "Height above the sea, m",
            "timezone": "Time zone",
            "dates_well_known": "These dates are well known here: go by them until there are ten years of records",
        }

        error_messages: ClassVar = {
            "name": {"required": "Give it a name."},
            "latitude": {"required": "Degrees, such as 52.6.", "invalid": "Degrees as a number, such as 52.6."},
            "longitude": {"required": "Degrees, such as −4.1.", "invalid": "Degrees as a number, such as −4.1."},
            "elevation_m": {"required": "Metres; 0 by the sea."},
            "timezone": {"required": "Such as Europe/London."},
        }

    look_every_days = forms.TypedChoiceField(label="How often do you look?", coerce=int, choices=LOOKS, required=False)

    last_frost_mean = DayOfYearField(label="Last spring frost, on average", required=False)
    last_frost_late = DayOfYearField(label="One year in ten as late as", required=False)
    first_frost_mean = DayOfYearField(label="First autumn frost, on average", required=False)
    first_frost_early = DayOfYearField(label="One year in ten as early as", required=False)
    accepted_risk = forms.TypedChoiceField(
        label="Frost risk you accept",
        coerce=float,
        choices=(
            (0.02, "1 in 50"),
            (0.05, "1 in 20"),
            (0.10, "1 in 10"),
            (0.20, "1 in 5"),
            (0.30, "3 in 10"),
            (0.5, "an even chance"),
        ),
    )

    def __init__(self, data: Sent = None, files: Files = None, *, units: str, **rest: Unpack[FilledRow]) -> None:
        super().__init__(data, files, **rest)
        self.units = units
        looks = self.instance.look_every_days
        if looks not in dict(LOOKS):
            choosing(self, "look_every_days").choices = [*LOOKS, (looks, f"every {looks} days")]
        self.fields["look_every_days"].initial = looks
        self.recorded = bool(self.instance.records_digest)
        if self.recorded:  # frosts are counted and the means derived: only the place itself is left to say
            for name in FROST_DAYS:
                del self.fields[name]
            self.fields["accepted_risk"].initial = self.instance.accepted_risk
            return
        for name in FROST_DAYS:
            cast(DayOfYearField, self.fields[name]).units = units
        sign = temperature_sign(units)
        means = [(key, getattr(self.instance, key) or [None] * 12) for key in ("t_min", "t_max")]
        for key, values in means:
            for month, value in enumerate(values):
                name = f"{MONTHS[month]} {'lowest' if key == 't_min' else 'highest'}, {sign}"
                field = TemperatureField(units=units, label=name, required=False)  # missed together: see clean
                field.initial = value
                self.fields[f"{key}_{month}"] = field
        for name in (*FROST_DAYS, "accepted_risk"):
            self.fields[name].initial = getattr(self.instance, name)

    def months(self) -> Iterator[tuple[str, forms.BoundField, forms.BoundField]]:
        """Each month with its two fields."""
        for month, name in enumerate(() if self.recorded else MONTHS):
            yield name, self[f"t_min_{month}"], self[f"t_max_{month}"]

    def clean(self) -> dict[str, object]:
        """Minima lie below maxima, and each frost date has its partner on the right side."""
        data = super().clean() or {}
        if self.recorded:
            return data
        self._mark_missing()
        self._check_crossed_months()
        self._pair("last_frost_mean", "last_frost_late", 1, "later in spring than the average")
        self._pair("first_frost_mean", "first_frost_early", -1, "earlier in autumn than the average")
        self._blank_dates()
        return data

    def _check_crossed_months(self) -> None:
        """A lowest above its highest is said at the lowest."""
        for month in range(12):
            low, high = self.cleaned_data.get(f"t_min_{month}"), self.cleaned_data.get(f"t_max_{month}")
            if low is not None and high is not None and low > high:
                self.add_error(f"t_min_{month}", "The lowest lies above the highest.")

    def _mark_missing(self) -> None:
        """Say once which temperatures are missing, and mark each."""
        names = [f"{key}_{month}" for month in range(12) for key in ("t_min", "t_max")]
        missing = [name for name in names if name not in self.errors and self.cleaned_data.get(name) is None]
        for name in missing:
            field = self.fields[name]
            field.widget.attrs |= {"class": "is-invalid", "aria-invalid": "true", "aria-describedby": "months-missing"}
        if not missing:
            return
        said = listed(str(self.fields[name].label).split(",")[0] for name in missing)
        few = f"Still missing: {said}."
        many = f"{len(missing)} of the 24 temperatures are still missing; they are marked."
        every = "All 24 are still missing: a lowest and a highest for each month."
        self.add_error(None, every if len(missing) == 24 else few if len(missing) <= 4 else many)

    def _blank_dates(self) -> None:
        """Frost dates may stay blank where there is no frost; where the temperatures say that there is, they are asked
        for."""
        data = self.cleaned_data
        if self.errors or any(data.get(name) is not None for name in FROST_DAYS):
            return
        lows, highs = ([data[f"{key}_{month}"] for month in range(12)] for key in ("t_min", "t_max"))
        climate = Climate(0.0, 0.0, 0.0, "UTC", Normals(tuple(lows), tuple(highs)), FROST_FREE)
        for name, end in (("last_frost_mean", solved(climate).spring), ("first_frost_mean", solved(climate).autumn)):
            if end.fit == "unknown":
                self.add_error(name, "By these temperatures most years have frost. Give both days, as you know them.")

    def _pair(self, mean: str, extreme: str, sign: int, words: str) -> None:
        if mean in self.errors or extreme in self.errors:
            return
        have = self.cleaned_data.get(mean), self.cleaned_data.get(extreme)
        if (have[0] is None) != (have[1] is None):
            self.add_error(extreme if have[1] is None else mean, "Give both days, or neither where there is no frost.")
        elif have[0] is not None and have[1] is not None:
            days = sign * ((have[1] - have[0] + 182) % 365 - 182)
            if days <= 0:
                self.add_error(extreme, f"This day is {words}.")

    def _was_changed(self, *beginnings: str) -> bool:
        """Whether any field of such a name was changed: what somebody has bettered is no guess any more."""
        return any(name.startswith(beginnings) for name in self.changed_data)

    def save(self, commit: bool = True) -> Garden:
        """Write the means and the frost dates onto the row."""
        row: Garden = super().save(commit=False)
        data = self.cleaned_data
        row.accepted_risk = data["accepted_risk"]
        row.months_guessed = row.months_guessed and not self._was_changed("t_")
        row.frost_guessed = row.frost_guessed and not self._was_changed("last_frost", "first_frost")
        if not self.recorded:
            row.t_min = [data[f"t_min_{month}"] for month in range(12)]
            row.t_max = [data[f"t_max_{month}"] for month in range(12)]
            for name in FROST_DAYS:
                setattr(row, name, data[name])
            Normals(tuple(row.t_min), tuple(row.t_max))  # a last check that the engine takes them
        if commit:
            row.save()
        return row


class NamedInGarden(forms.ModelForm):  # type: ignore[type-arg]
    """A row of a garden whose name no other of its kind there bears."""

    garden: Garden
    name_taken: ClassVar = "There is one of that name already."

    def clean_name(self) -> str:
        """Names differ within a garden."""
        name: str = self.cleaned_data["name"]
        others = self._meta.model.objects.filter(garden=self.garden, name__iexact=name).exclude(pk=self.instance.pk)
        if others.exists():
            raise ValidationError(self.name_taken)
        return name
