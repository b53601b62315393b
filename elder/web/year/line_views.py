"""Lines: asked about live, begun, cut lot by lot, put away."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.web.batches.undoing import untaking
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.garden.models import Garden, Place
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.read.lines import LineToday, line_today
from elder.web.read.mothers import Known, known
from elder.web.say.plants import plant_words
from elder.web.say.refusals import refusal_words
from elder.web.say.words import plural
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from elder.web.ui.pages import show
from elder.web.ui.parsing import sent_key
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved
from elder.web.year import line_actions
from elder.web.year.line_forms import CutForm, LineForm, start_of
from elder.web.year.line_pages import LineAnswer, LinePage, answer_of, page_of, planned_from
from elder.web.year.models import Multiplying


@dataclass(frozen=True)
class MotherChoice:
    """A mother a line may begin with."""

    pk: int
    name: str
    what: str
    gives: str


@dataclass(frozen=True)
class ChooseMother:
    """Which mother to multiply."""

    choices: list[MotherChoice]


@dataclass(frozen=True)
class NewLinePage:
    """A line being asked about, and its answer as far as it can be given."""

    form: LineForm
    mother: StockPlant
    title: str
    answer: LineAnswer | None


@dataclass(frozen=True)
class OneLinePage:
    """A line with its lot to be cut."""

    page: LinePage
    answer: LineAnswer
    row: Multiplying
    cut: CutForm | None


@require_GET
@in_garden("see")
def choose(request: GardenRequest) -> HttpResponse:
    """Which mother to multiply."""
    mothers = [one for one in known(request.garden, request.today) if not one.row.ended_on and one.plant.ways]
    return show(request, "year/line_choose.html", ChooseMother([_choice(one) for one in mothers]))


def _choice(one: Known) -> MotherChoice:
    words = ("pup", "pups") if one.seen.pups is not None else (one.plant.cutting_one, one.plant.cutting_many)
    gives = f"{plural(one.now, *words)} now" if one.now else "rests now" if one.rests else f"no {words[1]} just now"
    return MotherChoice(one.row.pk, one.row.name, plant_words(one.plant.name, one.row.variety), gives)


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def new(request: GardenRequest, mother_id: int) -> HttpResponse:
    """Ask about a line of a mother, and begin it."""
    garden, today = request.garden, request.today
    mother = get_object_or_404(StockPlant, pk=mother_id, garden=garden, ended_on=None)
    plant, places = handbook()[mother.plant], list(garden.places.all())
    if not plant.ways or not places:
        return redirect("year-multiply", garden.pk)
    alike = StockPlant.objects.filter(garden=garden, plant=mother.plant, variety=mother.variety, ended_on=None)
    mothers = [mother, *alike.exclude(pk=mother.pk)]
    wants = Want.objects.filter(garden=garden, plant=mother.plant)
    last = wants.exclude(rooting_place__standing=Place.Standing.GROUND).last()
    start = start_of(plant, places, today, last)
    asked = wants_fragment(request)
    data = request.POST if request.method == "POST" else request.GET if asked else None
    form = LineForm(data, plant=plant, mothers=mothers, places=places, today=today, initial=start)
    if request.method == "POST" and form.is_valid():
        row = line_actions.begin_line(form.row(), form.chosen(), garden, request.user, today)
        saved(
            request, f"line-new-{mother.pk}", "Begun. Each lot stands in its week, and is planned anew from what took."
        )
        return redirect("year-line", garden.pk, row.pk)
    answer = _answer_for(form, start, garden, today)
    page = NewLinePage(form, mother, plant_words(plant.name, mother.variety), answer)
    return show(request, "year/line_answer.html" if asked else "year/line_new.html", page)


def _answer_for(form: LineForm, start: dict[str, object], garden: Garden, today: date) -> LineAnswer | None:
    """The answer to what is asked; to what the form starts with, where nothing was asked yet."""
    if not form.is_bound:
        form = LineForm(start, plant=form.plant, mothers=form.mothers, places=list(form.places.values()), today=today)
    return answer_of(line_today(form.row(), garden, today)) if form.is_valid() else None


def line_of(request: GardenRequest, line_id: int) -> Multiplying:
    """A line of the garden. Raises Http404 for one that is not there."""
    rows = Multiplying.objects.select_related("rooting_place", "growing_place")
    return get_object_or_404(rows, pk=line_id, garden=request.garden)


@require_GET
@in_garden("see")
def line(request: GardenRequest, line_id: int) -> HttpResponse:
    """One line."""
    return _shown(request, line_today(line_of(request, line_id), request.garden, request.today))


def _shown(request: GardenRequest, found: LineToday, wrong: CutForm | None = None) -> HttpResponse:
    page = page_of(found)
    can_cut = may(request.role, "tend") and any(one.cut_from <= request.today for one in found.sources)
    form = wrong or (_cut_form(request, found) if can_cut else None)
    return show(request, "year/line.html", OneLinePage(page, page.answer, found.row, form))


def _cut_form(request: GardenRequest, found: LineToday, data: object = None) -> CutForm:
    return CutForm(
        data,  # type: ignore[arg-type]
        sources=found.sources,
        planned=planned_from(found),
        places=list(request.garden.places.all()),
        today=request.today,
        initial={"rooting_place": str(found.row.rooting_place_id)},
    )


@require_POST
@in_garden("tend")
def cut(request: GardenRequest, line_id: int) -> HttpResponse:
    """Cut a lot of a line."""
    row = line_of(request, line_id)
    found = line_today(row, request.garden, request.today)
    key = sent_key(request.POST.get("key", ""))
    if key and line_actions.was_cut(request.garden, key, request.POST):
        return redirect("year-line", request.garden.pk, row.pk)  # the same press, sent twice
    form = _cut_form(request, found, request.POST)
    if not form.is_valid():
        return _shown(request, found, form)
    data = form.cleaned_data
    now = line_actions.CutNow(data["on"], form.counts(), form.places[data["rooting_place"]], form.pressed())
    made = line_actions.cut_lot(found, now, request.garden, request.user, request.today)
    if isinstance(made, Refusal):
        form.add_error(None, refusal_words(made, request.today, found.plant))
        return _shown(request, found, form)
    total = sum(form.counts().values())
    said = f"Taken: {plural(total, found.plant.cutting_one, found.plant.cutting_many)} for the line."
    saved(request, f"line-cut-{row.pk}", said, undo=untaking(made, request.garden) if made else "")
    return redirect("year-line", request.garden.pk, row.pk)


@require_POST
@in_garden("plan")
def away(request: GardenRequest, line_id: int) -> HttpResponse:
    """Put a line away."""
    row = line_of(request, line_id)
    line_actions.put_away(row, request.today)
    undo = Undo("line-away", {"line": row.pk}).offered(request.garden)
    saved(request, "", "Put away. Its batches stay what they are.", undo=undo)
    return redirect("year", request.garden.pk)


@takes_back("line-away", verb="plan")
def bring_back(asked: Asked) -> Undone:
    """A line that was put away stands again."""
    row = get_object_or_404(Multiplying, pk=asked.number("line"), garden=asked.garden)
    line_actions.take_out(row)
    return Undone("It stands again.", "year-line", (row.pk,))
