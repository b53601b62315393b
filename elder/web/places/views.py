"""Places: where cuttings stand, how warm it is there, what that is worth, and how much each holds."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from django.db.models import RestrictedError
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_http_methods

from elder.engine.climate.day_of_year import doy0
from elder.engine.climate.normals import daily_normals
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import GROUND_DEPTH_M, hourly_temperatures, soil_mean
from elder.engine.space.floors import FLOOR, WHOLE
from elder.engine.space.occupancy import Stay
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.models import Place
from elder.web.places.forms import PlaceForm
from elder.web.places.paces import root_days, ways_in_use
from elder.web.places.ranking import Ranking, ranking_of
from elder.web.places.shelf_pages import Shelf, shelves
from elder.web.read.gardens import climate_of, place_of
from elder.web.read.space import all_stays, floors_of
from elder.web.read.wants import reckon_all
from elder.web.say.containers import CONTAINERS
from elder.web.say.units import shown_depth, temperature
from elder.web.ui.pages import RowForm, show
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class PlaceRow:
    """A place: its warmth today, days until half are rooted for each plant and whether no place is quicker
    (−1: not this year, −2: not there at all), and what it holds of each container, with whether that is too much."""

    place: Place
    warmth: str
    paces: list[tuple[int, bool]]
    capacity: list[tuple[str, bool]]


@dataclass(frozen=True)
class PlacesPage:
    """The garden's places, in the order they are walked, drawn and as a table; and ranked for one plant."""

    rows: list[PlaceRow]
    shelves: list[Shelf]
    ranking: Ranking | None
    air: str
    ground: str
    depth: str
    plants: list[str]


@require_GET
@in_garden("see")
def places(request: GardenRequest) -> HttpResponse:
    """Where cuttings stand, how warm and light it is there today, what that is worth to each plant, the room left."""
    if wants_fragment(request):
        ranking = ranking_of(request, ways_in_use(request.garden))
        return show(request, "places/ranking.html", RankingPage(ranking))
    climate, doy, units = climate_of(request.garden), doy0(request.today), request.user.units
    ways, rows = ways_in_use(request.garden), _rows(request)
    low, high = (float(curve[doy]) for curve in daily_normals(climate.normals))
    page = PlacesPage(
        rows=rows,
        shelves=shelves(request, {row.place.pk: row.capacity for row in rows}),
        ranking=ranking_of(request, ways) if rows else None,
        air=f"{temperature(low, units)} to {temperature(high, units)}",
        ground=temperature(float(soil_mean(climate)[doy]), units),
        depth=shown_depth(GROUND_DEPTH_M, units),
        plants=[plant.name for plant, _ in ways],
    )
    return show(request, "places/places.html", page)


@dataclass(frozen=True)
class RankingPage:
    """The ranking alone, for a page that stands."""

    ranking: Ranking


def _rows(request: GardenRequest) -> list[PlaceRow]:
    climate, doy, units = climate_of(request.garden), doy0(request.today), request.user.units
    found, ways = list(request.garden.places.all()), ways_in_use(request.garden)
    days = [[_root_days(place, *way, request) for way in ways] for place in found]
    quickest = [min((row[i] for row in days if row[i] >= 0), default=-1) for i in range(len(ways))]
    every = all_stays(reckon_all(request.garden, request.today), request.garden, request.today)
    stays = [stay for several in every.values() for stay in several]
    rows, floors = [], floors_of(found)
    for place, paces in zip(found, days, strict=True):
        hours = hourly_temperatures(place_of(place), climate)[doy]
        warmth = f"{temperature(float(hours.min()), units)} to {temperature(float(hours.max()), units)}"
        marked = [(pace, pace == best >= 0) for pace, best in zip(paces, quickest, strict=True)]
        room = capacity_words(place, stays, request.today, measured=place.pk in floors)
        rows.append(PlaceRow(place, warmth, marked, room))
    return rows


def capacity_words(place: Place, stays: list[Stay], today: date, *, measured: bool = False) -> list[tuple[str, bool]]:
    """How much of each container is taken today, or of its floor, and whether that is too much."""
    if measured:
        here = [stay for stay in stays if (stay.place, stay.container) == (place.pk, FLOOR)]
        taken = sum(stay.count for stay in here if stay.first <= today <= stay.last)
        return [(f"{round(100 * taken / WHOLE)}% of its floor", taken > WHOLE)]
    found = []
    for kind, holds in place.capacity.items():
        here = [stay for stay in stays if (stay.place, stay.container) == (place.pk, kind)]
        taken = sum(stay.count for stay in here if stay.first <= today <= stay.last)
        found.append((f"{CONTAINERS[kind]} {taken} of {holds}", taken > holds))
    return found


def _root_days(place: Place, plant: Plant, method: Method, request: GardenRequest) -> int:
    """Days to roots there; −2 where that way has no business in that place."""
    if method.direct != (place.standing == Place.Standing.GROUND):
        return -2
    return root_days(place_of(place), request.garden, plant, method, request.today)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def new_place(request: GardenRequest) -> HttpResponse:
    """A new place."""
    return _place_form(request, None)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def edit_place(request: GardenRequest, place_id: int) -> HttpResponse:
    """Put a place right, or take it away while nothing stands there."""
    return _place_form(request, get_object_or_404(Place, pk=place_id, garden=request.garden))


def _place_form(request: GardenRequest, row: Place | None) -> HttpResponse:
    if row and "remove" in request.POST:
        return _remove_place(request, row)
    form = PlaceForm(request.POST or None, instance=row, units=request.user.units, garden=request.garden)
    if request.method == "POST" and form.is_valid():
        form.save()
        saved(request, "place", "Kept.")
        return redirect("places", request.garden.pk)
    return show(request, "places/place_form.html", RowForm(form, row))


def _remove_place(request: GardenRequest, row: Place) -> HttpResponse:
    try:
        row.delete()
    except RestrictedError:
        form = PlaceForm(instance=row, units=request.user.units, garden=request.garden)
        said = "Wants or batches name this place, so it stays; give it another name instead."
        return show(request, "places/place_form.html", RowForm(form, row, said))
    saved(request, "place", "The place is removed.")
    return redirect("places", request.garden.pk)
