"""The hardening ladder: from indoors to out by degrees, a rung a day."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

SEEDLING_DAYS: Final = (10, 14)  # what seedlings are given (common practice)
FIRST_HOURS, LAST_HOURS = 1.0, 24.0
NIGHT_FROM: Final = 0.7  # the share of the ladder after which they stay out at night (common practice)
SUN_FROM: Final = 0.45  # and after which they have sun (common practice)


@dataclass(frozen=True)
class HardeningDay:
    """One day of the ladder: which, how many hours outside, in sun or shade, and whether out at night."""

    day: int
    hours: int
    sun: bool
    night: bool


def hardening_ladder(days: int) -> tuple[HardeningDay, ...]:
    """A ladder of so many days, rising from an hour in shade to day and night outside. Clones bear fewer days
    than seedlings, whose leaves never knew the open air (common practice). Empty for no days."""
    rungs = []
    for i in range(days):
        share = i / max(days - 1, 1)
        night = share >= NIGHT_FROM
        hours = 24 if night else round(FIRST_HOURS + (9 - FIRST_HOURS) * share / NIGHT_FROM)
        rungs.append(HardeningDay(i + 1, hours, share >= SUN_FROM, night))
    return tuple(rungs)
