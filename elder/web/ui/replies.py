"""Answers to a form sent by a script: from a phone that was out of reach, or one that need not leave its page."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect


def wants_json(request: HttpRequest) -> bool:
    """Whether a script sent it, and reads the answer itself."""
    return request.headers.get("Accept", "").startswith("application/json")


def wants_fragment(request: HttpRequest) -> bool:
    """Whether the page's own script sent it and puts the answer into a page that stands: only that part is drawn."""
    return request.headers.get("X-Alpine-Request") == "true"


def wants_part(request: HttpRequest, name: str) -> bool:
    """Whether a part of the page, by its id, is among those that the script swaps; all are, where it does not say."""
    said = request.headers.get("X-Alpine-Target", "")
    return not said or name in said.split()


def kept(request: HttpRequest, url: str) -> HttpResponse:
    """It is written down: where to go on."""
    return told({"ok": True, "next": url}) if wants_json(request) else redirect(url)


def refused(sentence: str, *, seen: int | None = None) -> HttpResponse:
    """It could not be written down, and why. For scripts only: a person gets the page back with their typing."""
    return told({"ok": False, "said": sentence, "seen": seen})


def told(answer: dict[str, object], *, status: int = 200) -> HttpResponse:
    """An answer for a script, marked as Elder's own: what else stands on the line may answer with a friendly 200."""
    return JsonResponse(answer, status=status, headers={"X-Elder-Answer": "1"})
