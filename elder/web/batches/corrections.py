"""Putting a history right: an entry struck, or another in its place. Always by a new entry."""

from __future__ import annotations

from dataclasses import dataclass

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods

from elder.engine.refusal import Refusal
from elder.web.batches import actions
from elder.web.batches.forms import CorrectForm
from elder.web.batches.models import Entry
from elder.web.batches.undoing import restoring
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.batches import BatchToday, batch_of
from elder.web.say.batches import entry_words, title_of
from elder.web.say.refusals import refusal_words
from elder.web.say.words import about
from elder.web.ui.pages import show
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class CorrectPage:
    """An entry as it was written down, and the form that puts it right."""

    batch: BatchToday
    entry: Entry
    words: str
    on: str
    form: CorrectForm
    title: str
    may_strike: bool


@require_http_methods(["GET", "POST"])
@in_garden("tend")
def correct(request: GardenRequest, batch_id: int, entry_id: int) -> HttpResponse:
    """Put an entry right, or strike it: either way by a new entry."""
    item = batch_of(request.garden, batch_id, request.today)
    entry = next((entry for entry in item.entries if entry.pk == entry_id), None)
    if entry is None:
        raise Http404
    if entry.kind == Entry.Kind.STRUCK or any(other.strikes_id == entry.pk for other in item.entries):
        messages.info(request, "That entry is struck out already.")
        return redirect("batch", request.garden.pk, item.row.pk)
    strike = "strike" in request.POST
    data = request.POST or None
    form = CorrectForm(data, today=request.today, entry=entry)
    if request.method == "POST" and (form.is_valid() or strike):
        made = form.replacement(strike=strike)
        done = actions.add_entries(item.row, [made], today=request.today, person=request.user)
        if not isinstance(done, Refusal):
            way_back = restoring(made, request.garden)
            saved(request, f"correct-{entry.pk}", "Struck out." if strike else "Put right.", undo=way_back)
            return redirect("batch", request.garden.pk, item.row.pk)
        name = done.field if done.field in form.fields and not strike else None
        form.add_error(name, refusal_words(done, request.today))
    page = CorrectPage(
        batch=item,
        entry=entry,
        words=entry_words(entry),
        on=about(entry.on, request.today),
        form=form,
        title=title_of(item),
        may_strike=entry.kind != Entry.Kind.TAKEN,
    )
    return show(request, "batches/correct.html", page)
