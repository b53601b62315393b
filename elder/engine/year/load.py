"""The load: what stands where on the floor of a trailer or a car, to scale, in how many journeys.

Everything stands on the floor, once. What is too tall for the height is laid. Heavy things come first, so that they
stand in front; no journey carries more than it may. Rectangles are fitted by rectpack, which lays none round a gap: now
and then one more would have gone. Lengths cm, weights kg.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Final

import rectpack

from elder.engine.year.moving import people_for

GRAIN: Final = 10  # rectpack works in whole numbers: millimetres
FEW: Final = 8  # things of which every sharing out over journeys is tried
SLACK_KG: Final = 1e-9
PACKINGS: Final = (
    rectpack.MaxRectsBssf, rectpack.MaxRectsBl, rectpack.MaxRectsBaf, rectpack.SkylineMwfl, rectpack.GuillotineBssfSas,
)  # fmt: skip


@dataclass(frozen=True)
class Thing:
    """One box, pot or ball: its floor, its height with the plant, its weight; what is left of that once it is emptied
    (``None``: it cannot be); whether it may be laid."""

    key: Hashable
    name: str
    long_cm: float
    wide_cm: float
    high_cm: float
    kg: float
    emptied_kg: float | None = None
    may_lie: bool = True

    def __post_init__(self) -> None:
        if not (self.long_cm > 0 and self.wide_cm > 0 and self.high_cm > 0 and self.kg >= 0):
            raise ValueError("a thing has three sides and a weight")


@dataclass(frozen=True)
class Vehicle:
    """What carries it: the floor, the height that may be stood under (``None``: open), and how much it may carry.
    Raises ValueError for what carries nothing."""

    long_cm: float
    wide_cm: float
    high_cm: float | None
    carries_kg: float

    def __post_init__(self) -> None:
        if not (self.long_cm > 0 and self.wide_cm > 0 and self.carries_kg > 0) or (self.high_cm or 1) <= 0:
            raise ValueError("a vehicle has a floor and carries something")


@dataclass(frozen=True)
class Stowed:
    """A thing on the floor: its near left corner and the floor it takes; whether it lies, and whether it was
    emptied."""

    thing: Thing
    x_cm: float
    y_cm: float
    long_cm: float
    wide_cm: float
    lies: bool = False
    emptied: bool = False

    @property
    def kg(self) -> float:
        """As it is lifted."""
        return self.thing.emptied_kg if self.emptied and self.thing.emptied_kg is not None else self.thing.kg


@dataclass(frozen=True)
class Journey:
    """One journey."""

    stowed: tuple[Stowed, ...]

    @property
    def kg(self) -> float:
        """All it carries."""
        return sum(one.kg for one in self.stowed)


@dataclass(frozen=True)
class LoadPlan:
    """The journeys, and what goes in none: too big for the floor, or too heavy for any."""

    journeys: tuple[Journey, ...]
    left: tuple[Thing, ...]

    @property
    def emptied(self) -> tuple[Stowed, ...]:
        """What is emptied for it."""
        return tuple(one for journey in self.journeys for one in journey.stowed if one.emptied)


@dataclass(frozen=True)
class _Fitted:
    """A thing as it is stowed."""

    thing: Thing
    long_cm: float
    wide_cm: float
    kg: float
    lies: bool
    emptied: bool


def load_plan(things: Iterable[Thing], vehicle: Vehicle, *, limit_kg: float | None = None) -> LoadPlan:
    """The fewest journeys found. ``limit_kg``: what one person lifts; what is too heavy for two is emptied. Then, where
    the weight asks for a journey more than the floor does, the heaviest that can be are emptied too."""
    ready, left = [], []
    for thing in things:
        found = _ready(thing, vehicle, limit_kg)
        (left.append(thing) if found is None else ready.append(found))
    trips = _shared_out(ready, vehicle)
    for emptied in _lighter(ready):
        if len(trips) == 1 or sum(one.kg for one in ready) <= (len(trips) - 1) * vehicle.carries_kg:
            break
        fewer = _shared_out(emptied, vehicle)
        if len(fewer) < len(trips):
            trips, ready = fewer, emptied
            break
    return LoadPlan(tuple(Journey(_placed(trip, vehicle) or ()) for trip in trips), tuple(left))


def _ready(thing: Thing, vehicle: Vehicle, limit_kg: float | None) -> _Fitted | None:
    """A thing as it goes, stood or laid, full or emptied; ``None`` for what does not go at all."""
    heavy = people_for(thing.kg, limit_kg) == 0 or thing.kg > vehicle.carries_kg
    emptied = heavy and thing.emptied_kg is not None
    kg = thing.emptied_kg if emptied and thing.emptied_kg is not None else thing.kg
    long, wide, lies = thing.long_cm, thing.wide_cm, False
    if vehicle.high_cm is not None and thing.high_cm > vehicle.high_cm:
        if not thing.may_lie or min(thing.long_cm, thing.wide_cm) > vehicle.high_cm:
            return None
        narrow, broad = sorted((thing.long_cm, thing.wide_cm))
        long, wide, lies = thing.high_cm, narrow if broad <= vehicle.high_cm else broad, True
    found = _Fitted(thing, long, wide, kg, lies, emptied)
    return found if kg <= vehicle.carries_kg + SLACK_KG and _placed([found], vehicle) is not None else None


def _lighter(ready: Sequence[_Fitted]) -> Iterable[list[_Fitted]]:
    """The same with the heaviest emptied, one more at a time."""
    at = list(ready)
    order = sorted(range(len(at)), key=lambda i: -at[i].kg)
    for i in order:
        emptied_kg = at[i].thing.emptied_kg
        if not at[i].emptied and emptied_kg is not None:
            at[i] = replace(at[i], kg=emptied_kg, emptied=True)
            yield list(at)


def _shared_out(ready: Sequence[_Fitted], vehicle: Vehicle) -> list[list[_Fitted]]:
    """What goes in which journey: of a few things the fewest journeys there are, of many the fewest of three ways to
    fill one after another."""
    if not ready:
        return []
    orders = [
        sorted(ready, key=lambda one: (-one.kg, -one.long_cm * one.wide_cm)),
        sorted(ready, key=lambda one: (-one.long_cm * one.wide_cm, -one.kg)),
        sorted(ready, key=lambda one: (-max(one.long_cm, one.wide_cm), -one.kg)),
    ]
    best = min((_filled(order, vehicle) for order in orders), key=len)
    if len(ready) <= FEW and len(best) > least_journeys(ready, vehicle):
        best = _exactly(ready, vehicle, len(best))
    return best


def least_journeys(ready: Sequence[_Fitted], vehicle: Vehicle) -> int:
    """No fewer journeys than this can do it, by weight and by floor."""
    floor = vehicle.long_cm * vehicle.wide_cm
    area = sum(one.long_cm * one.wide_cm for one in ready)
    kg = sum(one.kg for one in ready)
    return max(math.ceil(area / floor - 1e-9), math.ceil(kg / vehicle.carries_kg - 1e-9), 1)


def _filled(order: Sequence[_Fitted], vehicle: Vehicle) -> list[list[_Fitted]]:
    """Each into the first journey that takes it."""
    trips: list[list[_Fitted]] = []
    for one in order:
        for trip in trips:
            if _goes([*trip, one], vehicle):
                trip.append(one)
                break
        else:
            trips.append([one])
    return trips


def _exactly(ready: Sequence[_Fitted], vehicle: Vehicle, most: int) -> list[list[_Fitted]]:
    """The fewest journeys, by trying every sharing out; fewer than ``most`` where there are such."""
    for count in range(least_journeys(ready, vehicle), most + 1):
        for choice in itertools.product(range(count), repeat=len(ready) - 1):
            trips: list[list[_Fitted]] = [[] for _ in range(count)]
            for one, to in zip(ready, (0, *choice), strict=True):
                trips[to].append(one)
            if all(trips) and all(_goes(trip, vehicle) for trip in trips):
                return trips
    return _filled(ready, vehicle)


def _goes(trip: Sequence[_Fitted], vehicle: Vehicle) -> bool:
    """Whether all of them go in one journey."""
    if sum(one.kg for one in trip) > vehicle.carries_kg + SLACK_KG:
        return False
    if sum(one.long_cm * one.wide_cm for one in trip) > vehicle.long_cm * vehicle.wide_cm + 1e-6:
        return False
    return _placed(trip, vehicle) is not None


def _placed(trip: Sequence[_Fitted], vehicle: Vehicle) -> tuple[Stowed, ...] | None:
    """Where each stands, the heavy ones towards the front; ``None`` where they do not all go."""
    for algorithm in PACKINGS:
        packer = rectpack.newPacker(
            mode=rectpack.PackingMode.Offline, pack_algo=algorithm, sort_algo=rectpack.SORT_SSIDE, rotation=True
        )
        packer.add_bin(int(vehicle.long_cm * GRAIN + 0.5), int(vehicle.wide_cm * GRAIN + 0.5))
        for i, one in enumerate(trip):
            packer.add_rect(round(one.long_cm * GRAIN), round(one.wide_cm * GRAIN), rid=i)
        packer.pack()
        found = packer.rect_list()
        if len(found) == len(trip):
            return _fronted(trip, found, vehicle)
    return None


def _fronted(
    trip: Sequence[_Fitted], found: Sequence[tuple[int, int, int, int, int, int]], vehicle: Vehicle
) -> tuple[Stowed, ...]:
    """As it was packed, turned end for end where that brings the weight forward."""
    stowed = [
        Stowed(trip[i].thing, x / GRAIN, y / GRAIN, long / GRAIN, wide / GRAIN, trip[i].lies, trip[i].emptied)
        for _, x, y, long, wide, i in found
    ]
    kg = sum(one.kg for one in stowed) or 1.0
    middle = sum(one.kg * (one.x_cm + one.long_cm / 2) for one in stowed) / kg
    if middle > vehicle.long_cm / 2:
        stowed = [replace(one, x_cm=vehicle.long_cm - one.x_cm - one.long_cm) for one in stowed]
    return tuple(sorted(stowed, key=lambda one: (one.x_cm, one.y_cm)))
