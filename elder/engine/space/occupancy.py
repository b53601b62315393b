"""Room: what stands where and when, where it overflows, and what each want could do instead.

Cuttings fill the containers of their way (jars, trays, pots …) at the rooting place from the cut until 9 in
10 are rooted, then what they grow on in (pots, mostly) at the growing place from when half are rooted until they go
out. What else a want
could do, on other days and in other places, is weighed here and chosen among in ``fit``.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any

import numpy as np

from elder.engine.arrays import Ints
from elder.engine.climate.day_of_year import add_days
from elder.engine.handbook.model import Method, Plant
from elder.engine.shed.containers import Filling, potted_in, stuck_in
from elder.engine.shed.kit import USUAL, AsTreated

Key = Any  # whatever the caller tells its wants and places apart by
Spot = tuple[Key, str]  # a place and a kind of container
Capacity = Mapping[Spot, int]  # how many cuttings each spot holds; one that is left out holds any number


@dataclass(frozen=True)
class Stay:
    """So many in one kind of container at a place, from a day to a day, ends included; and the containers themselves,
    where they are known."""

    place: Key
    container: str
    first: date
    last: date
    count: int
    filled: Filling | None = field(default=None, compare=False)

    @classmethod
    def of(cls, place: Key, filled: Filling, first: date, last: date) -> Stay:
        """A stay of what stands in those containers."""
        return cls(place, filled.kind, first, last, filled.plants, filled)


def stays_of(
    plant: Plant,
    method: Method,
    places: tuple[Key, Key],
    count: int,
    *,
    cut: date,
    rooted: tuple[date | None, date | None],
    out: date,
    treated: AsTreated = USUAL,
) -> tuple[Stay, ...]:
    """Where a batch stands from its cut until it goes ``out``; ``rooted``: when half have, and when most
    have. What goes out from where it rooted, or is struck where it is to stand, stays there."""
    half_rooted, most_rooted = rooted
    stuck = stuck_in(plant, method, count, kit=treated.kit)
    if method.route.stays:
        return (Stay.of(places[0], stuck, cut, out),)
    rooting_ends = min(most_rooted or out, out)
    rooting = Stay.of(places[0], stuck, cut, max(rooting_ends, cut))
    if half_rooted is None or half_rooted > out:
        return (rooting,)
    expected = math.ceil(count * method.take.mean)
    potted = potted_in(plant, method, expected, treated)
    return rooting, Stay.of(places[1], potted, half_rooted, out)


@dataclass(frozen=True)
class Overflow:
    """A spell in which a place is asked to hold more of a kind of container than it can."""

    place: Key
    container: str
    first: date
    last: date
    most: int
    holds: int
    who: tuple[Key, ...]


def overflows(stays: Mapping[Key, Iterable[Stay]], capacity: Capacity, *, start: date, days: int) -> list[Overflow]:
    """Every spell of too little room from ``start`` on. ``stays`` by who they belong to; a spot without a
    capacity holds any number."""
    held: dict[Spot, Ints] = {}
    whose: dict[Spot, list[tuple[Key, int, int]]] = {}
    for who, several in stays.items():
        for stay in several:
            spot = (stay.place, stay.container)
            begin, end = max((stay.first - start).days, 0), min((stay.last - start).days + 1, days)
            if spot in capacity and begin < end:
                held.setdefault(spot, np.zeros(days, dtype=np.int64))[begin:end] += stay.count
                whose.setdefault(spot, []).append((who, begin, end))
    found = []
    for spot, counts in held.items():
        over = np.concatenate(([0], (counts > capacity[spot]).astype(int), [0]))
        edges = np.flatnonzero(np.diff(over))
        for begin, end in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
            who = tuple(dict.fromkeys(w for w, a, b in whose[spot] if a < end and b > begin))
            first, last = add_days(start, begin), add_days(start, end - 1)
            found.append(Overflow(*spot, first, last, int(counts[begin:end].max()), capacity[spot], who))
    return sorted(found, key=lambda one: (one.first, str(one.place)))
