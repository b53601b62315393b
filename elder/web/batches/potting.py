"""How to pot on and harden a batch, in lines for its pages; and into what it is potted, as somebody chooses."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.handbook.routes import SOLUTION
from elder.engine.round.hardening import hardening_ladder
from elder.engine.round.potting import Potting, ReadySign, ladder, potting_of, ready_sign
from elder.engine.shed.containers import POT, TO_A_POT, potted_in
from elder.engine.shed.mix import ph_range
from elder.web.batches.models import Batch
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.read.batches import BatchToday
from elder.web.say.care import CAUTIONS, rung_words
from elder.web.say.containers import filled_words, vessel_words
from elder.web.say.mixes import CAUTIONS as MIX_CAUTIONS
from elder.web.say.mixes import mix_cautions, recipe_words
from elder.web.say.units import shown_volume
from elder.web.say.words import about

MOST_TO_A_POT: Final = 12


@dataclass(frozen=True)
class PottingLines:
    """How to pot so many on. ``pots``: how many of what; ``mix``: so much of each, and its pH where that matters;
    ``choices``: other pots; ``rungs``: the later pots of a long crop, each with its day; ``ladder``: hardening."""

    sign: ReadySign
    count: int
    pots: str
    mix: str
    choices: list[tuple[str, str, bool]]
    to_a_pot: int
    potting: Potting
    rungs: list[tuple[str, str]]
    ladder: list[str]
    feed_share: str
    cautions: list[str]
    batch: int


def potting_lines(batch: BatchToday, units: str) -> PottingLines:
    """How to pot those that have rooted: steps, depth, mix, feed, and the ladder of pots of a long crop."""
    treated, count = batch.treated, batch.state.count("rooted")
    potting = potting_of(batch.plant, batch.method, treated.chosen, treated.kit)
    since = batch.state.since("potted") or batch.today
    rungs = ladder(batch.plant, batch.method, since, treated.chosen, treated.kit)
    filled = potted_in(batch.plant, batch.method, max(count, 1), treated)
    in_mix = batch.method.route is not SOLUTION
    each = f", {filled.each} to each" if filled.each > 1 else ""
    return PottingLines(
        sign=ready_sign(batch.method),
        count=count,
        pots=f"{filled_words(filled, units)}{each}",
        mix=_mix_line(batch, potting, filled.vessel.filled_l * filled.vessels, units) if in_mix else "",
        choices=_choices(batch, filled.vessel.key, units) if in_mix else [],
        to_a_pot=filled.each,
        potting=potting,
        rungs=[(shown_volume(rung.litres, units), about(rung.due, batch.today)) for rung in rungs[1:]],
        ladder=[rung_words(rung, batch.method.harden_days) for rung in hardening_ladder(batch.method.harden_days)],
        feed_share="quarter" if "quarter" in potting.feed_strength else "half",
        cautions=_cautions(batch, potting, in_mix=in_mix),
        batch=batch.row.pk,
    )


def _mix_line(batch: BatchToday, potting: Potting, litres: float, units: str) -> str:
    words = f"{recipe_words(potting.recipe, litres, units)}."
    bounds = ph_range(batch.plant)
    return (
        f"{words} pH {bounds[0]:g} to {bounds[1]:g}: test it, and where it is above, sulphur lowers it."
        if bounds
        else words
    )


def _choices(batch: BatchToday, used: str, units: str) -> list[tuple[str, str, bool]]:
    pots = (one for one in batch.treated.kit.every() if one.kind == "pot" and not one.cells)
    return [(one.key, vessel_words(one, 1, units), one.key == used) for one in pots]


def _cautions(batch: BatchToday, potting: Potting, *, in_mix: bool) -> list[str]:
    """The plant's own, then those of the mix and of sulphur, each once."""
    own = [caution.text for caution in batch.plant.cautions if caution.at == "pot"]
    said = own if any("dust" in text for text in own) or not in_mix else [CAUTIONS["pot_on"], *own]
    more = [text for text in mix_cautions(potting.recipe.shares) if text != MIX_CAUTIONS["dust"]] if in_mix else []
    sulphur = [MIX_CAUTIONS["sulphur"]] if in_mix and ph_range(batch.plant) else []
    return [*said, *more, *sulphur]


def is_to_be_potted(item: BatchToday) -> bool:
    """Whether some are to be moved into pots or solution now: their sign is there, or they rest in their row."""
    return any(task.verb in ("lift", "pot_on") and task.opens <= item.today for task in item.tasks)


@transaction.atomic
def pot_into(batch: Batch, vessel: str, to_a_pot: int) -> Undo:
    """From now on this batch is potted into such pots, so many to each."""
    locked = Batch.objects.select_for_update().get(pk=batch.pk)
    before = dict(locked.treatment)
    locked.treatment = {**before, POT: vessel, TO_A_POT: str(to_a_pot)}
    locked.save(update_fields=["treatment"])
    told = [before.get(POT, ""), before.get(TO_A_POT, "")]
    return Undo("potted-into", {"batch": batch.pk, "pots": told})


@takes_back("potted-into", verb="tend")
def pot_as_before(asked: Asked) -> Undone:
    """It is potted as it would have been."""
    row = get_object_or_404(Batch, pk=asked.number("batch"), garden=asked.garden)
    told = asked.told.get("pots")
    before = dict(zip((POT, TO_A_POT), told if isinstance(told, list) else (), strict=False))
    kept = {name: said for name, said in row.treatment.items() if name not in (POT, TO_A_POT)}
    row.treatment = {**kept, **{name: str(said) for name, said in before.items() if said}}
    row.save(update_fields=["treatment"])
    return Undone("As it was.", "batch", (row.pk,))
