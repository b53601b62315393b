"""How much is read of whoever asks: little of those not signed in, and of nobody more than a page can want."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

from django.http import HttpRequest, HttpResponse
from django.template.response import TemplateResponse

MOST_OF_STRANGERS: Final = 64_000  # bytes: a name, a password, and room
MOST: Final = 26_000_000  # bytes: a station's file or a photo, and the form around it


class BodyLimit:
    """Refuses a body by the length it says, before a byte of it is read. Stands behind the session, for it asks who
    sends; and before anything that reads what was sent."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The page, or that it is too large."""
        said = request.META.get("CONTENT_LENGTH") or "0"
        length = int(said) if said.isdecimal() else MOST + 1
        if length > MOST_OF_STRANGERS and length > (MOST if request.user.is_authenticated else MOST_OF_STRANGERS):
            return TemplateResponse(request, "413.html", status=413).render()
        return self.get_response(request)
