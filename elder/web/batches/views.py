"""Batches: taking one, looking at one, and what is done with it."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import uuid4

from django.forms import Form
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.drawing.ground import ground_scene, ruler_scene
from elder.drawing.soil_line import COMPACT, LARGE
from elder.engine.batch.history import STAGES
from elder.engine.cut.codes import spoken
from elder.engine.refusal import Refusal
from elder.engine.round.verdicts import stage_of
from elder.web.batches import actions
from elder.web.batches.forms import BenchForm, HarvestForm, MoveForm, NoteForm, TakeForm
from elder.web.batches.models import Batch, Entry
from elder.web.batches.potting import potting_lines
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.batches import BatchReckoning, places_of, reckon_batch
from elder.web.read.gardens import climate_of
from elder.web.read.wants import Reckoning, reckon
from elder.web.say.batches import STAGE_WORDS, counts_words, entry_refused, entry_words, hope_words, next_words
from elder.web.say.care import DEED_PAST
from elder.web.say.pictures import batch_axis, batch_scene, want_axis, want_scene
from elder.web.say.refusals import refusal_words
from elder.web.say.wants import headline, plant_words
from elder.web.say.words import about, day_words, days_away, span_words
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from elder.web.ui.parsing import whole
from elder.web.ui.replies import kept, refused, wants_json
from elder.web.ui.saved import saved


def _batches(request: GardenRequest) -> Any:
    return (
        Batch.objects.filter(garden=request.garden)
        .select_related("want__rooting_place", "want__growing_place", "rooting_place", "growing_place")
        .prefetch_related("entries__by", "entries__place", "entries__strikes")
    )


def batch_item(request: GardenRequest, batch_id: int) -> BatchReckoning:
    row = get_object_or_404(_batches(request), pk=batch_id)
    return reckon_batch(row, request.garden, request.today, want=row.want)


@require_GET
@in_garden("see")
def batches(request: GardenRequest) -> HttpResponse:
    """Every batch: the living first, then those that are over."""
    found = [reckon_batch(row, request.garden, request.today, want=row.want) for row in _batches(request)]
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


def title_of(batch: BatchReckoning) -> str:
    """What a batch is called: its number and plant."""
    return f"{batch.state.taken} {plant_words(batch.plant.name, batch.row.variety)}"


def _scene(batch: BatchReckoning, sizes: Any) -> Any:
    want = batch.row.want
    wanted = want.total if want else int(batch.row.plan.get("wanted", batch.state.taken))
    return batch_scene(batch, wanted, f"{title_of(batch)}. {counts_words(batch)}.", batch_axis(batch), sizes)


@require_http_methods(["GET", "POST"])
@in_garden("tend")
def take(request: GardenRequest, want_id: int) -> HttpResponse:
    """Take the batch: what was really taken, when, from which plant, into which place."""
    wants = Want.objects.select_related("rooting_place", "growing_place", "mother").prefetch_related(
        "batches__entries", "batches__rooting_place", "batches__growing_place"
    )
    want = get_object_or_404(wants, pk=want_id, garden=request.garden)
    reckoning = reckon(want, request.garden, request.today, batches=want.batches.all())
    start = {
        "count": actions.advised(reckoning),
        "rooting_place": want.rooting_place_id,
        "growing_place": want.growing_place_id,
        "stock_plant": _mother_name(want, reckoning),
    }
    form = TakeForm(request.POST or None, initial=start, garden=request.garden, today=request.today)
    if request.method == "POST" and form.is_valid():
        made = actions.take_batch(
            want, actions.Taken(**form.cleaned_data), garden=request.garden, person=request.user, today=request.today
        )
        if isinstance(made, Batch):
            count = form.cleaned_data["count"]
            undo = reverse("untake", args=[request.garden.pk, made.pk])
            saved(request, "take", f"Taken: {count}. The line below is what to expect of them.", undo=undo)
            return redirect("batch", request.garden.pk, made.pk)
        _refuse_take(form, made, reckoning, request)
    used = Batch.objects.filter(garden=request.garden).values_list("stock_plant", flat=True)
    mothers = StockPlant.objects.filter(garden=request.garden).values_list("name", flat=True)
    context = {
        "want": want,
        "form": form,
        "reckoning": reckoning,
        "headline": headline(reckoning),
        "stock_names": sorted({*used, *mothers}),
        "cautions": [c for c in reckoning.plant.cautions if c.at in ("cut", "stick", "share")],
        "title": plant_words(reckoning.plant.name, want.variety),
        **_take_picture(reckoning),
    }
    return render(request, "batches/take.html", context)


def _mother_name(want: Want, reckoning: Reckoning) -> str:
    """The mother a want is to be cut from: as it was last time, else as it was planned."""
    if reckoning.batches:
        return reckoning.batches[-1].row.stock_plant
    return want.mother.name if want.mother else ""


def _take_picture(reckoning: Reckoning) -> dict[str, Any]:
    """What to expect of the cut, drawn."""
    axis, today = want_axis(reckoning), reckoning.today
    return {
        "scene": want_scene(reckoning, axis, LARGE),
        "ruler": ruler_scene(axis, today, day_words=lambda day: day_words(day, today)),
        "ground": ground_scene(axis, today, reckoning.climate, height=LARGE.height),
    }


def _refuse_take(form: TakeForm, refusal: Refusal, reckoning: Reckoning, request: GardenRequest) -> None:
    ours = refusal.code in ("future", "before_taken", "count_not_positive")
    said = entry_refused(refusal, request.today) if ours else refusal_words(refusal, reckoning)
    form.add_error(refusal.field if refusal.field in form.fields else None, said)


@require_GET
@in_garden("see")
def batch(request: GardenRequest, batch_id: int) -> HttpResponse:
    """One batch: its line, what is next, its history."""
    return _batch_page(request, batch_item(request, batch_id))


def _batch_page(request: GardenRequest, item: BatchReckoning, forms: dict[str, Form] | None = None) -> HttpResponse:
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


def _care_words(item: BatchReckoning) -> list[str]:
    """Each care with the day it was last done, latest first."""
    last = sorted(((max(days), deed) for deed, days in item.state.tended.items()), reverse=True)
    return [f"{DEED_PAST.get(deed, deed)} {about(day, item.today)}" for day, deed in last]


def _forecast_words(item: BatchReckoning) -> list[tuple[str, str]]:
    """What was forecast on the day of the cut, to set beside what comes."""
    rows = []
    for name, key in (("Roots", "rooted"), ("Ready", "ready"), ("First harvest", "harvest")):
        days = [day for day in item.row.plan.get(key, []) if day]
        if len(days) == 3:
            first, _, last = (date.fromisoformat(day) for day in days)
            rows.append((name, span_words(first, last, item.today)))
    return rows


def _stages_of_caution(item: BatchReckoning) -> set[str]:
    """The steps a batch has ahead of it now."""
    steps = {"waiting": "pot", "rooted": "pot", "potted": "plant", "hardening": "plant", "planted": "eat"}
    return {steps[stage] for stage in STAGES if item.state.count(stage)}


def _may_harvest(item: BatchReckoning) -> bool:
    return bool(item.state.count("planted")) and item.state.first_harvest is None


def _moves(item: BatchReckoning, request: GardenRequest, given: dict[str, Form]) -> list[dict[str, Any]]:
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
    item = batch_item(request, batch_id)
    return _write(request, item, MoveForm(request.POST, today=request.today, prefix=verb), verb)


@require_POST
@in_garden("tend")
def harvest(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Write down the first harvest."""
    item = batch_item(request, batch_id)
    return _write(request, item, HarvestForm(request.POST, today=request.today), "harvest")


@require_POST
@in_garden("tend")
def note(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Write down a note."""
    item = batch_item(request, batch_id)
    return _write(request, item, NoteForm(request.POST, today=request.today), "note")


def _write(request: GardenRequest, item: BatchReckoning, form: BenchForm, draft: str) -> HttpResponse:
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
            return refused(entry_refused(done, request.today), seen=last)
        said_of = done.params.get("kind", "")
        name = said_of if said_of in form.fields else done.field
        form.add_error(name if name in form.fields else None, entry_refused(done, request.today))
        return _batch_page(request, item, {draft: form})
    ids = ",".join(str(entry.pk) for entry in new if entry.pk)
    from_round = request.POST.get("then") == "round"
    way_back = reverse("round-undo", args=[request.garden.pk]) if from_round else None
    way_back = way_back or reverse("undo", args=[request.garden.pk, item.row.pk])
    said = ", ".join(entry_words(entry) for entry in new)
    saved(request, f"{draft}-{item.row.pk}", f"Written down: {said}.", undo=f"{way_back}?entries={ids}" if ids else "")
    parts = [request.garden.pk] if from_round else [request.garden.pk, item.row.pk]
    return kept(request, reverse("round" if from_round else "batch", args=parts))
