"""Saying that something was kept. The page forgets its copy of the typing only when it is told so."""

from __future__ import annotations

from django.http import HttpRequest

KEY = "kept"


def saved(request: HttpRequest, draft: str, sentence: str, *, undo: str = "") -> None:
    """Tell the person on the next page, name the draft that is now kept, and offer the way back if there is one (as
    ``Undo.offered`` signs it)."""
    request.session[KEY] = {"draft": draft, "sentence": sentence, "undo": undo}


def take_saved(request: HttpRequest) -> dict[str, str] | None:
    """What the last action said, once."""
    session = getattr(request, "session", None)
    kept: dict[str, str] | None = session.pop(KEY, None) if session is not None else None
    return kept
