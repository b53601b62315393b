"""What the year asks for now and soon: lots to be cut of lines. For round, season and calendar alike."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from elder.web.garden.models import Garden
from elder.web.read.lines import line_today
from elder.web.say.words import plural
from elder.web.year.models import Multiplying


@dataclass(frozen=True)
class YearTask:
    """One thing to do of the year: when, what, about what; the address it is done at, and a name that stays."""

    due: date
    deed: str
    about: str
    path: tuple[str, int, int | None]
    uid: str
