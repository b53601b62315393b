"""The round: what needs a look or a hand now, in the order one walks; deeds in one press; the printed sheet."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any
from uuid import uuid4

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from elder.drawing.nights import nights_scene
from elder.drawing.scene import Scene
from elder.drawing.soil_line import STRIP
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch, Entry
from elder.web.batches.undoing import striking
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.models import Place
from elder.web.places.readings import off_by_all
from elder.web.read.batches import BatchToday
from elder.web.read.gardens import places_of
from elder.web.rounds import actions
from elder.web.rounds.forms import DoneForm
from elder.web.rounds.round import LOOKS, Job, Round, Shared, Stop, jobs_in, round_of
from elder.web.rounds.wording import (
    DEED_WORDS,
    carry_words,
    cold_words,
    job_words,
    lift_words,
    shared_about,
    shared_title,
    when_words,
)
from elder.web.say.batches import hope_words, name_of
from elder.web.say.care import CAUTIONS, DEED_PAST
from elder.web.say.pictures import batch_axis, batch_scene
from elder.web.say.refusals import refusal_words
from elder.web.say.units import shown_temperature
from elder.web.say.words import WEEKDAYS, about, counted, listed, minutes_words, plural
from elder.web.season.models import Want
from elder.web.ui.parsing import parse_day, sent_key, whole
from elder.web.ui.replies import kept, refused, wants_json
from elder.web.ui.saved import saved

MOVES = {"pot_on": "pot-on", "harden": "harden", "plant_out": "plant-out", "pot_up": "pot-up"}
MOST_DRAWN = 12  # drawings on one page, where most is due; past that the words alone, or a phone crawls

WEEKDAY_NUMBERS = frozenset(map(str, range(len(WEEKDAYS))))


@require_GET
@in_garden("see")
def round_(request: GardenRequest) -> HttpResponse:
    """Today's round."""
    found = round_of(request.garden, request.today)
    units = request.user.units
    drawn = [job for job in jobs_in(found.now) if job.verb in LOOKS][:MOST_DRAWN]
    now, waits = ([stop_lines(stop, request, drawn) for stop in stops] for stops in (found.now, found.waits))
    _caution_once([*now, *waits])
    context = {
        "round": found,
        "headline": headline_of(found),
        "now": now,
        "waits": waits,
        "carries": _carry_lines(found, units),
        "carry_batches": sorted({carry.batch.row.pk for carry in found.carries if not carry.is_done}),
        "carry_key": uuid4(),
        "nights": nights_of(found, request),
        "off_by": off_by_all(request.garden, list(found.batches.values()), units),
        "last": max((batch.history.last for batch in found.batches.values()), default=0),
        "weekdays": [(i, name, i in request.garden.water_days) for i, name in enumerate(WEEKDAYS)],
    }
    return render(request, "rounds/round.html", context)


def headline_of(found: Round) -> tuple[str, str]:
    """The round in a line: how much there is to do, and how long it takes."""
    count = found.presses
    if not count:
        waits = sum(len(stop.shared) + len(stop.jobs) for stop in found.waits)
        rest = f"{plural(waits, 'thing', 'things')} can wait." if waits else "Nothing is due; they grow by themselves."
        return "Nothing now.", rest
    places = len({stop.place.pk for stop in found.now if stop.place})
    where = f", in {counted(places)} {'place' if places == 1 else 'places'}" if places else ""
    return f"{plural(count, 'thing', 'things')} to do", f"about {minutes_words(found.minutes)}{where}"


def stop_lines(stop: Stop, request: GardenRequest, drawn: Sequence[Job] = ()) -> dict[str, Any]:
    """A place of the walk as the page shows it."""
    return {
        "name": stop.place.name if stop.place else "In the beds",
        "shared": [_shared_line(shared) for shared in stop.shared],
        "jobs": [_job_line(job, job in drawn, request) for job in stop.jobs],
    }


