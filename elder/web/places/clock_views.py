"""The demo's day moved on; its sensors are read up to it."""

from __future__ import annotations

from datetime import date
from typing import Final

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from elder.web.garden import actions
from elder.web.garden.access import gardens_of, signed_in
from elder.web.garden.clock import today_in
from elder.web.garden.models import Household
from elder.web.places.readings import read_sensors

STEPS: Final = {"day": 1, "week": 7, "month": 30}
AUTUMN: Final = (9, 20)  # when the winter list of the demo's first garden is worth opening


def to_autumn(today: date) -> int:
    """Days to the next autumn's list."""
    day = date(today.year, *AUTUMN)
    return ((day if day > today else day.replace(year=today.year + 1)) - today).days


@require_POST
@signed_in
def move_clock(request: HttpRequest) -> HttpResponse:
    """Move the demo's day on by a day, a week or a month, or to the autumn."""
    household = Household.objects.filter(people=request.user, demo_day__isnull=False).first()  # type: ignore[misc]
    if not settings.DEMO or household is None or household.demo_day is None:
        raise Http404
    step = {**STEPS, "autumn": to_autumn(household.demo_day)}.get(request.POST.get("step", ""))
    if step is None:
        raise Http404
    actions.move_clock(household, step)
    for one in household.gardens.all():
        read_sensors(one, today=today_in(one))
    garden = gardens_of(request.user).filter(pk=request.POST.get("garden") or 0).first()
    return redirect("season", garden.pk) if garden else redirect("home")
