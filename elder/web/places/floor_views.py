"""A place from above, to scale: what stands there, how many more of each it holds, and whether these would fit."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass
from datetime import date
from typing import Final

from django.core.exceptions import PermissionDenied
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_http_methods

from elder.drawing.floor import FloorPlan, floor_plan
from elder.engine.batch.stands import Stood
from elder.engine.shed.packing import Arrangement, Floor, Several, arrange, holds
from elder.engine.shed.vessels import Vessel
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.garden.models import Place
from elder.web.places.forms import FloorForm
from elder.web.read.batches import BatchToday, living
from elder.web.read.kit import kit_of
from elder.web.read.space import floor_of
from elder.web.say.batches import name_of
from elder.web.say.containers import filled_words, vessel_words
from elder.web.say.units import length_in
from elder.web.say.words import listed, plural
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved

TRIED: Final = "tried"
COMMON: Final = ("jar", "pot-9", "pot", "litre", "tray", "bag", "gallon")  # said of every floor, how many it holds


@dataclass(frozen=True)
class StandLine:
    """What a batch has standing there: the sign it bears in the drawing, its name, its containers."""

    sign: str
    name: str
    words: str
    batch: int
    left_out: int


@dataclass(frozen=True)
class RoomLine:
    """One kind of container: how many the empty floor holds, and how many more have room now."""

    name: str
    holds: int
    more: int


@dataclass(frozen=True)
class FloorPage:
    """The floor of a place: the form that measures it, and the answer."""

    place: Place
    form: FloorForm
    plan: FloorPlan | None
    lines: list[StandLine]
    rooms: list[RoomLine]
    said: str
    tried: str


@require_http_methods(["GET", "POST"])
@in_garden("see")
def floor(request: GardenRequest, place_id: int) -> HttpResponse:
    """A place to scale. A GET with sides in it tries them; a POST keeps them."""
    place = get_object_or_404(Place, pk=place_id, garden=request.garden)
    if request.method == "POST" and not may(request.role, "keep"):
        raise PermissionDenied(f"a {request.role} may not measure places")
    units, kit = request.user.units, kit_of(request.garden)
    choices = [(one.key, vessel_words(one, 2, units)) for one in kit.every() if not one.spacing_cm]
    start = _measured(place, units)
    given = request.POST.dict() if request.method == "POST" else {**start, **request.GET.dict()}
    form = FloorForm(given if given.get("long_cm") else None, units=units, vessels=choices, initial=dict(start))
    if request.method == "POST" and "ask" not in request.POST and form.is_valid():
        place.long_cm, place.wide_cm = form.cleaned_data["long_cm"], form.cleaned_data["wide_cm"]
        place.save(update_fields=["long_cm", "wide_cm"])
        saved(request, f"floor-{place.pk}", "Measured. The season and the round go by its floor from now on.")
        return redirect("place-floor", request.garden.pk, place.pk)
    page = _page(request, place, form)
    return show(request, "places/floor_answer.html" if wants_fragment(request) else "places/floor.html", page)


def _measured(place: Place, units: str) -> dict[str, object]:
    here = floor_of(place)
    if here is None:
        return {}
    sides = {"long_cm": here.long_cm, "wide_cm": here.wide_cm}
    return {name: f"{round(length_in(side, units), 1):g}" for name, side in sides.items()}


def _page(request: GardenRequest, place: Place, form: FloorForm) -> FloorPage:
    if not form.is_bound or not form.is_valid():
        return FloorPage(place, form, None, [], [], "", "")
    data, units, kit = form.cleaned_data, request.user.units, kit_of(request.garden)
    here = Floor(data["long_cm"], data["wide_cm"])
    standing = standing_at(request, place, request.today)
    groups = [Several(one.filled.vessel, one.filled.vessels, batch.row.pk) for batch, one in standing]
    signs: dict[Hashable, str] = {}
    for batch, _ in standing:
        signs.setdefault(batch.row.pk, str(len(signs) + 1))
    vessel, many = kit.vessel(data["vessel"]), data["many"] or 0
    fit = more_of(vessel, groups, here, many) if vessel else 0  # what stands there goes before what is only tried
    found = arrange([*groups, *([Several(vessel, fit, TRIED)] if vessel else [])], here)
    left = {owner: sum(one.count for one in found.left if one.owner == owner) for owner in signs}
    lines = [
        StandLine(
            signs[batch.row.pk], name_of(batch), filled_words(one.filled, units), batch.row.pk, left[batch.row.pk]
        )
        for batch, one in standing
    ]
    return FloorPage(
        place=place,
        form=form,
        plan=floor_plan(found, signs=signs, words=_in_words(place, found, lines), tried=TRIED),
        lines=lines,
        rooms=[_room(kit.used(key), groups, here, units) for key in COMMON],
        said=_said(found, lines),
        tried=_tried(vessel, many, many - fit, units) if many else "",
    )


def standing_at(request: GardenRequest, place: Place, today: date) -> list[tuple[BatchToday, Stood]]:
    """What stands at a place today, by batch, in its containers."""
    found = []
    for batch in living(request.garden, today):
        for one in batch.stands:
            if (
                batch.place_id("waiting" if one.stage == "stuck" else "potted") == place.pk
                and not one.filled.vessel.spacing_cm
            ):
                found.append((batch, one))
    return found


def _room(vessel: Vessel, groups: list[Several], here: Floor, units: str) -> RoomLine:
    most = holds(vessel, here)
    return RoomLine(vessel_words(vessel, 2, units), most, more_of(vessel, groups, here, most))


def more_of(vessel: Vessel, groups: list[Several], here: Floor, most: int) -> int:
    """How many more of a kind find room beside what stands there."""
    low, high = 0, most
    while low < high:
        middle = (low + high + 1) // 2
        fits = not arrange([*groups, Several(vessel, middle, TRIED)], here).left
        low, high = (middle, high) if fits else (low, middle - 1)
    return low


def _said(found: Arrangement, lines: list[StandLine]) -> str:
    over = sum(one.left_out for one in lines)
    standing = sum(1 for one in found.placed if one.owner != TRIED) + over
    if not standing:
        return "Nothing stands here today."
    if over:
        return f"{plural(over, 'container', 'containers')} of {standing} find no room: it is too full."
    return f"{plural(standing, 'container stands', 'containers stand')} here, all with room."


def _tried(vessel: Vessel | None, many: int, left: int, units: str) -> str:
    if vessel is None:
        return ""
    what = f"{many} {vessel_words(vessel, many, units)}"
    if not left:
        return f"Yes: {what} would fit besides, drawn dashed."
    return f"No: of {what}, {many - left} would fit besides." if many > left else f"No: not one of {what} would fit."


def _in_words(place: Place, found: Arrangement, lines: list[StandLine]) -> str:
    held = listed(f"{line.words} of {line.name}" for line in lines) or "nothing"
    return f"{place.name} from above, to scale: {held}."
