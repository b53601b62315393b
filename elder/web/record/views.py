"""The record: what is mine, whether Elder was right, what became of them, what was lost, the year."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_GET, require_POST

from elder.drawing.record import share_axis
from elder.drawing.scene import Scene
from elder.engine.record.standing import together
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.models import Garden
from elder.web.read.handbook import plant_here
from elder.web.read.records import record_of
from elder.web.record.actions import PLAN_BY_WORDS, choose_plan_by, say_price
from elder.web.record.became_pages import became_page
from elder.web.record.forms import PriceForm
from elder.web.record.loss_pages import loss_page
from elder.web.record.mine_pages import WayLine, way_lines, way_page
from elder.web.record.right_pages import right_page
from elder.web.record.year_pages import year_page, years_of
from elder.web.say.record import after_roots_words
from elder.web.say.words import plural
from elder.web.ui.pages import show
from elder.web.ui.saved import saved

AXIS: Final = share_axis()


@dataclass(frozen=True)
class MinePage:
    """What is mine, way by way."""

    answer: str
    lines: list[WayLine]
    few: list[WayLine]
    axis: Scene
    choices: list[tuple[str, str]]
    chosen: str
    after_roots: str


@require_GET
@in_garden("see")
def mine(request: GardenRequest) -> HttpResponse:
    """The room: one's own take and days for each way, beside the handbook's."""
    garden = request.garden
    record = record_of(garden, request.today)
    lines = way_lines(record, garden)
    rooted = sum(one.state.rooted_ever for one in record.told)
    cut = sum(one.state.taken for one in record.told)
    batches = plural(len(record.told), "batch", "batches")
    answer = f"{batches}: {rooted} of {cut} cuttings have shown roots." if record.told else ""
    plain = record.after_roots("")
    page = MinePage(
        answer=answer,
        lines=[line for line in lines if not line.few],
        few=[line for line in lines if line.few],
        axis=AXIS,
        choices=list(Garden.PlanBy.choices),
        chosen=garden.plan_by,
        after_roots=after_roots_words(plain, together(one.after for one in record.told)),
    )
    return show(request, "record/mine.html", page)


@require_POST
@in_garden("plan")
def plan_by(request: GardenRequest) -> HttpResponse:
    """Choose by what plans are made."""
    chosen = request.POST.get("by", "")
    if chosen not in Garden.PlanBy.values:
        messages.error(request, "Choose the handbook, your own batches, or both.")
    else:
        undo = choose_plan_by(request.garden, chosen)
        saved(request, "", f"Plans are made {PLAN_BY_WORDS[chosen]} now.", undo=undo.offered(request.garden))
    return redirect("record", request.garden.pk)


@require_GET
@in_garden("see")
def way(request: GardenRequest, slug: str, way: str) -> HttpResponse:
    """One way in full: by mother, place, school and month, and its batches."""
    plant = plant_here(request.garden, slug)
    method = next((one for one in plant.methods if one.slug == way), None) if plant else None
    if plant is None or method is None:
        raise Http404
    page = way_page(plant, method, record_of(request.garden, request.today), request.garden)
    if page is None:
        raise Http404
    return show(request, "record/way.html", page)


@require_GET
@in_garden("see")
def right(request: GardenRequest) -> HttpResponse:
    """What was forecast beside what came."""
    record = record_of(request.garden, request.today)
    return show(request, "record/right.html", right_page(record, request.garden, request.GET.get("page")))


@require_GET
@in_garden("see")
def became(request: GardenRequest) -> HttpResponse:
    """What became of them, and what was saved."""
    page = became_page(record_of(request.garden, request.today), request.garden)
    return show(request, "record/became.html", page)


@require_POST
@in_garden("tend")
def price(request: GardenRequest) -> HttpResponse:
    """Say what a plant costs to buy."""
    form = PriceForm(request.POST)
    if form.is_valid():
        undo = say_price(request.garden, form.cleaned_data["plant"], form.cleaned_data["price"])
        saved(request, "", "Kept.", undo=undo.offered(request.garden))
    else:
        messages.error(request, " ".join(str(error) for errors in form.errors.values() for error in errors))
    return redirect("record-became", request.garden.pk)


@require_GET
@in_garden("see")
def losses(request: GardenRequest) -> HttpResponse:
    """What was lost, to what, where and when."""
    return show(request, "record/losses.html", loss_page(record_of(request.garden, request.today), request.garden))


@require_GET
@in_garden("see")
def year(request: GardenRequest, year: int = 0) -> HttpResponse:
    """The year in cuttings, to read and to print; the last whole one unless another is asked for."""
    record = record_of(request.garden, request.today)
    years = years_of(record)
    if year and year not in years:
        raise Http404
    asked = year or next((one for one in years if one < request.today.year), request.today.year)
    return show(request, "record/year.html", year_page(record, request.garden, asked, request.user.units))
