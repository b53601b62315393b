"""The calendar: a download of one garden, and a feed of all a person's gardens at a secret address."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods

from elder.web.garden.access import GardenRequest, gardens_of, in_garden, signed_in
from elder.web.garden.clock import today_in
from elder.web.garden.models import Garden, Person
from elder.web.rounds import actions
from elder.web.rounds.calendar import CalendarDate, calendar_of, dates_of
from elder.web.rounds.models import CalendarFeed
from elder.web.ui.pages import show
from elder.web.ui.saved import saved

ICS = "text/calendar; charset=utf-8"
FRESH = "fresh-calendar-secret"


@dataclass(frozen=True)
class CalendarPage:
    """A feed's address, shown this once; whether there is one; the gardens it is of."""

    address: str
    row: CalendarFeed | None
    gardens: list[Garden]


def _url(request: HttpRequest, item: CalendarDate) -> str:
    return request.build_absolute_uri(reverse(item.path[0], args=[part for part in item.path[1:] if part]))


@require_GET
@in_garden("see")
def download(request: GardenRequest) -> HttpResponse:
    """One garden's dates as a file."""
    dates = dates_of(request.garden, request.today, request.user.units)
    data = calendar_of(request.garden.name, dates, stamp=request.today, url=lambda item: _url(request, item))
    answer = HttpResponse(data, content_type=ICS)
    answer["Content-Disposition"] = 'attachment; filename="elder.ics"'
    return answer


@require_GET
def feed(request: HttpRequest, secret: str) -> HttpResponse:
    """All of a person's gardens, for a calendar that subscribes. The secret is the only key."""
    row = CalendarFeed.objects.select_related("person").filter(digest=actions.digest_of(secret)).first()
    if row is None or not row.person.is_active:
        raise Http404
    gardens = list(gardens_of(row.person))
    dates, stamps = [], []
    for garden in gardens:
        today = today_in(garden)
        stamps.append(today)
        dates += dates_of(garden, today, row.person.units)
    if not stamps:
        raise Http404
    name = gardens[0].name if len(gardens) == 1 else "Elder"
    data = calendar_of(name, dates, stamp=max(stamps), url=lambda item: _url(request, item))
    answer = HttpResponse(data, content_type=ICS)
    answer["Cache-Control"] = "private, no-store"
    answer["X-Robots-Tag"] = "noindex"
    return answer


@require_http_methods(["GET", "POST"])
@signed_in
def calendar(request: HttpRequest) -> HttpResponse:
    """Make a calendar address, make another, or revoke it."""
    person = cast(Person, request.user)
    if request.method == "POST":
        if "revoke" in request.POST:
            actions.close_feed(person)
            saved(request, "calendar", "That address gives nothing any more.")
        else:
            request.session[FRESH] = actions.open_feed(person)
        return redirect("calendar")
    secret = request.session.pop(FRESH, None)
    address = request.build_absolute_uri(reverse("calendar-feed", args=[secret])) if secret else ""
    row = CalendarFeed.objects.filter(person=person).first()
    gardens = list(gardens_of(person))
    return show(request, "rounds/calendar.html", CalendarPage(address, row, gardens))
