"""Mother plants shared by several wants: what one can give, and what is asked of it.

A mother that has just been cut gives nothing; it comes back evenly, and after ``again_days`` gives as many
as before, no more (assumed; that a sprouting tuber goes on giving a few at a time is common practice).
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any

from elder.engine.climate.day_of_year import add_days


@dataclass(frozen=True)
class CuttingsAsked:
    """So many cuttings asked of a mother on a day. ``done``: they were taken, so the mother gave them."""

    who: Any
    day: date
    count: int
    done: bool = False


@dataclass(frozen=True)
class Shortage:
    """On ``day`` more is asked than the mother has: ``asked`` of it, ``has`` there. ``begin_by`` is the day
    to begin cutting, a few at a time, so that all are in hand by then; ``all_by`` the day by which all are in
    hand if cutting begins on ``day``."""

    who: Any
    day: date
    asked: int
    has: int
    begin_by: date
    all_by: date


def shortages(asks: Iterable[CuttingsAsked], *, gives: int, again_days: int) -> list[Shortage]:
    """Where a mother is asked for more than it has, in the order of the days.

    Raises ValueError for a mother that gives nothing or never again.
    """
    if gives < 1 or again_days < 1:
        raise ValueError("a mother gives at least one cutting, and again some day")
    rate = gives / again_days
    found: list[Shortage] = []
    level, last = float(gives), None
    for ask in sorted(asks, key=lambda one: (one.day, not one.done)):
        if last is not None:
            level = min(level + rate * (ask.day - last).days, float(gives))
        last = ask.day
        has = math.floor(level + 1e-9)
        if ask.count > has and not ask.done:
            wait = math.ceil((ask.count - has) / rate - 1e-9)
            # Begun so much sooner, the mother would have given the rest by the day, if nothing else is asked of it.
            found.append(Shortage(ask.who, ask.day, ask.count, has, add_days(ask.day, -wait), add_days(ask.day, wait)))
        level = max(level - ask.count, 0.0)
    return found
