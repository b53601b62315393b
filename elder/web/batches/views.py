"""Batches: taking one, looking at one, and what is done with it."""

from __future__ import annotations

from django.contrib import messages
from django.forms import Form
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from elder.engine.refusal import Refusal
from elder.web.batches import actions
from elder.web.batches.forms import BenchForm, HarvestForm, MoveForm, NoteForm
from elder.web.batches.pages import batch_page, batches_page, stages_to_move
from elder.web.batches.potting import MOST_TO_A_POT, pot_into
from elder.web.batches.undoing import striking
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.batches import BatchToday, batch_of
from elder.web.say.batches import entry_words
from elder.web.say.refusals import refusal_words
from elder.web.say.routes import MOVE_WORDS, stage_words
from elder.web.ui.pages import show
from elder.web.ui.parsing import whole
from elder.web.ui.replies import kept, refused, wants_json
from elder.web.ui.saved import saved


@require_GET
@in_garden("see")
def batches(request: GardenRequest) -> HttpResponse:
    """Every batch: the living first, then those that are over."""
    return show(request, "batches/batches.html", batches_page(request))


@require_GET
@in_garden("see")
def batch(request: GardenRequest, batch_id: int) -> HttpResponse:
    """One batch: its line, what is next, its history."""
    return _batch_page(request, batch_of(request.garden, batch_id, request.today))


def _batch_page(request: GardenRequest, item: BatchToday, forms: dict[str, Form] | None = None) -> HttpResponse:
    return show(request, "batches/batch.html", batch_page(request, item, forms or {}))


@require_POST
@in_garden("tend")
def move(request: GardenRequest, batch_id: int, verb: str) -> HttpResponse:
    """Pot on, harden, plant out or give away."""
    if verb not in MoveForm.kinds:
        raise Http404
    item = batch_of(request.garden, batch_id, request.today)
    words = stage_words(item.method.route)
    stages = [(stage, words[stage]) for stage in stages_to_move(item, verb)] if verb in MOVE_WORDS else []
    return _write(request, item, MoveForm(request.POST, today=request.today, prefix=verb, stages=stages), verb)


@require_POST
@in_garden("tend")
def pots(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Choose into which pots a batch goes, and how many to each."""
    item = batch_of(request.garden, batch_id, request.today)
    vessel, each = item.treated.kit.vessel(request.POST.get("pot", "")), whole(request.POST.get("to_a_pot"))
    if vessel is None or vessel.kind != "pot" or not 1 <= each <= MOST_TO_A_POT:
        messages.error(request, f"Choose a pot, and from 1 to {MOST_TO_A_POT} plants to each.")
    else:
        undo = pot_into(item.row, vessel.key, each).offered(request.garden)
        saved(request, "", "Kept: round, weights and shed go by these pots.", undo=undo)
    return redirect("batch", request.garden.pk, item.row.pk)


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
