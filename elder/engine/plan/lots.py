"""One want in several lots, and a want turned round: as many as so many cuttings give."""

from __future__ import annotations

from dataclasses import replace

from elder.engine.chance.counting import sure_number
from elder.engine.climate.day_of_year import add_days
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting


def lot_sizes(wanted: int, lots: int) -> list[int]:
    """``wanted`` shared out over ``lots``, the earlier ones the larger. Raises ValueError for more lots than plants."""
    if not 1 <= lots <= wanted:
        raise ValueError("each lot has at least one plant")
    share, left = divmod(wanted, lots)
    return [share + (1 if i < left else 0) for i in range(lots)]


def plan_lots(
    want: Want,
    lots: int,
    apart_days: int,
    setting: Setting,
) -> list[SeasonPlan | Refusal]:
    """A plan for each lot: the first as the want asks, the rest ``apart_days`` after one another."""
    sizes = lot_sizes(want.wanted, lots)
    first = plan_want(replace(want, wanted=sizes[0]), setting)
    if isinstance(first, Refusal):
        return [first]
    plans: list[SeasonPlan | Refusal] = [first]
    for i, size in enumerate(sizes[1:], start=1):
        by = add_days(first.target, i * apart_days)
        plans.append(plan_want(replace(want, wanted=size, by=by), setting))
    return plans


def as_many_as(
    cuttings: int,
    want: Want,
    setting: Setting,
) -> SeasonPlan | Refusal:
    """The plan for the most plants that ``cuttings`` give with the want's confidence on its best day.

    ``want.wanted`` is not read. Refused where not even one is as sure as asked.
    """
    one = plan_want(replace(want, wanted=1), setting)
    if isinstance(one, Refusal):
        return one
    ready = one.ready[:, one.counts > 0]
    best = ready[:, int(ready.mean(axis=0).argmax())]
    most = sure_number(cuttings, chance_ready=best, take=one.take, confidence=want.confidence)
    for wanted in range(most, 0, -1):  # the target can move with the number asked for
        plan = plan_want(replace(want, wanted=wanted), setting)
        if isinstance(plan, SeasonPlan) and plan.counts[plan.counts > 0].min() <= cuttings:
            return plan
    return Refusal("not_even_one", "cuttings", {"cuttings": cuttings, "least": one.table.least})
