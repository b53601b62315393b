"""How much is read of whoever asks: little of those not signed in, and of nobody more than a page can want."""

from __future__ import annotations

import sys
from collections.abc import Callable
from typing import Final, TypeVar

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.template.response import TemplateResponse
from django.urls import Resolver404, resolve

MOST_OF_STRANGERS: Final = 64_000  # bytes: a name, a password, and room
MOST: Final = 26_000_000  # bytes: a station's file or a photo, and the form around it


V = TypeVar("V", bound=Callable[..., HttpResponseBase])


def takes(most: int) -> Callable[[V], V]:
    """Let a view take more bytes from whoever is signed in than others do."""

    def marked(view: V) -> V:
        view.most_bytes = most  # type: ignore[attr-defined]  # read below
        return view

    return marked


def _most(request: HttpRequest) -> int:
    """How many bytes are read of whoever asks, for what they ask."""
    if not request.user.is_authenticated:
        return MOST_OF_STRANGERS
    try:
        view = resolve(request.path_info).func
    except Resolver404:
        return MOST
    return int(getattr(view, "most_bytes", MOST))


class BodyLimit:
    """Refuses a body by the length it says, before a byte of it is read. Stands behind the session, for it asks who
    sends; and before anything that reads what was sent."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The page, or that it is too large."""
        said = request.META.get("CONTENT_LENGTH") or "0"
        length = int(said) if said.isdecimal() else sys.maxsize
        if length > MOST_OF_STRANGERS and length > _most(request):
            return TemplateResponse(request, "413.html", status=413).render()
        return self.get_response(request)
