"""A garden carried away as one file, and one read back: looked at first, kept only when it is accepted."""

from __future__ import annotations

import re
import tempfile
from dataclasses import dataclass, field
from datetime import date
from pathlib import Path
from typing import IO, cast

from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_http_methods

from elder.engine.refusal import Refusal
from elder.web.archive import incoming
from elder.web.archive.contents import TABLES
from elder.web.archive.forms import ArchiveForm, NamedForm
from elder.web.archive.models import ArchiveDraft
from elder.web.archive.opening import MOST_BYTES
from elder.web.archive.reading import Looked, look_over
from elder.web.archive.taking_in import take_in
from elder.web.archive.wording import MISSED, behind_words, coming_words, holds_words, lines_of
from elder.web.archive.writing import own_slugs, rows_of, write_archive
from elder.web.garden.access import GardenRequest, in_garden, signed_in
from elder.web.garden.clock import today_nowhere
from elder.web.garden.models import Garden, Household, Membership, Person
from elder.web.say.refusals import refusal_words
from elder.web.ui.limits import takes
from elder.web.ui.pages import FormPage, show
from elder.web.ui.saved import saved

IN_MEMORY = 4_000_000  # bytes of an archive being made, before it goes to a file that goes when it is sent
MOST_SHOWN = 20


@dataclass(frozen=True)
class CarryPage:
    """What a garden's archive holds, and what stays behind."""

    holds: str
    lines: list[tuple[str, int]]
    missed: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class ArchivePreview:
    """What would come of an archive, or why nothing does."""

    draft: ArchiveDraft
    form: NamedForm
    said: str = ""
    made_on: date | None = None
    coming: str = ""
    lines: list[tuple[str, int]] = field(default_factory=list)
    behind: list[str] = field(default_factory=list)
    remarks: list[str] = field(default_factory=list)
    more: int = 0
    again: bool = False


@require_GET
@in_garden("keep")
def carry(request: GardenRequest) -> HttpResponse:
    """What would be carried away."""
    garden = request.garden
    own = own_slugs(garden)
    counts = {table.name: rows_of(table, garden, own).count() for table in TABLES}
    return show(request, "archive/carry.html", CarryPage(holds_words(counts), lines_of(counts), MISSED))


@require_GET
@in_garden("keep")
def archive_file(request: GardenRequest) -> FileResponse:
    """The garden as a file."""
    file = cast("IO[bytes]", tempfile.SpooledTemporaryFile(max_size=IN_MEMORY))  # noqa: SIM115 - sent, then let go
    write_archive(request.garden, file, today=request.today)
    file.seek(0)
    answer = FileResponse(file, as_attachment=True, filename=file_name(request.garden, request.today))
    answer["Content-Type"] = "application/zip"
    answer["Cache-Control"] = "private, no-store"
    return answer


def file_name(garden: Garden, today: date) -> str:
    """What the file is called: by the garden and the day."""
    plain = re.sub(r"[^a-z0-9]+", "-", garden.name.lower()).strip("-") or "garden"
    return f"elder-{plain[:40]}-{today.isoformat()}.zip"


@takes(MOST_BYTES)
@require_http_methods(["GET", "POST"])
@signed_in
def read(request: HttpRequest) -> HttpResponse:
    """Send an archive; it is only looked at until it is accepted."""
    person = cast(Person, request.user)
    owned = Household.objects.filter(memberships__person=person, memberships__role=Membership.Role.OWNER).order_by("pk")
    if not owned:
        raise Http404
    form = ArchiveForm(request.POST or None, request.FILES or None, owned=owned)
    if request.method == "POST" and form.is_valid():
        sent = form.cleaned_data["file"]
        looked = look_over(sent)
        if isinstance(looked, Refusal):
            form.add_error("file", refusal_words(looked, today_nowhere()))
        else:
            sent.seek(0)
            incoming.keep(person, form.household, getattr(sent, "name", "") or "a file", sent.chunks())
            return redirect("archive-preview")
    return show(request, "archive/read.html", FormPage(form))


@require_http_methods(["GET", "POST"])
@signed_in
def preview(request: HttpRequest) -> HttpResponse:
    """What comes of an archive and what stays behind; accepted, or thrown away."""
    person = cast(Person, request.user)
    draft = get_object_or_404(
        ArchiveDraft.objects.filter(
            into__memberships__person=person, into__memberships__role=Membership.Role.OWNER
        ).select_related("into"),
        person=person,
    )
    if "discard" in request.POST:
        incoming.let_go([draft])
        saved(request, "archive", "Thrown away; nothing was changed.")
        return redirect("archive-read")
    path = incoming.file_of(draft)
    if not path.exists():
        incoming.let_go([draft])
        raise Http404
    return _previewed(request, draft, path)


def _previewed(request: HttpRequest, draft: ArchiveDraft, path: Path) -> HttpResponse:
    with path.open("rb") as file:
        looked = look_over(file)
        if isinstance(looked, Refusal):  # it was whole when it came; another Elder may have looked at it
            return show(request, "archive/preview.html", _refused(draft, looked))
        form = NamedForm(request.POST or None, initial={"name": looked.name})
        if request.method == "POST" and form.is_valid():
            made = take_in(looked, file, draft.into, name=form.cleaned_data["name"])
            if isinstance(made, Refusal):
                return show(request, "archive/preview.html", _refused(draft, made))
            incoming.let_go([draft])
            saved(request, "archive", f"Read back: {made.name}. Nothing else was touched.")
            return redirect("season", made.pk)
    return show(request, "archive/preview.html", _page(draft, form, looked))


def _refused(draft: ArchiveDraft, refusal: Refusal) -> ArchivePreview:
    return ArchivePreview(draft, NamedForm(), said=refusal_words(refusal, today_nowhere()))


def _page(draft: ArchiveDraft, form: NamedForm, looked: Looked) -> ArchivePreview:
    behind = behind_words(looked)
    return ArchivePreview(
        draft=draft,
        form=form,
        made_on=date.fromisoformat(looked.manifest["made_on"]),
        coming=coming_words(looked),
        lines=lines_of({name: looked.count(name) for name in looked.rows}),
        behind=behind[:MOST_SHOWN],
        remarks=looked.remarks[:MOST_SHOWN],
        more=max(len(behind) - MOST_SHOWN, 0) + max(len(looked.remarks) - MOST_SHOWN, 0),
        again=Garden.objects.filter(household=draft.into, name=looked.name).exists(),
    )
