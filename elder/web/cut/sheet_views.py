"""The cut sheet of a want, and what is done after the cut."""

from __future__ import annotations

from typing import Final
from uuid import UUID, uuid4, uuid5

from django.contrib import messages
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.cut.codes import spoken
from elder.engine.refusal import Refusal
from elder.web.batches.actions import add_entries
from elder.web.batches.models import Entry
from elder.web.batches.undoing import striking, untaking
from elder.web.cut import actions
from elder.web.cut.after_pages import after_page
from elder.web.cut.forms import VarietyForm
from elder.web.cut.sheet import chosen_from
from elder.web.cut.sheet_pages import mother_lines, sheet_page
from elder.web.cut.subject import want_reckoned
from elder.web.cut.trimming import fates, strike_more, unstriking
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.read.batches import BatchToday, batch_of
from elder.web.read.handbook import clonable_here
from elder.web.read.wants import Reckoning
from elder.web.read.what_if import SEEN_JOINED, WhatIf, seen_in
from elder.web.say.batches import entry_words
from elder.web.say.refusals import refusal_words
from elder.web.say.words import listed
from elder.web.season.models import Want
from elder.web.season.take_form import TakeForm
from elder.web.season.taking import Taken, advised, take_shares
from elder.web.stock.actions import answer_for_variety
from elder.web.stock.models import VarietyAnswer
from elder.web.ui.fields import MOST_TAKEN
from elder.web.ui.pages import show
from elder.web.ui.parsing import sent_key, whole
from elder.web.ui.saved import saved

USE_CHARS: Final = 80  # of what trimmings were used for


@require_http_methods(["GET", "POST"])
@in_garden("see")
def sheet(request: GardenRequest, want_id: int) -> HttpResponse:
    """The cut sheet of a want: every step, by the schools chosen; then one press that they are cut."""
    seen = seen_in(request.GET.get("seen", "") or request.POST.get("seen", ""))
    item = want_reckoned(request, want_id, WhatIf(seen=seen))
    if item is None:
        raise Http404
    given = request.POST if request.method == "POST" else request.GET
    chosen = chosen_from({key: given[key] for key in given}, item.plant, item.method, item.kit)
    form = TakeForm(
        request.POST if request.method == "POST" else None,
        initial=_start(item, request, seen), garden=request.garden, today=request.today,
    )  # fmt: skip
    if request.method == "POST" and not may(request.role, "tend"):
        raise PermissionDenied(f"a {request.role} may not take cuttings here")
    if request.method == "POST" and form.is_valid():
        done = _take(request, item, form, chosen)
        if done:
            return done
    return show(request, "cut/sheet.html", sheet_page(request, item, chosen, form))


def _start(item: Reckoning, request: GardenRequest, seen: tuple[str, ...]) -> dict[str, object]:
    asked = whole(request.GET.get("count"))
    count = asked if 0 < asked <= MOST_TAKEN else advised(item)
    best = next((one.name for one in mother_lines(request, item)), "")
    mother = item.row.mother.name if item.row.mother else best
    return {
        "seen": SEEN_JOINED.join(seen),
        "count": count,
        "rooting_place": item.row.rooting_place_id,
        "growing_place": item.row.growing_place_id,
        "stock_plant": request.GET.get("mother_name") or (item.batches[-1].row.stock_plant if item.batches else mother),
    }


def _take(
    request: GardenRequest, item: Reckoning, form: TakeForm, chosen: dict[str, str]
) -> HttpResponseRedirect | None:
    taken = Taken(**form.plain, treatment=chosen)  # type: ignore[arg-type]
    given = {"garden": request.garden, "person": request.user, "today": request.today}
    made = take_shares(item.row, taken, form.shares, **given)  # type: ignore[arg-type]
    if isinstance(made, Refusal):
        said = refusal_words(made, request.today, item.plant)
        form.add_error(made.field if made.field in form.fields else None, said)
        return None
    undo = untaking(made, request.garden)
    codes = listed(spoken(one.code) for one in made)
    word = "Its code is" if len(made) == 1 else "Their codes are"
    saved(request, "sheet", f"Taken: {taken.count}. {word} {codes}.", undo=undo)
    return redirect("cut-after", request.garden.pk, made[0].pk)


