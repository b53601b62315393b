"""What a hundred wants ask of the shed, beside a plain loop over every amount; and a shelf packed, beside its floor."""

from __future__ import annotations

import random
from collections import defaultdict

import numpy as np

from bench.table import Line, timed
from elder.engine.chance.counting import Take
from elder.engine.shed.needs import Ask, Needed, amounts_of, needs, potted_by
from elder.engine.shed.packing import Floor, Several, arrange
from elder.engine.shed.vessels import shipped

WANTS, WEEKS = 100, 26
STEP_L = 0.5  # of the plain loop, which counts in halves of a litre


def _asks(seed: int = 14) -> list[Ask]:
    """A hundred wants of three to twenty cuttings, potted over some weeks into half a litre, one or one and a half."""
    made, found = random.Random(seed), []  # noqa: S311 - made-up wants
    for _ in range(WANTS):
        count, begins, litres = made.randint(3, 20), made.randint(0, 16), made.choice((0.5, 1.0, 1.5))
        chance = np.clip((np.arange(WEEKS) - begins) / 4, 0, 1)[None]
        chances = potted_by(count, Take(made.uniform(0.5, 0.95), 10), chance)
        for what, amounts in amounts_of(lambda many, each=litres: {"mix": each * many, "label": many}, count).items():
            found.append(Ask(what, amounts, chances))
    return found


def plain_needs(asks: list[Ask]) -> dict[str, list[float]]:
    """What is enough nine times in ten, week by week, by adding up every amount with every other."""
    found: dict[str, list[float]] = {}
    for what in {ask.what for ask in asks}:
        found[what] = []
        for week in range(WEEKS):
            total = {0: 1.0}
            for ask in (one for one in asks if one.what == what):
                later: dict[int, float] = defaultdict(float)
                for amount, chance in total.items():
                    for more, share in zip(ask.amounts.tolist(), ask.chances[week].tolist(), strict=True):
                        if share > 1e-12:
                            later[amount + round(more / STEP_L)] += chance * share
                total = later
            below, at = 0.0, 0
            for at in sorted(total):
                below += total[at]
                if below >= 0.9 - 1e-9:
                    break
            found[what].append(at * STEP_L)
    return found


def _agree(needed: dict[str, Needed], plain: dict[str, list[float]]) -> bool:
    """Within a grain of either."""
    return all(np.abs(needed[what].sure - np.array(row)).max() <= 4.0 for what, row in plain.items())


def lines() -> list[Line]:
    """The hundred wants both ways; a full shelf of four kinds, beside one kind alone."""
    asks = _asks()
    shed_s, needed = timed(lambda: needs(asks, WEEKS), 3)
    plain_s, plain = timed(lambda: plain_needs(asks), 1)
    if not _agree(needed, plain):
        raise ArithmeticError("the two do not agree")
    kinds, floor = shipped(), Floor(180, 40)
    groups = [Several(kinds[key], many, key) for key, many in (("pot", 14), ("jar", 12), ("tray", 3), ("gallon", 4))]
    mixed_s, stood = timed(lambda: arrange(groups, floor), 20)
    alone_s, _ = timed(lambda: arrange(groups[:1], floor), 20)
    note = f"{len(stood.placed)} stand, {sum(one.count for one in stood.left)} find no room"
    return [
        Line("shed", "100 wants, 26 weeks, two things", shed_s, "a plain loop", plain_s, "the same within a grain"),
        Line("shed", "a shelf of four kinds, packed", mixed_s, "one kind alone", alone_s, note),
    ]
