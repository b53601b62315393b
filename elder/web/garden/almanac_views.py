"""The almanac: the garden's year, and its frost dates year by year."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Unpack

from django import forms
from django.http import HttpResponse
from django.views.decorators.http import require_GET

from elder.drawing.ground import ground_scene
from elder.drawing.scene import Scene
from elder.drawing.soil_line import COMPACT
from elder.engine.climate.freezes import FreezeCount, FreezeYear
from elder.engine.handbook.loading import clonable
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.almanac import Almanac, FreezeSheet, Strip
from elder.web.garden.forms import TemperatureField
from elder.web.garden.guesses import guess_words
from elder.web.garden.models import Place, Records
from elder.web.read.gardens import climate_of, place_of
from elder.web.say.numbers import Numbers, year_numbers
from elder.web.say.units import shown_temperature, temperature, temperature_sign
from elder.web.ui.fields import Filled, Sent
from elder.web.ui.pages import show

MOST_THRESHOLD = 15.0


class ThresholdForm(forms.Form):
    """At what temperature a night counts as frost."""

    def __init__(self, data: Sent = None, *, units: str, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.fields["at"] = TemperatureField(units=units, label=f"Counted at or below, {temperature_sign(units)}")


@dataclass(frozen=True)
class AlmanacPage:
    """The garden's year as strips over one axis, and the gate of each plant in use, or of two common ones."""

    headline: str
    ruler: Scene
    ground: Scene
    strips: list[Strip]
    gates: list[Strip]
    in_use: bool
    recorded: Records | None
    numbers: Numbers
    guess: str


@dataclass(frozen=True)
class FrostPage:
    """Frost at a threshold: spring and autumn, and year by year where records are there."""

    form: ThresholdForm
    sheets: list[FreezeSheet]
    counted: FreezeCount | None
    years: list[tuple[FreezeYear, FreezeYear | None]]
    at: str
    recorded: Records | None


def almanac_of(request: GardenRequest) -> Almanac:
    """The garden's almanac on this day; the warmest cover it has stands for pots under cover."""
    covers = request.garden.places.filter(standing=Place.Standing.AIR, lift_day_c__gt=0, floor_c=None)
    cover = covers.order_by("-lift_day_c").first()
    return Almanac(
        climate=climate_of(request.garden),
        today=request.today,
        accepted=request.garden.accepted_risk,
        units=request.user.units,
        cover=place_of(cover) if cover else None,
    )


@require_GET
@in_garden("see")
def almanac(request: GardenRequest) -> HttpResponse:
    """The garden's year: warmth, light, frost, wood, and the gate of each plant in use."""
    book = almanac_of(request)
    slugs = request.garden.wants.filter(closed_on=None).values_list("plant", flat=True)
    in_use = [clonable()[slug] for slug in dict.fromkeys(slugs) if slug in clonable()]
    plants = in_use or [clonable()["tomato"], clonable()["mint"]]
    page = AlmanacPage(
        headline=book.headline(),
        ruler=book.ruler,
        ground=ground_scene(book.axis, request.today, book.climate, height=COMPACT.height),
        strips=book.strips(plants[0]),
        gates=book.gates(plants),
        in_use=bool(in_use),
        recorded=_recorded(request),
        numbers=year_numbers(book.climate, request.user.units),
        guess=guess_words(request.garden),
    )
    return show(request, "garden/almanac.html", page)


def _recorded(request: GardenRequest) -> Records | None:
    return Records.objects.filter(garden=request.garden).first()


@require_GET
@in_garden("see")
def frost(request: GardenRequest) -> HttpResponse:
    """Frost dates by year, for any threshold."""
    book = almanac_of(request)
    asked = ThresholdForm(request.GET or {"at": shown_temperature(0.0, request.user.units)}, units=request.user.units)
    threshold = book.climate.frost.threshold_c
    if asked.is_valid() and abs(asked.cleaned_data["at"]) <= MOST_THRESHOLD:
        threshold = asked.cleaned_data["at"]
    elif asked.is_valid():
        asked.add_error(
            "at", f"Ask between {temperature(-15, request.user.units)} and {temperature(15, request.user.units)}."
        )
    counted, sheets = book.freezes(threshold)
    years: list[tuple[FreezeYear, FreezeYear | None]] = []
    if counted:
        autumns = {year.year: year for year in counted.autumn_years}
        years = [(year, autumns.get(year.year)) for year in counted.spring_years]
    page = FrostPage(
        form=asked,
        sheets=sheets,
        counted=counted,
        years=years,
        at=temperature(threshold, request.user.units, places=0 if threshold == round(threshold) else 1),
        recorded=_recorded(request),
    )
    return show(request, "garden/frost.html", page)
