"""Keeping a plant of a batch as a mother, and taking that back."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods

from elder.engine.refusal import Refusal
from elder.web.batches.keep_form import KeepForm
from elder.web.batches.keeping import keep_as_mother, unkeeping
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.batches import BatchToday, batch_of
from elder.web.say.batches import title_of
from elder.web.say.plants import plant_words
from elder.web.say.refusals import refusal_words
from elder.web.stock.models import StockPlant
from elder.web.ui.pages import show
from elder.web.ui.parsing import whole
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class KeepPage:
    """A plant of a batch about to be kept as a mother."""

    form: KeepForm
    batch: BatchToday
    title: str


@require_http_methods(["GET", "POST"])
@in_garden("tend")
def keep(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Keep a plant of a batch as a mother, its parent known."""
    item = batch_of(request.garden, batch_id, request.today)
    batch = item.row
    form = KeepForm(request.POST or None, garden=request.garden, initial=_keep_start(item, request))
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        made = keep_as_mother(batch, item.state, name=data["name"], place=data["place"], today=request.today)
        if not isinstance(made, Refusal):
            undo = unkeeping(made).offered(request.garden)
            saved(request, "stock-keep", f"{made.name} is a mother now, from {batch.stock_plant}.", undo=undo)
            return redirect("stock-plant", request.garden.pk, made.pk)
        form.add_error(None, refusal_words(made, request.today))
    return show(request, "batches/keep.html", KeepPage(form, item, title_of(item)))


def _keep_start(item: BatchToday, request: GardenRequest) -> dict[str, object]:
    """A name that is free, and where its plants stand."""
    lead = plant_words(item.plant.name, item.row.variety) if not item.row.variety else item.row.variety
    names = set(StockPlant.objects.filter(garden=request.garden).values_list("name", flat=True))
    used = [whole(name.removeprefix(f"{lead} ")) for name in names if name.startswith(f"{lead} ")]
    return {"name": f"{lead} {max(used, default=0) + 1}", "place": item.place_id("potted")}
