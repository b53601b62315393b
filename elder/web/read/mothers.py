"""Every mother of a garden with what it can give today, in the same few queries whatever their number."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.mother.gives_today import Giving, Mother, MotherSeen, giving, wood_opens
from elder.web.garden.models import Garden
from elder.web.read.families import seen_of, takes_by_mother
from elder.web.read.gardens import climate_of
from elder.web.stock.models import StockLook, StockPlant


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
    """The mothers, those that give most first, the ended last."""
    rows = StockPlant.objects.filter(garden=garden).select_related("place", "raised_from").prefetch_related("looks")
    if only is not None:
        rows = rows.filter(pk=only)
    takes, climate = takes_by_mother(garden), climate_of(garden)
    found = []
    for row in rows:
        plant, looks = handbook()[row.plant], list(row.looks.all())
        seen, taken = seen_of(looks), takes.get(row.pk, [])
        gives = giving(Mother(gives=row.gives, again_days=row.again_days, pups=plant.pups, ended_on=row.ended_on), seen, taken, today)  # fmt: skip
        found.append(Known(row, plant, looks, seen, gives, wood_opens(plant, climate, today), sorted(taken), today))
    return sorted(found, key=lambda one: (bool(one.row.ended_on), -one.now, one.row.name))
