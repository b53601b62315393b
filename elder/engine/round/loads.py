"""What a batch stands in, and how heavy each container is: so many to be carried, moved, labelled."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from elder.engine.batch.stands import Stood, standing_in
from elder.engine.batch.state import BatchState
from elder.engine.handbook.model import Method, Plant
from elder.engine.round.potting import ladder, potting_of
from elder.engine.shed.containers import Filling
from elder.engine.shed.kit import USUAL, AsTreated
from elder.engine.shed.mix import usual_recipe
from elder.engine.shed.vessels import Vessel

# A litre of what stands in a container where that is no mix, watered, kg: water by its nature, the others assumed.
WET_KG: Final = {"water": 1.0, "plug": 0.9, "clay": 0.7, "growbed": 1.6, "ground": 1.6}
PLANT_KG_PER_LITRE: Final = 0.05  # a leafy plant for its pot (assumed)


@dataclass(frozen=True)
class Load:
    """So many containers of one kind, each so heavy, kg, that hold so many plants."""

    filled: Filling
    each_kg: float

    @property
    def container(self) -> str:
        """What places count it by."""
        return self.filled.kind

    @property
    def containers(self) -> int:
        """How many."""
        return self.filled.vessels

    @property
    def plants(self) -> int:
        """How many plants they hold."""
        return self.filled.plants


def stands(state: BatchState, plant: Plant, method: Method, treated: AsTreated = USUAL) -> tuple[Stood, ...]:
    """Every container a batch fills today, but for rows in the ground."""
    now = vessel_now(state, plant, method, treated) if state.potted_up else None
    return standing_in(state, plant, method, treated, now=now)


def loads(state: BatchState, plant: Plant, method: Method, treated: AsTreated = USUAL) -> dict[str, Load]:
    """What may have to be lifted, by stage (``stuck``, ``potted``, ``hardening``); nothing for what none stands in."""
    return {
        one.stage: Load(one.filled, weight_kg(one.filled.vessel, wet_kg(plant, method, one.stage, treated)))
        for one in stands(state, plant, method, treated)
    }


def wet_kg(plant: Plant, method: Method, stage: str, treated: AsTreated = USUAL) -> float:
    """A watered litre of what a stage stands in, kg: its mix by recipe, else what it roots in."""
    if stage == "stuck" or method.grows_in not in ("", "pot"):
        found = usual_recipe(plant, method, "root", treated.chosen, treated.kit)
        return found.wet_kg if found else WET_KG[method.medium]
    return potting_of(plant, method, treated.chosen, treated.kit).kg_per_litre


def weight_kg(vessel: Vessel, wet: float) -> float:
    """One container as it stands watered, with its plants: ``wet`` is a litre of what is in it, kg."""
    return vessel.filled_l * (wet + PLANT_KG_PER_LITRE) + vessel.empty_kg


def vessel_now(state: BatchState, plant: Plant, method: Method, treated: AsTreated = USUAL) -> Vessel:
    """The pots a batch stands in: the first, or as far up the ladder as it was potted."""
    first = state.since("potted") or state.since("hardening")
    potting = potting_of(plant, method, treated.chosen, treated.kit)
    if first is None or not state.potted_up:
        return potting.vessel
    rungs = ladder(plant, method, first, treated.chosen, treated.kit)
    return rungs[min(len(state.potted_up), len(rungs) - 1)].vessel
