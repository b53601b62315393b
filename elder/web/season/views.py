"""Season: the wants of a garden, the want sheet, one want, what if, and fitting everything in."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.handbook.loading import clonable, handbook
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.batches import batch_today
from elder.web.read.demand import asks_of_all
from elder.web.read.wants import Reckoning, batches_of, reckon, reckon_all, want_row
from elder.web.read.what_if import WhatIf
from elder.web.say.mothers import troubles
from elder.web.say.refusals import refusal_words
from elder.web.say.wants import want_words
from elder.web.say.words import day_words, sureness
from elder.web.season import actions
from elder.web.season.answers import Answer, answer_to, sheet_answer
from elder.web.season.board import GROUPS, ZOOMS, View, board_of
from elder.web.season.fitting import is_near, propose
from elder.web.season.forms import SURE, WantForm
from elder.web.season.models import Want
from elder.web.season.starters import starters
from elder.web.season.today import todays_list
from elder.web.ui.parsing import parse_day
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved

RISKS = (0.02, 0.05, 0.10, 0.20, 0.30, 0.50)
SURES = tuple(value for value, _ in SURE)


@require_GET
@in_garden("see")
def season(request: GardenRequest) -> HttpResponse:
    """The board: every open want on one time axis, what is due, and where room lacks."""
    today, garden = request.today, request.garden
    what_if = _what_if(request)
    reckonings = reckon_all(garden, today, what_if)
    view = View.of(request.GET)
    risk = what_if.risk or garden.accepted_risk
    context = {
        "board": board_of(reckonings, garden, today, view),
        "short_mothers": _short_mothers(request, reckonings),
        "due": todays_list(reckonings, garden, today),
        "what_if": what_if,
        "risk": {"steps": RISKS, "at": _nearest(RISKS, risk), "words": sureness(risk), "value": risk},
        "sure": _sure_dial(what_if, reckonings),
        "zooms": [(name, view.address(zoom=key), key == view.zoom) for key, name in ZOOMS.items()],
        "groupings": [(name, view.address(group=key), key == view.group) for key, name in GROUPS.items()],
        "other_size": view.address(rows="large" if view.rows == "small" else "small"),
        "view": view,
        "away": Want.objects.filter(garden=garden).exclude(closed_on=None).count(),
    }
    if not reckonings:
        context["starters"] = starters(garden, today)
        context["has_places"] = garden.places.exists()
    only_board = wants_fragment(request)
    return render(request, "season/live.html" if only_board else "season/season.html", context)


def _short_mothers(request: GardenRequest, reckonings: list[Reckoning]) -> list[str]:
    """Where a mother shared by several wants is asked for more than it has."""
    return [
        said
        for mother, asks in asks_of_all(request.garden, reckonings, request.today).items()
        for said in troubles(mother, asks, request.today)
    ]


def _what_if(request: GardenRequest) -> WhatIf:
    """What the two sliders say, where they say anything other than as it is."""
    risk, sure = (_step(request.GET.get(name), steps) for name, steps in (("risk", RISKS), ("sure", SURES)))
    return WhatIf(risk=None if risk == request.garden.accepted_risk else risk, sure=sure)


def _step(text: str | None, steps: tuple[float, ...]) -> float | None:
    """One of a few steps by its number, or nothing."""
    return steps[int(text)] if text and text.isdecimal() and len(text) < 4 and int(text) < len(steps) else None


def _nearest(steps: tuple[float, ...], value: float) -> int:
    return min(range(len(steps)), key=lambda i: abs(steps[i] - value))


def _sure_dial(what_if: WhatIf, reckonings: list[Reckoning]) -> dict[str, Any]:
    """How sure: what is tried, else what most wants ask for."""
    asked = [item.row.confidence for item in reckonings]
    usual = max(set(asked), key=asked.count) if asked else 0.9
    value = what_if.sure or usual
    mixed = what_if.sure is None and len(set(asked)) > 1
    return {
        "at": _nearest(SURES, value),
        "words": sureness(value) + (", mostly" if mixed else ""),
        "top": len(SURES) - 1,
    }


@require_POST
@in_garden("keep")
def keep_risk(request: GardenRequest) -> HttpResponse:
    """Keep the frost risk that was tried, for the whole garden."""
    risk = _step(request.POST.get("risk"), RISKS)
    if risk is None:
        messages.error(request, "Choose a risk on the slider first.")
        return redirect("season", request.garden.pk)
    undo = actions.accept_risk(request.garden, risk).offered(request.garden)
    saved(request, "risk", f"From now on you accept a frost risk of {sureness(risk)}.", undo=undo)
    return redirect("season", request.garden.pk)


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def fit(request: GardenRequest) -> HttpResponse:
    """Propose days and places so that everything has room; change only what is accepted."""
    if request.method == "POST":
        return _accept(request)
    proposal = propose(reckon_all(request.garden, request.today), request.garden, request.today)
    return render(request, "season/fit.html", {"proposal": proposal})


def _accept(request: GardenRequest) -> HttpResponse:
    """Change the wants whose boxes are ticked."""
    changes = [
        change
        for change in actions.named_changes(request.garden, request.POST.getlist("change"))
        if change.day and is_near(change.day, request.today)
    ]
    if not changes:
        messages.info(request, "Nothing was ticked, so nothing was changed.")
        return redirect("season-fit", request.garden.pk)
    count, undo = actions.place_wants(changes, request.garden, request.today)
    said = f"{count} {'want has its' if count == 1 else 'wants have their'} new days and places."
    saved(request, "fit", said, undo=undo.offered(request.garden))
    return redirect("season", request.garden.pk)


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def new_want(request: GardenRequest) -> HttpResponse:
    """The want sheet. A GET with answers in it shows what they come to; a POST keeps the want."""
    if not request.garden.places.exists():
        messages.info(request, "First say where cuttings can stand: a sill, a shelf, a glasshouse.")
        return redirect("place-new", request.garden.pk)
    return _want_sheet(request, None)


def _want_sheet(request: GardenRequest, row: Want | None) -> HttpResponse:
    given = request.POST if request.method == "POST" else request.GET if "plant" in request.GET else None
    data = given or _starting_values(request, row)
    form = WantForm(data, instance=row, garden=request.garden, today=request.today)
    answer = None
    if form.is_valid():
        built = form.build()
        lots, apart = form.series()
        if request.method == "POST":
            kept = actions.keep_want(built, request.garden, request.user, request.today, lots=lots, apart_days=apart)
            if isinstance(kept, Want):
                saved(request, "want", _kept_words(kept))
                return redirect("want", request.garden.pk, kept.pk)
            _refuse(form, kept, built, request)
        found = sheet_answer(built, request.garden, request.today, request.user.units, series=(lots, apart))
        if isinstance(found, Answer):
            answer = found
        elif not form.errors:
            _refuse(form, found, built, request)
    return _sheet_page(request, form, answer, row)


def _kept_words(kept: Want) -> str:
    if kept.lots > 1:
        return f"Kept, as {kept.lots} wants that belong together. They stand in the season now."
    return "Kept. It stands in the season now."


def _sheet_page(request: GardenRequest, form: WantForm, answer: Answer | None, row: Want | None) -> HttpResponse:
    only_answer = wants_fragment(request)
    template = "season/sheet_parts.html" if only_answer else "season/want_sheet.html"
    return render(request, template, {"form": form, "answer": answer, "row": row, "in_sheet": True})


def _refuse(form: WantForm, refusal: Refusal, row: Want, request: GardenRequest) -> None:
    """Put a refusal beside the field it belongs to."""
    said = refusal_words(refusal, request.today, handbook()[row.plant])
    name = "by" if refusal.field == "by" and row.by else "when" if refusal.field == "by" else refusal.field
    form.add_error(name if name in form.fields else None, said)


def _starting_values(request: GardenRequest, row: Want | None) -> dict[str, Any]:
    """What the sheet starts with: an answer is there before anything is typed."""
    if row:
        names = ("plant", "method", "variety", "wanted", "spares", "by", "confidence", "purpose", "stock", "cut_on")
        values = {name: getattr(row, name) or "" for name in names}
        places = {"rooting_place": row.rooting_place_id, "growing_place": row.growing_place_id}
        asked = {
            "mother": row.mother_id or "",
            "ask": "cuttings" if row.cuttings else "wanted",
            "cuttings": row.cuttings or "",
        }
        return {**values, **places, **asked, "when": "by" if row.by else "safe"}
    slug, way = request.GET.get("start", ""), request.GET.get("way", "")
    plant = clonable().get(slug) or clonable()["tomato"]
    method = next((m for m in plant.ways if m.slug == way), plant.ways[0])
    places_here = list(request.garden.places.all())
    suited = [place for place in places_here if (place.standing == "ground") == method.direct] or places_here
    place = suited[0].pk if suited else ""
    return {
        "plant": plant.slug,
        "method": method.slug,
        "ask": "wanted",
        "wanted": request.GET.get("wanted") or 8,
        "spares": 0,
        "lots": 1,
        "apart_days": 21,
        "when": "safe",
        "confidence": 0.9,
        "purpose": Want.Purpose.BED,
        "rooting_place": place,
        "growing_place": place,
        "stock": Want.Stock.USUAL,
    }


@require_GET
@in_garden("see")
def want(request: GardenRequest, want_id: int) -> HttpResponse:
    """One want: its line, its curve while nothing is cut, its batches after."""
    row = want_row(request.garden, want_id)
    chosen = parse_day(request.GET.get("cut_on"))
    reckoning = reckon(row, request.garden, request.today, batches=batches_of(row), chosen=chosen)
    answer = answer_to(reckoning, (row.rooting_place.name, row.growing_place.name), request.user.units)
    only_answer = wants_fragment(request)
    template = "season/answer.html" if only_answer else "season/want.html"
    context = {"row": row, "answer": answer, "title": want_words(row, reckoning.plant.name)}
    if not only_answer:
        context |= {"series": _series(row), "could_serve": _could_serve(request, row)}
    return render(request, template, context)


def _series(row: Want) -> list[Want]:
    """The other lots or steps of the same thing asked for."""
    if row.series is None:
        return []
    return list(Want.objects.filter(garden=row.garden_id, series=row.series).exclude(pk=row.pk).order_by("lot"))


def _could_serve(request: GardenRequest, row: Want) -> list[Batch]:
    """Living batches of the same plant, cut for another want, that could serve this one besides."""
    rows = Batch.objects.filter(garden=request.garden, plant=row.plant, variety=row.variety)
    others = rows.exclude(want=row).exclude(also_for=row).prefetch_related("entries", "rooting_place", "growing_place")
    items = [(batch, batch_today(batch, request.garden, request.today, want=None)) for batch in others]
    return [batch for batch, item in items if not item.state.over]


@require_POST
@in_garden("plan")
def serve(request: GardenRequest, want_id: int) -> HttpResponse:
    """Let a batch of another want serve this one too, or no longer."""
    row = want_row(request.garden, want_id)
    batch = get_object_or_404(Batch, pk=request.POST.get("batch") or 0, garden=request.garden, plant=row.plant)
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


@require_GET
@in_garden("see")
def wants_away(request: GardenRequest) -> HttpResponse:
    """Wants that were put away."""
    rows = Want.objects.filter(garden=request.garden).exclude(closed_on=None).order_by("-closed_on")
    return render(request, "season/away.html", {"rows": rows, "plants": handbook()})
