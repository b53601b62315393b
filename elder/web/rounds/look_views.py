"""A look in two taps, the verdict on it, and the photo."""

from __future__ import annotations

from typing import Final

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods

from elder.engine.refusal import Refusal
from elder.engine.round.verdicts import stage_of
from elder.web.batches.models import Entry, Photo
from elder.web.batches.undoing import striking
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.batches import BatchToday, batch_of, batch_rows, batch_today
from elder.web.rounds import actions
from elder.web.rounds.course import course_of_want
from elder.web.rounds.forms import SignsForm
from elder.web.rounds.look_pages import look_page, stages_of, verdict_of
from elder.web.say.batches import entry_words, name_of
from elder.web.say.refusals import refusal_words
from elder.web.ui.pages import show
from elder.web.ui.parsing import whole
from elder.web.ui.photos import photo_answer
from elder.web.ui.replies import kept, refused, told, wants_json
from elder.web.ui.saved import saved

A_HANDFUL: Final = 6  # looks drawn for one answer, which is to be no slower than a page


@require_http_methods(["GET", "POST"])
@in_garden("tend")
def look(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Look at a batch: as it should be, or what is to be seen, how many rooted, how many lost."""
    batch = batch_of(request.garden, batch_id, request.today)
    if request.method != "POST":
        return _drawn(request, batch)
    form = _signs_form(request, batch)
    if not form.is_valid():
        if wants_json(request):
            return refused(" ".join(str(error) for errors in form.errors.values() for error in errors))
        return show(request, "rounds/look.html", look_page(request, batch, form))
    return _write_look(request, batch, form, batch.history.last)


@require_GET
@in_garden("tend")
def looks(request: GardenRequest) -> HttpResponse:
    """A handful of looks, each by its address, for a phone that keeps them until it is out of reach. They are alike,
    and press to little more than one of them."""
    asked = [whole(pk) for pk in request.GET.get("of", "").split(",")[:A_HANDFUL]]
    rows = batch_rows(request.garden).filter(pk__in=asked)
    batches = [batch_today(row, request.garden, request.today, want=row.want) for row in rows]
    here = request.garden.pk
    drawn = {reverse("round-look", args=[here, one.row.pk]): _drawn(request, one).content.decode() for one in batches}
    return told({"looks": drawn})


def _drawn(request: GardenRequest, batch: BatchToday) -> HttpResponse:
    """The page of a look at a batch, nothing said yet."""
    return show(request, "rounds/look.html", look_page(request, batch, _signs_form(request, batch)))


def _signs_form(request: GardenRequest, batch: BatchToday) -> SignsForm:
    """What may be said of a batch, and what is, where it is sent."""
    data = request.POST if request.method == "POST" else None
    start: dict[str, object] = {"seen": batch.history.last, "stage": stage_of(batch.state)}
    stages, units = stages_of(batch), request.user.units
    return SignsForm(data, request.FILES or None, today=request.today, initial=start, stages=stages, units=units)


def _write_look(request: GardenRequest, batch: BatchToday, form: SignsForm, last: int) -> HttpResponse:
    data, new = form.cleaned_data, form.entries()
    new[0].key = data["key"] or new[0].key
    done = actions.look(batch.row, new, data["photo"], seen=data["seen"], today=request.today, person=request.user)
    if isinstance(done, Refusal):
        said = refusal_words(done, request.today)
        if wants_json(request):
            return refused(said, seen=last if done.code == "changed_since" else None)
        where = done.params.get("kind", "")
        form.add_error(where if where in form.fields else None, said)
        return show(request, "rounds/look.html", look_page(request, batch, form, seen=last))
    written = [entry.pk for entry in new if entry.pk]
    undo = striking(new, request.garden)
    words = ", ".join(entry_words(entry) for entry in new)
    no_verdict = "well" in request.POST or "then" in request.POST
    course = _course_words(request, batch.row.pk) if no_verdict else ""
    saved(request, f"signs-{batch.row.pk}", f"Written down for {name_of(batch)}: {words}.{course}", undo=undo)
    if request.POST.get("then") == "batch":
        return kept(request, reverse("batch", args=[request.garden.pk, batch.row.pk]))
    if "well" in request.POST or request.POST.get("then") == "round" or not written:
        return kept(request, reverse("round", args=[request.garden.pk]))
    return kept(request, reverse("round-verdict", args=[request.garden.pk, batch.row.pk, written[0]]))


def _course_words(request: GardenRequest, batch_id: int) -> str:
    """How the want stands after a look that has no verdict of its own to say it."""
    course = course_of_want(batch_of(request.garden, batch_id, request.today), request.garden, ways=False)
    return f" {course.said}" if course else ""


@require_GET
@in_garden("see")
def verdict_page(request: GardenRequest, batch_id: int, entry_id: int) -> HttpResponse:
    """What a look came to."""
    batch = batch_of(request.garden, batch_id, request.today)
    entry = get_object_or_404(Entry, pk=entry_id, batch=batch.row)
    return show(request, "rounds/verdict.html", verdict_of(request, batch, entry))


@require_GET
@in_garden("see")
def photo(request: GardenRequest, photo_id: int) -> HttpResponse:
    """A photo of a batch of the garden."""
    row = get_object_or_404(Photo, pk=photo_id, batch__garden=request.garden)
    return photo_answer(row.data)
