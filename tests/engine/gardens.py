"""Simulated gardens for the record's checks, drawn straight from the model of its learning; nothing of it is shared."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from elder.engine.record.looks import Look


@dataclass(frozen=True)
class Garden:
    """What is true of a way in one garden: its mean take, how alike batches are (κ), its median in units, sigma of the
    log, log-sd of a batch's speed. ``usual``: the median that rot at any time goes by."""

    take: float
    alike: float
    median: float
    sigma: float = 0.27
    speed_sd: float = 0.2
    usual: float = 9.0


def batch(
    chance: np.random.Generator, garden: Garden, count: int, every: float, last: float = 40.0
) -> tuple[Look, ...]:
    """The looks at one batch, ``every`` so many units, until none waits or ``last``. One in five of those that fail
    goes at any time; the others at about twice the median."""
    share = chance.beta(garden.take * garden.alike, (1 - garden.take) * garden.alike)
    pace = np.exp(garden.speed_sd * chance.standard_normal())
    will = chance.random(count) < share
    roots = garden.median * pace * np.exp(garden.sigma * chance.standard_normal(count))
    late = 2 * garden.median * pace * np.exp(0.5 * chance.standard_normal(count))
    early = chance.exponential(garden.usual, count)
    at = np.where(will, roots, np.where(chance.random(count) < 0.2, early, late))
    looks, before = [Look(0.0, 0, 0, count)], 0.0
    for units in np.arange(every, last + every, every):
        new = (at > before) & (at <= units)
        waiting = int((at > units).sum())
        looks.append(Look(float(units), int((new & will).sum()), int((new & ~will).sum()), waiting))
        before = units
        if not waiting:
            break
    return tuple(looks)
