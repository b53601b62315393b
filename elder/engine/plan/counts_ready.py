"""The whole distribution of how many stand by the day, for one cut: what a batch promises, to be kept with it."""

from __future__ import annotations

from datetime import date

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.chance.counting import Take, count_pmf, take_nodes
from elder.engine.chance.ready_by import ready_by_target
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.setting import Setting


def counts_of(take: Take, ready: Floats, count: int) -> Floats:
    """The chance of each number of ``count`` cuttings, over the take and the scenarios' chances of being ready, of
    shape (scenarios,); shape (count + 1,)."""
    shares, weights = take_nodes(take, count)
    return np.asarray(np.einsum("t,tsn->n", weights / len(ready), count_pmf(count, shares[:, None] * ready)))


def counts_planned(plan: SeasonPlan, day: date, count: int) -> Floats:
    """How many of ``count`` cut on a day of the plan are ready by its target."""
    return counts_of(plan.take, plan.ready[:, plan.index(day)], count)


def counts_under(setting: Setting, cut: date, target: date, *, count: int, take: Take, harden: bool) -> Floats:
    """The same by another setting: by the handbook alone, say."""
    ready = ready_by_target(setting.raising(harden=harden), cut, 1, target)[:, 0]
    return counts_of(take.then(setting.after_roots), ready, count)
