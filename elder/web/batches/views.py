"""Batches: taking one, looking at one, and what is done with it."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import uuid4

from django.forms import Form
from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from elder.drawing.ground import ground_scene, ruler_scene
from elder.drawing.soil_line import COMPACT, LARGE
from elder.engine.batch.history import STAGES
from elder.engine.cut.codes import spoken
from elder.engine.refusal import Refusal
from elder.engine.round.verdicts import stage_of
from elder.web.batches import actions
from elder.web.batches.forms import BenchForm, HarvestForm, MoveForm, NoteForm
from elder.web.batches.models import Entry
from elder.web.batches.potting import potting_lines
from elder.web.batches.undoing import striking
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.batches import BatchToday, batch_of, batch_rows, batch_today
from elder.web.read.gardens import climate_of, places_of
from elder.web.read.wants import reckon
from elder.web.say.batches import (
    STAGE_WORDS,
    counts_words,
    entry_words,
    hope_words,
    next_words,
    title_of,
)
from elder.web.say.care import DEED_PAST
from elder.web.say.pictures import batch_axis, batch_scene
from elder.web.say.refusals import refusal_words
from elder.web.say.wants import headline
from elder.web.say.words import about, day_words, days_away, span_words
from elder.web.ui.parsing import whole
from elder.web.ui.replies import kept, refused, wants_json
from elder.web.ui.saved import saved


@require_GET
@in_garden("see")
def batches(request: GardenRequest) -> HttpResponse:
    """Every batch: the living first, then those that are over."""
    found = [batch_today(row, request.garden, request.today, want=row.want) for row in batch_rows(request.garden)]
    rows = [
        {
            "batch": item,
            "title": title_of(item),
            "counts": counts_words(item),
            "next": next_words(item),
            "scene": _scene(item, COMPACT),
            "url": reverse("batch", args=[request.garden.pk, item.row.pk]),
        }
        for item in sorted(found, key=lambda item: item.state.taken_on, reverse=True)
    ]
    living = [row for row in rows if not row["batch"].state.over]
    over = [row for row in rows if row["batch"].state.over]
    return render(request, "batches/batches.html", {"living": living, "over": over})


def _scene(batch: BatchToday, sizes: Any) -> Any:
    want = batch.row.want
    wanted = want.total if want else int(batch.row.plan.get("wanted", batch.state.taken))
    return batch_scene(batch, wanted, f"{title_of(batch)}. {counts_words(batch)}.", batch_axis(batch), sizes)


@require_GET
@in_garden("see")
def batch(request: GardenRequest, batch_id: int) -> HttpResponse:
    """One batch: its line, what is next, its history."""
    return _batch_page(request, batch_of(request.garden, batch_id, request.today))


def _batch_page(request: GardenRequest, item: BatchToday, forms: dict[str, Form] | None = None) -> HttpResponse:
    axis = batch_axis(item)
    given = forms or {}
    want = item.row.want
    whole = None
    if want:
        siblings = want.batches.select_related("rooting_place", "growing_place").prefetch_related("entries")
        whole = reckon(want, request.garden, request.today, batches=siblings)
    struck = {entry.strikes_id: entry for entry in item.entries if entry.strikes_id}
    photos = {photo.entry_id: photo.pk for photo in item.row.photos.only("pk", "entry_id")}
    history = [
        {
            "entry": entry,
            "words": entry_words(entry),
            "struck_by": struck.get(entry.pk),
            "photo": photos.get(entry.pk),
            "is_care": _is_care(entry),
        }
        for entry in sorted(item.entries, key=lambda entry: (entry.on, entry.pk), reverse=True)
    ]
    context = {
        "batch": item,
        "title": title_of(item),
        "code": spoken(item.row.code),
        "grown": sum(item.state.count(stage) for stage in STAGES if stage != "waiting"),
        "place": places_of(request.garden)[item.place_id(stage_of(item.state))],
        "counts": counts_words(item),
        "next": next_words(item),
        "hope": hope_words(item),
        "stages": [(STAGE_WORDS[s], item.state.count(s), s) for s in STAGES],
        "scene": _scene(item, LARGE),
        "ruler": ruler_scene(axis, request.today, day_words=lambda day: day_words(day, request.today)),
        "ground": ground_scene(axis, request.today, climate_of(request.garden), height=LARGE.height),
        "look_key": uuid4(),
        "moves": _moves(item, request, given),
        "harvest": given.get("harvest") or (HarvestForm(today=request.today) if _may_harvest(item) else None),
        "note": given.get("note") or NoteForm(today=request.today),
        "seen": max(entry.pk for entry in item.entries),
        "history": [line for line in history if not line["is_care"]],
        "care": [line for line in history if line["is_care"]],
        "care_last": _care_words(item),
        "want": want,
        "want_headline": headline(whole) if whole else None,
        "want_standing": whole.standing_word if whole else "",
        "forecast": _forecast_words(item),
        "potting": potting_lines(item, request.user.units) if item.state.count("rooted") else None,
        "cautions": [c for c in item.plant.cautions if c.at in _stages_of_caution(item)],
    }
    return render(request, "batches/batch.html", context)


def _is_care(entry: Entry) -> bool:
    """Water, mist and the like: folded away, since they outnumber all that is told by a history."""
    kind = entry.strikes.kind if entry.kind == Entry.Kind.STRUCK and entry.strikes else entry.kind
    return kind == Entry.Kind.TENDED


def _care_words(item: BatchToday) -> list[str]:
    """Each care with the day it was last done, latest first."""
    last = sorted(((max(days), deed) for deed, days in item.state.tended.items()), reverse=True)
    return [f"{DEED_PAST.get(deed, deed)} {about(day, item.today)}" for day, deed in last]


def _forecast_words(item: BatchToday) -> list[tuple[str, str]]:
    """What was forecast on the day of the cut, to set beside what comes."""
    rows = []
    for name, key in (("Roots", "rooted"), ("Ready", "ready"), ("First harvest", "harvest")):
        days = [day for day in item.row.plan.get(key, []) if day]
        if len(days) == 3:
            first, _, last = (date.fromisoformat(day) for day in days)
            rows.append((name, span_words(first, last, item.today)))
    return rows


def _stages_of_caution(item: BatchToday) -> set[str]:
    """The steps a batch has ahead of it now."""
    steps = {"waiting": "pot", "rooted": "pot", "potted": "plant", "hardening": "plant", "planted": "eat"}
    return {steps[stage] for stage in STAGES if item.state.count(stage)}


def _may_harvest(item: BatchToday) -> bool:
    return bool(item.state.count("planted")) and item.state.first_harvest is None


def _moves(item: BatchToday, request: GardenRequest, given: dict[str, Form]) -> list[dict[str, Any]]:
    """The moves a batch's state allows, each with its form; one that was refused keeps what was typed."""
    state = item.state
    there = {
        "pot-on": ("Pot on", state.count("rooted")),
        "harden": ("Start hardening", state.count("potted")),
        "plant-out": ("Plant out", state.count("hardening") or state.count("potted")),
        "give": ("Give away", state.count("rooted") + state.count("potted") + state.count("hardening")),
    }
    soon = {task.verb.replace("_", "-"): task.due for task in item.tasks if (task.due - request.today).days <= 1}
    return [
        {
            "verb": verb,
            "name": name,
            "count": count,
            "due": f"due {days_away(soon[verb], request.today)}" if verb in soon else "",
            "form": given.get(verb) or MoveForm(today=request.today, initial={"count": count}, prefix=verb),
        }
        for verb, (name, count) in there.items()
        if count or verb in given
    ]


