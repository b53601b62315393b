"""The scenarios a chance is the mean of: each possible year, with several speeds of the batch in it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np
from scipy.special import ndtri

from elder.engine.arrays import Floats, Ints
from elder.engine.assumptions import SPEEDS, Assumptions
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import add_days
from elder.engine.climate.years import possible_years
from elder.engine.keeping import kept
from elder.engine.place.possible_warmth import along_years, walked

WARMTH_DAYS: Final = 60  # before the target: by their warmth the years are ranked
GOLDEN: Final = 0.618  # spreads the speeds evenly over the ranks


@dataclass(frozen=True, eq=False)
class Scenarios:
    """``year``: the possible year of each; ``pace``: what both its medians are times; shapes (scenarios,)."""

    year: Ints
    pace: Floats

    def __len__(self) -> int:
        return len(self.year)


@kept
def scenarios(climate: Climate, assumptions: Assumptions, target: date) -> Scenarios:
    """Years × speeds on a lattice: a warm year gets other speeds than the cold one beside it, so that few scenarios
    stand for many."""
    rank = _ranks(climate, assumptions.years, target)
    speeds = SPEEDS if assumptions.speed_sd > 0 else 1
    offset = ((rank + 0.5) * GOLDEN) % 1
    quantiles = (np.arange(speeds) + offset[:, None]) / speeds
    pace = np.exp(assumptions.speed_sd * ndtri(quantiles)) if speeds > 1 else np.ones((len(rank), 1))
    return Scenarios(np.repeat(np.arange(len(rank)), speeds), pace.ravel())


def _ranks(climate: Climate, years: int, target: date) -> Ints:
    """Of each year, how many are cooler over the days before the target; shape (years,)."""
    if years == 1:
        return np.arange(1)
    possible = possible_years(climate, years)
    position, turned = along_years(climate.normals, add_days(target, -WARMTH_DAYS), WARMTH_DAYS)
    warmth = walked(possible.t_min + possible.t_max, possible, position, turned).sum(axis=1)
    return np.asarray(np.argsort(np.argsort(warmth)))
