"""A new garden from what people know at once: the nearest town, four figures or any table, frost dates or none."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import ClassVar, Final, cast

from django import forms

from elder.engine.climate.first_guess import guessed_frosts, usual_months
from elder.engine.climate.normals import Normals
from elder.web.garden.forms import FROST_DAYS, GardenForm, TemperatureField
from elder.web.garden.models import Garden
from elder.web.garden.records_forms import RecordsForm
from elder.web.garden.towns import timezone_at
from elder.web.garden.where import Found, Spot, find_spot
from elder.web.garden.year_said import FOUR, Wrong, from_file, from_four, from_table
from elder.web.say.units import US, shown_temperature
from elder.web.say.words import MONTHS
from elder.web.ui.fields import Files, Sent

WAYS: Final = (
    ("four", "four figures"),
    ("table", "a table, pasted"),
    ("file", "a file of daily readings"),
    ("months", "month by month"),
)
EXAMPLES_C: Final = dict(zip(FOUR, (1.0, 7.0, 13.0, 22.0), strict=True))
EXAMPLES: Final = {
    "name": "Behind the house",
    "where": "Porthmadog, or 52.6, −4.1",
    "last_frost_mean": "mid April",
    "last_frost_late": "5 May",
    "first_frost_mean": "10 November",
    "first_frost_early": "end of October",
    "timezone": "by the place",
    "table": "Jan  1.2  6.8\nFeb  1.0  7.6\nMar  2.9  10.4\n…",
}
LONGEST_TABLE: Final = 20_000
LATITUDE_UNSAID: Final = 50.0  # whose coldest month is taken while no place is said
USUAL_BEYOND: Final = 16  # days from the average frost to the one year in ten, where nothing tells (assumed)
YEAR: Final = 365


class NewGardenForm(GardenForm):
    """A new garden. A town or degrees; one of four ways to say what its year is like; frost dates, some or none. What
    is left out is guessed from the rest and kept as a guess."""

    class Meta(GardenForm.Meta):
        error_messages: ClassVar = {
            **GardenForm.Meta.error_messages,
            "latitude": {"invalid": "Degrees as a number, such as 52.6."},
            "longitude": {"invalid": "Degrees as a number, such as −4.1."},
        }

    where = forms.CharField(label="The nearest town, or degrees", required=False, max_length=80)
    town = forms.CharField(required=False, max_length=40)
    way = forms.ChoiceField(choices=WAYS, required=False)
    coldest = forms.TypedChoiceField(label="Which month is that?", required=False, coerce=int, empty_value=None)
    warmest = forms.TypedChoiceField(label="Which month is that? ", required=False, coerce=int, empty_value=None)
    table = forms.CharField(
        label="Any climate table of a place nearby",
        required=False,
        max_length=LONGEST_TABLE,
        strip=False,
        widget=forms.Textarea(attrs={"rows": 6}),
    )
    file = forms.FileField(
        label=RecordsForm.base_fields["file"].label,
        required=False,
        widget=forms.FileInput(attrs=RecordsForm.base_fields["file"].widget.attrs),
        error_messages={"empty": "That file is empty."},
    )

    def __init__(self, data: Sent = None, files: Files = None, *, units: str, today: date) -> None:
        self.today = today
        super().__init__(data, files, units=units)
        for name in ("latitude", "longitude", "elevation_m", "timezone", "look_every_days", "accepted_risk"):
            self.fields[name].required = False
        for name in ("latitude", "longitude", "timezone"):
            self.initial.pop(name, None)
            self.fields[name].initial = None
        for name, label in zip(FOUR, ("Its nights", "Its days") * 2, strict=True):
            self.fields[name] = TemperatureField(units=units, label=label, required=False)
            self.fields[name].widget.attrs["placeholder"] = f"{shown_temperature(EXAMPLES_C[name], units):.0f}"
        for name in ("coldest", "warmest"):
            choices = [("", "the usual one there"), *enumerate(MONTHS)]
            cast(forms.TypedChoiceField, self.fields[name]).choices = choices
        for name, said in EXAMPLES.items():
            self.fields[name].widget.attrs["placeholder"] = said
        self.found = Found()
        self.normals: Normals | None = None
        self.frost_guessed = False
        self.sent_days = b""

    @property
    def chosen_way(self) -> str:
        """The way taken: the one chosen, else month by month where any month was sent, else four figures."""
        way = str(self.data.get("way") or "")
        if way in dict(WAYS):
            return way
        return (
            "months"
            if any(str(name).startswith(("t_min_", "t_max_")) and said for name, said in self.data.items())
            else "four"
        )

    @property
    def spot(self) -> Spot | None:
        """Where it lies, as far as is said."""
        return self.found.spot

    def clean(self) -> dict[str, object]:
        """The place, then the year, then its frosts: each from what was said, the rest guessed."""
        data = forms.ModelForm.clean(self) or {}
        self._place(data)
        said = self._year(data)
        if isinstance(said, Normals):
            self.normals = said
            for month in range(12):
                data[f"t_min_{month}"], data[f"t_max_{month}"] = said.t_min[month], said.t_max[month]
            self._frosts(said, data)
        for field, sentence in () if isinstance(said, Normals) else said:
            if field not in self.errors:
                self.add_error(field, sentence)
        return data

    def _place(self, data: dict[str, object]) -> None:
        if not {"latitude", "longitude"} & set(self.errors):
            degrees = cast("tuple[float | None, float | None]", (data.get("latitude"), data.get("longitude")))
            where, town = (str(data.get(name) or "").strip() for name in ("where", "town"))
            self.found = find_spot(where, town, degrees)
            if self.found.field:
                self.add_error(self.found.field, self.found.wrong)
        if spot := self.spot:
            data["latitude"], data["longitude"] = spot.latitude, spot.longitude
            data["timezone"] = data.get("timezone") or timezone_at(spot.latitude, spot.longitude)
        for name in ("elevation_m", "accepted_risk", "look_every_days"):
            if data.get(name) in (None, ""):
                data[name] = getattr(self.instance, name)

    def _year(self, data: Mapping[str, object]) -> Normals | Wrong:
        """Twelve months, or what is wrong where."""
        way = self.chosen_way
        if way == "table":
            return from_table(str(data.get("table") or ""), fahrenheit=self.units == US, today=self.today)
        if way == "file":
            said, self.sent_days = from_file(self.files.get("file"), self.today)
            return said
        if way == "months":
            return self._months(data)
        cold, warm = usual_months(self.spot.latitude if self.spot else LATITUDE_UNSAID)
        named = [data.get("coldest"), data.get("warmest")]
        values = cast("tuple[float | None, ...]", tuple(data.get(name) for name in FOUR))
        ends = [cast(int, usual if said is None else said) for said, usual in zip(named, (cold, warm), strict=True)]
        return from_four(values, coldest=ends[0], warmest=ends[1])

    def _months(self, data: Mapping[str, object]) -> Normals | Wrong:
        self._mark_missing()
        self._check_crossed_months()
        sides = [[data.get(f"{key}_{month}") for month in range(12)] for key in ("t_min", "t_max")]
        if self.non_field_errors() or any(name.startswith("t_m") for name in self.errors):
            return []
        low, high = (tuple(cast("list[float]", side)) for side in sides)
        return Normals(low, high)

    def _frosts(self, normals: Normals, data: dict[str, object]) -> None:
        """Dates that are missing are guessed: both of an end, or how far beyond it the one year in ten lies."""
        ends = ((*FROST_DAYS[:2], 1, "later in spring than the average"),
                (*FROST_DAYS[2:], -1, "earlier in autumn than the average"))  # fmt: skip
        for guess, (mean, extreme, sign, words) in zip(guessed_frosts(normals), ends, strict=True):
            if {mean, extreme} & set(self.errors):
                continue
            at, beyond = cast("tuple[int | None, int | None]", (data.get(mean), data.get(extreme)))
            if at is None and beyond is not None:
                self.add_error(mean, "Give the average too, or neither.")
            elif at is None and guess:
                data[mean], data[extreme], self.frost_guessed = guess.mean_doy, guess.extreme_doy, True
            elif at is not None and beyond is None:
                days = abs((guess.extreme_doy - guess.mean_doy + 182) % YEAR - 182) if guess else USUAL_BEYOND
                data[extreme], self.frost_guessed = (at + sign * days) % YEAR, True
            self._pair(mean, extreme, sign, words)

    def row(self) -> Garden | None:
        """The garden as far as it has been said, not kept; nothing before there is a place and a year."""
        if self.spot is None or self.normals is None:
            return None
        row = Garden(latitude=self.spot.latitude, longitude=self.spot.longitude)
        row.timezone = timezone_at(self.spot.latitude, self.spot.longitude)
        row.t_min, row.t_max = list(self.normals.t_min), list(self.normals.t_max)
        for name in FROST_DAYS:
            setattr(row, name, self.cleaned_data.get(name))
        return self._mark(row)

    def _mark(self, row: Garden) -> Garden:
        row.months_guessed, row.frost_guessed = self.chosen_way == "four", self.frost_guessed
        return row

    def save(self, commit: bool = True) -> Garden:
        """The row, with what of it is a guess."""
        row = self._mark(super().save(commit=False))
        if commit:
            row.save()
        return row
