"""The layout: a stem written down or tapped, and where to cut it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from django.http import HttpResponse
from django.urls import reverse
from django.views.decorators.http import require_GET

from elder.drawing.scene import Scene
from elder.engine.cut.layout import CutSpec
from elder.engine.cut.standing import cut_spec, may_be_short
from elder.engine.handbook.model import Plant
from elder.web.cut.forms import RulesForm
from elder.web.cut.layout import (
    MOST_STEMS,
    LaidOut,
    PieceLine,
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
from elder.web.read.handbook import clonable_here
from elder.web.say.plants import plant_words
from elder.web.say.units import US, length_in
from elder.web.say.words import plural
from elder.web.ui.pages import show
from elder.web.ui.parsing import whole
from elder.web.ui.replies import wants_fragment

RULES = {
    "least": "nodes_least", "most": "nodes_most", "buried": "nodes_buried", "shortest": "length_least_cm",
    "longest": "length_most_cm",
}  # fmt: skip


@dataclass(frozen=True)
class StemRow:
    """A stem as typed, and what could not be read of it, by its field."""

    at: int
    written: Written
    field: str = ""
    wrong: str = ""


@dataclass(frozen=True)
class ShownStem:
    """A stem drawn, with its cuttings; where its nodes are, its end and the scale, as bare numbers for the script."""

    at: int
    scene: Scene
    pieces: list[PieceLine]
    count: int
    positions: str
    scale: str
    end: str


@dataclass(frozen=True)
class LaidWords:
    """All stems laid out: how many cuttings, against how many wanted, and what is left over."""

    shown: list[ShownStem]
    total: int
    count_words: str
    against: str
    waste: str


@dataclass(frozen=True)
class LayoutPage:
    """Stems and rules. ``whole``: a plant taken whole has no stem to lay out; ``laid``: nothing until all can be
    read."""

    subject: Subject
    form: RulesForm
    may_be_short: bool
    whole: Plant | None = None
    stems: list[StemRow] = field(default_factory=list)
    units: str = "cm"
    spec: CutSpec | None = None
    can_add: bool = False
    names: str = ""
    sheet_url: str = ""
    length_least: float = 0.0
    length_most: float = 0.0
    laid: LaidWords | None = None


@require_GET
@in_garden("see")
def layout(request: GardenRequest) -> HttpResponse:
    """Stems, the rules, how many cuttings that gives against how many are wanted, and each drawn to scale."""
    subject = subject_of(request, fits=lambda plant, method: cut_spec(plant, method) is not None)
    spec = cut_spec(subject.plant, subject.method, short="short" in request.GET)
    ways = [(way.slug, way.name) for way in subject.plant.ways if cut_spec(subject.plant, way)]
    asked = {name: request.GET.get(name, "") for name in (*RULES, "short") if request.GET.get(name)}
    start = {"plant": subject.plant.slug, "method": subject.method.slug, "wanted": subject.wanted, **asked}
    plants = clonable_here(request.garden).values()
    form = RulesForm(start, units=request.user.units, ways=ways, plants=plants)
    template = "cut/layout_answer.html" if wants_fragment(request) else "cut/layout.html"
    short = may_be_short(subject.plant, subject.method)
    if spec is None:
        return show(request, template, LayoutPage(subject, form, may_be_short=short, whole=subject.plant))
    return show(request, template, _answered(request, LayoutPage(subject, form, may_be_short=short), spec))


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


def _answered(request: GardenRequest, page: LayoutPage, base: CutSpec) -> LayoutPage:
    """The page with its stems read and, where each could be, laid out."""
    units, written, subject = request.user.units, _written(request, base), page.subject
    stems, rows = [], []
    for at, one in enumerate(written):
        try:
            stems.append(read_stem(one, units))
            rows.append(StemRow(at, one))
        except UnreadableError as error:
            rows.append(StemRow(at, one, error.field, str(error)))
    spec = _spec(page.form, base)
    rules = spec or base
    laid = lay_out(stems, rules, subject.plant, subject.method) if spec and len(stems) == len(rows) else None
    return replace(
        page,
        stems=rows,
        units="in" if units == US else "cm",
        spec=rules,
        can_add=len(rows) < MOST_STEMS,
        names=plant_words(subject.plant.name, subject.variety),
        sheet_url=reverse("cut-sheet", args=[request.garden.pk, subject.want.row.pk]) if subject.want else "",
        length_least=length_in(rules.length_least_cm, units),
        length_most=length_in(rules.length_most_cm, units),
        laid=_laid_words(laid, subject, units) if laid else None,
    )


def _laid_words(laid: list[LaidOut], subject: Subject, units: str) -> LaidWords:
    total = sum(len(one.layout.pieces) for one in laid)
    scale = max(one.stem.length_cm for one in laid)
    first, shown = 1, []
    for at, (one, scene) in enumerate(zip(laid, drawn(laid, units), strict=True)):
        shown.append(
            ShownStem(
                at=at,
                scene=scene,
                pieces=piece_words(one, units, first),
                count=len(one.layout.pieces),
                positions=" ".join(_bare(cm, units) for cm in one.stem.nodes_cm),
                scale=_bare(scale, units),
                end=_bare(one.stem.length_cm, units),
            )
        )
        first += len(one.layout.pieces)
    return LaidWords(
        shown=shown,
        total=total,
        count_words=plural(total, subject.plant.cutting_one, subject.plant.cutting_many),
        against=_against(total, subject),
        waste=waste_words(laid, units),
    )


def _bare(cm: float, units: str) -> str:
    """A length as a bare number of the person's unit, to two places, for the script that reads taps."""
    return f"{round(length_in(cm, units), 2):g}"


def _against(total: int, subject: Subject) -> str:
    if subject.wanted is None:
        return ""
    if total >= subject.wanted:
        over = total - subject.wanted
        return f"{subject.wanted} are wanted: enough" + (f", {over} to spare." if over else ".")
    return f"{subject.wanted} are wanted: {subject.wanted - total} more to find."
