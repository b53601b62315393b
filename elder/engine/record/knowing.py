"""From what was learned to what the planner plans with: a way with one's own take and days in the handbook's place."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

import numpy as np

from elder.engine.assumptions import Assumptions
from elder.engine.chance.counting import Take
from elder.engine.chance.rooting_time import DaysAt, units_to_stage
from elder.engine.handbook.model import Method
from elder.engine.keeping import lent
from elder.engine.place.warmth import Cardinals
from elder.engine.record.learning import Learned, Prior, learn
from elder.engine.record.looks import Look, Tally

PlanBy = Literal["handbook", "mine", "both"]

# Cuttings that have told whether they root: of fewer there are words, and the plan is the handbook's (assumed).
ENOUGH: Final = 8
FLAT: Final = Take(0.5, 2.0)  # Beta(1, 1): nothing is known of the take
FLAT_LOG_SD: Final = 0.9  # and next to nothing of the days (assumed)
MOST_TAKE: Final = 0.99  # whatever was seen, some are lost (assumed)


@dataclass(frozen=True, eq=False)
class OwnWay:
    """What one's own batches of a way say: what was learned of them, with the handbook as the prior or with none, and
    the counts behind it."""

    learned: Learned
    tally: Tally

    @property
    def tells(self) -> bool:
        """Whether so many have told whether they root that it is more than words."""
        return self.tally.settled >= ENOUGH


def prior_of(method: Method, cardinals: Cardinals, speed_sd: float, by: PlanBy = "both") -> Prior:
    """What is believed of a way before a garden's own batches; by its own alone, next to nothing."""
    rooting = units_to_stage(method.rooting, cardinals)
    if by == "mine":
        return Prior(FLAT, rooting, median_log_sd=FLAT_LOG_SD, speed_sd=speed_sd)
    return Prior(method.take, rooting, speed_sd=speed_sd)


def own_way(prior: Prior, batches: Sequence[tuple[Look, ...]], lucks: Sequence[object], tally: Tally) -> OwnWay:
    """What a way's batches say, those that share their luck together; with the counts behind them."""
    return OwnWay(learned_of(prior, batches, lucks), tally)


@lent
def _learned(prior: Prior, batches: tuple[tuple[Look, ...], ...], lucks: tuple[int, ...]) -> Learned:
    """Kept, since every page asks it of every way; a luck goes by the first batch that has it."""
    return learn(prior, batches, together=lucks)


def learned_of(prior: Prior, batches: Sequence[tuple[Look, ...]], lucks: Sequence[object]) -> Learned:
    """What some batches say beside a belief, those that share their luck together; kept."""
    first = {luck: i for i, luck in reversed(list(enumerate(lucks)))}
    return _learned(prior, tuple(batches), tuple(first[luck] for luck in lucks))


def with_own(method: Method, own: Learned) -> Method:
    """The way with one's own take and days; how unlike cuttings of one batch are stays the handbook's."""
    take = Take(min(own.take.mean, MOST_TAKE), own.take.weight)
    days, pace = method.rooting, own.pace
    return replace(method, take=take, rooting=DaysAt(days.early * pace, days.late * pace, days.at_c))


def with_own_spread(assumptions: Assumptions, own: Learned) -> Assumptions:
    """What is assumed, with what is still not known of one's own days counted in with how unlike batches are."""
    speed = float(np.hypot(assumptions.speed_sd, own.median_log_sd))
    return replace(assumptions, speed_sd=speed)


def with_after_roots(assumptions: Assumptions, after: Take) -> Assumptions:
    """What is assumed, with what one's own potted plants have shown."""
    return replace(assumptions, stand_share=after.mean, stand_weight=after.weight)


def corrected(method: Method, share: float) -> Method:
    """The way with its take times what Elder has been found too hopeful, or too timid, by."""
    if share == 1.0:
        return method
    return replace(method, take=Take(min(method.take.mean * share, MOST_TAKE), method.take.weight))
