"""Wants: the want sheet, one want, and what is done to it."""

from __future__ import annotations

from dataclasses import replace

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.want_rows import batches_of, want_row
from elder.web.read.wants import reckon
from elder.web.say.refusals import refusal_words
from elder.web.say.wants import nights_to_accept, want_words
from elder.web.say.words import day_words
from elder.web.season import actions
from elder.web.season.answers import Answer, answer_to, sheet_answer
from elder.web.season.better_place import place_words
from elder.web.season.forms import WantForm
from elder.web.season.models import Want
from elder.web.season.want_pages import (
    AnswerPage,
    WantPage,
    WantSheetPage,
    could_serve,
    other_lots,
    sheet_values,
)
from elder.web.ui.pages import show
from elder.web.ui.parsing import parse_day, whole
from elder.web.ui.replies import wants_fragment, wants_part
from elder.web.ui.saved import saved


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def new_want(request: GardenRequest) -> HttpResponse:
    """The want sheet. A GET with answers in it shows what they come to; a POST keeps the want."""
    if not request.garden.places.exists():
        messages.info(request, "First say where cuttings can stand: a sill, a shelf, a glasshouse.")
        return redirect("place-new", request.garden.pk)
    return _want_sheet(request, None)


def _want_sheet(request: GardenRequest, row: Want | None) -> HttpResponse:
    form = WantForm(sheet_values(request, row), instance=row, garden=request.garden, today=request.today)
    answer, carry, potted, place_said = None, None, False, ""
    if form.is_valid():
        built = form.build()
        potted = potted_for_good(built, request)
        lots, apart = form.series()
        if request.method == "POST":
            kept = actions.keep_want(built, request.garden, request.user, request.today, lots=lots, apart_days=apart)
            if isinstance(kept, Want):
                saved(request, "want", _kept_words(kept))
                return redirect("want", request.garden.pk, kept.pk)
            _refuse(form, kept, built, request)
            carry = nights_to_accept(kept)
        found = sheet_answer(built, request.garden, request.today, request.user.units, series=(lots, apart))
        if isinstance(found, Answer):
            answer = found
        elif not form.errors:
            _refuse(form, found, built, request)
            carry = nights_to_accept(found)
            place_said = place_words(reckon(built, request.garden, request.today), request.garden)
    template = "season/sheet_parts.html" if wants_fragment(request) else "season/want_sheet.html"
    page = WantSheetPage(form, answer, row, carry, potted, place_said)
    ways, places = wants_part(request, "way-field"), wants_part(request, "place-fields")
    return show(request, template, replace(page, has_ways=ways, has_places=places))


def potted_for_good(row: Want, request: GardenRequest) -> bool:
    """Whether a plant asked for in a bed, where no bed ever opens to it, is asked for in a pot instead."""
    if row.purpose != Want.Purpose.BED:
        return False
    plan = reckon(row, request.garden, request.today).plan
    if isinstance(plan, Refusal) and plan.code == "no_window":
        row.purpose = Want.Purpose.POT
        return True
    return False


def _kept_words(kept: Want) -> str:
    if kept.lots > 1:
        return f"Kept, as {kept.lots} wants that belong together. They stand in the season now."
    return "Kept. It stands in the season now."


def _refuse(form: WantForm, refusal: Refusal, row: Want, request: GardenRequest) -> None:
    """Put a refusal beside the field it belongs to."""
    said = refusal_words(refusal, request.today, handbook()[row.plant])
    name = "by" if refusal.field == "by" and row.by else "when" if refusal.field == "by" else refusal.field
    form.add_error(name if name in form.fields else None, said)


@require_GET
@in_garden("see")
def want(request: GardenRequest, want_id: int) -> HttpResponse:
    """One want: its line, its curve while nothing is cut, its batches after."""
    row = want_row(request.garden, want_id)
    chosen = parse_day(request.GET.get("cut_on"))
    reckoning = reckon(row, request.garden, request.today, batches=batches_of(row), chosen=chosen)
    answer = answer_to(reckoning, (row.rooting_place.name, row.growing_place.name), request.user.units)
    if wants_fragment(request):
        return show(request, "season/answer.html", AnswerPage(answer, row))
    title = want_words(row, reckoning.plant.name)
    return show(request, "season/want.html", WantPage(row, answer, title, other_lots(row), could_serve(request, row)))


@require_POST
@in_garden("plan")
def serve(request: GardenRequest, want_id: int) -> HttpResponse:
    """Let a batch of another want serve this one too, or no longer."""
    row = want_row(request.garden, want_id)
    batch = get_object_or_404(Batch, pk=whole(request.POST.get("batch")), garden=request.garden, plant=row.plant)
    if "end" in request.POST:
        batch.also_for.remove(row)
        saved(request, "serve", "That batch no longer serves this want.")
    else:
        batch.also_for.add(row)
        saved(request, "serve", "That batch serves this want too, once its own has its number.")
    return redirect("want", request.garden.pk, row.pk)


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def edit_want(request: GardenRequest, want_id: int) -> HttpResponse:
    """The want sheet for a want already kept, as long as nothing is cut for it."""
    row = want_row(request.garden, want_id)
    if batches_of(row):
        messages.info(request, "Something is cut for this want already; make another want for more.")
        return redirect("want", request.garden.pk, row.pk)
    return _want_sheet(request, row)


@require_POST
@in_garden("plan")
def move_cut(request: GardenRequest, want_id: int) -> HttpResponse:
    """Keep the chosen cut day."""
    row = want_row(request.garden, want_id)
    actions.move_cut(row, parse_day(request.POST.get("cut_on")), request.garden, request.today)
    day = (
        f"The cut stands at {day_words(row.cut_on, request.today)}." if row.cut_on else "Back to the recommended days."
    )
    saved(request, "cut", day)
    return redirect("want", request.garden.pk, row.pk)


@require_POST
@in_garden("plan")
def carry(request: GardenRequest, want_id: int) -> HttpResponse:
    """Accept so many nights on which its pots are carried in."""
    row = want_row(request.garden, want_id)
    nights = request.POST.get("nights", "")
    if not actions.accept_nights(row, int(nights) if nights.isdecimal() else -1):
        messages.error(request, "That is no number of nights.")
    else:
        saved(request, "carry", f"Kept: its pots come in on {row.carry_nights} cold nights.")
    return redirect("want", request.garden.pk, row.pk)


@require_POST
@in_garden("plan")
def put_away(request: GardenRequest, want_id: int) -> HttpResponse:
    """Take a want off the season, with a way back."""
    row = want_row(request.garden, want_id)
    undo = actions.put_away(row, request.today)
    saved(request, "away", "Put away.", undo=undo.offered(request.garden))
    return redirect("season", request.garden.pk)


@require_POST
@in_garden("plan")
def bring_back(request: GardenRequest, want_id: int) -> HttpResponse:
    """Undo putting away."""
    row = want_row(request.garden, want_id)
    actions.bring_back(row)
    saved(request, "away", "Back in the season.")
    return redirect("season", request.garden.pk)
