"""Labels: which, how many, on what; as PDF, or to the printer and its tray; and the short address a label opens."""

from __future__ import annotations

from dataclasses import dataclass, field
from uuid import UUID, uuid4

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.drawing.label import SIZES, LabelText, Size
from elder.engine.cut.codes import spoken
from elder.engine.handbook.loading import handbook
from elder.web.batches.models import Batch, Entry, coded
from elder.web.cut import actions
from elder.web.cut.label_forms import LabelsForm, containers_of, taken_of
from elder.web.cut.labels import Label
from elder.web.cut.models import TrayLabel
from elder.web.cut.printer import printed
from elder.web.garden.access import GardenRequest, gardens_of, in_garden, signed_in
from elder.web.read.bounded import ServiceMissingError
from elder.web.say.plants import plant_words
from elder.web.say.words import day_words, plural
from elder.web.ui.pages import show
from elder.web.ui.parsing import sent_key, whole
from elder.web.ui.saved import saved

RECENT = 30


@dataclass(frozen=True)
class LabelLine:
    """A batch that may be labelled: its code, how many labels it wants, whether it is ticked, when it was taken."""

    row: Batch
    title: str
    code: str
    many: str
    on: bool
    taken: Entry | None


@dataclass(frozen=True)
class LabelsPage:
    """Which batches, and the first of them as its label comes out in each size. A job is printed once."""

    form: LabelsForm
    lines: list[LabelLine]
    first: int | None
    sizes: list[Size]
    job: UUID = field(default_factory=uuid4)


@dataclass(frozen=True)
class TrayPage:
    """What lies in the printer's tray."""

    rows: list[TrayLabel]


def _rows(request: GardenRequest) -> list[Batch]:
    asked = [whole(one) for one in request.GET.getlist("batch") + request.POST.getlist("batch")][:RECENT]
    rows = Batch.objects.filter(garden=request.garden).select_related("want").prefetch_related("entries")
    recent = rows.filter(over_on=None).order_by("-pk")[:RECENT]
    found = {row.pk: row for row in (*recent, *rows.filter(pk__in=asked))}
    return [found[pk] for pk in sorted(found, key=lambda pk: (pk in asked, pk), reverse=True)]


def label_of(row: Batch, request: HttpRequest) -> Label:
    """A batch's label: plant and variety, its code, the mother, the day."""
    plant = handbook()[row.plant]
    taken = taken_of(row)
    day = f"cut {day_words(taken.on, weekday=False)} {taken.on.year}" if taken else ""
    title = plant_words(plant.name, row.variety)
    arm = getattr(row, "trial_arm", None)  # of a trial: which stem goes into which jar
    title = f"{title} · {arm.letter}: {arm.name}" if arm else title
    url = request.build_absolute_uri(reverse("label-open", args=[row.code]))
    return Label(LabelText(title, spoken(row.code), (f"from {row.stock_plant}", day)), url)


def _start(request: GardenRequest, rows: list[Batch]) -> dict[str, object]:
    first = [str(rows[0].pk)] if rows else []
    paper = "letter" if request.user.units == "us" else "a4"
    return {"batch": request.GET.getlist("batch") or first, "size": "strip", "paper": paper}


@require_GET
@in_garden("see")
def labels(request: GardenRequest) -> HttpResponse:
    """Choose what to label."""
    rows = _rows(request)
    return _page(request, rows, LabelsForm(initial=_start(request, rows), rows=rows, garden=request.garden))


def _page(request: GardenRequest, rows: list[Batch], form: LabelsForm) -> HttpResponse:
    chosen = {str(one) for one in form["batch"].value() or []}
    lines = [
        LabelLine(
            row=row,
            title=plant_words(handbook()[row.plant].name, row.variety),
            code=spoken(row.code),
            many=plural(containers_of(row, request.garden), "label", "labels"),
            on=str(row.pk) in chosen,
            taken=taken_of(row),
        )
        for row in rows
    ]
    first = next((line.row.pk for line in lines if line.on), lines[0].row.pk if lines else None)
    return show(request, "cut/labels.html", LabelsPage(form, lines, first, list(SIZES.values())))


