"""What the weeks ahead will ask of the shed: of each thing the number expected, and that which is enough 9 times in 10.

A cut that is planned is a number; how many of it come to be potted, and when, is not. So each batch or want gives, week
by week, the distribution of a count, and for each count what it asks. Of several the distributions are added up, not
their nine-in-tens: all of them going well in one week is rarer than each. Batches count as independent.
"""

from __future__ import annotations

import hashlib
from collections import defaultdict
from collections.abc import Callable, Hashable, Iterable, Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.chance.counting import TIE_SLACK, Take, count_pmf, take_nodes
from elder.engine.keeping import STORE, kept

SURE: Final = 0.9
STEPS: Final = 512  # of the greatest amount that can be asked, in which amounts are added up
Q_STEPS: Final = 64  # of the chance of having been potted


@dataclass(frozen=True, eq=False)
class Ask:
    """What one source asks of one thing. ``amounts`` by count from nought; ``chances``: the distribution of the count
    at the end of each week; shapes (count + 1,) and (weeks, count + 1). Of what is used up the count is all so far, of
    what is kept all that stands then. ``who`` asks."""

    what: str
    amounts: Floats
    chances: Floats
    who: Hashable = None

    @property
    def expected(self) -> Floats:
        """The mean of what it asks by the end of each week; shape (weeks,)."""
        return np.asarray(self.chances @ self.amounts)


@dataclass(frozen=True, eq=False)
class Needed:
    """What is asked of one thing by the end of each week: expected, and enough nine times in ten; shape (weeks,). Of
    what is used up all that is used so far; of what is kept all that stands."""

    what: str
    expected: Floats
    sure: Floats


def fixed(count: int, first_week: int, weeks: int, last_week: int | None = None) -> Floats:
    """The distribution of a count that is certain from a week on, until a last one; shape (weeks, 2): none, or all."""
    there = np.zeros(weeks)
    there[max(first_week, 0) : weeks if last_week is None else max(last_week + 1, 0)] = 1.0
    return np.stack((1 - there, there), axis=1) if count else np.stack((np.ones(weeks), np.zeros(weeks)), axis=1)


@kept
def _potted_table(count: int, take: Take) -> Floats:
    """The distribution of how many of ``count`` are potted, by the chance that one which takes is; shape
    (Q_STEPS + 1, count + 1)."""
    shares, weights = take_nodes(take, min(count, 62))
    steps = np.linspace(0.0, 1.0, Q_STEPS + 1)
    return np.asarray(np.tensordot(count_pmf(count, steps[:, None] * shares), weights, axes=(1, 0)))


def potted_by(count: int, take: Take, chance: Floats) -> Floats:
    """The distribution of how many of ``count`` are potted by each week; ``chance``: of one that takes, in each
    scenario; shape (scenarios, weeks) to (weeks, count + 1)."""
    table = _potted_table(count, take)
    at = np.clip(chance, 0.0, 1.0) * Q_STEPS
    low = np.minimum(at.astype(np.int64), Q_STEPS - 1)
    part = (at - low)[..., None]
    return np.asarray(((1 - part) * table[low] + part * table[low + 1]).mean(axis=0))


def amounts_of(uses: Callable[[int], Mapping[str, float]], count: int) -> dict[str, Floats]:
    """What each number of plants up to ``count`` would use, by thing; shape (count + 1,) each."""
    found: dict[str, Floats] = defaultdict(lambda: np.zeros(count + 1))
    for many in range(1, count + 1):
        for what, amount in uses(many).items():
            found[what][many] = amount
    return dict(found)


def needs(asks: Iterable[Ask], weeks: int) -> dict[str, Needed]:
    """What is needed of each thing, week by week."""
    by_thing: dict[str, list[Ask]] = defaultdict(list)
    for ask in asks:
        by_thing[ask.what].append(ask)
    return {what: _needed(what, several, weeks) for what, several in by_thing.items()}


def _needed(what: str, asks: list[Ask], weeks: int) -> Needed:
    expected = np.sum([ask.expected for ask in asks], axis=0)
    most = float(sum(ask.amounts.max() for ask in asks))
    step = 1.0 if all(np.all(ask.amounts == np.round(ask.amounts)) for ask in asks) and most <= STEPS else most / STEPS
    sure = [_sure_of(asks, week, step) for week in range(weeks)]
    return Needed(what, np.asarray(expected), np.maximum(sure, 0.0))


def _sure_of(asks: list[Ask], week: int, step: float) -> float:
    """Enough nine times in ten of what several ask of a thing in a week; kept by a digest of their amounts and chances,
    since a page asks for the same weeks each time and they are long."""
    asked = hashlib.blake2b(digest_size=16)
    for part in (part for ask in asks for part in (ask.amounts, ask.chances[week])):
        asked.update(b"%d:" % len(part) + part.tobytes())
    grids = ((ask.amounts, ask.chances[week]) for ask in asks)
    return STORE.ask(
        ("enough of a thing", asked.hexdigest(), step), lambda: _sure([_on_grid(*one, step) for one in grids], step)
    )


def _on_grid(amounts: Floats, chances: Floats, step: float) -> Floats:
    """A distribution over amounts as one over steps; what lies between two is shared between them, so that the mean
    stays."""
    at = amounts / step
    low = np.floor(at + 1e-9).astype(np.int64)
    part = np.maximum(at - low, 0.0)
    grid = np.zeros(int(low.max()) + 2)
    np.add.at(grid, low, chances * (1 - part))
    np.add.at(grid, low + 1, chances * part)
    return grid


def _sure(grids: list[Floats], step: float) -> float:
    total = np.ones(1)
    for grid in grids:
        total = np.convolve(total, np.trim_zeros(grid, "b")) if grid.any() else total
    at = int(np.searchsorted(np.cumsum(total), SURE - TIE_SLACK))
    return at * step
