"""Hormone by its numbers: what the label says in other words, and how to thin it."""

from __future__ import annotations

from datetime import date
from typing import Any, Final

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from elder.engine.cut.hormone import Unit, dilute, from_ppm, to_ppm
from elder.engine.refusal import Refusal
from elder.web.cut.forms import DilutionForm
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.say.cautions import DILUTION
from elder.web.say.refusals import refusal_words
from elder.web.say.units import US, shown_small_volume
from elder.web.ui.replies import wants_fragment

START: Final = {"strength": "0.5", "unit": "percent", "wanted": "1000", "volume": "100"}
FIELDS: Final = {"stock": "strength", "wanted": "wanted", "volume": "volume"}


@require_GET
@in_garden("see")
def hormone(request: GardenRequest) -> HttpResponse:
    """The label's strength in every unit, and so much of it to so much water."""
    form = DilutionForm(request.GET if "strength" in request.GET else START)
    context: dict[str, Any] = {"form": form, "caution": DILUTION}
    if form.is_valid():
        context |= _answer(form, request.user.units, request.today)
    only = wants_fragment(request)
    return render(request, "cut/hormone_answer.html" if only else "cut/hormone.html", context)


def _answer(form: DilutionForm, units: str, today: date) -> dict[str, Any]:
    data = form.cleaned_data
    unit: Unit = data["unit"]
    ppm = to_ppm(data["strength"], unit)
    found = dilute(ppm, data["wanted"], data["volume"])
    if isinstance(found, Refusal):
        form.add_error(FIELDS[found.field], refusal_words(found, today))
        return {}
    shown = [(f"{from_ppm(ppm, 'percent'):g} %", f"{ppm:,.0f} ppm", f"{from_ppm(ppm, 'mg_g'):g} mg per g")]
    us = units == US
    return {
        "same": " = ".join(shown[0]),
        "stock": f"{found.stock_ml:.3g} ml" + (f" ({shown_small_volume(found.stock_ml, units)})" if us else ""),
        "water": f"{found.water_ml:.3g} ml" + (f" ({shown_small_volume(found.water_ml, units)})" if us else ""),
        "made": f"{data['volume']:g} ml at {data['wanted']:,.0f} ppm",
    }
