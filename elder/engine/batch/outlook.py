"""What is to be expected day by day, thinned to the days a drawing needs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.batch.forecast import BatchForecast
from elder.engine.batch.settled import Settled
from elder.engine.batch.shared_luck import counts_together
from elder.engine.chance.counting import convolve_counts, count_quantiles
from elder.engine.plan.season_plan import SeasonPlan

HAZE = (0.1, 0.9)
DRAWN_DAYS = 28  # enough for a smooth rise at any width


@dataclass(frozen=True, eq=False)
class Outlook:
    """``rooting``: expected number to root on each day from ``start``; shape (days,).

    ``expected``, ``low`` and ``high``: the number ready on the days ``at`` (offsets from ``start``),
    with its 10 and 90% ends.
    """

    start: date
    rooting: Floats
    at: Ints
    expected: Floats
    low: Floats
    high: Floats


def plan_outlook(plan: SeasonPlan, day: date, *, count: int | None = None) -> Outlook:
    """What to expect of a cut on ``day``, of ``count`` cuttings (the plan's own count if none is given)."""
    number = count or int(plan.counts[plan.index(day)]) or plan.table.most
    followed = plan.followed(day)
    ready = followed.mean_ready
    at = _telling_days(ready)
    low, high = count_quantiles(number, followed.ready[:, at], plan.take, HAZE)
    return Outlook(
        start=day,
        rooting=np.diff(followed.mean_rooted, prepend=0.0) * number * plan.roots.mean,
        at=at,
        expected=number * plan.take.mean * ready[at],
        low=low.astype(np.float64),
        high=high.astype(np.float64),
    )


def batch_outlook(forecasts: list[BatchForecast | Settled], until: date, lucks: Sequence[int] = ()) -> Outlook:
    """What to expect of batches under way together, to ``until``. ``lucks``: of each batch, the number of the luck it
    shares with others; without them every batch has its own."""
    start = min(forecast.start for forecast in forecasts)
    days = max((until - start).days + 1, 1)  # one where the day stepped back past all that is drawn
    rooting = np.zeros(days)
    for forecast in forecasts:
        offset = (forecast.start - start).days
        part = forecast.rooting[: max(days - offset, 0)]
        rooting[offset : offset + len(part)] += part
    share = np.sum([_expected_from(forecast, start, days) for forecast in forecasts], axis=0)
    at = _telling_days(share / max(float(share.max(initial=0.0)), 1e-9))
    pmfs = _pmfs_at(_sharing(forecasts, lucks), start, at)
    came = _came_by(forecasts, start, at)
    low, high = (np.array([float((np.cumsum(pmf) < level - 1e-12).sum()) for pmf in pmfs]) + came for level in HAZE)
    means = np.array([float(pmf @ np.arange(len(pmf))) for pmf in pmfs]) + came
    return Outlook(start, rooting, at, means, low, high)


def _expected_from(forecast: BatchForecast | Settled, start: date, days: int) -> Floats:
    offset = (forecast.start - start).days
    grown = np.zeros(days)
    part = forecast.expected[: max(days - offset, 0)]
    grown[offset : offset + len(part)] = part
    if len(part) and isinstance(forecast, Settled):
        grown[offset + len(part) :] = part[-1]  # what came stays
    return grown


def _sharing(forecasts: list[BatchForecast | Settled], lucks: Sequence[int]) -> list[list[BatchForecast | Settled]]:
    found: dict[int, list[BatchForecast | Settled]] = {}
    for i, forecast in enumerate(forecasts):
        found.setdefault(lucks[i] if lucks else i, []).append(forecast)
    return [group for group in found.values() if len(group) > 1 or not isinstance(group[0], Settled)]


def _came_by(forecasts: list[BatchForecast | Settled], start: date, at: Ints) -> Floats:
    """What came of all that is over by each of some days from ``start``: most of a want's batches are, and it is known
    of them, so that nothing need be added up by its chances."""
    over = [one.came_by(at - (one.start - start).days) for one in forecasts if isinstance(one, Settled)]
    return np.asarray(np.sum(over, axis=0)) if over else np.zeros(len(at))


def _pmfs_at(groups: list[list[BatchForecast | Settled]], start: date, at: Ints) -> list[Floats]:
    """The number ready on each of some days from ``start`` of all batches together that are not over."""
    parts = [counts_together(group, [at - (one.start - start).days for one in group]) for group in groups]
    return [convolve_counts([counts[i] for counts in parts]) for i in range(len(at))]


def _telling_days(rising: Floats) -> Ints:
    """Days on which a rising curve is worth a point: its foot, its rise evenly, its last day."""
    moving = np.flatnonzero((rising > 0.004) & (rising < 0.996))
    if not len(moving):
        first = int(np.argmax(rising > 0.5))
        return np.unique([max(first - 1, 0), first, len(rising) - 1])
    rise = np.linspace(max(moving[0] - 1, 0), min(moving[-1] + 1, len(rising) - 1), DRAWN_DAYS)
    return np.unique(np.concatenate((np.round(rise), [len(rising) - 1]))).astype(np.int64)
