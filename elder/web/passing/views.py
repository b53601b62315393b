"""What is promised: the board, a new promise, one promise and what is done with it."""

from __future__ import annotations

from dataclasses import dataclass

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.garden.hands import Hands
from elder.web.garden.models import Garden, Place
from elder.web.passing import actions
from elder.web.passing.forms import USUAL_DAYS, AnswersForm, HandOverForm, PromiseForm, ShootsForm
from elder.web.passing.models import Promise
from elder.web.passing.pages import (
    NewAnswer,
    PromiseCard,
    PromisePage,
    ShootsAnswer,
    answer_given,
    card_of,
    new_answer,
    promise_page,
    shoots_answer,
)
from elder.web.read.handbook import clonable_here
from elder.web.read.promises import (
    PromiseToday,
    could_reserve,
    open_promises,
    promise_row,
    promise_rows,
    promise_today,
)
from elder.web.say.promises import board_headline, promise_title
from elder.web.say.refusals import refusal_words
from elder.web.say.units import length_in
from elder.web.season.models import Want
from elder.web.stock.actions import answer_for_variety
from elder.web.ui.pages import show
from elder.web.ui.parsing import whole
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved

PAST_SHOWN = 30


@dataclass(frozen=True)
class PastLine:
    """A promise that is over."""

    pk: int
    said: str


@dataclass(frozen=True)
class PromiseBoard:
    """All that is promised."""

    headline: tuple[str, str]
    cards: list[PromiseCard]
    past: list[PastLine]


@dataclass(frozen=True)
class NewPromise:
    """A promise that is being made."""

    form: PromiseForm
    answer: NewAnswer | None


@dataclass(frozen=True)
class OnePromise:
    """A promise, and the forms on its page."""

    page: PromisePage
    answers: AnswersForm
    hand: HandOverForm | None
    shoots: ShootsForm | None
    shot: ShootsAnswer | None


@require_GET
@in_garden("see")
def board(request: GardenRequest) -> HttpResponse:
    """All that is promised."""
    found = open_promises(request.garden, request.today)
    over = promise_rows(request.garden).exclude(over_on=None).order_by("-over_on", "-pk")[:PAST_SHOWN]
    past = [promise_today(row, request.garden, request.today) for row in over]
    lines = [PastLine(one.row.pk, f"{promise_title(one)}: {_ended(one)}") for one in past]
    page = PromiseBoard(board_headline(found, request.today), [card_of(one) for one in found], lines)
    return show(request, "passing/board.html", page)


def _ended(found: PromiseToday) -> str:
    row = found.row
    if not row.handed:
        return "called off"
    return "handed over" if row.handed >= found.want.wanted else f"{row.handed} handed over, then called off"


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def new(request: GardenRequest) -> HttpResponse:
    """Make a promise. Its answer stands beside the form as it is typed."""
    garden, today = request.garden, request.today
    if not garden.places.exists():
        messages.info(request, "First say where cuttings can stand: a sill, a shelf, a glasshouse.")
        return redirect("place-new", garden.pk)
    form = _promise_form(request)
    asked, answer = None, None
    if request.method == "POST":
        if form.is_valid():
            asked = asked_promise(form, garden, request)
            answer = new_answer(asked, garden)
    else:
        answer = _answered(request, form)
    if wants_fragment(request):
        return show(request, "passing/new_answer.html", NewPromise(form, answer))
    if request.method == "POST" and asked is not None:
        spares, advised = ([], set()) if asked.is_unrooted else could_reserve(asked, garden)
        chosen = [batch.row for batch, spare in spares if spare.key in advised]
        hands = Hands(garden, request.user, today, form.pressed())
        row = actions.make_promise(asked.row, asked.want, chosen, hands)
        saved(request, "passing-new", "Promised. It is counted in from now on.")
        return redirect("passing-one", garden.pk, row.pk)
    return show(request, "passing/new.html", NewPromise(form, answer))


def _answered(request: GardenRequest, form: PromiseForm) -> NewAnswer | None:
    """What is typed so far comes to, whoever it is for; what stands in the form at first, before anything is."""
    plain = {name: form[name].value() for name in form.fields}
    typed = {name: value for name, value in plain.items() if value is not None} | {"who": plain["who"] or "somebody"}
    asked = PromiseForm(
        typed, plants=list(form.plants.values()), today=request.today, units=request.user.units
    )  # fmt: skip
    return new_answer(asked_promise(asked, request.garden, request), request.garden) if asked.is_valid() else None


def _promise_form(request: GardenRequest) -> PromiseForm:
    plants = sorted(clonable_here(request.garden).values(), key=lambda plant: plant.name)
    data = request.POST if request.method == "POST" else request.GET if wants_fragment(request) else None
    start: dict[str, object] = {"wanted": 6, "spares": 0, "confidence": 0.9, "road_days": 2, "how": "gift"}
    start |= {"goes": "hand", "far_c": 0}
    start["by"] = request.today.fromordinal(request.today.toordinal() + USUAL_DAYS)
    start |= {name: request.GET[name] for name in ("plant", "variety", "wanted", "who") if name in request.GET}
    if "plant" not in start:
        last = Batch.objects.filter(garden=request.garden).order_by("-pk").values_list("plant", flat=True).first()
        start["plant"] = last or plants[0].slug
    return PromiseForm(data, plants=plants, today=request.today, units=request.user.units, initial=start)


