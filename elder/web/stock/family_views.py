"""Families: the line of a clone through the years, searched and folded."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from django.views.decorators.http import require_GET

from elder.engine.handbook.loading import handbook
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.families import family_of
from elder.web.stock.family_pages import FamilyPicture, Traced, family_picture, traced
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment


@dataclass(frozen=True)
class FamiliesPage:
    """Every line, or those of one plant; the plants to choose from as slug, name, and whether it is the one chosen."""

    family: FamilyPicture
    traced: Traced | None
    plants: list[tuple[str, str, bool]]
    plant: str
    q: str


@require_GET
@in_garden("see")
def families(request: GardenRequest) -> HttpResponse:
    """Every line, or those of one plant: folded where there are many, searched, one line told apart."""
    plants = sorted(_plants(request), key=lambda slug: handbook()[slug].name)
    plant = request.GET.get("plant", "") if request.GET.get("plant") in plants else ""
    family, focus = family_of(request.garden, request.today, plant=plant), request.GET.get("line", "")
    page = FamiliesPage(
        family=family_picture(request, family, focus=focus),
        traced=traced(request, family, focus),
        plants=[(slug, handbook()[slug].name, slug == plant) for slug in plants],
        plant=plant,
        q=request.GET.get("q", ""),
    )
    return show(request, "stock/family.html" if wants_fragment(request) else "stock/families.html", page)


def _plants(request: GardenRequest) -> set[str]:
    mothers = set(request.garden.stock_plants.values_list("plant", flat=True))
    return mothers | set(request.garden.batches.values_list("plant", flat=True))
