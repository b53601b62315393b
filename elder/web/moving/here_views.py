"""At the new place: what came along is planted, and watered for three months."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import uuid4

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_POST

from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.hands import Hands
from elder.web.garden.models import Garden, Place
from elder.web.moving import actions
from elder.web.moving.forms import PlantHereForm
from elder.web.moving.models import MovedPlant
from elder.web.moving.pages import PottedLine, WateredLine, potted_lines, watered_lines
from elder.web.read.moved_here import due_waterings, in_pots_yet, watered_today
from elder.web.say.words import about, plural
from elder.web.ui.pages import show
from elder.web.ui.parsing import sent_key
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class HerePage:
    """What came along."""

    headline: tuple[str, str]
    came_from: Garden | None
    watered: list[WateredLine]
    potted: list[PottedLine]
    form: PlantHereForm


def _places(garden: Garden) -> list[Place]:
    """Where things are planted: the ground first, then anywhere."""
    return sorted(garden.places.all(), key=lambda place: place.standing != Place.Standing.GROUND)


@require_GET
@in_garden("see")
def here(request: GardenRequest) -> HttpResponse:
    """What came along to this garden, and when it is watered."""
    return _shown(request, PlantHereForm(places=_places(request.garden)))


def _shown(request: GardenRequest, form: PlantHereForm) -> HttpResponse:
    garden, today = request.garden, request.today
    found, potted = watered_today(garden, today), in_pots_yet(garden)
    due = due_waterings(found, today)
    following = min((one.next_day for one in found if one.next_day), default=None)
    if due:
        headline = f"{plural(len(due), 'plant wants', 'plants want')} a deep watering.", ""
    elif following:
        headline = f"Nothing to water before {about(following, today)}.", ""
    else:
        headline = "What came along", "" if potted else "Nothing that came along wants watering any more."
    if potted:
        stand = plural(len(potted), "ball stands in its pot", "balls stand in their pots")
        headline = headline[0], f"{stand} yet: look daily, and water what is dry a finger deep."
    page = HerePage(
        headline, garden.came_from, watered_lines(found, today, request.user.units), potted_lines(potted), form
    )
    return show(request, "moving/here.html", page)


def _moved(request: GardenRequest, plant_id: int) -> MovedPlant:
    rows = MovedPlant.objects.select_related("stock", "move")
    return get_object_or_404(rows, pk=plant_id, move__to=request.garden, stock__isnull=False)


@require_POST
@in_garden("tend")
def plant_here(request: GardenRequest, moved_id: int) -> HttpResponse:
    """It is planted."""
    row = _moved(request, moved_id)
    form = PlantHereForm(request.POST, places=_places(request.garden))
    if not form.is_valid():
        return _shown(request, form)
    if row.planted_on is None:
        hands = Hands(request.garden, request.user, request.today, sent_key(request.POST.get("key")) or uuid4())
        actions.plant_here(row, form.places[form.cleaned_data["place"]], hands)
        undo = actions.unplanting(row).offered(request.garden)
        saved(
            request, f"moving-here-{row.pk}", "Planted. It is watered deeply once a week for three months.", undo=undo
        )
    return redirect("moving-here", request.garden.pk)


@require_POST
@in_garden("tend")
def water(request: GardenRequest, moved_id: int) -> HttpResponse:
    """It is watered."""
    row = _moved(request, moved_id)
    if row.planted_on is not None:
        hands = Hands(request.garden, request.user, request.today, sent_key(request.POST.get("key")) or uuid4())
        undo = actions.unwatering(actions.water(row, hands)).offered(request.garden)
        saved(request, f"moving-water-{row.pk}", "Watered.", undo=undo)
    return redirect("moving-here", request.garden.pk)
