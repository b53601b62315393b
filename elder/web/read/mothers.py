"""Every mother of a garden with what it can give today, in the same few queries whatever their number."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import cast

from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.keeping import kept
from elder.engine.mother.gives_today import Giving, Growth, Health, Mother, MotherSeen, giving, wood_opens
from elder.engine.plan.wood import MotherHere
from elder.web.batches.models import Entry
from elder.web.garden.models import Garden
from elder.web.read.gardens import climate_of, place_of, places_of
from elder.web.stock.models import StockLook, StockPlant

_wood_opens = kept(wood_opens)


@dataclass(frozen=True, eq=False)
class Known:
    """A mother, how it was last seen, what it gives; ``opens`` is when wood of its is next in season."""

    row: StockPlant
    plant: Plant
    looks: list[StockLook]
    seen: MotherSeen
    giving: Giving
    opens: date | None
    taken: list[tuple[date, int]]
    today: date

    @property
    def rests(self) -> bool:
        """Whether nothing of it is in season today."""
        return self.opens is None or self.opens > self.today

    @property
    def now(self) -> int:
        """What it gives today: nothing while it rests, unless it is pups."""
        return 0 if self.rests and self.seen.pups is None else self.giving.now


def known(garden: Garden, today: date, *, only: int | None = None) -> list[Known]:
    """The mothers, those that give most first, the ended last; made once a request."""
    if only is not None:
        return _known(garden, today, only)
    kept = vars(garden).setdefault("_mothers_by_day", {})
    if today not in kept:
        kept[today] = _known(garden, today, None)
    return cast("list[Known]", kept[today])


def _known(garden: Garden, today: date, only: int | None) -> list[Known]:
    rows = (
        StockPlant.objects.filter(garden=garden)
        .select_related("raised_from")
        .defer("raised_from__plan")
        .prefetch_related("looks", "pots")
    )
    if only is not None:
        rows = rows.filter(pk=only)
    takes, climate = takes_by_mother(garden), climate_of(garden)
    found, places = [], places_of(garden)
    for row in rows:
        row.place = places[row.place_id] if row.place_id else None
        plant, looks = handbook()[row.plant], list(row.looks.all())
        seen, taken = seen_of(looks), takes.get(row.pk, [])
        gives = giving(Mother(row.gives, row.again_days, plant.pups, row.ended_on), seen, taken, today)
        opens = _wood_opens(plant, climate, today, mother_here(row, looks))
        found.append(Known(row, plant, looks, seen, gives, opens, sorted(taken), today))
    return sorted(found, key=lambda one: (bool(one.row.ended_on), -one.now, one.row.name))


def mother_here(row: StockPlant, looks: Iterable[StockLook] | None = None) -> MotherHere:
    """Where a mother stands, and how she was last seen."""
    place = place_of(row.place) if row.place else None
    last = next(iter(sorted(row.looks.all() if looks is None else looks, key=lambda one: (one.on, one.pk))[-1:]), None)
    if last is None:
        return MotherHere(place)
    return MotherHere(place, last.on, last.growth, last.wood, last.shoots)


def seen_of(looks: Iterable[StockLook]) -> MotherSeen:
    """A mother as last seen: its latest growth and health, and the latest count of each thing counted."""
    seen = MotherSeen()
    for look in looks:
        counted = {
            name: getattr(look, name) if getattr(look, name) is not None else getattr(seen, name)
            for name in ("shoots", "pups", "stalks")
        }
        counts = any(getattr(look, name) is not None for name in ("shoots", "pups"))
        growth, health = cast("Growth", look.growth), cast("Health", look.health)
        seen = MotherSeen(look.on if counts or seen.on is None else seen.on, growth, health, **counted)
    return seen


def costs_the_mother(plant: str, method: str) -> bool:
    """Whether what is cut is taken from what a mother gives: a crown top comes with its fruit, however many pups or
    shoots she has."""
    return handbook()[plant].method(method).form != "crown top"


def takes_by_mother(garden: Garden) -> dict[int, list[tuple[date, int]]]:
    """What was cut from each mother and when, of what she gives."""
    found: dict[int, list[tuple[date, int]]] = defaultdict(list)
    taken = Entry.objects.filter(
        batch__garden=garden, kind=Entry.Kind.TAKEN, struck_by=None, batch__mother__isnull=False
    )
    for mother, plant, method, on, count in taken.values_list(
        "batch__mother", "batch__plant", "batch__method", "on", "count"
    ):
        if costs_the_mother(plant, method):
            found[mother].append((on, count))
    return found
