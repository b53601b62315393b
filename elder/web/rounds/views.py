"""The round: what needs a look or a hand now, in the order one walks; deeds in one press; the printed sheet."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from uuid import uuid4, uuid5

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from elder.drawing.nights import LEAST_MM
from elder.engine.refusal import Refusal
from elder.web.batches.actions import withdraw
from elder.web.batches.models import Batch, Entry
from elder.web.batches.undoing import striking
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.models import Garden, Place
from elder.web.places.readings import off_by_all
from elder.web.read.batches import batch_of
from elder.web.read.gardens import places_of
from elder.web.read.services import ahead_of
from elder.web.rounds import actions
from elder.web.rounds.forms import DoneForm
from elder.web.rounds.pages import (
    PaperRound,
    RoundPage,
    carry_lines,
    cautioned_once,
    headline_of,
    nights_of,
    stops_of,
    year_lines,
)
from elder.web.rounds.round import LOOKS, jobs_in, round_of
from elder.web.rounds.weather_words import weather_lines
from elder.web.say.care import DEED_PAST
from elder.web.say.numbers import nights_numbers
from elder.web.say.refusals import refusal_words
from elder.web.say.units import rain_sign
from elder.web.say.words import WEEKDAYS, about, counted, day_words, listed, plural
from elder.web.season.models import Want
from elder.web.ui.pages import show
from elder.web.ui.parsing import parse_day, sent_key, whole
from elder.web.ui.replies import kept, refused, told, wants_json
from elder.web.ui.saved import saved

MOST_DRAWN = 12  # drawings on one page, where most is due; past that the words alone, or a phone crawls

WEEKDAY_NUMBERS = frozenset(map(str, range(len(WEEKDAYS))))


def missing_words(garden: Garden, today: date) -> str:
    """That the weather is not to be had, and from when what stands here is; nothing where it is."""
    ahead = ahead_of(garden, today)
    if not ahead.missing:
        return ""
    last = f"what stands here is from {day_words(ahead.told_on, today)}" if ahead.days else "no night is judged by it"
    return f"The weather cannot be reached: {last}."


@require_GET
@in_garden("see")
def round_(request: GardenRequest) -> HttpResponse:
    """Today's round."""
    found = round_of(request.garden, request.today)
    units = request.user.units
    drawn = [job for job in jobs_in(found.now) if job.verb in LOOKS][:MOST_DRAWN]
    now, waits = cautioned_once(*stops_of(found.now, found.waits, request, drawn))
    page = RoundPage(
        round=found,
        headline=headline_of(found),
        now=now,
        waits=waits,
        carries=carry_lines(found, units),
        carry_batches=sorted({carry.batch.row.pk for carry in found.carries if not carry.is_done}),
        nights=nights_of(found, request),
        numbers=nights_numbers(found.ahead, request.today, units),
        off_by=off_by_all(request.garden, list(found.batches.values()), units),
        weather=weather_lines(found.ahead, list(found.batches.values()), request.garden, units),
        rain_sign=rain_sign(units) if any(day.rain_mm >= LEAST_MM for day in found.ahead) else "",
        missing=missing_words(request.garden, request.today),
        year=year_lines(found, request),
        last=max((batch.history.last for batch in found.batches.values()), default=0),
        weekdays=[(i, name, i in request.garden.water_days) for i, name in enumerate(WEEKDAYS)],
    )
    return show(request, "rounds/round.html", page)


@require_GET
@in_garden("see")
def sheet(request: GardenRequest) -> HttpResponse:
    """The round on paper: one page, boxes to tick, in walking order."""
    found = round_of(request.garden, request.today)
    now, waits = stops_of(found.now, found.waits, request)
    lines = sum(stop.count for stop in (*now, *waits)) + len(found.carries) + len(found.year)
    page = PaperRound(
        headline=headline_of(found),
        now=now,
        waits=waits,
        carries=carry_lines(found, request.user.units),
        year=year_lines(found, request),
        density="small" if lines > 34 else "plain",
        columns=lines > 60,
    )
    return show(request, "rounds/sheet.html", page)


@require_POST
@in_garden("tend")
def done(request: GardenRequest) -> HttpResponse:
    """A deed, done to several batches in one press."""
    rows = {row.pk: row for row in Batch.objects.filter(garden=request.garden)}
    form = DoneForm(request.POST, batches=list(rows), today=request.today)
    back = reverse("round", args=[request.garden.pk])
    if not form.is_valid():
        said = "Nothing was ticked, so nothing was written down."
        if wants_json(request):
            return refused(said)
        messages.error(request, said)
        return redirect(back)
    data = form.cleaned_data
    batches = [rows[pk] for pk in data["batch"]]
    given = {"on": data["on"], "key": data["key"], "today": request.today, "person": request.user}
    written, refusal = actions.tend(batches, data["deed"], **given)
    if refusal and not written:
        said = refusal_words(refusal, request.today)
        if wants_json(request):
            return refused(said)
        messages.error(request, said)
        return redirect(back)
    others = actions.done_on(batches, data["deed"], data["on"]) if len(written) < len(batches) else []
    who = {entry.by.username for entry in others if entry.by and entry not in written}
    _say_done(request, data["deed"], written, passed=len(batches) - len(written), who=listed(sorted(who)))
    return kept(request, back)


