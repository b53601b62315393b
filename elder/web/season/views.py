"""Season: the wants of a garden, the want sheet, one want."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.dateparse import parse_date
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.drawing.cut_curve import CutCurve
from elder.drawing.ground import ground_scene, ruler_scene
from elder.drawing.scene import Scene
from elder.drawing.soil_line import COMPACT, LARGE, ROW
from elder.engine.handbook import handbook
from elder.engine.refusal import Refusal
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.convert import climate_of
from elder.web.season import actions
from elder.web.season.forms import WantForm
from elder.web.season.models import Want
from elder.web.season.pictures import season_axis, want_axis, want_curve, want_scene
from elder.web.season.reasons import Reason, reasons
from elder.web.season.reckoning import Reckoning, reckon, reckon_all
from elder.web.season.refusals import refusal_words
from elder.web.season.today import todays_list
from elder.web.season.wording import Headline, chosen_words, headline, row_words
from elder.web.ui.saved import saved
from elder.web.ui.words import day_words

COMPACT_FROM = 9  # rows from which a season is drawn small, unless asked otherwise


@dataclass(frozen=True)
class Row:
    """A row of the board."""

    reckoning: Reckoning
    headline: Headline
    scene: Scene
    url: str


@require_GET
@in_garden("see")
def season(request: GardenRequest) -> HttpResponse:
    """The board: every open want on one time axis, and what is due."""
    today, garden = request.today, request.garden
    reckonings = reckon_all(garden, today)
    axis = season_axis(reckonings, today)
    asked = request.GET.get("rows")
    compact = asked == "small" or (asked != "large" and len(reckonings) >= COMPACT_FROM)
    sizes = COMPACT if compact else ROW
    rows = [
        Row(item, row_words(item), want_scene(item, axis, sizes), reverse("want", args=[garden.pk, item.row.pk]))
        for item in reckonings
    ]
    return render(
        request,
        "season/season.html",
        {
            "rows": rows,
            "compact": compact,
            "ruler": ruler_scene(axis, today, day_words=lambda day: day_words(day, today)),
            "ground": ground_scene(axis, today, climate_of(garden), height=sizes.height),
            "due": todays_list(reckonings, garden, today),
            "has_places": bool(reckonings) or garden.places.exists(),
            "away": Want.objects.filter(garden=garden).exclude(closed_on=None).count(),
        },
    )


@dataclass(frozen=True)
class Answer:
    """What the answer panel shows for one want, saved or not."""

    reckoning: Reckoning
    headline: Headline
    reasons: list[Reason]
    scene: Scene
    ruler: Scene
    ground: Scene
    axis_start: date
    axis_days: int
    curve: CutCurve | None
    chosen: date | None
    chosen_words: str

    @property
    def cautions(self) -> list[str]:
        """What could hurt at the cut."""
        return [caution.text for caution in self.reckoning.plant.cautions if caution.at in ("cut", "stick")]


def answer_to(reckoning: Reckoning, names: tuple[str, str], units: str) -> Answer:
    """Put an answer together."""
    axis = want_axis(reckoning)
    option = reckoning.option if not reckoning.batches else None
    return Answer(
        reckoning=reckoning,
        headline=headline(reckoning),
        reasons=reasons(reckoning, names, units),
        scene=want_scene(reckoning, axis, LARGE),
        ruler=ruler_scene(axis, reckoning.today, day_words=lambda day: day_words(day, reckoning.today)),
        ground=ground_scene(axis, reckoning.today, reckoning.climate, height=LARGE.height),
        axis_start=axis.start,
        axis_days=axis.days,
        curve=want_curve(reckoning) if option else None,
        chosen=option.day if option else None,
        chosen_words=chosen_words(option, reckoning.today) if option else "",
    )


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
        if request.method == "POST":
            kept = actions.keep_want(built, request.garden, request.user, request.today)
            if isinstance(kept, Want):
                saved(request, "want", "Kept. It stands in the season now.")
                return redirect("want", request.garden.pk, kept.pk)
            _refuse(form, kept, built, request)
        reckoning = actions.weigh_want(built, request.garden, request.today)
        answer = answer_to(reckoning, (built.rooting_place.name, built.growing_place.name), request.user.units)
    return _sheet_page(request, form, answer, row)


def _sheet_page(request: GardenRequest, form: WantForm, answer: Answer | None, row: Want | None) -> HttpResponse:
    only_answer = request.headers.get("X-Alpine-Request") == "true"
    template = "season/answer.html" if only_answer else "season/want_sheet.html"
    context = {"form": form, "answer": answer, "row": row, "plants": list(handbook().values())}
    return render(request, template, context)


def _refuse(form: WantForm, refusal: Refusal, row: Want, request: GardenRequest) -> None:
    """Put a refusal beside the field it belongs to."""
    reckoning = actions.weigh_want(row, request.garden, request.today)
    name = {"by": "by" if row.by else "when", "wanted": "wanted", "plant": "plant"}.get(refusal.field)
    form.add_error(name, refusal_words(refusal, reckoning))


def _starting_values(request: GardenRequest, row: Want | None) -> dict[str, Any]:
    """What the sheet starts with: an answer is there before anything is typed."""
    if row:
        names = ("plant", "variety", "wanted", "by", "confidence", "purpose", "stock", "cut_on")
        values = {name: getattr(row, name) or "" for name in names}
        places = {"rooting_place": row.rooting_place_id, "growing_place": row.growing_place_id}
        return {**values, **places, "when": "by" if row.by else "safe"}
    first = request.garden.places.first()
    place = first.pk if first else ""
    return {
        "plant": "tomato" if "tomato" in handbook() else next(iter(handbook())),
        "wanted": 8,
        "when": "safe",
        "confidence": 0.9,
        "purpose": Want.Purpose.BED,
        "rooting_place": place,
        "growing_place": place,
        "stock": Want.Stock.USUAL,
    }


def _get_want(request: GardenRequest, want_id: int) -> Want:
    rows = Want.objects.select_related("rooting_place", "growing_place").prefetch_related(
        "batches__entries", "batches__rooting_place", "batches__growing_place"
    )
    return get_object_or_404(rows, pk=want_id, garden=request.garden)


@require_GET
@in_garden("see")
def want(request: GardenRequest, want_id: int) -> HttpResponse:
    """One want: its line, its curve while nothing is cut, its batches after."""
    row = _get_want(request, want_id)
    chosen = parse_day(request.GET.get("cut_on"))
    reckoning = reckon(row, request.garden, request.today, batches=row.batches.all(), chosen=chosen)
    answer = answer_to(reckoning, (row.rooting_place.name, row.growing_place.name), request.user.units)
    only_answer = request.headers.get("X-Alpine-Request") == "true"
    template = "season/answer.html" if only_answer else "season/want.html"
    return render(request, template, {"row": row, "answer": answer})


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def edit_want(request: GardenRequest, want_id: int) -> HttpResponse:
    """The want sheet for a want already kept, as long as nothing is cut for it."""
    row = _get_want(request, want_id)
    if row.batches.all():
        messages.info(request, "Something is cut for this want already; make another want for more.")
        return redirect("want", request.garden.pk, row.pk)
    return _want_sheet(request, row)


@require_POST
@in_garden("plan")
def move_cut(request: GardenRequest, want_id: int) -> HttpResponse:
    """Keep the chosen cut day."""
    row = _get_want(request, want_id)
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
    row = _get_want(request, want_id)
    actions.put_away(row, request.today)
    undo = reverse("want-back", args=[request.garden.pk, row.pk])
    saved(request, "away", "Put away.", undo=undo)
    return redirect("season", request.garden.pk)


@require_POST
@in_garden("plan")
def bring_back(request: GardenRequest, want_id: int) -> HttpResponse:
    """Undo putting away."""
    row = _get_want(request, want_id)
    actions.bring_back(row)
    saved(request, "away", "Back in the season.")
    return redirect("season", request.garden.pk)


@require_GET
@in_garden("see")
def wants_away(request: GardenRequest) -> HttpResponse:
    """Wants that were put away."""
    rows = Want.objects.filter(garden=request.garden).exclude(closed_on=None).order_by("-closed_on")
    return render(request, "season/away.html", {"rows": rows, "plants": handbook()})


def parse_day(text: str | None) -> date | None:
    """An ISO day, or nothing; never an error, since it only chooses what is shown."""
    try:
        return parse_date(text or "")
    except ValueError:
        return None
