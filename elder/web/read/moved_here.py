"""What came to a garden by a move: what stands in its pot yet, and what is watered for three months."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from elder.engine.climate.climate import Climate
from elder.engine.year.moving import MoveWay, deep_waterings
from elder.web.garden.models import Garden
from elder.web.moving.models import MovedPlant
from elder.web.read.gardens import climate_of


@dataclass(frozen=True, eq=False)
class Watered:
    """Something planted at the new place: the day it is next watered deeply, how many waterings were done and are to
    come; ``None`` once its three months are over."""

    row: MovedPlant
    next_day: date | None
    done: int
    all: int


def watered_today(garden: Garden, today: date) -> list[Watered]:
    """What was planted at this garden by a move, with its next watering, soonest first."""
    if garden.came_from_id is None:
        return []
    rows = MovedPlant.objects.filter(move__to=garden, planted_on__isnull=False, stock__ended_on=None)
    climate = climate_of(garden)
    found = [_watered(row, climate) for row in rows.select_related("stock", "planted_at").prefetch_related("waterings")]
    return sorted(found, key=lambda one: (one.next_day or date.max, one.row.pk))


def _watered(row: MovedPlant, climate: Climate) -> Watered:
    days = deep_waterings(row.planted_on or date.max, climate)
    done = sorted(one.on for one in row.waterings.all())
    # A watering counts for the weeks up to it: what was missed is not made up twice.
    after = done[-1] + timedelta(days=3) if done else date.min
    left = [day for day in days if day > after]
    return Watered(row, left[0] if left else None, len(done), len(days))


def due_waterings(found: Iterable[Watered], today: date) -> list[Watered]:
    """Those that are due."""
    return [one for one in found if one.next_day is not None and one.next_day <= today]


def in_pots_yet(garden: Garden) -> list[MovedPlant]:
    """What came to a garden by a move and stands in a pot or a box yet: looked at daily, and watered if it asks."""
    if garden.came_from_id is None:
        return []
    rows = MovedPlant.objects.filter(move__to=garden, arrived=True, planted_on=None, stock__isnull=False)
    return list(rows.filter(way=MoveWay.DIG.value, stock__ended_on=None).select_related("stock"))
