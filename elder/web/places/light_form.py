"""The light of a place as it is described: in words, or by what it sees of the sky."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, date, datetime, time
from typing import Final, Unpack
from zoneinfo import ZoneInfo

from django import forms

from elder.engine.place.light import WINDOW_DEG
from elder.engine.place.sun import sun_position
from elder.web.garden.models import Garden
from elder.web.read.light import Before, Described
from elder.web.say.light import COMPASS_WORDS, towards
from elder.web.say.units import distance_in, distance_sign, read_distance
from elder.web.say.words import MONTHS
from elder.web.ui.fields import Filled, Sent, choosing

STEP_DEG: Final = 15  # from one height of the skyline to the next
AZIMUTHS: Final = tuple(range(0, 360, STEP_DEG))
MEASURES: Final = ("height", "away", "wide")
BEFORE: Final = (1, 2, 3)  # so many houses and trees may stand before a place
OPEN_AIR: Final = "open"
MEASURED: Final = "measured"
WORDS: Final = (
    ("", "nobody has said"),
    (MEASURED, "by what it sees of the sky"),
    ("full shade", "full shade"),
    ("bright shade", "bright shade: much sky, no sun"),
    ("part sun", "part sun: two to six hours"),
    ("full sun", "full sun: six hours and more"),
)
ROSE: Final = tuple((f"{22.5 * i:g}", COMPASS_WORDS[at]) for i, at in enumerate(COMPASS_WORDS))
KINDS: Final = (("", "nothing"), ("house", "a house or wall"), ("tree", "a tree in leaf"))
LEAF_MONTHS: Final = tuple((str(i), name) for i, name in enumerate(MONTHS, start=1))
MONTH_DOYS: Final = (0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334, 365)


def _number(label: str, least: float, most: float, said: str) -> forms.FloatField:
    return forms.FloatField(
        label=label,
        required=False,
        min_value=least,
        max_value=most,
        widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "any"}),
        error_messages={"invalid": "A number, please.", "min_value": said, "max_value": said},
    )


class LightForm(forms.Form):
    """What light a place gets, and what is told of it besides: a cloth, lamps, and which other place to set beside."""

    said = forms.ChoiceField(label="Its light", choices=WORDS, required=False)
    facing = forms.ChoiceField(
        label="Looks towards", choices=((OPEN_AIR, "open all round"), *ROSE), required=False, widget=forms.RadioSelect
    )
    exact = _number("or exactly, ° from north", 0, 360, "Between 0 and 360.")
    oclock = forms.TimeField(
        label="or the sun looks straight in at",
        required=False,
        widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M"),
        error_messages={"invalid": "A time of the clock, please."},
    )
    overhang = _number("A lintel or roof hides the sun above, °", 5, 90, "Between 5 and 90; 90 for none.")
    cloth = _number("A cloth takes, %", 0, 95, "Between 0 and 95.")
    lamps_on = forms.TimeField(
        label="Lamps from", required=False, widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M"),
        error_messages={"invalid": "A time of the clock, please."},
    )  # fmt: skip
    lamps_off = forms.TimeField(
        label="to", required=False, widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M"),
        error_messages={"invalid": "A time of the clock, please."},
    )  # fmt: skip
    other = forms.ChoiceField(label="What if it stood at", required=False)

    def __init__(
        self,
        data: Sent = None,
        *,
        garden: Garden,
        today: date,
        units: str,
        others: list[tuple[str, str]],
        **rest: Unpack[Filled],
    ) -> None:
        super().__init__(data, **rest)
        self.garden, self.today, self.units = garden, today, units
        choosing(self, "other").choices = [("", "–"), *others]
        for azimuth in AZIMUTHS:
            self.fields[f"s{azimuth}"] = _number(f"{azimuth}°", 0, 85, "Between 0 and 85.")
        sign, far = distance_sign(units), distance_in(500, units)
        for i in BEFORE:
            self.fields[f"kind{i}"] = forms.ChoiceField(label="Before it", choices=KINDS, required=False)
            self.fields[f"towards{i}"] = forms.ChoiceField(label="Towards", choices=ROSE, required=False)
            for name, label in (("height", "Higher than here by"), ("away", "Away"), ("wide", "Wide")):
                said = f"More than nothing, up to {far:.0f} {sign}."
                self.fields[f"{name}{i}"] = _number(f"{label}, {sign}", 0.05, far, said)
            for name, label in (("leaf_from", "In leaf from"), ("leaf_to", "to")):
                self.fields[f"{name}{i}"] = forms.ChoiceField(label=label, choices=LEAF_MONTHS, required=False)

    def clean(self) -> dict[str, object]:
        """Both lamps or neither; a house with all its measures."""
        data = super().clean() or {}
        if (data.get("lamps_on") is None) != (data.get("lamps_off") is None):
            missing = "lamps_on" if data.get("lamps_on") is None else "lamps_off"
            if missing not in self.errors:
                self.add_error(missing, "Say from when and until when, or neither.")
        for i in BEFORE:
            if data.get(f"kind{i}"):
                for name in MEASURES:
                    if data.get(f"{name}{i}") is None and f"{name}{i}" not in self.errors:
                        self.add_error(f"{name}{i}", "How much?")
        if data.get("oclock") and self._straight_in() is None:
            self.add_error("oclock", "The sun is not up here at that hour today.")
        return data

    def described(self) -> Described:
        """As a row keeps it. Asked of a form that is valid."""
        data, light = self.cleaned_data, Described()
        if data["said"] == MEASURED:
            light = self._outlook()
        elif data["said"]:
            light = Described(said=data["said"])
        if light and data.get("cloth"):
            light["cloth"] = data["cloth"] / 100
        if light and data.get("lamps_on") is not None:
            light["lamps"] = [f"{data[name]:%H:%M}" for name in ("lamps_on", "lamps_off")]
        return light

    def _outlook(self) -> Described:
        data = self.cleaned_data
        light = Described(facing=self._facing(), half_angle=WINDOW_DEG)
        if data.get("overhang") is not None and data["overhang"] < 90:
            light["overhang"] = data["overhang"]
        heights = [[azimuth, data.get(f"s{azimuth}") or 0.0] for azimuth in AZIMUTHS]
        if any(height for _, height in heights):
            light["skyline"] = heights
        if before := [self._before(i) for i in BEFORE if data.get(f"kind{i}")]:
            light["before"] = before
        return light

    def _facing(self) -> float | None:
        data = self.cleaned_data
        straight = self._straight_in()
        if straight is not None:
            return straight
        if data.get("exact") is not None:
            return float(data["exact"]) % 360
        chosen = data.get("facing") or OPEN_AIR
        return None if chosen == OPEN_AIR else float(chosen)

    def _straight_in(self) -> float | None:
        """The sun's azimuth at the hour it looks straight in today."""
        clock: time | None = self.cleaned_data.get("oclock")
        if clock is None:
            return None
        moment = datetime.combine(self.today, clock, tzinfo=ZoneInfo(self.garden.timezone)).astimezone(UTC)
        elevation, azimuth = sun_position(self.garden.latitude, self.garden.longitude, moment)
        return round(azimuth, 1) if elevation > 0 else None

    def _before(self, i: int) -> Before:
        data = self.cleaned_data
        height, away, wide = (round(read_distance(data[f"{name}{i}"], self.units), 3) for name in MEASURES)
        found = Before(towards=float(data.get(f"towards{i}") or 0), height=height, away=away, wide=wide)
        if data[f"kind{i}"] == "tree":
            first, last = int(data.get(f"leaf_from{i}") or 5), int(data.get(f"leaf_to{i}") or 10)
            found["leaf"] = [MONTH_DOYS[first - 1], MONTH_DOYS[last] - 1]
        return found

    def heights(self) -> Iterator[tuple[int, str, forms.BoundField]]:
        """The skyline's fields with their directions."""
        for azimuth in AZIMUTHS:
            yield azimuth, towards(azimuth), self[f"s{azimuth}"]

    def before(self) -> Iterator[list[forms.BoundField]]:
        """The fields of each house or tree."""
        names = ("kind", "towards", "height", "away", "wide", "leaf_from", "leaf_to")
        for i in BEFORE:
            yield [self[f"{name}{i}"] for name in names]


