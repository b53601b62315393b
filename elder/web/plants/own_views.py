"""Plants of a household's own: begun from a relative, changed, written out, read in."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.handbook.loading import clonable, named
from elder.engine.handbook.own import Raw, copy_of, raw_of, relative_text, written
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.plants.models import OwnPlant
from elder.web.plants.own_actions import keep_own, put_away
from elder.web.plants.own_forms import FormRow, OwnForm, ReadInForm
from elder.web.ui.pages import show
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class WayRows:
    """One way: whether it is kept, and its values."""

    name: str
    keep: object
    rows: list[FormRow]


@dataclass(frozen=True)
class OwnPage:
    """A plant of one's own being begun or changed."""

    form: OwnForm
    row: OwnPlant | None
    relative: str
    relatives: list[tuple[str, str, bool]]
    rows: list[FormRow]
    ways: list[WayRows]


@dataclass(frozen=True)
class ReadInPage:
    """A plant being read in."""

    form: ReadInForm


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def begin(request: GardenRequest) -> HttpResponse:
    """Begin a plant of one's own as a copy of its nearest relative."""
    asked = request.GET.get("like", "") or request.POST.get("like-plant", "")
    relative = asked if asked in clonable() and asked in named() else "mint"
    raw = copy_of(raw_of(relative_text(relative)), "", relative)
    return _own_form(request, raw, None)


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def change(request: GardenRequest, plant_id: int) -> HttpResponse:
    """Change a plant of one's own."""
    row = get_object_or_404(OwnPlant, pk=plant_id, garden=request.garden, current=True)
    return _own_form(request, raw_of(row.text), row)


def _own_form(request: GardenRequest, raw: Raw, row: OwnPlant | None) -> HttpResponse:
    form = OwnForm(request.POST if request.method == "POST" else None, raw=raw)
    if request.method == "POST" and form.is_valid():
        made = form.cleaned_data["raw"]
        kept = keep_own(
            request.garden, name=made["name"], relative=raw["relative"], text=written(made), person=request.user,
            before=row,
        )  # fmt: skip
        saved(request, "own", f"Kept: {kept.name}, yours.")
        return redirect("plant", request.garden.pk, kept.slug)
    relatives = [(slug, one.name, slug == raw["relative"]) for slug, one in clonable().items()]
    ways = [WayRows(way["name"], form[f"keep-{way['slug']}"], form.rows(i)) for i, way in enumerate(raw["methods"])]
    relative = named()[raw["relative"]].name
    return show(request, "plants/own.html", OwnPage(form, row, relative, relatives, form.rows(None), ways))


@require_POST
@in_garden("plan")
def away(request: GardenRequest, plant_id: int) -> HttpResponse:
    """Put a plant of one's own away: what was struck of it stays what it is."""
    row = get_object_or_404(OwnPlant, pk=plant_id, garden=request.garden, current=True)
    undo = put_away(row).offered(request.garden)
    saved(request, "", f"{row.name} is off the list.", undo=undo)
    return redirect("plants", request.garden.pk)


@require_GET
@in_garden("see")
def write_out(request: GardenRequest, plant_id: int) -> HttpResponse:
    """A plant of one's own as the handbook's YAML."""
    row = get_object_or_404(OwnPlant, pk=plant_id, garden=request.garden)
    answer = HttpResponse(row.text, content_type="application/yaml; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="plant-{row.pk}.yaml"'
    return answer


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def read_in(request: GardenRequest) -> HttpResponse:
    """Read a plant in that was written out, here or elsewhere."""
    form = ReadInForm(request.POST if request.method == "POST" else None)
    if request.method == "POST" and form.is_valid():
        raw = raw_of(form.cleaned_data["text"])
        relative = raw.get("relative") if raw.get("relative") in named() else raw["slug"]
        raw["relative"] = relative if relative in named() else "mint"
        kept = keep_own(
            request.garden, name=str(raw["name"])[:60], relative=raw["relative"], text=written(raw), person=request.user
        )
        saved(request, "own-in", f"Read in: {kept.name}, yours.")
        return redirect("plant", request.garden.pk, kept.slug)
    return show(request, "plants/read_in.html", ReadInPage(form))
