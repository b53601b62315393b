"""What an address or a bare field asks with, read without trusting it: numbers, days, keys."""

from __future__ import annotations

from datetime import date
from uuid import UUID

from django.utils.dateparse import parse_date

MOST_DIGITS = 9  # more than any row or count has; a number of thousands of digits is nobody's


def whole(said: object) -> int:
    """A whole number of nought or more; nought for anything else."""
    text = str(said or "")
    return int(text) if text.isascii() and text.isdecimal() and len(text) <= MOST_DIGITS else 0


def parse_day(text: str | None) -> date | None:
    """An ISO day, or nothing; never an error, since it only chooses what is shown."""
    try:
        return parse_date(text or "")
    except ValueError:
        return None


def sent_key(text: str | None) -> UUID | None:
    """The key that tells one press from two; ``None`` for anything that is no key."""
    try:
        return UUID(text or "")
    except ValueError:
        return None
