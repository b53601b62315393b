"""What winters, as it stands today: how many live, when it is looked through next, when it is counted for spring."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final

from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.place.weather import DayAhead
from elder.engine.year.winter import APART_WEEKS, CHECK_DAYS, MILD_C
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking
from elder.web.read.records import record_of
from elder.web.read.there import has_any
from elder.web.year.models import Wintered

CARE_BYTES: Final = 4_000  # of what winters, with its row and its looks (measured, rounded)


@dataclass(frozen=True, eq=False)
class CareToday:
    """What winters, as it stands today: how many live by the last look, when it is looked at next, whether it still
    stands apart, whether today is the day to count for spring."""

    row: Wintered
    plant: Plant
    alive: int
    last: date
    apart_until: date | None
    next_check: date
    counts: bool


def cares_today(garden: Garden, today: date) -> list[CareToday]:
    """Everything that winters, by place; made once as the garden stands."""
    return once_looking(garden, ("cares", today), lambda: _cares_today(garden, today), each=CARE_BYTES)


def _cares_today(garden: Garden, today: date) -> list[CareToday]:
    if not has_any(garden, Wintered):
        return []
    rows = Wintered.objects.filter(garden=garden, done_on=None).select_related("place", "stood_at", "tops", "stock")
    states = {told.row.pk: told.state for told in record_of(garden, today).told}
    found = []
    for row in rows.prefetch_related("checks"):
        found.append(_care(row, today, states[row.tops_id].living if row.tops_id in states else None))
    return sorted(found, key=lambda one: (one.row.place.walk if one.row.place else 999, one.next_check))


def _care(row: Wintered, today: date, tops_living: int | None) -> CareToday:
    checks = list(row.checks.all())
    last = max([row.on, *(check.on for check in checks)])
    lost = sum(check.lost for check in checks)
    alive = tops_living if tops_living is not None else row.lived if row.lived is not None else row.count - lost
    moved_in = row.way in (Wintered.DoneBy.POT_IN, Wintered.DoneBy.DUG)
    apart = row.on + timedelta(weeks=APART_WEEKS) if moved_in else None
    step = 7 if apart and last < apart else CHECK_DAYS
    return CareToday(
        row=row,
        plant=handbook()[row.plant],
        alive=alive,
        last=last,
        apart_until=apart if apart and apart >= today else None,
        next_check=last + timedelta(days=step),
        counts=row.lived is None and row.out_on is not None and today >= row.out_on,
    )


def mild_today(cares: Iterable[CareToday], ahead: Sequence[DayAhead]) -> list[CareToday]:
    """Which of those that are carried out on mild days may go out today: the nights about it stay well above what they
    bear."""
    if not ahead:
        return []
    low = min(day.low_c for day in ahead[:2])
    return [one for one in cares if one.row.airs and one.row.lived is None and low > one.plant.frost_limit_c + MILD_C]


def by_place(cares: Iterable[CareToday]) -> dict[str, list[CareToday]]:
    """What winters at each place, by its name."""
    found: dict[str, list[CareToday]] = defaultdict(list)
    for one in cares:
        found[one.row.place.name if one.row.place else "In the beds"].append(one)
    return dict(found)
