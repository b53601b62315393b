"""After roots: of those potted, how many come to stand ready. Sulking, damping off, a cold night, slugs.

A survival with a prior, Beta(0.95, worth 20) (assumed), learned from what was potted and is settled: it stood ready on
its day, or was lost before it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.batch.state import BatchState
from elder.engine.chance.counting import Take

AFTER_ROOTS: Final = Take(0.95, 20.0)
MOST_WEIGHT: Final = 20.0  # a garden's all counts no more than so many of one plant (assumed)


@dataclass(frozen=True)
class AfterRoots:
    """Of those that had roots and are settled: how many came to stand ready, and how many were lost before."""

    stood: int = 0
    lost: int = 0

    def __add__(self, other: AfterRoots) -> AfterRoots:
        return AfterRoots(self.stood + other.stood, self.lost + other.lost)

    def after(self, prior: Take = AFTER_ROOTS) -> Take:
        """What is believed with them."""
        weight = prior.weight + self.stood + self.lost
        return Take((prior.mean * prior.weight + self.stood) / weight, weight)


def after_roots_of(state: BatchState, target: date, today: date) -> AfterRoots:
    """What a batch tells of it: nothing while some of it may still go either way. A loss after the day it was to be
    ready says nothing of whether it came to stand; nor does an accident."""
    fell = sum(gone.count for gone in state.losses if gone.stage != "waiting" and gone.tells and gone.on <= target)
    undecided = sum(state.count(stage) for stage in ("rooted", "potted", "hardening"))
    if undecided and today <= target:
        return AfterRoots()
    accidents = sum(gone.count for gone in state.losses if gone.stage != "waiting" and not gone.tells)
    had_roots = state.rooted_ever
    return AfterRoots(max(had_roots - fell - accidents, 0), min(fell, had_roots))


def for_plant(own: AfterRoots, others: AfterRoots, prior: Take = AFTER_ROOTS) -> Take:
    """What is believed of one plant: the garden's others are its prior, worth twenty at most."""
    general = others.after(prior)
    return own.after(Take(general.mean, min(general.weight, MOST_WEIGHT)))


def together(parts: Iterable[AfterRoots]) -> AfterRoots:
    """The sum of what several batches tell."""
    return sum(parts, AfterRoots())
