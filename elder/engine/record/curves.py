"""Days to root with those still waiting: the product-limit curve (Kaplan & Meier 1958, Journal of the American
Statistical Association 53: 457–481), and whether two arms differ in it, both by scipy."""

from __future__ import annotations

import warnings
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from elder.engine.arrays import Floats

if TYPE_CHECKING:
    from scipy.stats import CensoredData


@dataclass(frozen=True)
class Waited:
    """So many for which something was seen after ``days``: rooted, or no more than that they were waiting then."""

    days: float
    count: int
    rooted: bool


@dataclass(frozen=True, eq=False)
class RootedCurve:
    """The share rooted by each of the days on which some were seen to be, with its 95% interval; ``median``: the first
    day by which half have (``None``: not yet); shapes (days,)."""

    days: Floats
    share: Floats
    low: Floats
    high: Floats
    median: float | None


def _sample(seen: Sequence[Waited]) -> CensoredData:
    from scipy.stats import CensoredData  # it takes half a second to come, and few pages ask

    rooted = np.repeat([one.days for one in seen if one.rooted], [one.count for one in seen if one.rooted])
    waiting = np.repeat([one.days for one in seen if not one.rooted], [one.count for one in seen if not one.rooted])
    return CensoredData(uncensored=rooted, right=waiting)


def rooted_curve(seen: Sequence[Waited]) -> RootedCurve | None:
    """The curve of one arm; ``None`` where none was seen to root."""
    from scipy.stats import ecdf  # it takes half a second to come, and few pages ask

    if not any(one.rooted and one.count for one in seen):
        return None
    found = ecdf(_sample(seen))
    days = np.asarray(found.cdf.quantiles, dtype=np.float64)
    share = np.asarray(found.cdf.probabilities, dtype=np.float64)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", RuntimeWarning)  # where all have rooted there is no interval, and none is drawn
        between: Any = found.cdf.confidence_interval(method="log-log")  # its stubs say two numbers; it is two curves
    ends = [np.nan_to_num(np.asarray(end.probabilities), nan=0.0) for end in (between.low, between.high)]
    half = np.flatnonzero(share >= 0.5 - 1e-12)
    return RootedCurve(days, share, ends[0], ends[1], float(days[half[0]]) if len(half) else None)


def same_days(one: Sequence[Waited], other: Sequence[Waited]) -> float | None:
    """The p of the log-rank test that two arms root at the same days; ``None`` where neither rooted."""
    from scipy.stats import logrank  # it takes half a second to come, and few pages ask

    if not any(seen.rooted and seen.count for seen in (*one, *other)):
        return None
    return float(logrank(_sample(one), _sample(other)).pvalue)
