"""Sentences for files of readings that cannot be used."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from elder.engine.refusal import Refusal

_REFUSALS: dict[str, Callable[[dict[str, Any]], str]] = {
    "not_understood": lambda p: (
        "No date with a lowest and a highest temperature was found in it. It wants a heading that names them, "
        f"or a GHCN-Daily file. It begins: {p['first'] or 'with nothing'}"
    ),
    "no_days": lambda p: f"Not one day of it could be used; {p['refused']} lines were refused.",
    "too_long": lambda p: f"{p['lines']:,} lines is more than one station has. Send at most {p['most']:,}.",
    "too_few": lambda p: (
        f"{p['days']:,} days are too few to say what each month is like: at least three of every month are wanted. "
        "Send a longer record, or give the means and the frost dates by hand."
    ),
}


def records_refused(refusal: Refusal) -> str:
    """Why a file cannot be used, and what could be instead."""
    return _REFUSALS[refusal.code](refusal.params)
