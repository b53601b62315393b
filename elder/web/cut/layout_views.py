"""The layout: a stem written down or tapped, and where to cut it."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_GET

from elder.engine.cut.layout import CutSpec
from elder.engine.cut.steps import cut_spec, may_be_short
from elder.web.cut.forms import RulesForm
from elder.web.cut.layout import (
    MOST_STEMS,
    LaidOut,
    UnreadableError,
    Written,
    drawn,
    lay_out,
    piece_words,
    read_stem,
    spec_with,
    waste_words,
)
from elder.web.cut.subject import Subject, subject_of
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.say.plants import plant_words
from elder.web.say.units import US, length_in
from elder.web.say.words import plural
from elder.web.ui.parsing import whole
from elder.web.ui.replies import wants_fragment

RULES = {
    "least": "nodes_least", "most": "nodes_most", "buried": "nodes_buried", "shortest": "length_least_cm",
    "longest": "length_most_cm",
}  # fmt: skip


@require_GET
@in_garden("see")
def layout(request: GardenRequest) -> HttpResponse:
    """Stems, the rules, how many cuttings that gives against how many are wanted, and each drawn to scale."""
    subject = subject_of(request, fits=lambda plant, method: cut_spec(plant, method) is not None)
    spec = cut_spec(subject.plant, subject.method, short="short" in request.GET)
    ways = [(way.slug, way.name) for way in subject.plant.ways if cut_spec(subject.plant, way)]
    asked = {name: request.GET.get(name, "") for name in (*RULES, "short") if request.GET.get(name)}
    start = {"plant": subject.plant.slug, "method": subject.method.slug, "wanted": subject.wanted, **asked}
    form = RulesForm(start, units=request.user.units, ways=ways)
    context: dict[str, Any] = {
        "subject": subject,
        "form": form,
        "may_be_short": may_be_short(subject.plant, subject.method),
    }
    context |= _answer(request, subject, form, spec) if spec else {"whole": subject.plant}
    only = wants_fragment(request)
    return render(request, "cut/layout_answer.html" if only else "cut/layout.html", context)


def _written(request: GardenRequest, spec: CutSpec) -> list[Written]:
    """The stems as typed; one of an ordinary length to begin with. "Another" adds one like the last."""
    parts = [request.GET.getlist(name) for name in ("length", "nodes", "bad")]
    many = min(max(map(len, parts)), MOST_STEMS)
    padded = [[*part, *[""] * (many - len(part))] for part in parts]
    stems = [Written(*one) for one in zip(*padded, strict=False)][:many]
    if "drop" in request.GET and len(stems) > 1:
        stems.pop(min(whole(request.GET["drop"]), len(stems) - 1))
    if not stems:
        stems = [_first(spec, request.user.units)]
    if "another" in request.GET and len(stems) < MOST_STEMS:
        stems.append(stems[-1])
    return stems


def _first(spec: CutSpec, units: str) -> Written:
    """A shoot of four cuttings, so that the page begins with an answer."""
    each = min(max(spec.length_least_cm, 8.0), spec.length_most_cm) + spec.below_cm + spec.above_cm
    length = round(length_in(4 * each, units))
    nodes = max(round(4 * min(spec.nodes_least + 0.5, spec.nodes_most)), 2)
    return Written(str(length), str(nodes), "")


def _spec(form: RulesForm, spec: CutSpec) -> CutSpec | None:
    if not form.is_valid():
        return None
    given = {ours: form.cleaned_data[name] for name, ours in RULES.items()}
    if given["nodes_least"] is not None and given["nodes_most"] is None:
        given["nodes_most"] = max(spec.nodes_most, given["nodes_least"])
    if given["nodes_most"] is not None and given["nodes_least"] is None:
        given["nodes_least"] = min(spec.nodes_least, given["nodes_most"])
    if given["length_least_cm"] is not None and given["length_most_cm"] is None:
        given["length_most_cm"] = max(spec.length_most_cm, given["length_least_cm"])
    if given["length_most_cm"] is not None and given["length_least_cm"] is None:
        given["length_least_cm"] = min(spec.length_least_cm, given["length_most_cm"])
    return spec_with(spec, **given)


def _answer(request: GardenRequest, subject: Subject, form: RulesForm, base: CutSpec) -> dict[str, Any]:
    units, written, wrong = request.user.units, _written(request, base), {}
    stems, spec = [], _spec(form, base)
    for i, one in enumerate(written):
        try:
            stems.append(read_stem(one, units))
        except UnreadableError as error:
            wrong[i] = (error.field, str(error))
    rows = [
        {"at": i, "written": one, "wrong": wrong.get(i, ("", ""))[1], "field": wrong.get(i, ("", ""))[0]}
        for i, one in enumerate(written)
    ]
    context = {
        "stems": rows, "units": "in" if units == US else "cm", "spec": spec or base, "can_add": len(rows) < MOST_STEMS,
        "names": plant_words(subject.plant.name, subject.variety),
        "sheet_url": _sheet_url(request, subject),
        "length_least": length_in((spec or base).length_least_cm, units),
        "length_most": length_in((spec or base).length_most_cm, units),
    }  # fmt: skip
    if wrong or spec is None:
        return context
    laid = lay_out(stems, spec, subject.plant, subject.method)
    return {**context, **_laid_words(laid, rows, subject, units)}


def _sheet_url(request: GardenRequest, subject: Subject) -> str:
    return reverse("cut-sheet", args=[request.garden.pk, subject.want.row.pk]) if subject.want else ""


def _laid_words(laid: list[LaidOut], rows: list[dict[str, Any]], subject: Subject, units: str) -> dict[str, Any]:
    total = sum(len(one.layout.pieces) for one in laid)
    first, scenes = 1, drawn(laid, units)
    shown = []
    for row, one, scene in zip(rows, laid, scenes, strict=True):
        nodes = " ".join(f"{round(length_in(cm, units), 2):g}" for cm in one.stem.nodes_cm)
        scale = max(other.stem.length_cm for other in laid)
        shown.append(
            {
                **row,
                "scene": scene,
                "pieces": piece_words(one, units, first),
                "count": len(one.layout.pieces),
                "positions": nodes,
                "scale": f"{round(length_in(scale, units), 2):g}",
                "end": f"{round(length_in(one.stem.length_cm, units), 2):g}",
            }
        )
        first += len(one.layout.pieces)
    return {
        "shown": shown,
        "total": total,
        "count_words": plural(total, subject.plant.cutting_one, subject.plant.cutting_many),
        "against": _against(total, subject),
        "enough": subject.wanted is not None and total >= subject.wanted,
        "waste": waste_words(laid, units),
    }


def _against(total: int, subject: Subject) -> str:
    if subject.wanted is None:
        return ""
    if total >= subject.wanted:
        over = total - subject.wanted
        return f"{subject.wanted} are wanted: enough" + (f", {over} to spare." if over else ".")
    return f"{subject.wanted} are wanted: {subject.wanted - total} more to find."
