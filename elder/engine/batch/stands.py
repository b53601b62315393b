"""What a batch stands in today, container by container: the one figure for sheet, round, labels, weights and room."""

from __future__ import annotations

from dataclasses import dataclass, replace

from elder.engine.batch.state import BatchState
from elder.engine.handbook.model import Method, Plant
from elder.engine.shed.containers import Counts, Filling, potted_in, stands_in
from elder.engine.shed.kit import USUAL, AsTreated
from elder.engine.shed.vessels import Vessel


@dataclass(frozen=True)
class Stood:
    """So many of a batch at a stage, in their containers. Stages: ``stuck``, as they were cut; ``potted``;
    ``hardening``."""

    stage: str
    filled: Filling


def stuck_counts(state: BatchState, method: Method) -> Counts:
    """How many still stand as they were stuck: waiting, rooted, and what is hardened where it rooted."""
    unmoved = state.count("waiting") + state.count("rooted")
    hardened = state.count("hardening") if method.route.stays else 0
    return Counts(state.taken, unmoved + hardened, max(state.moved_on - hardened, 0))


def standing_in(
    state: BatchState,
    plant: Plant,
    method: Method,
    treated: AsTreated = USUAL,
    *,
    now: Vessel | None = None,
) -> tuple[Stood, ...]:
    """Every container a batch fills, but for rows in the ground and what is planted out. ``now``: the bigger pot
    those potted were moved into since."""
    found = []
    if method.container != "row":
        stuck, _ = stands_in(plant, method, stuck_counts(state, method), treated)
        if stuck:
            found.append(Stood("stuck", stuck))
    for stage in ("potted", "hardening"):
        count = state.count(stage)
        if not count or (stage == "hardening" and method.route.stays):
            continue
        filled = potted_in(plant, method, count, treated)
        if now:
            filled = replace(filled, vessel=now)
        found.append(Stood(stage, filled))
    return tuple(found)
