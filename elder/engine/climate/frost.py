"""When frost ends and comes back, and the risk that it is not over yet.

Dates of last and first freeze are close to normal, with the frost-free years as a separate mass
(Thom & Shaw 1958, "Climatological analysis of freeze data for Iowa", Monthly Weather Review; from
memory). Means are days of the year, 0 = 1 January, and may run past either end of the year.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike
from scipy.special import ndtr, ndtri, stdtr, stdtrit

from elder.engine.arrays import Floats

Z_ONE_IN_TEN = 1.2816  # standard normal at 0.9; any table of the normal distribution
FEW_YEARS = 10  # below this many years of records the tails follow Student's t (assumed)


@dataclass(frozen=True)
class FrostDates:
    """The last spring (or first autumn) freeze: mean and spread in days, the share of years that
    have one, and the years it was counted from (``None`` when given by hand).

    Raises ValueError for a spread that is not positive or a share outside 0..1.
    """

    mean_doy: float
    sd_days: float
    share_of_years_with_frost: float = 1.0
    years: int | None = None

    def __post_init__(self) -> None:
        if self.sd_days <= 0:
            raise ValueError("the spread of a frost date is a positive number of days")
        if not 0 <= self.share_of_years_with_frost <= 1:
            raise ValueError("the share of years with frost lies between 0 and 1")

    def by_day(self, doy: ArrayLike) -> Floats:
        """Chance that the dated freeze has come by ``doy`` in a year that has one."""
        z = (np.asarray(doy, dtype=float) - self.mean_doy) / self.sd_days
        return np.asarray(stdtr(self._freedom, z) if self._freedom else ndtr(z), dtype=np.float64)

    def risk_from(self, doy: ArrayLike) -> Floats:
        """Spring: the risk that frost still comes on or after ``doy``."""
        return self.share_of_years_with_frost * (1 - self.by_day(doy))

    def risk_before(self, doy: ArrayLike) -> Floats:
        """Autumn: the risk that frost has come by ``doy``."""
        return self.share_of_years_with_frost * self.by_day(doy)

    def safe_after(self, risk: float) -> int | None:
        """Spring: the first day with a risk of ``risk`` or less; ``None`` where every day is."""
        if self.share_of_years_with_frost <= risk:
            return None
        return math.ceil(self._quantile(1 - risk / self.share_of_years_with_frost) - 1e-9)

    def safe_until(self, risk: float) -> int | None:
        """Autumn: the last day with a risk of ``risk`` or less; ``None`` where every day is."""
        if self.share_of_years_with_frost <= risk:
            return None
        return math.floor(self._quantile(risk / self.share_of_years_with_frost) + 1e-9)

    def shifted(self, days: float) -> FrostDates:
        """The same spread about a mean moved by ``days``."""
        return replace(self, mean_doy=self.mean_doy + days)

    @property
    def _freedom(self) -> int:
        """Degrees of freedom of Student's t where there are few years of records; 0 for the normal law."""
        few = self.years is not None and 2 <= self.years < FEW_YEARS
        return self.years - 1 if few and self.years else 0

    def _quantile(self, p: float) -> float:
        z = stdtrit(self._freedom, p) if self._freedom else ndtri(p)
        return float(self.mean_doy + self.sd_days * z)


def by_hand(mean_doy: float, extreme_doy: float, *, share: float = 1.0) -> FrostDates:
    """Frost dates from what people know: the average, and the one year in ten beyond it (as late in
    spring, as early in autumn). Raises ValueError when the two are the same day."""
    return FrostDates(mean_doy, abs(extreme_doy - mean_doy) / Z_ONE_IN_TEN, share)


@dataclass(frozen=True)
class Frost:
    """Both ends of the frosts of a year at ``threshold_c``; ``None`` where there are none. ``well_known``: by people
    who have lived there long, so that they go before seven to nine years of records."""

    spring: FrostDates | None
    autumn: FrostDates | None
    threshold_c: float = 0.0
    well_known: bool = False


FROST_FREE = Frost(None, None)
