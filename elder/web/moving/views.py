"""Moving house: the move, each plant of it, the load, the day itself."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import uuid4

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.refusal import Refusal
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.hands import Hands
from elder.web.garden.models import Garden
from elder.web.moving import actions
from elder.web.moving.arriving import Arrival, arrive, unarriving
from elder.web.moving.forms import ArriveForm, AskForm, DecideForm, HouseMoveForm
from elder.web.moving.models import HouseMove
from elder.web.moving.pages import ComingLine, LoadPage, MovePage, line_of, load_page, move_page
from elder.web.read.moves import Coming, MoveToday, move_today, open_move
from elder.web.say.moving import questions
from elder.web.say.refusals import refusal_words
from elder.web.ui.pages import show
from elder.web.ui.parsing import sent_key
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class MovingRoom:
    """Moves that were made, and the form of a new one."""

    form: HouseMoveForm
    past: list[HouseMove]
    gardens: bool


@dataclass(frozen=True)
class OneMove:
    """A move with its form."""

    page: MovePage
    form: HouseMoveForm


@dataclass(frozen=True)
class DecidePage:
    """One plant of a move."""

    line: ComingLine
    form: DecideForm
    row: HouseMove


@dataclass(frozen=True)
class ArrivePage:
    """The day itself."""

    form: ArriveForm
    row: HouseMove
    to: Garden


@require_GET
@in_garden("see")
def moving(request: GardenRequest) -> HttpResponse:
    """The move that is planned, or the form to plan one."""
    row = open_move(request.garden)
    if row:
        return redirect("moving-one", request.garden.pk, row.pk)
    form = _move_form(request)
    past = HouseMove.objects.filter(garden=request.garden).exclude(moved_on=None).select_related("to")
    return show(request, "moving/moving.html", MovingRoom(form, list(past), bool(form.gardens)))


def _owned(request: GardenRequest) -> list[Garden]:
    """The other gardens of the household that are not left: one of them is moved to."""
    here = request.garden
    return list(Garden.objects.filter(household=here.household_id, closed_on=None).exclude(pk=here.pk))


def _move_form(request: GardenRequest, row: HouseMove | None = None) -> HouseMoveForm:
    data = request.POST if request.method == "POST" else None
    return HouseMoveForm(data, gardens=_owned(request), today=request.today, units=request.user.units, row=row)


@require_POST
@in_garden("keep")
def new(request: GardenRequest) -> HttpResponse:
    """Begin to move."""
    form = _move_form(request)
    if form.is_valid():
        hands = Hands(request.garden, request.user, request.today, form.pressed())
        row = actions.begin_move(form.move(), hands)
        saved(request, "moving-new", "Begun. What becomes of each plant stands below.")
        return redirect("moving-one", request.garden.pk, row.pk)
    return show(request, "moving/moving.html", MovingRoom(form, [], bool(form.gardens)))


def _row(request: GardenRequest, move_id: int) -> HouseMove:
    return get_object_or_404(HouseMove.objects.select_related("to__household"), pk=move_id, garden=request.garden)


def _found(request: GardenRequest, move_id: int) -> MoveToday:
    return move_today(_row(request, move_id), request.garden, request.today)


def _open(request: GardenRequest, move_id: int) -> MoveToday:
    found = _found(request, move_id)
    if found.row.moved_on or found.row.off_on:
        raise Http404
    return found


def _plant(found: MoveToday, key: str) -> Coming:
    for one in found.coming:
        if one.key == key:
            return one
    raise Http404


@require_GET
@in_garden("see")
def one(request: GardenRequest, move_id: int) -> HttpResponse:
    """A move."""
    found = _found(request, move_id)
    form = HouseMoveForm(gardens=_owned(request), today=request.today, units=request.user.units, row=found.row)
    return show(request, "moving/move.html", OneMove(move_page(found, request.user.units), form))


@require_POST
@in_garden("keep")
def change(request: GardenRequest, move_id: int) -> HttpResponse:
    """Another day, another vehicle, another garden."""
    found = _open(request, move_id)
    form = _move_form(request, found.row)
    if form.is_valid():
        form.move(found.row).save()
        saved(request, "moving-change", "Kept; everything is reckoned anew.")
        return redirect("moving-one", request.garden.pk, move_id)
    return show(request, "moving/move.html", OneMove(move_page(found, request.user.units), form))


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def plant(request: GardenRequest, move_id: int, moved_key: str) -> HttpResponse:
    """Decide for one plant: how it comes, how tall it is, how long a hedge of it."""
    found = _open(request, move_id)
    chosen = _plant(found, moved_key)
    form = DecideForm(request.POST if request.method == "POST" else None, one=chosen, units=request.user.units)
    if request.method == "POST" and form.is_valid():
        actions.decide(found.row, moved_key, form.decided())
        saved(request, f"moving-{moved_key}", "Kept.")
        return redirect("moving-one", request.garden.pk, move_id)
    line = line_of(chosen, found.row, request.today, request.user.units)
    return show(request, "moving/plant.html", DecidePage(line, form, found.row))


@require_POST
@in_garden("plan")
def cut(request: GardenRequest, move_id: int, moved_key: str) -> HttpResponse:
    """Want its cuttings, so that the season counts them in."""
    found = _open(request, move_id)
    chosen = _plant(found, moved_key)
    hands = Hands(request.garden, request.user, request.today, sent_key(request.POST.get("key")) or uuid4())
    want = actions.cut_for(found.row, chosen, hands)
    if want is None:
        messages.error(request, "Nothing of it can be struck here: there is no place for it.")
        return redirect("moving-one", request.garden.pk, move_id)
    saved(request, "moving-cut", "Its cuttings stand in the season now.")
    return redirect("want", request.garden.pk, want.pk)


@require_POST
@in_garden("tend")
def done(request: GardenRequest, move_id: int, moved_key: str) -> HttpResponse:
    """It is dug and potted, or its seed is gathered."""
    found = _open(request, move_id)
    hands = Hands(request.garden, request.user, request.today, sent_key(request.POST.get("key")) or uuid4())
    row = actions.mark_done(found.row, _plant(found, moved_key), hands)
    if isinstance(row, Refusal):
        messages.error(request, refusal_words(row, request.today))
    else:
        saved(request, f"moving-{moved_key}", "Written down.", undo=actions.undoing(row).offered(request.garden))
    return redirect("moving-one", request.garden.pk, move_id)


@require_POST
@in_garden("plan")
def ask(request: GardenRequest, move_id: int) -> HttpResponse:
    """Keep an answer, and whom one asked."""
    found = _open(request, move_id)
    form = AskForm(request.POST)
    known = {question.key for question in questions(found)}
    if form.is_valid() and form.cleaned_data["question"] in known:
        data = form.cleaned_data
        actions.answer_ask(found.row, data["question"], said=data["said"], whom=data["whom"].strip(), on=request.today)
        saved(request, "moving-ask", "Remembered.")
    else:
        messages.error(request, "That answer could not be read. Here is the question again.")
    return redirect("moving-one", request.garden.pk, move_id)


@require_GET
@in_garden("see")
def load(request: GardenRequest, move_id: int) -> HttpResponse:
    """What stands where on the load, and in how many journeys."""
    page: LoadPage = load_page(_found(request, move_id), request.user.units)
    return show(request, "moving/load.html", page)


@require_POST
@in_garden("keep")
def off(request: GardenRequest, move_id: int) -> HttpResponse:
    """Call the move off, with a way back."""
    found = _open(request, move_id)
    undo = actions.call_off(found.row, request.today).offered(request.garden)
    saved(request, "moving-off", "Called off. What was dug and struck stays.", undo=undo)
    return redirect("year", request.garden.pk)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def go(request: GardenRequest, move_id: int) -> HttpResponse:
    """The day itself: who came alive."""
    found = _open(request, move_id)
    there = found.row.to
    if there is None or there.pk not in {garden.pk for garden in _owned(request)}:
        messages.info(request, "First say to which garden; one that is not there yet is described in two minutes.")
        return redirect("moving-one", request.garden.pk, move_id)
    places = list(there.places.all())
    if not places:
        messages.info(request, f"First give {there.name} a place where pots can stand.")
        return redirect("place-new", there.pk)
    form = ArriveForm(request.POST if request.method == "POST" else None, found=found, places=places)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        arrival = Arrival(form.alive(), form.places[data["outdoors"]], form.places[data["indoors"]])
        row = arrive(found, arrival, Hands(request.garden, request.user, request.today, form.pressed()))
        undo = unarriving(row).offered(request.garden)
        saved(request, "moving-go", f"Moved. {request.garden.name} is closed; this garden has begun.", undo=undo)
        return redirect("moving-one", request.garden.pk, row.pk)
    return show(request, "moving/go.html", ArrivePage(form, found.row, there))
