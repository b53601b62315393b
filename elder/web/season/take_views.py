"""Taking the batch of a want: what was really cut, when, from which plant, into which place."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods

from elder.drawing.ground import ground_scene, ruler_scene
from elder.drawing.scene import Scene
from elder.drawing.soil_line import LARGE
from elder.engine.handbook.model import Caution
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch
from elder.web.batches.undoing import untaking
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.want_rows import want_row
from elder.web.read.wants import Reckoning, reckon
from elder.web.read.what_if import SEEN_JOINED, WhatIf, seen_in
from elder.web.say.pictures import want_axis, want_scene
from elder.web.say.plants import plant_words
from elder.web.say.refusals import refusal_words
from elder.web.say.wants import Headline, condition_words, headline
from elder.web.say.words import day_words, listed
from elder.web.season.models import Want
from elder.web.season.take_form import TakeForm
from elder.web.season.taking import Taken, advised, cut_condition, take_shares
from elder.web.stock.models import StockPlant
from elder.web.ui.pages import show
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class TakePage:
    """What was advised, drawn, and the form for what was really taken."""

    want: Want
    form: TakeForm
    headline: Headline
    stock_names: list[str]
    cautions: list[Caution]
    title: str
    costs: str
    scene: Scene
    ruler: Scene
    ground: Scene


@require_http_methods(["GET", "POST"])
@in_garden("tend")
def take(request: GardenRequest, want_id: int) -> HttpResponse:
    """Take the batch: what was really taken, when, from which plant, into which place."""
    want = want_row(request.garden, want_id)
    seen = seen_in(request.GET.get("seen", "") or request.POST.get("seen", ""))
    what_if = WhatIf(seen=seen)
    reckoning = reckon(want, request.garden, request.today, batches=want.batches.all(), what_if=what_if)
    start = {
        "seen": SEEN_JOINED.join(seen),
        "count": advised(reckoning),
        "rooting_place": want.rooting_place_id,
        "growing_place": want.growing_place_id,
        "stock_plant": _mother_name(want, reckoning),
    }
    form = TakeForm(request.POST or None, initial=start, garden=request.garden, today=request.today)
    if request.method == "POST" and form.is_valid():
        given = {"garden": request.garden, "person": request.user, "today": request.today}
        made = take_shares(want, Taken(**form.plain), form.shares, **given)  # type: ignore[arg-type]
        if not isinstance(made, Refusal):
            count, names = form.cleaned_data["count"], listed(name for name, _ in form.shares)
            whence = f", from {names}" if len(made) > 1 else ""
            undo = untaking(made, request.garden)
            saved(request, "take", f"Taken: {count}{whence}. The line is what to expect of them.", undo=undo)
            to, key = ("batch", made[0].pk) if len(made) == 1 else ("want", want.pk)
            return redirect(to, request.garden.pk, key)
        _refuse_take(form, made, reckoning, request)
    used = Batch.objects.filter(garden=request.garden).values_list("stock_plant", flat=True)
    mothers = StockPlant.objects.filter(garden=request.garden).values_list("name", flat=True)
    return show(request, "season/take.html", take_page(want, form, reckoning, sorted({*used, *mothers})))


def _mother_name(want: Want, reckoning: Reckoning) -> str:
    """The mother a want is to be cut from: as it was last time, else as it was planned."""
    if reckoning.batches:
        return reckoning.batches[-1].row.stock_plant
    return want.mother.name if want.mother else ""


def take_page(want: Want, form: TakeForm, reckoning: Reckoning, stock_names: list[str]) -> TakePage:
    """What to expect of the cut, in words and drawn."""
    axis, today = want_axis(reckoning), reckoning.today
    return TakePage(
        want=want,
        form=form,
        headline=headline(reckoning),
        stock_names=stock_names,
        cautions=[c for c in reckoning.plant.cautions if c.at in ("cut", "stick", "share")],
        title=plant_words(reckoning.plant.name, want.variety),
        costs=condition_words(
            cut_condition(want, reckoning.row.garden, today, mother=want.mother, seen=reckoning.want.condition.reasons),
            reckoning.method.plant_take,
            advised(reckoning),
        ),
        scene=want_scene(reckoning, axis, LARGE),
        ruler=ruler_scene(axis, today, day_words=lambda day: day_words(day, today)),
        ground=ground_scene(axis, today, reckoning.climate, height=LARGE.height),
    )


def _refuse_take(form: TakeForm, refusal: Refusal, reckoning: Reckoning, request: GardenRequest) -> None:
    said = refusal_words(refusal, request.today, reckoning.plant)
    form.add_error(refusal.field if refusal.field in form.fields else None, said)
