"""The foot of a wall: a strip without sun for half the year, no bed, but a good nursery and compost place."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final, Unpack

import numpy as np
from django import forms
from django.http import HttpResponse
from django.views.decorators.http import require_GET

from elder.drawing.scene import Scene
from elder.drawing.wall import strip_scene
from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import doy0
from elder.engine.place.wall import strip_of_year
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.places.light_form import ROSE
from elder.web.say.light import season_of, towards
from elder.web.say.units import distance_in, distance_sign, read_distance, shown_distance
from elder.web.say.words import MONTHS
from elder.web.ui.fields import Filled, Sent
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment
from elder.web.ui.widgets import Stepper

NURSERY_M: Final = 0.3  # a strip narrower than a row of pots is no use (assumed)
SOUTHERN_WALL, NORTHERN_WALL = "180", "0"


class WallForm(forms.Form):
    """A wall: how high, which way it faces, how much sun still counts as shade."""

    height = forms.FloatField()
    facing = forms.ChoiceField(label="The side that faces", choices=ROSE)
    hours = forms.ChoiceField(label="At most", choices=(("0", "no sun"), ("1", "an hour"), ("2", "two hours")))

    def __init__(self, data: Sent = None, *, units: str, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.units = units
        most = distance_in(20, units)
        said = f"More than nothing, up to {most:.0f} {distance_sign(units)}."
        self.fields["height"] = forms.FloatField(
            label=f"How high, {distance_sign(units)}",
            min_value=0.1,
            max_value=most,
            widget=Stepper(attrs={"inputmode": "decimal", "step": "any"}),
            error_messages={
                "required": "How high is it?", "invalid": "A number, please.", "min_value": said, "max_value": said,
            },
        )  # fmt: skip


@dataclass(frozen=True)
class WallPage:
    """A wall and the strip at its foot: in a sentence, drawn, and by the month."""

    form: WallForm
    said: str
    then: str
    scene: Scene | None
    months: list[tuple[str, str]]


@require_GET
@in_garden("see")
def wall(request: GardenRequest) -> HttpResponse:
    """The strip at the foot of a wall here."""
    units = request.user.units
    away = NORTHERN_WALL if request.garden.latitude >= 0 else SOUTHERN_WALL
    start = {"height": "2" if units != "us" else "6.5", "facing": away, "hours": "0"}
    form = WallForm({**start, **request.GET.dict()}, units=units)
    page = _answered(request, form) if form.is_valid() else WallPage(form, "", "", None, [])
    return show(request, "places/wall_answer.html" if wants_fragment(request) else "places/wall.html", page)


def _answered(request: GardenRequest, form: WallForm) -> WallPage:
    data, units, garden = form.cleaned_data, request.user.units, request.garden
    strip = strip_of_year(
        garden.latitude,
        garden.longitude,
        wall_height_m=read_distance(data["height"], units),
        wall_facing_deg=float(data["facing"]),
        most_hours=float(data["hours"]),
    )
    shade = (
        "no sun" if data["hours"] == "0" else "an hour of sun at most" if data["hours"] == "1" else "two hours at most"
    )
    said = _today_words(strip, request.today, shade, units)
    return WallPage(
        form,
        f"On the side that faces {towards(float(data['facing']))}, {said}.",
        _year_words(strip),
        strip_scene(
            strip,
            request.today,
            distance=distance_sign(units),
            per_mark_m=read_distance(1, units) if units != "us" else read_distance(3, units),
            words=_year_words(strip),
        ),
        [(MONTHS[i], _far(strip[doy0(date(2027, i + 1, 21))], units)) for i in range(12)],
    )


def _far(metres: float, units: str) -> str:
    if not np.isfinite(metres):
        return "as far as you like"
    return shown_distance(float(metres), units) if metres >= 0.05 else "–"


def _today_words(strip: Floats, today: date, shade: str, units: str) -> str:
    here = float(strip[doy0(today)])
    if here < 0.05:
        return f"the sun reaches its foot today: nowhere has {shade} all day"
    return f"{_far(here, units)} out from its foot have {shade} today"


def _year_words(strip: Floats) -> str:
    wide = strip >= NURSERY_M
    if not wide.any():
        return "At no time of the year is it shade enough for a nursery."
    season = season_of(wide.astype(float), 1.0)
    use = "no bed then, but a cool nursery for pots of bare sticks, and a place for compost"
    return f"Shade all day {'all year round' if season == 'all year' else season}: {use}."
