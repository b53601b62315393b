"""Gardens are walls: nobody reaches a row but through a garden of their own, in a role that may."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date
from functools import wraps
from typing import Final, TypeVar
from urllib.parse import urlsplit

from django.contrib.auth.models import AnonymousUser
from django.contrib.auth.views import redirect_to_login
from django.core.exceptions import PermissionDenied
from django.db import connection, transaction
from django.db.models import F, QuerySet
from django.http import HttpRequest, HttpResponseBase
from django.shortcuts import get_object_or_404

from elder.web.garden.clock import today_in
from elder.web.garden.models import Garden, Membership, Person
from elder.web.logbook.standing import as_it_stands, keep
from elder.web.ui.replies import told

Role = Membership.Role
MAY: dict[str, frozenset[str]] = {
    "see": frozenset({Role.OWNER, Role.HELPER, Role.VIEWER}),
    "tend": frozenset({Role.OWNER, Role.HELPER}),
    "plan": frozenset({Role.OWNER}),
    "keep": frozenset({Role.OWNER}),  # places, climate, people
}

WRITES = frozenset({"tend", "plan"})  # what is not done any more in a garden that was left

V = TypeVar("V", bound=Callable[..., HttpResponseBase])


class GardenRequest(HttpRequest):
    """A request inside a garden: who asks, which garden, in what role, on what day."""

    user: Person
    garden: Garden
    role: str
    today: date


def gardens_of(person: Person | AnonymousUser) -> QuerySet[Garden]:
    """The gardens a person belongs to, each with the person's ``role`` in it."""
    mine = Garden.objects.filter(household__memberships__person=person.pk)
    return mine.select_related("household").annotate(role=F("household__memberships__role"))


def may(role: str, verb: str) -> bool:
    """Whether a role may do a verb."""
    return role in MAY[verb]


def sent_by_another(request: HttpRequest) -> bool:
    """Whether a page of somebody who was signed in here before sends it under whoever is now."""
    said = request.headers.get("X-Elder-Person")
    return said is not None and said != str(request.user.pk)


def signed_in(view: V) -> V:
    """Let nobody in who is not signed in. What was sent without a session comes back, once there is one, to the page it
    was sent from: an address that only takes what is sent has nothing to show."""

    @wraps(view)
    def inside(request: HttpRequest, *args: object, **kwargs: object) -> HttpResponseBase:
        if request.user.is_authenticated:
            return view(request, *args, **kwargs)
        came_from = urlsplit(request.headers.get("Referer", ""))
        here = came_from.netloc == request.get_host()
        sent = request.method not in ("GET", "HEAD")
        page = came_from._replace(scheme="", netloc="", fragment="").geturl() if here else ""
        return redirect_to_login((page or "/") if sent else request.get_full_path())

    return inside  # type: ignore[return-value]


SAFE: Final = frozenset({"GET", "HEAD", "OPTIONS"})


@contextmanager
def alone_in(garden_id: int) -> Iterator[None]:
    """Nobody else writes in a garden meanwhile: whatever a verb reads before it writes is still so when it does. SQLite
    lets one write at a time by itself, each action in a transaction begun for writing; elsewhere the garden's row is
    locked for the whole press, which leaves readers, other gardens and rows that refer to it alone."""
    if not connection.features.has_select_for_no_key_update:
        yield
        return
    with transaction.atomic():
        list(Garden.objects.select_for_update(no_key=True).filter(pk=garden_id).values_list("pk"))
        yield


def in_garden(verb: str) -> Callable[[V], V]:
    """Let a view in only for a person of that garden (else 404) whose role may (else 403)."""

    def wrap(view: V) -> V:
        @wraps(view)
        @signed_in
        def inside(request: GardenRequest, garden_id: int, *args: object, **kwargs: object) -> HttpResponseBase:
            if sent_by_another(request):
                return told({"ok": False, "said": "Somebody else is signed in here now."}, status=409)
            if request.method in SAFE:
                answer = entered(request, garden_id, *args, **kwargs)
                keep(request.garden, request.today)
                return answer
            with alone_in(garden_id):
                return entered(request, garden_id, *args, **kwargs)

        def entered(request: GardenRequest, garden_id: int, *args: object, **kwargs: object) -> HttpResponseBase:
            garden = get_object_or_404(gardens_of(request.user), pk=garden_id)
            role: str = garden.role  # type: ignore[attr-defined] # annotated above
            if not may(role, verb):
                raise PermissionDenied(f"a {role} may not {verb} here")
            request.role, request.today = role, today_in(garden)
            request.garden = as_it_stands(garden, request.today) if request.method in SAFE else garden
            if garden.closed_on and verb in WRITES and request.method not in ("GET", "HEAD"):
                raise PermissionDenied("this garden was left: its record stays as it is")
            return view(request, *args, **kwargs)

        return inside  # type: ignore[return-value]

    return wrap