def filled_from(light: Described, units: str) -> dict[str, str]:
    """A kept description as the form's fields; empty where nobody said."""
    if not light:
        return {"said": ""}
    facing = light.get("facing")
    found = {
        "said": light.get("said") or MEASURED,
        "facing": OPEN_AIR if facing is None else min((key for key, _ in ROSE), key=lambda key: _apart(key, facing)),
        "overhang": f"{light.get('overhang', 90):g}",
        "cloth": f"{round(100 * light.get('cloth', 0), 1):g}",
    }
    if facing is not None and _apart(found["facing"], facing) > 0.05:
        found["exact"] = f"{facing:g}"
    if light.get("lamps"):
        found["lamps_on"], found["lamps_off"] = light["lamps"]
    for azimuth, height in light.get("skyline", ()):
        found[f"s{int(azimuth)}"] = f"{height:g}"
    for i, one in zip(BEFORE, light.get("before", ()), strict=False):
        measures = zip(MEASURES, (one["height"], one["away"], one["wide"]), strict=True)
        found |= {f"{name}{i}": f"{distance_in(metres, units):.3g}" for name, metres in measures}
        found[f"towards{i}"] = min((key for key, _ in ROSE), key=lambda key: _apart(key, one["towards"]))
        found[f"kind{i}"] = "tree" if one.get("leaf") else "house"
        if one.get("leaf"):
            found[f"leaf_from{i}"], found[f"leaf_to{i}"] = (
                str(next(m for m in range(1, 13) if doy < MONTH_DOYS[m])) for doy in one["leaf"]
            )
    return found


def _apart(key: str, azimuth: float) -> float:
    return abs((float(key) - azimuth + 180) % 360 - 180)
