"""The winter: its list, what is done for it, what is looked through, what is counted in spring."""

from __future__ import annotations

from dataclasses import dataclass

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.hands import Hands
from elder.web.read.winter import WinterLine, WinterList, one_more, winter_list, with_wanted
from elder.web.read.winter_cares import cares_today
from elder.web.say.refusals import refusal_words
from elder.web.say.words import counted, plural
from elder.web.ui.fields import MOST_TAKEN
from elder.web.ui.pages import leaf_of, show
from elder.web.ui.parsing import whole
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved
from elder.web.year import winter_actions
from elder.web.year.models import Wintered
from elder.web.year.winter_actions import SeenTo, unseeing
from elder.web.year.winter_forms import AskPlantForm, LivedForm, SeeToForm, WinterCheckForm
from elder.web.year.winter_pages import WinterPage, WinterTodo, leaf_query, page_of, places_for, todo_of


@dataclass(frozen=True)
class WinterListPage:
    """The winter, and what was asked about besides."""

    page: WinterPage
    ask: AskPlantForm
    asked: WinterTodo | None


@dataclass(frozen=True)
class SeeToPage:
    """One line being seen to."""

    line: WinterTodo
    form: SeeToForm
    strikes: bool
    title: str
    leaf_query: str  # of the leaf it was taken from


@dataclass(frozen=True)
class ManyPage:
    """How many to keep, or to strike, for so many in spring."""

    line: WinterTodo
    strikes: bool


@dataclass(frozen=True)
class CareForms:
    """One that winters, looked through or counted."""

    name: str
    said: str
    form: WinterCheckForm | LivedForm
    counts: bool
    pk: int


@require_GET
@in_garden("see")
def winter(request: GardenRequest) -> HttpResponse:
    """The winter list."""
    garden, today, units = request.garden, request.today, request.user.units
    found = winter_list(garden, today)
    leaf = leaf_of(found.work, request.GET.get("page"))
    page = page_of(found, cares_today(garden, today), garden, leaf, units)
    plants = sorted(handbook().values(), key=lambda plant: plant.name)
    shipped = [plant for plant in plants if not plant.relative]
    ask = AskPlantForm(request.GET if "plant" in request.GET else None, plants=shipped)
    asked = None
    if ask.is_bound and ask.is_valid():
        data = ask.cleaned_data
        line = one_more(garden, today, handbook()[data["plant"]], in_pot=data["stands"] == "pot")
        asked = todo_of(line, garden, today, units)
    return show(request, "year/winter.html", WinterListPage(page, ask, asked))


def _line(request: GardenRequest, found: WinterList, key: str) -> WinterLine | None:
    """The line of a key; ``None`` for a press that comes when it stands there no more, which is said. Raises Http404
    where nothing is pressed."""
    line = next((line for line in found.lines if line.standing.key == key), None)
    if line is None and request.method != "POST":
        raise Http404
    if line is None:
        messages.info(request, "It stands on the list no more: it was seen to, or is gone.")
    return line


def _to_list(request: GardenRequest) -> HttpResponse:
    """Back to the leaf of the list that a line was taken from."""
    return redirect(reverse("year-winter", args=[request.garden.pk]) + leaf_query(whole(request.GET.get("page"))))


@require_http_methods(["GET", "POST"])
@in_garden("tend")
def see_to(request: GardenRequest, key: str) -> HttpResponse:
    """Carry in, dig or cover what a line says."""
    found = winter_list(request.garden, request.today)
    line = _line(request, found, key)
    if line is None or not line.is_work or line.row is not None:
        return _to_list(request)
    if wants_fragment(request):
        return _answered(request, line, strikes=False)
    form = _form(request, line, strikes=False)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        deed = SeenTo(data["count"], data["wanted"], form.where(), airs=data.get("airs", False))
        hands = Hands(request.garden, request.user, request.today, form.pressed())
        row = winter_actions.see_to(line, deed, found.winter, hands)
        return _written(request, row, form, line, strikes=False)
    return _shown(request, line, form, strikes=False)


@require_http_methods(["GET", "POST"])
@in_garden("tend")
def tops(request: GardenRequest, key: str) -> HttpResponse:
    """Strike tops of a line."""
    found = winter_list(request.garden, request.today)
    line = _line(request, found, key)
    if line is None or line.answer.tops is None or line.tops_row is not None:
        return _to_list(request)
    if wants_fragment(request):
        return _answered(request, line, strikes=True)
    form = _form(request, line, strikes=True)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        hands = Hands(request.garden, request.user, request.today, form.pressed())
        deed = SeenTo(data["count"], data["wanted"], form.where())
        row = winter_actions.strike_tops(line, deed, found.winter, hands)
        return _written(request, row, form, line, strikes=True)
    return _shown(request, line, form, strikes=True)


