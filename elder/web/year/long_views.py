"""The crops that stand for years: their list, and the page of each."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Unpack
from uuid import UUID, uuid4, uuid5

from django import forms
from django.core.paginator import Page
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_POST

from elder.engine.shed.kit import Kit
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.read.long_crops import LongCrop, long_crops
from elder.web.say.containers import vessel_words
from elder.web.say.crop_rows import CropLine, crop_lines
from elder.web.ui.fields import DatedForm, FilledDay, Sent, choosing, day_field
from elder.web.ui.pages import leaf_of, show
from elder.web.ui.saved import saved
from elder.web.year.long_pages import CropPage, crop_page
from elder.web.year.models import PotUp


class PotUpForm(DatedForm):
    """Into which pot, on which day."""

    container = forms.ChoiceField(label="Into")
    on = day_field("On")

    def __init__(self, data: Sent = None, *, kit: Kit, units: str, **rest: Unpack[FilledDay]) -> None:
        super().__init__(data, **rest)
        pots = sorted((one for one in kit.every() if one.kind == "pot" and not one.cells), key=lambda one: one.volume_l)
        choosing(self, "container").choices = [(one.key, vessel_words(one, 1, units)) for one in pots]


@dataclass(frozen=True)
class LongList:
    """Every crop that stands for years."""

    lines: list[CropLine]
    leaf: Page[LongCrop]


@dataclass(frozen=True)
class OneLong:
    """One of them, with its next pot."""

    page: CropPage
    form: PotUpForm | None


@require_GET
@in_garden("see")
def crops(request: GardenRequest) -> HttpResponse:
    """Every crop that stands for years."""
    leaf = leaf_of(long_crops(request.garden, request.today), request.GET.get("page"))
    lines = crop_lines(list(leaf), request.today, request.user.units)
    return show(request, "year/long.html", LongList(lines, leaf))


def crop_of(request: GardenRequest, key: str) -> LongCrop:
    """A crop of the garden. Raises Http404 for one that is not there."""
    for crop in long_crops(request.garden, request.today):
        if crop.key == key:
            return crop
    raise Http404


@require_GET
@in_garden("see")
def crop(request: GardenRequest, key: str) -> HttpResponse:
    """One crop."""
    return _shown(request, crop_of(request, key))


def _shown(request: GardenRequest, found: LongCrop, wrong: PotUpForm | None = None) -> HttpResponse:
    form = wrong
    if form is None and found.stock and found.in_pot and may(request.role, "tend"):
        step = found.next_pot
        start: dict[str, object] = {"container": step.vessel.key if step else found.potted[-1][1].key}
        form = PotUpForm(kit=found.kit, units=request.user.units, today=request.today, initial=start)
    return show(request, "year/crop.html", OneLong(crop_page(found, request.user.units), form))


@require_POST
@in_garden("tend")
def pot_up(request: GardenRequest, key: str) -> HttpResponse:
    """Write down that a mother was put into a pot."""
    found = crop_of(request, key)
    if found.stock is None:
        raise Http404
    form = PotUpForm(request.POST, kit=found.kit, units=request.user.units, today=request.today)
    if form.is_valid() and _comes_after(found, form):
        data = form.cleaned_data
        press: UUID = data.get("key") or uuid4()
        given = {"container": data["container"], "on": data["on"], "by": request.user}
        own = uuid5(press, f"stock:{found.stock.pk}")  # nobody else's, whatever key was sent
        row, _ = PotUp.objects.get_or_create(key=own, stock=found.stock, defaults=given)
        undo = Undo("pot-up", {"row": row.pk}).offered(request.garden)
        saved(request, f"crop-{key}", "Written down: its new pot.", undo=undo)
        return redirect("year-crop", request.garden.pk, key)
    return _shown(request, found, form)


def _comes_after(found: LongCrop, form: PotUpForm) -> bool:
    last: date = found.potted[-1][0] if found.potted and not found.guessed else found.since
    if form.cleaned_data["on"] < last:
        form.add_error("on", "It stood in its last pot only later than that.")
        return False
    return True


@takes_back("pot-up", verb="tend")
def unpot(asked: Asked) -> Undone:
    """It stands in the pot it stood in."""
    row = get_object_or_404(PotUp, pk=asked.number("row"), stock__garden=asked.garden)
    row.delete()
    return Undone("Taken back: it stands in its old pot.", "year-long")
