"""The sky as a place sees it: described, drawn, kept."""

from __future__ import annotations

from dataclasses import dataclass

from django.core.exceptions import PermissionDenied
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_http_methods

from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.garden.models import Place
from elder.web.places.light_form import LightForm, filled_from
from elder.web.places.sky_pages import SkyAnswer, answer_of
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class SkyPage:
    """The light of a place: the form that describes it, and what it comes to."""

    place: Place
    form: LightForm
    answer: SkyAnswer | None


@require_http_methods(["GET", "POST"])
@in_garden("see")
def sky(request: GardenRequest, place_id: int) -> HttpResponse:
    """A place's light. A GET with a description in it tries that; a POST keeps it."""
    place = get_object_or_404(Place, pk=place_id, garden=request.garden)
    if request.method == "POST" and not may(request.role, "keep"):
        raise PermissionDenied(f"a {request.role} may not describe places")
    form = light_form(request, place)
    if request.method == "POST" and "ask" not in request.POST and form.is_valid():
        place.light = form.described()
        place.save(update_fields=["light"])
        saved(request, f"light-{place.pk}", "Kept. Places are ranked by this light from now on.")
        return redirect("place-sky", request.garden.pk, place.pk)
    answer = answer_of(request, place, form) if form.is_valid() else None
    page = SkyPage(place, form, answer)
    return show(request, "places/sky_answer.html" if wants_fragment(request) else "places/sky.html", page)


def light_form(request: GardenRequest, place: Place) -> LightForm:
    """The form, with what was sent over what is kept."""
    start = filled_from(place.light, request.user.units)
    others = [(str(one.pk), one.name) for one in request.garden.places.exclude(pk=place.pk) if one.light]
    given = request.POST.dict() if request.method == "POST" else {**start, **request.GET.dict()}
    return LightForm(
        given, garden=request.garden, today=request.today, units=request.user.units, others=others, initial=dict(start)
    )