@require_POST
@in_garden("tend")
def move(request: GardenRequest, batch_id: int, verb: str) -> HttpResponse:
    """Pot on, harden, plant out or give away."""
    if verb not in MoveForm.kinds:
        raise Http404
    item = batch_of(request.garden, batch_id, request.today)
    return _write(request, item, MoveForm(request.POST, today=request.today, prefix=verb), verb)


@require_POST
@in_garden("tend")
def harvest(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Write down the first harvest."""
    item = batch_of(request.garden, batch_id, request.today)
    return _write(request, item, HarvestForm(request.POST, today=request.today), "harvest")


@require_POST
@in_garden("tend")
def note(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Write down a note."""
    item = batch_of(request.garden, batch_id, request.today)
    return _write(request, item, NoteForm(request.POST, today=request.today), "note")


def _write(request: GardenRequest, item: BatchToday, form: BenchForm, draft: str) -> HttpResponse:
    """Add a form's entries and go back to where it was sent from, the batch or the round; what is wrong goes beside
    its field, all typing kept."""
    if not form.is_valid():
        if wants_json(request):
            return refused(" ".join(str(error) for errors in form.errors.values() for error in errors))
        return _batch_page(request, item, {draft: form})
    new = form.entries()
    new[0].key = form.cleaned_data.get("key") or new[0].key
    sent = request.POST.get("seen", "")
    seen = whole(sent) or None
    done = actions.add_entries(item.row, new, today=request.today, person=request.user, seen=seen)
    if isinstance(done, Refusal):
        if wants_json(request):
            last = max(entry.pk for entry in item.entries) if done.code == "changed_since" else None
            return refused(refusal_words(done, request.today), seen=last)
        said_of = done.params.get("kind", "")
        name = said_of if said_of in form.fields else done.field
        form.add_error(name if name in form.fields else None, refusal_words(done, request.today))
        return _batch_page(request, item, {draft: form})
    to, *parts = ("round",) if request.POST.get("then") == "round" else ("batch", item.row.pk)
    said = ", ".join(entry_words(entry) for entry in new)
    undo = striking(new, request.garden, to, *parts)
    saved(request, f"{draft}-{item.row.pk}", f"Written down: {said}.", undo=undo)
    return kept(request, reverse(to, args=[request.garden.pk, *parts]))