@require_POST
@in_garden("tend")
def recut(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Write down that so many of a batch were cut back to sound wood."""
    batch = batch_of(request.garden, batch_id, request.today)
    most = batch.state.count("waiting") + batch.state.count("rooted")
    count = whole(request.POST.get("count", ""))
    if not 0 < count <= most:
        messages.error(request, f"Between 1 and {most} can be recut.")
        return redirect("batch", request.garden.pk, batch.row.pk)
    key = sent_key(request.POST.get("key")) or uuid4()
    entry, state = actions.recut(batch.row, count, on=request.today, key=key, today=request.today, person=request.user)
    if isinstance(state, Refusal):
        messages.error(request, refusal_words(state, request.today))
    else:
        undo = striking([entry], request.garden)
        saved(request, "recut", f"Written down: {count} recut, starting anew today.", undo=undo)
    return kept(request, reverse("batch", args=[request.garden.pk, batch.row.pk]))


@require_POST
@in_garden("tend")
def withdraw_press(request: GardenRequest) -> HttpResponse:
    """A press is taken back that was on its way: whether it had come already."""
    key = sent_key(request.POST.get("key"))
    if key is None:
        raise Http404
    batches = [pk for pk in map(whole, request.POST.getlist("batch")) if pk]
    written = withdraw(request.garden, [key, *(uuid5(key, str(pk)) for pk in batches)])
    return told({"ok": True, "next": "", "written": written})


def _say_done(request: GardenRequest, deed: str, written: Sequence[Entry], *, passed: int, who: str) -> None:
    past = DEED_PAST[deed]
    if not written:
        messages.info(request, f"{past.capitalize()}: {who or 'somebody'} did that already.")
        return
    names = f"{counted(len(written))} batch{'' if len(written) == 1 else 'es'}"
    undo = striking(written, request.garden)
    by = f", by {who}" if who else ""
    more = f" {plural(passed, 'was', 'were')} done already{by}." if passed else ""
    saved(request, "done", f"Written down: {past}, {names}.{more}", undo=undo)


@require_POST
@in_garden("tend")
def move(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Write down that those of a stage were carried to another place."""
    batch = get_object_or_404(Batch, pk=batch_id, garden=request.garden)
    sent = request.POST.get("place", "")
    place = places_of(request.garden).get(whole(sent))
    stage = request.POST.get("stage", "waiting")
    if place is None or stage not in ("waiting", "potted") or place.standing == Place.Standing.GROUND:
        raise Http404
    key = sent_key(request.POST.get("key")) or uuid4()
    entry, state = actions.move_to(batch, place, stage, key=key, today=request.today, person=request.user)
    if isinstance(state, Refusal):
        messages.error(request, refusal_words(state, request.today))
    else:
        undo = striking([entry], request.garden)
        saved(request, "move", f"Written down: moved to {place.name}.", undo=undo)
    return kept(request, reverse("round", args=[request.garden.pk]))


@require_POST
@in_garden("plan")
def settle(request: GardenRequest, want_id: int) -> HttpResponse:
    """Settle for fewer plants, or for a later day; or for what was asked at first."""
    want = get_object_or_404(Want, pk=want_id, garden=request.garden)
    if "as_asked" in request.POST:
        undo = actions.settle(want, count=None, by=None).offered(request.garden)
        saved(request, "settle", "As it was asked for before.", undo=undo)
        return redirect("want", request.garden.pk, want.pk)
    count, by = whole(request.POST.get("count")), parse_day(request.POST.get("by"))
    wanted = count if 0 < count <= want.wanted + want.spares else None
    if wanted is None and by is None:
        raise Http404
    wanted, by = wanted or want.settled_count, by or want.settled_by
    undo = actions.settle(want, count=wanted, by=by).offered(request.garden)
    said = f"{wanted} will do" if wanted else "The number stays"
    when = f", by {about(by, request.today)}" if by else ""
    saved(request, "settle", f"{said}{when}.", undo=undo)
    return redirect("want", request.garden.pk, want.pk)


@require_POST
@in_garden("keep")
def water_days(request: GardenRequest) -> HttpResponse:
    """Choose the weekdays on which jars are changed."""
    days = sorted({int(day) for day in request.POST.getlist("day") if day in WEEKDAY_NUMBERS})
    undo = actions.choose_water_days(request.garden, days).offered(request.garden)
    saved(request, "water-days", actions.water_days_words(days), undo=undo)
    return redirect("round", request.garden.pk)


@require_POST
@in_garden("keep")
def walk(request: GardenRequest, place_id: int) -> HttpResponse:
    """Move a place one up or down in the order one walks."""
    place = get_object_or_404(Place, pk=place_id, garden=request.garden)
    actions.walk_first(request.garden, place, -1 if "up" in request.POST else 1)
    return redirect("places", request.garden.pk)