def _caution_once(stops: list[dict[str, Any]]) -> None:
    """A caution is said where it first matters, and not again down the page."""
    said: set[str] = set()
    for stop in stops:
        for line in (*stop["shared"], *stop["jobs"]):
            line["caution"] = "" if line["caution"] in said else line["caution"]
            said.add(line["caution"])


def _shared_line(shared: Shared) -> dict[str, Any]:
    late = next((job for job in shared.jobs if job.is_late), None)
    return {
        "verb": shared.verb,
        "title": shared_title(shared),
        "about": shared_about(shared),
        "button": DEED_WORDS[shared.verb][2],
        "when": when_words(late or shared.jobs[0]),
        "late": shared.is_late,
        "caution": CAUTIONS.get(shared.verb, ""),
        "jobs": [(job.batch.row.pk, f"{job.task.count} {name_of(job.batch)}") for job in shared.jobs],
        "key": uuid4(),
        "id": f"{shared.verb}-{shared.place.pk if shared.place else 0}",
    }


def _job_line(job: Job, drawn: bool, request: GardenRequest) -> dict[str, Any]:
    batch, garden = job.batch, request.garden
    words = job_words(job, request.user.units)
    move = MOVES.get(job.verb, "")
    return {
        "verb": job.verb,
        "batch": batch,
        "name": name_of(batch),
        "deed": words.deed,
        "about": words.about,
        "caution": words.caution,
        "when": when_words(job),
        "late": job.is_late,
        "is_look": job.verb in LOOKS,
        "hope": hope_words(batch) if job.verb in LOOKS else "",
        "scene": _strip(batch) if drawn else None,
        "count": job.task.count,
        "key": uuid4(),
        "give_up_key": uuid4(),
        "move": move,
        "move_url": reverse("move", args=[garden.pk, batch.row.pk, move]) if move else "",
        "look_url": reverse("round-look", args=[garden.pk, batch.row.pk]),
        "seen": batch.history.last,
        "id": f"{job.verb}-batch-{batch.row.pk}",
    }


def _strip(batch: BatchToday) -> Scene:
    wanted = batch.row.want.total if batch.row.want else batch.state.taken
    return batch_scene(batch, wanted, "", batch_axis(batch), STRIP)


def _carry_lines(found: Round, units: str) -> list[dict[str, Any]]:
    return [
        {
            "name": name_of(carry.batch),
            "what": carry_words(carry, units),
            "cold": cold_words(carry, units),
            "lift": lift_words(carry, units),
            "done": carry.is_done,
            "tonight": carry.is_tonight,
            "pk": carry.batch.row.pk,
        }
        for carry in found.carries
    ]


def nights_of(found: Round, request: GardenRequest) -> Scene:
    """The ten days ahead, with the nights on which something must come in."""
    cold = {night.night for carry in found.carries for night in carry.nights}
    units = request.user.units

    def degrees(celsius: float) -> str:
        return f"{round(shown_temperature(celsius, units))}°".replace("-", "−")

    lows = listed(f"{WEEKDAYS[day.day.weekday()]} {degrees(day.low_c)}" for day in found.ahead)
    return nights_scene(
        found.ahead,
        cold,
        words=f"Lowest of each night ahead: {lows}.",
        day_words=lambda day: "today" if day == request.today else WEEKDAYS[day.weekday()],
        degrees=degrees,
    )


@require_GET
@in_garden("see")
def sheet(request: GardenRequest) -> HttpResponse:
    """The round on paper: one page, boxes to tick, in walking order."""
    found = round_of(request.garden, request.today)
    stops = [*(stop_lines(stop, request) for stop in found.now)]
    waits = [*(stop_lines(stop, request) for stop in found.waits)]
    lines = sum(len(stop["shared"]) + len(stop["jobs"]) + 1 for stop in (*stops, *waits)) + len(found.carries)
    context = {
        "headline": headline_of(found),
        "now": stops,
        "waits": waits,
        "carries": _carry_lines(found, request.user.units),
        "density": "small" if lines > 34 else "plain",
        "columns": lines > 60,
    }
    return render(request, "rounds/sheet.html", context)


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