@require_GET
@in_garden("see")
def label_preview(request: GardenRequest, batch_id: int, size: str) -> HttpResponse:
    """One batch's label as it would be printed."""
    row = get_object_or_404(Batch.objects.filter(garden=request.garden).prefetch_related("entries"), pk=batch_id)
    if size not in SIZES:
        raise Http404
    from elder.web.cut.label_drawing import label_png  # a tenth of the time it takes to start, for what few pages ask

    answer = HttpResponse(label_png(label_of(row, request), SIZES[size]), content_type="image/png")
    answer["Cache-Control"] = "private, no-cache"
    return answer


@require_http_methods(["GET", "POST"])
@in_garden("see")
def label_pdf(request: GardenRequest) -> HttpResponse:
    """The sheet of labels at true scale; what is wrong with what was chosen goes beside its field."""
    rows = _rows(request)
    given = request.POST if request.method == "POST" else request.GET
    form = LabelsForm({**_start(request, []), **_given(given)}, rows=rows, garden=request.garden)
    if not form.is_valid():
        return _page(request, rows, form)
    from elder.web.cut.label_drawing import label_sheet

    size, paper = SIZES[form.cleaned_data["size"]], form.cleaned_data["paper"]
    answer = HttpResponse(label_sheet(_each(request, form), size, paper), content_type="application/pdf")
    answer["Content-Disposition"] = 'inline; filename="labels.pdf"'
    return answer


def _given(data: QueryDict) -> dict[str, object]:
    return {name: data.getlist(name) if name == "batch" else data[name] for name in data}


def _each(request: GardenRequest, form: LabelsForm) -> list[Label]:
    made = []
    for row, many in form.counts():
        made += [label_of(row, request)] * many
    return made


@require_POST
@in_garden("tend")
def label_print(request: GardenRequest) -> HttpResponse:
    """Send the labels to the printer."""
    rows = _rows(request)
    form = LabelsForm(request.POST, rows=rows, garden=request.garden)
    if not form.is_valid():
        return _page(request, rows, form)
    pairs = [(row, label_of(row, request)) for row, many in form.counts() for _ in range(many)]
    job = sent_key(request.POST.get("job")) or uuid4()
    try:
        size = SIZES[form.cleaned_data["size"]]
        said = printed(pairs, size, garden=request.garden, person=request.user, job=job)
    except ServiceMissingError:
        form.add_error(None, "The printer does not answer. Look at it and press again, or take the PDF.")
        return _page(request, rows, form)
    saved(request, "labels", said, undo=actions.unprinting(job).offered(request.garden))
    return redirect("label-tray", request.garden.pk)


@require_GET
@in_garden("see")
def tray(request: GardenRequest) -> HttpResponse:
    """What the printer has made."""
    rows = TrayLabel.objects.filter(garden=request.garden).select_related("batch").defer("png")
    return show(request, "cut/tray.html", TrayPage(list(rows)))


@require_POST
@in_garden("tend")
def tray_clear(request: GardenRequest) -> HttpResponse:
    """Take every label out of the tray."""
    many = actions.clear_tray(request.garden)
    saved(request, "", f"{plural(many, 'label', 'labels')} taken out of the tray.")
    return redirect("label-tray", request.garden.pk)


@require_GET
@in_garden("see")
def tray_png(request: GardenRequest, tray_id: int) -> HttpResponse:
    """One label of the tray."""
    row = get_object_or_404(TrayLabel, pk=tray_id, garden=request.garden)
    answer = HttpResponse(bytes(row.png), content_type="image/png")
    answer["Cache-Control"] = "private, max-age=86400"
    return answer


@require_GET
@signed_in
def open_label(request: HttpRequest, code: str) -> HttpResponse:
    """The batch a label names, if it is of a garden of the person's."""
    asked = coded(code)
    row = Batch.objects.filter(asked, garden__in=gardens_of(request.user)).first() if asked else None
    if row is None:
        raise Http404
    return redirect("batch", row.garden_id, row.pk)


@require_POST
@in_garden("see")
def find_label(request: GardenRequest) -> HttpResponse:
    """A code typed from a label."""
    said = request.POST.get("code", "")
    asked = coded(said)
    row = Batch.objects.filter(asked, garden=request.garden).first() if asked else None
    if row:
        return redirect("batch", request.garden.pk, row.pk)
    wrong = "is not a code; look at the label again" if asked is None else "is no batch of this garden"
    messages.error(request, f"“{said[:20]}” {wrong}.")
    return redirect("labels", request.garden.pk)
