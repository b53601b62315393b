"""What stands where in a garden before winter: mothers and batches, in pots and in beds, and how heavy a pot is."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final

from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import kept
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.plan.wood import MotherHere
from elder.engine.round.loads import weight_kg, wet_kg
from elder.engine.shed.containers import final_pot
from elder.engine.shed.kit import AsTreated, Kit
from elder.engine.year.winter import Outside
from elder.web.garden.models import Garden, Place
from elder.web.read.gardens import place_of, places_of
from elder.web.read.kit import kit_of
from elder.web.read.mothers import Known
from elder.web.read.records import record_of
from elder.web.read.there import has_any
from elder.web.read.told import Told
from elder.web.year.models import Wintered

HALF_YEAR: Final = timedelta(days=182)
BED: Final = EnginePlace("air")  # what stands in a bed has the open air over it


@dataclass(frozen=True)
class BeforeWinter:
    """Plants of one kind that stand together before winter: how many, in pots or in a bed, at which place (``None``: in
    a bed that is no place), of which mother or batch; one pot's weight, kg."""

    name: str
    plant: Plant
    variety: str
    count: int
    in_pot: bool
    place: Place | None
    kg: float
    stock: int | None = None
    batch: int | None = None
    mother: MotherHere | None = None

    @property
    def key(self) -> str:
        """What a form calls it."""
        where = self.place.pk if self.place else 0
        whose = f"s{self.stock}" if self.stock else f"b{self.batch}"
        return f"{whose}-{'pot' if self.in_pot else 'bed'}-{where}"

    @property
    def outside(self) -> Outside:
        """What it is asked about as."""
        here = place_of(self.place) if self.place and self.place.standing != Place.Standing.GROUND else BED
        return Outside(self.plant, self.in_pot, here, self.mother)


def of_mothers(garden: Garden, mothers: list[Known]) -> Iterator[BeforeWinter]:
    for one in mothers:
        if one.row.ended_on is None:
            yield _mother(one, garden)


def _mother(one: Known, garden: Garden) -> BeforeWinter:
    place = one.row.place
    in_pot = place is not None and place.standing != Place.Standing.GROUND
    return BeforeWinter(
        one.row.name,
        one.plant,
        one.row.variety,
        1,
        in_pot,
        place,
        _mothers_kg(one, garden) if in_pot else 0.0,
        stock=one.row.pk,
    )


def of_batches(garden: Garden, today: date, summer: date) -> Iterator[BeforeWinter]:
    """What stands of batches, in pots and in beds. What was planted before the last winter and bears none is gone."""
    tops = Wintered.objects.filter(garden=garden, tops__isnull=False).values_list("tops_id", flat=True)
    kept = set(tops) if has_any(garden, Wintered) else set()
    for told in record_of(garden, today).told:
        if told.row.pk in kept:
            continue
        potted = told.state.count("potted") + told.state.count("hardening")
        if potted:
            yield _batch(told, garden, potted, in_pot=True)
        planted = told.state.count("planted")
        since = told.state.since("planted")
        gone = told.plant.crops_before_frost and since is not None and since < summer - HALF_YEAR
        if planted and not gone:
            yield _batch(told, garden, planted, in_pot=False)


def _batch(told: Told, garden: Garden, count: int, *, in_pot: bool) -> BeforeWinter:
    row, places = told.row, places_of(garden)
    moved = [move for move in told.state.moves if move.stage == "potted"]
    pk = int(moved[-1].place) if moved else row.growing_place_id
    place = places[pk] if in_pot else places[row.rooting_place_id] if told.method.direct else None
    name = row.stock_plant
    return BeforeWinter(
        f"{row.code}, from {name}",
        told.plant,
        row.variety,
        count,
        in_pot,
        place,
        pot_kg(told.plant, garden, told.method) if in_pot else 0.0,
        batch=row.pk,
    )


def _mothers_kg(one: Known, garden: Garden) -> float:
    """What a mother's pot weighs, watered: of the pot it was last put into, where that was said."""
    last = max(one.pots, key=lambda pot: (pot.on, pot.pk), default=None)
    return pot_kg(one.plant, garden, container=last.container if last else "")


def pot_kg(plant: Plant, garden: Garden, method: Method | None = None, *, container: str = "") -> float:
    """About what one pot of it weighs, watered: the one that is named, else its usual first."""
    way = method or next(iter(plant.methods), None)
    if way is None:
        return 0.0
    return _pot_kg(plant, way, kit_of(garden), container)


@kept
def _pot_kg(plant: Plant, way: Method, kit: Kit, container: str) -> float:
    vessel = kit.used(container) if container else final_pot(plant, way, {}, kit)
    return weight_kg(vessel, wet_kg(plant, way, "potted", AsTreated({}, kit)))
