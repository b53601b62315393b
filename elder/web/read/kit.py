"""What a garden's shed has and uses, from its row: containers and recipes of its own, and which it takes."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import TYPE_CHECKING, Final

from elder.engine.shed.containers import CHOSEN
from elder.engine.shed.kit import PLAIN, AsTreated, Kit
from elder.engine.shed.recipes import Recipe
from elder.engine.shed.vessels import vessel_of

if TYPE_CHECKING:
    from elder.web.batches.models import Batch
    from elder.web.garden.models import Garden
    from elder.web.season.models import Want


STUCK_IN: Final = "stuck_in"  # in a batch's plan: the key of what it was stuck in, whatever the shed uses since


def kit_of(garden: Garden) -> Kit:
    """A garden's kit. What it is kept as: ``own`` and ``mixes`` as the handbook writes them, ``usual`` by key."""
    return _kit(json.dumps(garden.kit, sort_keys=True)) if garden.kit else PLAIN


@lru_cache(maxsize=64)
def _kit(written: str) -> Kit:
    raw = json.loads(written)
    mixes = (
        Recipe(row["key"], row["name"], tuple(row["parts"].items()), row["wet_kg"]) for row in raw.get("mixes", ())
    )
    return Kit(tuple(vessel_of(row) for row in raw.get("own", ())), raw.get("usual", {}), tuple(mixes))


def treated_as(batch: Batch, garden: Garden, want: Want | None) -> AsTreated:
    """How a batch was treated: what was chosen for it, what the shed has, whether its plants stay in their pots."""
    stuck_in = batch.plan.get(STUCK_IN)
    chosen = {CHOSEN: stuck_in, **batch.treatment} if stuck_in else batch.treatment
    return AsTreated(chosen, kit_of(garden), for_good=want is not None and want.purpose == want.Purpose.POT)
