"""The way back. An action returns what would take it back; one address applies it.

What is offered is signed, so nobody can ask for a way back that was not offered; it is read again inside the garden's
walls and under the role that the deed itself wants.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Final

from django.contrib import messages
from django.core import signing
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.garden.models import Garden, Person
from elder.web.ui.saved import saved

SALT: Final = "elder.undo"
LASTS_S: Final = 90 * 24 * 3600  # a page left open longer than that offers nothing any more (assumed)

Told = str | int | bool | float | list[int] | list[str] | None


@dataclass(frozen=True)
class Undo:
    """What would take a deed back: the name of the way back, and what it has to know."""

    name: str
    told: Mapping[str, Told]

    def offered(self, garden: Garden) -> str:
        """Signed, for the button that offers it."""
        return signing.dumps([garden.pk, self.name, dict(self.told)], salt=SALT, compress=True)


@dataclass(frozen=True)
class Asked:
    """Who takes what back, where and when."""

    garden: Garden
    person: Person
    today: date
    told: Mapping[str, Told]

    def number(self, name: str) -> int:
        """A row's key, or a count; nought where none was told."""
        found = self.told.get(name)
        return found if isinstance(found, int) else 0

    def numbers(self, name: str) -> list[int]:
        """Several of them."""
        found = self.told.get(name)
        return [one for one in found if isinstance(one, int)] if isinstance(found, list) else []

    def text(self, name: str) -> str:
        """Words; nothing where none were told."""
        found = self.told.get(name)
        return found if isinstance(found, str) else ""

    def day(self, name: str) -> date | None:
        """A day; ``None`` where none was told."""
        return date.fromisoformat(self.text(name)) if self.text(name) else None


@dataclass(frozen=True)
class Undone:
    """How it went: what is said, and the address to go on at (a name and its parts).
    ``held``: it could not be undone."""

    said: str
    to: str
    parts: tuple[int, ...] = ()
    held: bool = False


WayBack = Callable[[Asked], Undone]
_WAYS_BACK: Final[dict[str, tuple[str, WayBack]]] = {}


def takes_back(name: str, *, verb: str) -> Callable[[WayBack], WayBack]:
    """Let a function be the way back of that name, for roles that may do the verb."""

    def kept(way: WayBack) -> WayBack:
        _WAYS_BACK[name] = (verb, way)
        return way

    return kept


@require_POST
@in_garden("see")
def undo(request: GardenRequest) -> HttpResponse:
    """Take back what was just done, where it still can be."""
    try:
        garden_id, name, told = signing.loads(request.POST.get("of", ""), salt=SALT, max_age=LASTS_S)
        verb, way = _WAYS_BACK[name]
    except (signing.BadSignature, KeyError) as error:
        raise Http404 from error
    if garden_id != request.garden.pk:
        raise Http404
    if not may(request.role, verb):
        raise PermissionDenied(f"a {request.role} may not {verb} here")
    went = way(Asked(request.garden, request.user, request.today, told))
    if went.held:
        messages.error(request, went.said)
    else:
        saved(request, "undo", went.said)
    return redirect(went.to, request.garden.pk, *went.parts)
