"""What cuttings stand in: containers with shape and size, how many stems of a form each takes, how many a batch fills.

One figure, ``stands_in``, is asked by the sheet, the round, the labels, the weights, the room and the shopping.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

from elder.engine.handbook.bench import bench_facts, first_that_fits
from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.routes import SOLUTION, WITH_ROOTS
from elder.engine.shed.kit import PLAIN, USUAL, AsTreated, Kit
from elder.engine.shed.vessels import Vessel, containers_book

CHOSEN: Final = "container"  # among a batch's treatment: the key of what it was stuck in
POT: Final = "pot"  # and of what it is potted into
TO_A_POT: Final = "to a pot"  # and how many to one of those
STEM: Final = "stem"  # the class of any stem that is of no other


@dataclass(frozen=True)
class Filling:
    """So many plants in so many containers of one kind, ``each`` of them holding so many at the most."""

    vessel: Vessel
    each: int
    plants: int
    vessels: int

    @property
    def kind(self) -> str:
        """What places count it by."""
        return self.vessel.kind


@lru_cache(maxsize=1024)
def stem_class(plant: Plant, method: Method) -> str:
    """The class of stem that what is stuck belongs to: alone, stick, water stem, or any other."""
    row = first_that_fits(containers_book()["classes"], bench_facts(plant, method))
    return str(row["class"]) if row else STEM


def usual_key(plant: Plant, method: Method) -> str:
    """The container Elder takes for a way."""
    row = first_that_fits(containers_book()["usual"], bench_facts(plant, method))
    return str(row["container"]) if row and row["kind"] == method.container else method.container


def vessel_for(plant: Plant, method: Method, chosen: Mapping[str, str] | None = None, kit: Kit = PLAIN) -> Vessel:
    """What a way is stuck in: the container chosen for the batch, else that of its school, else the usual one."""
    chosen = chosen or {}
    if found := kit.vessel(chosen.get(CHOSEN, "")):
        return found
    school = containers_book()["vessels"].get(chosen.get("vessel", ""), {})
    return kit.used(school.get("container", usual_key(plant, method)))


def fitting(method: Method, kit: Kit = PLAIN) -> tuple[Vessel, ...]:
    """The containers a way may be stuck in: of its own kind, or a tray or bin where it stands in mix."""
    kinds = {method.container} if method.container != "pot" else {"pot", "tray", "bin"}
    return tuple(one for one in kit.every() if one.kind in kinds)


def stuck_in(
    plant: Plant, method: Method, count: int, chosen: Mapping[str, str] | None = None, kit: Kit = PLAIN
) -> Filling:
    """What ``count`` cuttings fill as they are stuck. In the ground all stand in one row."""
    vessel = vessel_for(plant, method, chosen, kit)
    if vessel.spacing_cm:
        return Filling(vessel, max(count, 1), count, 1 if count else 0)
    school = containers_book()["vessels"].get((chosen or {}).get("vessel", ""), {})
    own = vessel.stems(stem_class(plant, method))
    each = own if vessel.cells else school.get("each", own)
    return Filling(vessel, each, count, math.ceil(count / each))


def final_pot(plant: Plant, method: Method, chosen: Mapping[str, str] | None = None, kit: Kit = PLAIN) -> Vessel:
    """The first pot of its own: as it was chosen when it was potted, else the usual one of its group."""
    if method.route is SOLUTION:
        return kit.used(method.grows_in)
    return kit.vessel((chosen or {}).get(POT, "")) or kit.used(containers_book()["first_pot"][plant.group])


def to_a_pot(plant: Plant, chosen: Mapping[str, str] | None = None, *, for_good: bool = False) -> int:
    """How many go to one pot: as was chosen, else one; three or four herbs where they are to stay in it."""
    said = (chosen or {}).get(TO_A_POT, "")
    if said.isdecimal() and int(said):
        return int(said)
    return int(containers_book()["together_for_good"].get(plant.group, 1)) if for_good else 1


def potted_in(
    plant: Plant,
    method: Method,
    count: int,
    treated: AsTreated = USUAL,
) -> Filling:
    """What ``count`` plants stand in once they have been potted. What has stood in a pot of its own from the first
    stays in it; on solution each has its net pot, or stays in its bed."""
    chosen, kit = treated.chosen, treated.kit
    if method.route is WITH_ROOTS and POT not in chosen:
        return stuck_in(plant, method, count, chosen, kit)
    if method.route is SOLUTION:
        vessel = kit.used(method.grows_in)
        return Filling(vessel, max(count, 1), count, 1) if vessel.spacing_cm else Filling(vessel, 1, count, count)
    each = to_a_pot(plant, chosen, for_good=treated.for_good)
    return Filling(final_pot(plant, method, chosen, kit), each, count, math.ceil(count / each))


@dataclass(frozen=True)
class Counts:
    """How many of a batch stand where: taken in all, not moved on yet (waiting or rooted), moved on from what they were
    stuck in, and standing in pots."""

    taken: int
    unmoved: int
    moved: int
    potted: int = 0


def stands_in(
    plant: Plant,
    method: Method,
    counts: Counts,
    treated: AsTreated = USUAL,
) -> tuple[Filling | None, Filling | None]:
    """What a batch fills today: as it was stuck, and as it was potted; nothing where none stands so. What was lost
    leaves its container standing while another lives in it; what was moved on empties them."""
    stuck = potted = None
    if counts.unmoved:
        filled = stuck_in(plant, method, counts.taken, treated.chosen, treated.kit)
        left = math.ceil((counts.taken - counts.moved) / filled.each)
        stuck = Filling(filled.vessel, filled.each, counts.unmoved, min(left, counts.unmoved))
    if counts.potted:
        potted = potted_in(plant, method, counts.potted, treated)
    return stuck, potted
