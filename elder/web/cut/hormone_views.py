"""Hormone by its numbers: what the label says in other words, and how to thin it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final

from django.http import HttpResponse
from django.views.decorators.http import require_GET

from elder.engine.cut.hormone import Unit, dilute, from_ppm, to_ppm
from elder.engine.refusal import Refusal
from elder.web.cut.forms import DilutionForm
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.say.cautions import DILUTION
from elder.web.say.refusals import refusal_words
from elder.web.say.units import US, shown_small_volume
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment

START: Final = {"strength": "0.5", "unit": "percent", "wanted": "1000", "volume": "100"}
FIELDS: Final = {"stock": "strength", "wanted": "wanted", "volume": "volume"}


@dataclass(frozen=True)
class Thinned:
    """So much of it and so much water, what that makes, and what the label says in other words."""

    same: str
    stock: str
    water: str
    made: str


@dataclass(frozen=True)
class HormonePage:
    """A strength and what is wanted of it; the answer once it can be given."""

    form: DilutionForm
    answer: Thinned | None
    caution: str = DILUTION


@require_GET
@in_garden("see")
def hormone(request: GardenRequest) -> HttpResponse:
    """The label's strength in every unit, and so much of it to so much water."""
    form = DilutionForm(request.GET if "strength" in request.GET else START)
    answer = _answer(form, request.user.units, request.today) if form.is_valid() else None
    template = "cut/hormone_answer.html" if wants_fragment(request) else "cut/hormone.html"
    return show(request, template, HormonePage(form, answer))


def _answer(form: DilutionForm, units: str, today: date) -> Thinned | None:
    data = form.cleaned_data
    unit: Unit = data["unit"]
    ppm = to_ppm(data["strength"], unit)
    found = dilute(ppm, data["wanted"], data["volume"])
    if isinstance(found, Refusal):
        form.add_error(FIELDS[found.field], refusal_words(found, today))
        return None
    return Thinned(
        same=f"{from_ppm(ppm, 'percent'):g} % = {ppm:,.0f} ppm = {from_ppm(ppm, 'mg_g'):g} mg per g",
        stock=_small(found.stock_ml, units),
        water=_small(found.water_ml, units),
        made=f"{data['volume']:g} ml at {data['wanted']:,.0f} ppm",
    )


def _small(ml: float, units: str) -> str:
    """Millilitres, and in US measure beside them for those who read that."""
    return f"{ml:.3g} ml" + (f" ({shown_small_volume(ml, units)})" if units == US else "")
