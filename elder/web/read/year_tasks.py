"""What the year asks for now and soon: lots to be cut of lines. For round, season and calendar alike."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date


@dataclass(frozen=True)
class YearTask:
    """One thing to do of the year: when, what, about what; the address it is done at, and a name that stays."""

    due: date
    deed: str
    about: str
    path: tuple[str, int, int | None]
    uid: str
