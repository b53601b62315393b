"""How to pot on and harden a batch, in lines for its pages."""

from __future__ import annotations

from typing import Any

from elder.engine.round.hardening import hardening_ladder
from elder.engine.round.potting import ladder, potting_of, ready_sign
from elder.web.read.batches import BatchToday
from elder.web.say.care import CAUTIONS, rung_words
from elder.web.say.units import shown_volume
from elder.web.say.words import about


def potting_lines(batch: BatchToday, units: str) -> dict[str, Any]:
    """How to pot those that have rooted: steps, depth, mix, feed, and the ladder of pots of a long crop."""
    potting = potting_of(batch.plant, batch.method)
    rungs = ladder(batch.plant, batch.state.since("potted") or batch.today)
    own = [caution.text for caution in batch.plant.cautions if caution.at == "pot"]
    return {
        "sign": ready_sign(batch.method),
        "count": batch.state.count("rooted"),
        "pot": shown_volume(potting.litres, units),
        "potting": potting,
        "rungs": [(shown_volume(rung.litres, units), about(rung.due, batch.today)) for rung in rungs[1:]],
        "ladder": [rung_words(rung, batch.method.harden_days) for rung in hardening_ladder(batch.method.harden_days)],
        "cautions": own if any("dust" in text for text in own) else [CAUTIONS["pot_on"], *own],
    }