def _answered(request: GardenRequest, line: WinterLine, *, strikes: bool) -> HttpResponse:
    """How many it takes for the number that is being typed."""
    wanted = whole(request.GET.get("wanted", ""))
    asked = with_wanted(line, min(wanted, MOST_TAKEN)) if wanted else line
    todo = todo_of(asked, request.garden, request.today, request.user.units)
    return show(request, "year/winter_many.html", ManyPage(todo, strikes))


def _form(request: GardenRequest, line: WinterLine, *, strikes: bool) -> SeeToForm:
    many, count = line.many, line.standing.count
    advised = max(many.tops, 1) if strikes and many else count
    start: dict[str, object] = {
        "count": advised,
        "wanted": many.wanted if many else count,
        "place": str(line.shelter.key) if line.shelter else "",
    }
    moves = strikes or winter_actions.is_moved(line.way)
    data = request.POST if request.method == "POST" else None
    return SeeToForm(data, most=0 if strikes else count, places=places_for(request.garden), moves=moves, initial=start)


def _shown(request: GardenRequest, line: WinterLine, form: SeeToForm, *, strikes: bool) -> HttpResponse:
    todo = todo_of(line, request.garden, request.today, request.user.units)
    title = "Strike its tops" if strikes else todo.deed
    back = leaf_query(whole(request.GET.get("page")))
    return show(request, "year/winter_do.html", SeeToPage(todo, form, strikes, f"{title}: {todo.name}", back))


def _written(
    request: GardenRequest, row: Wintered | Refusal, form: SeeToForm, line: WinterLine, *, strikes: bool
) -> HttpResponse:
    if isinstance(row, Refusal):
        form.add_error(None, refusal_words(row, request.today, line.standing.plant))
        return _shown(request, line, form, strikes=strikes)
    undo = unseeing(row).offered(request.garden)
    saved(request, f"winter-{line.standing.key}", f"Written down: {row.get_way_display()}, {row.count}.", undo=undo)
    return _to_list(request)


def _row(request: GardenRequest, pk: int) -> Wintered:
    rows = Wintered.objects.select_related("batch", "tops", "stock")
    return get_object_or_404(rows, pk=pk, garden=request.garden, done_on=None)


@require_http_methods(["GET", "POST"])
@in_garden("tend")
def check(request: GardenRequest, row_id: int) -> HttpResponse:
    """Look through what winters; in spring count what lived."""
    row = _row(request, row_id)
    one = next(care for care in cares_today(request.garden, request.today) if care.row.pk == row.pk)
    counts = "lived" in request.GET or "lived" in request.POST
    if row.lived is not None:
        return redirect("year-winter", request.garden.pk)
    data = request.POST if request.method == "POST" else None
    form: WinterCheckForm | LivedForm
    form = LivedForm(data, most=one.alive) if counts else WinterCheckForm(data, most=one.alive)
    if data is not None and form.is_valid():
        hands = Hands(request.garden, request.user, request.today, form.pressed())
        if isinstance(form, LivedForm):
            lived = form.cleaned_data["lived"]
            done = winter_actions.count_lived(row, lived, one.alive, hands)
            said = f"Counted: {counted(lived)} of {counted(row.count)} live."
        else:
            found = winter_actions.check(row, form.cleaned_data["lost"], pests=form.cleaned_data["pests"], hands=hands)
            done = found if isinstance(found, Refusal) else None
            said = "Looked through."
        if done is None:
            saved(request, f"winter-check-{row.pk}", said)
            return redirect("year-winter", request.garden.pk)
        form.add_error(None, refusal_words(done, request.today, one.plant))
    said = f"{plural(one.alive, 'stands', 'stand')} by the last look."
    page = CareForms(one.plant.name, said, form, counts, row.pk)
    return show(request, "year/winter_check.html", page)


@require_POST
@in_garden("tend")
def finish(request: GardenRequest, row_id: int) -> HttpResponse:
    """The winter is over for them."""
    row = _row(request, row_id)
    if row.lived is None:
        messages.error(request, "Count first how many live.")
        return redirect("year-winter", request.garden.pk)
    winter_actions.finish(row, request.today)
    saved(request, "", "Their winter is over.")
    return redirect("year-winter", request.garden.pk)