def asked_promise(form: PromiseForm, garden: Garden, request: GardenRequest) -> PromiseToday:
    """A promise as it is typed, reckoned and kept nowhere."""
    plant = form.plants[form.cleaned_data["plant"]]
    last = Want.objects.filter(garden=garden, plant=plant.slug).select_related("rooting_place", "growing_place").last()
    method = last.method if last and last.method in {way.slug for way in plant.ways} else plant.ways[0].slug
    places = (last.rooting_place, last.growing_place) if last else _first_places(garden)
    row = form.promise()
    row.want = form.want(places, method)
    return promise_today(row, garden, request.today)


def _first_places(garden: Garden) -> tuple[Place, Place]:
    """Where the first of a plant would root and grow on: the first places of the walk that are no ground."""
    places = list(garden.places.all())
    first = next((one for one in places if one.standing != Place.Standing.GROUND), places[0])
    return first, first


def _found(request: GardenRequest, promise_id: int) -> PromiseToday:
    return promise_today(promise_row(request.garden, promise_id), request.garden, request.today)


@require_GET
@in_garden("see")
def one(request: GardenRequest, promise_id: int) -> HttpResponse:
    """One promise. With shoots in the address, what they give for its parcel."""
    found = _found(request, promise_id)
    if wants_fragment(request):
        form = ShootsForm(request.GET, units=request.user.units)
        return show(request, "passing/shoots.html", _page(request, found, shoots=form))
    return show(request, "passing/promise.html", _page(request, found))


def _page(
    request: GardenRequest,
    found: PromiseToday,
    *,
    hand: HandOverForm | None = None,
    answers: AnswersForm | None = None,
    shoots: ShootsForm | None = None,
) -> OnePromise:
    row, units = found.row, request.user.units
    said = answer_given(request.garden, found.want)
    if answers is None:
        start: dict[str, object] = {"border": row.border, "soil": row.soil}
        start |= {"protected": said.protected, "quarantine": said.quarantine} if said else {}
        answers = AnswersForm(initial={"protected": "unknown", "quarantine": "unknown", **start})
    if hand is None and row.over_on is None and found.now and may(request.role, "tend"):
        hand = HandOverForm(found=found)
    if found.is_unrooted and row.goes == Promise.Goes.PARCEL and row.over_on is None:
        long = round(length_in(max(found.method.length_cm * 4, 40), units))
        typed = {"shoots": max(found.row.left, 1), "long": long, "nodes": 10}
        shoots = shoots or ShootsForm(typed, units=units)
    shot = shoots_answer(found, shoots, units) if shoots else None
    return OnePromise(promise_page(found, request.garden, units), answers, hand, shoots, shot)


@require_POST
@in_garden("plan")
def reserve(request: GardenRequest, promise_id: int) -> HttpResponse:
    """Reserve a batch for a promise, or let it go again."""
    found = _found(request, promise_id)
    row = found.row
    batch = get_object_or_404(Batch, pk=whole(request.POST.get("batch")), garden=request.garden, plant=found.want.plant)
    if row.over_on is not None or found.is_unrooted:
        raise Http404
    if "end" in request.POST:
        actions.release(row, batch)
        saved(request, "passing-reserve", f"{batch.code} is not reserved for it any more.")
    else:
        actions.reserve(row, batch)
        saved(request, "passing-reserve", f"{batch.code} serves it too, once its own want has its number.")
    return redirect("passing-one", request.garden.pk, row.pk)


@require_POST
@in_garden("plan")
def answers(request: GardenRequest, promise_id: int) -> HttpResponse:
    """Keep what was answered before it may go."""
    found = _found(request, promise_id)
    form = AnswersForm(request.POST)
    if not form.is_valid():
        return show(request, "passing/promise.html", _page(request, found, answers=form))
    data, want = form.cleaned_data, found.want
    answer_for_variety(
        request.garden, want.plant, want.variety, protected=data["protected"],
        quarantine=data["quarantine"], on=request.today, person=request.user,
    )  # fmt: skip
    actions.answer(found.row, border=data["border"], soil=data["soil"], on=request.today)
    saved(request, "passing-answers", "Remembered. What they come to stands beside them.")
    return redirect("passing-one", request.garden.pk, promise_id)


@require_POST
@in_garden("tend")
def hand(request: GardenRequest, promise_id: int) -> HttpResponse:
    """Hand over what stands."""
    found = _found(request, promise_id)
    if found.row.over_on is not None:
        return redirect("passing-one", request.garden.pk, promise_id)
    form = HandOverForm(request.POST, found=found)
    if form.is_valid() and found.row.answered_on is None:
        form.add_error(None, "First answer what is asked of its variety, of borders and of soil: it takes a moment.")
    if form.is_valid():
        hands = Hands(request.garden, request.user, request.today, form.pressed())
        given = actions.hand_over(found, form.handed(), hands)
        if not isinstance(given, Refusal):
            undo = actions.unhanding(given).offered(request.garden)
            saved(request, f"passing-hand-{promise_id}", f"{given.count} handed over to {found.row.who}.", undo=undo)
            return redirect("passing-one", request.garden.pk, promise_id)
        form.add_error(None, refusal_words(given, request.today, found.plant))
    return show(request, "passing/promise.html", _page(request, found, hand=form))


@require_POST
@in_garden("plan")
def off(request: GardenRequest, promise_id: int) -> HttpResponse:
    """Call a promise off, with a way back."""
    row = promise_row(request.garden, promise_id)
    if row.over_on is None:
        undo = actions.call_off(row, request.today).offered(request.garden)
        saved(request, "passing-off", "Called off. What was raised for it stays.", undo=undo)
    return redirect("passing", request.garden.pk)
