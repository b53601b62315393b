"""As soon as it is safe: the first day worth its cuttings, and what sooner and later days cost."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Bools, Floats
from elder.engine.chance.ready_by import first_day_at, ready_from_cut
from elder.engine.climate.day_of_year import add_days
from elder.engine.plan.cold import cold_of
from elder.engine.plan.curve import Curves, cuttable_days
from elder.engine.plan.season_plan import Sooner

REACH_DAYS: Final = 365  # cut days before a target that are looked at, and how far a target may lie beyond the first
LEAST_GAIN_DAYS: Final = 3  # a row of the exchange that buys less is not shown
NO_PRICE: Final = 10_000.0  # cuttings: it cannot be had at any price


def soonest(curves: Curves, first: date, last: date) -> date | None:
    """The first day from ``first`` to ``last`` on which enough plants cost little more than on the best of those days,
    cut on the first day with wood and, where that can be, the slack after it. ``None`` where none can be had."""
    last = min(last, add_days(first, REACH_DAYS))
    assumptions = curves.setting.assumptions
    for wait in (assumptions.slack_days, 0):
        prices = np.minimum.accumulate(_prices(curves, first, last, wait))
        if prices[-1] < NO_PRICE:
            worth = np.flatnonzero(prices <= assumptions.allowed(int(prices[-1])))
            return add_days(first, int(worth[0]))
    return None


def exchange(curves: Curves, cut: date, target: date, first: date, last: date) -> tuple[Sooner, ...]:
    """What other days from ``first`` to ``last`` would cost, cut on the same day: at most three rows, the chosen one,
    one that saves cuttings and one that buys days, each where it is worth three days; nothing where neither is."""
    last = min(last, add_days(target, REACH_DAYS))
    start = max(first, cut)
    ready = ready_from_cut(curves.raising, cut, (last - cut).days + 1).ready[:, (start - cut).days :]
    counts = curves.table.counts(ready).astype(np.float64)
    prices = np.minimum.accumulate(np.where(counts > 0, counts, NO_PRICE))
    return _exchange(prices, (target - start).days, start)


def best_by(curves: Curves, target: date) -> tuple[float, int]:
    """The best chance of enough plants by a day from a cut still to come, and the cuttings it takes: as many as are
    ever advised."""
    ready = [
        ready_from_cut(curves.raising, day, (target - day).days + 1).ready[:, -1:]
        for day, _ in _runs(curves, target, target)
    ]
    chances = [float(curves.table.chances_of(one)[0, -1]) for one in ready]
    return (max(chances), curves.table.most) if chances else (0.0, 0)


def _prices(curves: Curves, first: date, last: date, wait: int) -> Floats:
    """The least count for each target from ``first`` to ``last``; shape (targets,)."""
    prices = np.full((last - first).days + 1, NO_PRICE)
    for begins, ends in _runs(curves, first, last):
        cut = min(add_days(begins, wait), ends)
        days = (last - cut).days + 1
        if days < 1:
            continue
        ahead = max((cut - first).days, 0)  # targets before the cut itself
        ready = ready_from_cut(curves.raising, cut, days).ready[:, max((first - cut).days, 0) :]
        counts = curves.table.counts(ready).astype(np.float64)
        counts[counts == 0] = NO_PRICE
        fresh = _not_held(curves, ends, first, last)[ahead:]
        prices[ahead:] = np.minimum(prices[ahead:], np.where(fresh, counts, NO_PRICE))
    return prices


def _not_held(curves: Curves, ends: date, first: date, last: date) -> Bools:
    """For each target, whether what is cut on the last day of a run is not held beyond patience; shape (targets,)."""
    days = (last - first).days + 1
    if curves.setting.method.direct or not curves.is_held or ends >= last:
        return np.ones(days, dtype=bool)
    reach = (last - ends).days + 1
    half = int(first_day_at(ready_from_cut(curves.raising.usual, ends, reach).mean_ready, 0.5))
    if half < 0:
        return np.ones(days, dtype=bool)
    freshest = (ends - first).days + half + curves.setting.plant.patience_days
    return np.arange(days) <= freshest


def _runs(curves: Curves, first: date, last: date) -> Iterator[tuple[date, date]]:
    """Runs of days with wood from today on, first and last day, that cold does not close for the first target."""
    start = max(curves.setting.today, add_days(first, -REACH_DAYS))
    days = max((last - start).days, 1)
    cold = cold_of(curves.setting, start, days, max(first, add_days(start, 1)))
    open_ = cuttable_days(curves.want, curves.setting, start, days) & ~curves.too_cold(cold)
    edges = np.flatnonzero(np.diff(np.concatenate(([0], open_.astype(int), [0]))))
    for begins, ends in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        yield add_days(start, begins), add_days(start, ends - 1)


def _exchange(prices: Floats, at: int, first: date) -> tuple[Sooner, ...]:
    rows = [at]
    cheapest = int(np.argmin(prices))
    if cheapest - at >= LEAST_GAIN_DAYS and prices[cheapest] < prices[at]:
        rows.insert(0, cheapest)
    sooner = prices[: max(at - LEAST_GAIN_DAYS + 1, 0)]
    # What costs no more is no exchange: it is the same cut without its slack.
    gained = np.flatnonzero((sooner < NO_PRICE) & (sooner > prices[at]))
    if len(gained):
        price = prices[gained[-1]]
        rows.append(int(np.flatnonzero(prices == price)[0]))
    return tuple(Sooner(int(prices[row]), add_days(first, row)) for row in rows) if len(rows) > 1 else ()
