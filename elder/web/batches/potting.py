"""How to pot on and harden a batch, in lines for its pages."""

from __future__ import annotations

from dataclasses import dataclass

from elder.engine.round.hardening import hardening_ladder
from elder.engine.round.potting import Potting, ReadySign, ladder, potting_of, ready_sign
from elder.web.read.batches import BatchToday
from elder.web.say.care import CAUTIONS, rung_words
from elder.web.say.units import shown_volume
from elder.web.say.words import about


@dataclass(frozen=True)
class PottingLines:
    """How to pot so many on. ``rungs``: the later pots of a long crop, each with its day; ``ladder``: hardening."""

    sign: ReadySign
    count: int
    pot: str
    potting: Potting
    rungs: list[tuple[str, str]]
    ladder: list[str]
    feed_share: str
    cautions: list[str]


def potting_lines(batch: BatchToday, units: str) -> PottingLines:
    """How to pot those that have rooted: steps, depth, mix, feed, and the ladder of pots of a long crop."""
    treated = batch.treated
    potting = potting_of(batch.plant, batch.method, treated.chosen, treated.kit)
    since = batch.state.since("potted") or batch.today
    rungs = ladder(batch.plant, batch.method, since, treated.chosen, treated.kit)
    own = [caution.text for caution in batch.plant.cautions if caution.at == "pot"]
    return PottingLines(
        sign=ready_sign(batch.method),
        count=batch.state.count("rooted"),
        pot=shown_volume(potting.litres, units),
        potting=potting,
        rungs=[(shown_volume(rung.litres, units), about(rung.due, batch.today)) for rung in rungs[1:]],
        ladder=[rung_words(rung, batch.method.harden_days) for rung in hardening_ladder(batch.method.harden_days)],
        feed_share="quarter" if "quarter" in potting.feed_strength else "half",
        cautions=own if any("dust" in text for text in own) else [CAUTIONS["pot_on"], *own],
    )


def is_to_be_potted(item: BatchToday) -> bool:
    """Whether some are to be moved into pots or solution now: their sign is there, or they rest in their row."""
    return any(task.verb in ("lift", "pot_on") and task.opens <= item.today for task in item.tasks)
