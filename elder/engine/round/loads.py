"""What stands in the cold and must be carried: so many pots, so heavy each."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from elder.engine.batch.state import BatchState
from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.routes import SOLUTION
from elder.engine.round.lifting import wet_weight_kg
from elder.engine.round.potting import Potting, ladder, potting_of

# By container: how many cuttings share one, and what one weighs watered, kg. Three or four herbs to a pot, a few
# stems to a jar (common practice); the weights are reckoned from half a litre of water and a litre of mix.
SHARED: Final = {
    "jar": (5, 0.9), "pot": (4, 1.3), "tray": (24, 3.0), "net pot": (1, 0.4), "grow bed": (30, 25.0), "row": (1, 0.0),
    "bin": (30, 28.0),
}  # fmt: skip


@dataclass(frozen=True)
class Load:
    """So many containers of one kind, each so heavy, kg, that hold so many plants."""

    container: str
    containers: int
    each_kg: float
    plants: int


def unrooted_load(state: BatchState, method: Method) -> Load | None:
    """Those that wait or have rooted and are not potted; nothing where none do, or where they stand in the ground."""
    plants = state.count("waiting") + state.count("rooted")
    return _shared_load(method.container, plants) if plants and method.container != "row" else None


def _shared_load(container: str, plants: int) -> Load:
    share, each = SHARED[container]
    return Load(container, math.ceil(plants / share), each, plants)


def potted_load(state: BatchState, stage: str, plant: Plant, method: Method) -> Load | None:
    """Those potted or hardening, each in a pot of its own; on other routes in what they rooted in, or grow on in."""
    plants = state.count(stage)
    if not plants:
        return None
    if method.container != "row" and (method.route is SOLUTION or (method.route.stays and stage == "hardening")):
        return _shared_load(method.grows_in or method.container, plants)
    potting = potting_of(plant, method)
    return Load("pot", plants, wet_weight_kg(litres_now(state, plant, potting), potting.kg_per_litre), plants)


def litres_now(state: BatchState, plant: Plant, potting: Potting) -> float:
    """The size of the pots a batch stands in: the first, or as far up the ladder as it was potted."""
    first = state.since("potted") or state.since("hardening")
    if first is None or not state.potted_up:
        return potting.litres
    rungs = ladder(plant, first)
    return rungs[min(len(state.potted_up), len(rungs) - 1)].litres