@require_POST
@in_garden("tend")
def prepared(request: GardenRequest, want_id: int) -> HttpResponse:
    """The branch has been got ready."""
    row = get_object_or_404(Want, pk=want_id, garden=request.garden)
    undo = actions.prepare(row, request.today).offered(request.garden)
    saved(request, "", "The branch is ready. Cut on its day.", undo=undo)
    return redirect("cut-sheet", request.garden.pk, row.pk)


@require_POST
@in_garden("tend")
def say_variety(request: GardenRequest) -> HttpResponse:
    """Remember what was said of a variety, and go back to the sheet."""
    form = VarietyForm(request.POST, plants=clonable_here(request.garden))
    want = get_object_or_404(Want, pk=whole(request.POST.get("want")), garden=request.garden)
    if form.is_valid():
        data = form.cleaned_data
        unknown = VarietyAnswer.Said.UNKNOWN
        answer_for_variety(
            request.garden, data["plant"], data["variety"], protected=data["protected"] or unknown,
            quarantine=data["quarantine"] or unknown, on=request.today, person=request.user,
        )  # fmt: skip
        saved(request, "variety", "Remembered. You will not be asked again; it can be changed here.")
    else:
        messages.error(request, "That answer could not be read. Here is the question again.")
    return redirect("cut-sheet", request.garden.pk, want.pk)


@require_GET
@in_garden("see")
def after(request: GardenRequest, batch_id: int) -> HttpResponse:
    """After the cut: how they are treated and stuck, labels, trimmings, and the day they are stuck if they dry."""
    return show(request, "cut/after.html", after_page(request, batch_of(request.garden, batch_id, request.today)))


@require_POST
@in_garden("tend")
def trim(request: GardenRequest, batch_id: int) -> HttpResponse:
    """What became of the trimmings, in one press."""
    item = batch_of(request.garden, batch_id, request.today)
    known = fates(item.plant, item.method, item.row.treatment, request.user.units)
    fate = next((one for one in known if one.key == request.POST.get("fate") and not one.refused), None)
    if fate is None:
        messages.error(request, "That is not offered for this plant.")
        return redirect("cut-after", request.garden.pk, item.row.pk)
    sent = sent_key(request.POST.get("key")) or uuid4()
    if fate.asks == "count":
        return _strike_more(request, item, sent)
    note = request.POST.get("words", "").strip()[:USE_CHARS] if fate.asks == "words" else ""
    if fate.asks == "words" and not note:
        messages.error(request, "Say what it was used for.")
        return redirect("cut-after", request.garden.pk, item.row.pk)
    # one key a page: the same press twice is one, another fate is another
    entry = Entry(kind=Entry.Kind.TRIMMED, on=request.today, deed=fate.key, note=note, key=uuid5(sent, fate.key))
    done = add_entries(item.row, [entry], today=request.today, person=request.user)
    if isinstance(done, Refusal):
        messages.error(request, refusal_words(done, request.today))
    elif entry.pk:
        undo = striking([entry], request.garden, "cut-after", item.row.pk)
        saved(request, "", f"Written down: {entry_words(entry)}.", undo=undo)
    return redirect("cut-after", request.garden.pk, item.row.pk)


def _strike_more(request: GardenRequest, item: BatchToday, key: UUID) -> HttpResponse:
    """Trimmings as a batch of their own."""
    count = whole(request.POST.get("count"))
    if not 0 < count <= MOST_TAKEN:
        messages.error(request, f"Between 1 and {MOST_TAKEN} cuttings.")
        return redirect("cut-after", request.garden.pk, item.row.pk)
    made = strike_more(item.row, count, key=key, today=request.today, person=request.user)
    if isinstance(made, Refusal):
        messages.error(request, refusal_words(made, request.today))
        return redirect("cut-after", request.garden.pk, item.row.pk)
    batch, entry = made
    undo = unstriking(batch, entry, item.row).offered(request.garden)
    saved(request, "", f"Taken: {count} more. Their code is {spoken(batch.code)}.", undo=undo)
    return redirect("cut-after", request.garden.pk, batch.pk)
