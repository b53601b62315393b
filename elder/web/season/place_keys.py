"""A day and two places for a want as one word, for a box to tick and for the way back."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from elder.web.season.models import Want


@dataclass(frozen=True)
class PlaceKey:
    """What a key names: a want, a day (``None``: the recommended one), two places, and the day it is for."""

    want: int
    day: date | None
    rooting: int
    growing: int
    by: date | None = None


def key_of(row: Want) -> str:
    """The key of a want as it stands."""
    return f"{row.pk}:{row.cut_on or ''}:{row.rooting_place_id}:{row.growing_place_id}:{row.by or ''}"


def parse_key(key: str) -> PlaceKey | None:
    """What a key names; ``None`` for anything that is no key."""
    parts = [*key.split(":"), ""]
    try:
        day, by = (date.fromisoformat(part) if part else None for part in (parts[1], parts[4]))
        return PlaceKey(int(parts[0]), day, int(parts[2]), int(parts[3]), by)
    except (ValueError, IndexError):
        return None
