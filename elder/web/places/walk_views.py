"""The order in which places are walked."""

from __future__ import annotations

from django.http import HttpResponse
from django.urls import reverse
from django.views.decorators.http import require_POST

from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.models import Garden, Place
from elder.web.ui.parsing import whole
from elder.web.ui.replies import kept


def walk_in_order(garden: Garden, keys: list[int]) -> None:
    """Walk the garden's places in this order; those not named come after, in the order they had."""
    own = [place.pk for place in garden.places.all()]
    named = [key for key in dict.fromkeys(keys) if key in own]
    for i, key in enumerate([*named, *(key for key in own if key not in named)], start=1):
        Place.objects.filter(pk=key).update(walk=i)


@require_POST
@in_garden("keep")
def walk(request: GardenRequest) -> HttpResponse:
    """Keep the order that was dragged."""
    walk_in_order(request.garden, [key for raw in request.POST.getlist("place") if (key := whole(raw)) is not None])
    return kept(request, reverse("places", args=[request.garden.pk]))
