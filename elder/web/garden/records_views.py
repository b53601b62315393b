"""The daily records a garden's climate is counted from: sent, looked at, kept or thrown away."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_http_methods, require_POST

from elder.engine.refusal import Refusal
from elder.web.formats.daily import ReadFile
from elder.web.garden import actions
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.models import Records, RecordsDraft
from elder.web.garden.records_forms import ReadingForm, RecordsForm
from elder.web.garden.records_preview import Preview
from elder.web.say.refusals import refusal_words
from elder.web.ui.pages import show
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class RecordsPage:
    """A file to be sent, and what is kept already."""

    form: RecordsForm
    recorded: Records | None


@dataclass(frozen=True)
class PreviewPage:
    """What was understood of a file, or why nothing was; ``from_year``: from when its years count unless all are to."""

    form: ReadingForm
    draft: RecordsDraft
    said: str = ""
    preview: Preview | None = None
    read: ReadFile | None = None
    from_year: int = 0


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def records(request: GardenRequest) -> HttpResponse:
    """Send a file of daily readings; it is only looked at until it is accepted."""
    form = RecordsForm(request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        name = getattr(request.FILES["file"], "name", "") or "a file"
        draft = actions.keep_draft(request.garden, request.user, name, form.cleaned_data["file"])
        read = actions.read_draft(draft)
        if not isinstance(read, Refusal):
            return redirect("records-preview", request.garden.pk)
        draft.delete()
        form.add_error("file", refusal_words(read, request.today))
    return show(
        request, "garden/records.html", RecordsPage(form, Records.objects.filter(garden=request.garden).first())
    )


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def preview(request: GardenRequest) -> HttpResponse:
    """What was understood of a file, what was refused and what looks wrong; accepted, or thrown away."""
    draft = get_object_or_404(RecordsDraft, garden=request.garden, person=request.user)
    if "discard" in request.POST:
        draft.delete()
        saved(request, "records", "Thrown away; nothing was changed.")
        return redirect("records", request.garden.pk)
    form = ReadingForm(request.POST or None, initial=draft.options)
    said = ""
    if request.method == "POST" and form.is_valid():
        draft.options = form.cleaned_data
        draft.save(update_fields=["options"])
        if "accept" in request.POST:
            kept = actions.accept_draft(draft, request.garden, request.user, whole="whole" in request.POST)
            if isinstance(kept, Records):
                saved(request, "records", "Kept. Frosts and the ordinary year are counted from these readings now.")
                return redirect("frost", request.garden.pk)
            said = refusal_words(kept, request.today)
    read = actions.read_draft(draft)
    if isinstance(read, Refusal):
        said = refusal_words(read, request.today)
        return show(request, "garden/records_preview.html", PreviewPage(form, draft, said))
    seen, year = Preview(read, request.user.units), actions.counted_from(read.records, whole=False)
    return show(request, "garden/records_preview.html", PreviewPage(form, draft, said, seen, read, year))


@require_POST
@in_garden("keep")
def forget(request: GardenRequest) -> HttpResponse:
    """Take the records away and go back to frost dates by hand."""
    actions.forget_records(request.garden)
    saved(request, "records", "The records are gone. The monthly means stay; give the frost dates by hand.")
    return redirect("garden-edit", request.garden.pk)
