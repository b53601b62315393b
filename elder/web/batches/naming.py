"""A batch of a plant nobody knew, named once it shows what it is."""

from __future__ import annotations

from django import forms
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from elder.engine.handbook.loading import clonable, unknown
from elder.engine.handbook.model import Method, Plant
from elder.web.batches.models import Batch, Entry
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.ui.fields import Sent, choosing
from elder.web.ui.saved import saved


class NameForm(forms.Form):
    """What it turned out to be."""

    plant = forms.ChoiceField(label="It is", error_messages={"invalid_choice": "That is no plant of the handbook."})

    def __init__(self, data: Sent = None) -> None:
        super().__init__(data)
        choosing(self, "plant").choices = [(one.slug, one.name) for one in clonable().values()]


def nearest_way(plant: Plant, method: Method) -> Method:
    """The way of a plant that is most like one of another: the same piece, in the same medium, by the same route."""

    def likeness(way: Method) -> tuple[bool, bool, bool]:
        return way.form == method.form, way.medium == method.medium, way.route == method.route

    return max(plant.ways, key=likeness)


@transaction.atomic
def rename(batch: Batch, plant: str, method: str) -> Undo:
    """Say what a batch and the want it serves are of; the way back says what they were called."""
    before = Undo("named", {"batch": batch.pk, "plant": batch.plant, "method": batch.method})
    batch.plant, batch.method = plant, method
    batch.save(update_fields=["plant", "method"])
    if batch.want and batch.want.batches.count() == 1:
        batch.want.plant, batch.want.method = plant, method
        batch.want.save(update_fields=["plant", "method"])
    return before


@takes_back("named", verb="tend")
def unname(asked: Asked) -> Undone:
    """It is not known after all."""
    batch = get_object_or_404(Batch, pk=asked.number("batch"), garden=asked.garden)
    rename(batch, asked.text("plant"), asked.text("method"))
    return Undone("Unknown again.", "batch", (batch.pk,))


@require_POST
@in_garden("tend")
def name(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Say what it turned out to be; the line of its history stays as it was written."""
    batch = get_object_or_404(Batch.objects.select_related("want"), pk=batch_id, garden=request.garden)
    if batch.plant not in unknown():
        raise Http404
    form = NameForm(request.POST)
    if form.is_valid():
        plant = clonable()[form.cleaned_data["plant"]]
        way = nearest_way(plant, unknown()[batch.plant].method(batch.method))
        undo = rename(batch, plant.slug, way.slug)
        note = Entry(batch=batch, kind=Entry.Kind.NOTE, on=request.today, by=request.user, note=f"Named: {plant.name}.")
        note.save()
        said = f"It is {plant.name.lower()}. From now on it is reckoned as that: {way.name}."
        saved(request, "", said, undo=undo.offered(request.garden))
    return redirect("batch", request.garden.pk, batch.pk)
