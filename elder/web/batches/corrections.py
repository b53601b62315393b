"""Putting a history right: undo, strike, replace, and the way back from each. Always by a new entry."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST

from elder.engine.refusal import Refusal
from elder.web.batches import actions
from elder.web.batches.forms import CorrectForm
from elder.web.batches.models import Entry
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.batches import batch_of
from elder.web.say.batches import entry_words, title_of
from elder.web.say.refusals import refusal_words
from elder.web.say.words import about
from elder.web.ui.parsing import whole
from elder.web.ui.saved import saved


@require_POST
@in_garden("tend")
def undo(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Strike the entries just written, all or none."""
    item = batch_of(request.garden, batch_id, request.today)
    asked = {whole(part) for part in request.GET.get("entries", "").split(",")}
    strikes = [
        Entry(kind=Entry.Kind.STRUCK, on=entry.on, strikes=entry)
        for entry in reversed(item.entries)
        if entry.pk in asked
    ]
    if not strikes:
        raise Http404
    done = actions.add_entries(item.row, strikes, today=request.today, person=request.user)
    if isinstance(done, Refusal):
        messages.error(request, f"It cannot be undone any more: {refusal_words(done, request.today)}")
    else:
        saved(request, "undo", "Undone. The struck lines stay in the history.")
    return redirect("cut-after" if request.GET.get("then") == "cut" else "batch", request.garden.pk, item.row.pk)


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
            way_back = reverse("entry-restore", args=[request.garden.pk, item.row.pk, made.pk]) if made.pk else ""
            saved(request, f"correct-{entry.pk}", "Struck out." if strike else "Put right.", undo=way_back)
            return redirect("batch", request.garden.pk, item.row.pk)
        name = done.field if done.field in form.fields and not strike else None
        form.add_error(name, refusal_words(done, request.today))
    context = {
        "batch": item,
        "entry": entry,
        "words": entry_words(entry),
        "on": about(entry.on, request.today),
        "form": form,
        "title": title_of(item),
        "may_strike": entry.kind != Entry.Kind.TAKEN,
    }
    return render(request, "batches/correct.html", context)


@require_POST
@in_garden("tend")
def restore(request: GardenRequest, batch_id: int, entry_id: int) -> HttpResponse:
    """Take a correction back: what it struck is written anew, in its place."""
    item = batch_of(request.garden, batch_id, request.today)
    entry = next((entry for entry in item.entries if entry.pk == entry_id and entry.strikes), None)
    if entry is None:
        raise Http404
    done = actions.restore_entry(entry, today=request.today, person=request.user)
    if isinstance(done, Refusal):
        messages.error(request, f"It cannot be undone any more: {refusal_words(done, request.today)}")
    else:
        saved(request, "undo", "Undone: it stands as it did.")
    return redirect("batch", request.garden.pk, item.row.pk)


@require_POST
@in_garden("tend")
def untake(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Take the taking of a batch back, as long as nothing else was written down for it."""
    item = batch_of(request.garden, batch_id, request.today)
    want = item.row.want
    if not actions.untake(item.row, with_want="want" in request.GET):
        messages.error(request, "It cannot be undone any more: something was written down for it since.")
        return redirect("batch", request.garden.pk, item.row.pk)
    saved(request, "undo", "Undone: that batch was never taken.")
    if want is None or want.pk is None or "want" in request.GET:
        return redirect("batches", request.garden.pk)
    return redirect("want", request.garden.pk, want.pk)
