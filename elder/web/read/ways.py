"""A batch's plant and way, what held its cuttings back, and where they were carried: of its row and history alone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

from elder.engine.batch.forecast import STAYED, Moves
from elder.engine.batch.state import Entry
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.condition import Condition
from elder.web.batches.models import Batch


def way_of(batch: Batch) -> tuple[Plant, Method]:
    """A batch's plant, as its method grows it, and the method."""
    method = handbook()[batch.plant].method(batch.method)
    return handbook()[batch.plant].grown_by(method), method


def condition_of(batch: Batch) -> Condition:
    """What held its cuttings back when they were cut."""
    return Condition.of(batch.condition)


def moves_along(history: Sequence[Entry], places: Mapping[int, Place]) -> Moves:
    """Where those waiting, and those potted, were carried, and when. Struck moves count for nothing."""
    struck = {entry.strikes for entry in history if entry.strikes}
    moved = [entry for entry in history if entry.kind == "moved" and entry.key not in struck]
    if not moved:
        return STAYED

    def of(stage: str) -> tuple[tuple[date, Place], ...]:
        steps = sorted((entry for entry in moved if entry.stage == stage), key=lambda entry: entry.on)
        return tuple((entry.on, places[int(entry.place)]) for entry in steps)

    return Moves(of("waiting"), of("potted"))
