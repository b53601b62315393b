"""One cutting and its roots: how much warmth it wants, when it roots, whether to go on hoping."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike
from scipy.special import ndtr

from elder.engine.arrays import Floats
from elder.engine.place.warmth import Cardinals, response

Z_ONE_IN_TEN = 1.28155  # standard normal at 0.9, to the digits the handbook pairs are read with
SATURATED_Z = 8.3  # beyond this many sigmas a double holds 0 or 1
TABLE_ROWS = 8192  # of the table that a season's many chances are read off
TABLE_Z = 5.0  # sigmas it reaches to: what is left beyond is 3e-7
FAIL_MEDIAN_RATIO = 2.0  # one that will never root shows it at about twice the rooting time (assumed)
FAIL_SIGMA = 0.5  # spread of that, log units (assumed)
GIVE_UP_BELOW = 0.10  # hope under which the space is worth more than the cutting (assumed)


@dataclass(frozen=True)
class DaysAt:
    """Days to a stage at a steady temperature: 1 in 10 are there by ``early``, 9 in 10 by ``late``."""

    early: float
    late: float
    at_c: float

    def __post_init__(self) -> None:
        if not 0 < self.early < self.late:
            raise ValueError("days run from a positive early to a later late")


@dataclass(frozen=True)
class Lognormal:
    """A lognormal in units of warmth: median, and sigma of the log."""

    median: float
    sigma: float

    def cdf(self, units: ArrayLike) -> Floats:
        """Share that is there after ``units``; 0 at or below none. Any shape."""
        amount = np.asarray(units, dtype=np.float64)
        reach = math.exp(SATURATED_Z * self.sigma)
        # Most of a season's grid is long before or long after: only the part between is worth a logarithm.
        share = np.asarray(amount >= self.median * reach, dtype=np.float64)
        between = (amount > self.median / reach) & (amount < self.median * reach)
        share[between] = ndtr((np.log(amount[between]) - math.log(self.median)) / self.sigma)
        return share

    def reach(self, sigmas: float) -> float:
        """The units that lie so many sigmas above the median."""
        return self.median * math.exp(sigmas * self.sigma)

    @property
    def surely(self) -> float:
        """The units after which ``quick_cdf`` has all of them there."""
        return self.reach(TABLE_Z)

    def quick_cdf(self, units: Floats) -> Floats:
        """``cdf`` read off a table, to 2e-6: a want asks for a third of a million of them."""
        table = _table(self.sigma)
        at = units * ((TABLE_ROWS - 2) / self.surely)
        np.maximum(np.minimum(at, TABLE_ROWS - 2, out=at), 0.0, out=at)
        row = at.astype(np.int32)
        low = table[row]
        return np.asarray(low + (at - row) * (table[row + 1] - low))


@lru_cache(maxsize=256)
def _table(sigma: float) -> Floats:
    """A lognormal's distribution at even steps of units over its median, up to ``TABLE_Z`` sigmas and one row on."""
    units = np.arange(TABLE_ROWS) * (math.exp(TABLE_Z * sigma) / (TABLE_ROWS - 2))
    table = Lognormal(1.0, sigma).cdf(units)
    table[-2:] = 1.0
    return table


@lru_cache(maxsize=512)
def units_to_stage(days: DaysAt, cardinals: Cardinals) -> Lognormal:
    """The handbook's early–late days at a temperature as a lognormal in units.

    Raises ValueError where that temperature grows nothing, for then the days say nothing.
    """
    rate = response(days.at_c, cardinals)
    if rate <= 0:
        raise ValueError(f"no growth at {days.at_c} °C, so days there cannot be turned into units")
    median = math.sqrt(days.early * days.late) * rate
    return Lognormal(median, math.log(days.late / days.early) / (2 * Z_ONE_IN_TEN))


def fail_time(rooting: Lognormal) -> Lognormal:
    """When one that will not root is seen to have failed."""
    return Lognormal(FAIL_MEDIAN_RATIO * rooting.median, FAIL_SIGMA)


def hope_of(take: ArrayLike, rooted: ArrayLike, failed: ArrayLike) -> Floats:
    """Chance that one still waiting will root yet, where those shares of the rooters and of the failures have shown it
    (Bayes); arrays broadcasting."""
    will = np.asarray(take) * (1 - np.asarray(rooted))
    total = will + (1 - np.asarray(take)) * (1 - np.asarray(failed))
    return np.asarray(np.divide(will, total, out=np.zeros_like(total), where=total > 0))


def hope(units: ArrayLike, *, take: ArrayLike, rooting: Lognormal) -> Floats:
    """Chance that one still waiting after ``units`` will root yet."""
    return hope_of(take, rooting.cdf(units), fail_time(rooting).cdf(units))
