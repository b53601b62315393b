"""What each cut day is worth for one target: counts, early days, days that wood or cold closes."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from enum import IntEnum

import numpy as np

from elder.engine.arrays import Bools, Floats, Ints
from elder.engine.assumptions import Assumptions
from elder.engine.chance.count_table import CountTable
from elder.engine.chance.ready_by import Raising, ready_by_target
from elder.engine.climate.day_of_year import add_days, doy0_range
from elder.engine.keeping import cached_property
from elder.engine.plan.cold import Cold, cold_of
from elder.engine.plan.heat import too_hot
from elder.engine.plan.planting_windows import struck_out_of_doors
from elder.engine.plan.want import Want
from elder.engine.plan.wood import wood_days
from elder.engine.setting import Setting

WORTH_TIMES = 2  # the fewest possible, times this: where even the best day wants more, no day is comfortable


class CutDay(IntEnum):
    """What a cut day is worth."""

    CLOSED = 0
    EARLY = 1
    COMFORTABLE = 2
    STRETCH = 3


@dataclass(frozen=True, eq=False)
class CutDays:
    """Every cut day from ``start`` for one target. ``counts``: 0 where it is closed; ``ready``: the chance, in each
    scenario, that one which takes is ready; shapes (days,) and (scenarios, days)."""

    start: date
    standing: Ints
    counts: Ints
    ready: Floats
    wood: Bools
    cold: Cold
    too_cold: Bools
    too_hot: Bools


def cuttable_days(want: Want, setting: Setting, start: date, days: int) -> Bools:
    """Days from ``start`` on which there is wood to cut and somewhere to strike it; shape (days,)."""
    plant, method, climate = setting.plant, setting.method, setting.climate
    season = wood_days(plant, method.wood, climate, (start, days), indoors=want.stock_indoors, mother=want.mother)
    if method.direct and method.wood != "dormant":
        # Struck where it stands, a green cutting meets the open ground on the day it is cut.
        season = season & struck_out_of_doors(plant, climate, want.accepted_risk)[doy0_range(start, days)]
    return season


def standings_of(counts: Ints, early: Bools, least: int, assumptions: Assumptions) -> Ints:
    """What each cut day is worth (``CutDay``), from its count (0: closed) and whether it is early."""
    offered = counts[(counts > 0) & ~early]
    best = int(offered.min()) if len(offered) else 0
    comfortable = counts <= (assumptions.allowed(best) if best <= WORTH_TIMES * least else 0)
    worth = np.where(comfortable, CutDay.COMFORTABLE, CutDay.STRETCH)
    worth = np.where(early, CutDay.EARLY, worth)
    return np.where(counts > 0, worth, CutDay.CLOSED).astype(np.int64)


@dataclass(frozen=True, eq=False)
class Curves:
    """What stays the same while targets are tried."""

    want: Want
    setting: Setting
    table: CountTable

    @cached_property
    def raising(self) -> Raising:
        """What becomes of a cutting of this want."""
        return self.setting.raising(harden=self.want.is_hardened)

    def at(self, start: date, days: int, target: date, step: int = 1, early: Bools | None = None) -> CutDays:
        """Weigh every cut day from ``start`` for a target; every ``step``-th alone where asked, and which of those are
        early where that is known already."""
        wood = cuttable_days(self.want, self.setting, start, days)[::step]
        ready = ready_by_target(self.raising, start, days, target, step)
        cold = cold_of(self.setting, start, days, target).every(step)
        too_cold = self.too_cold(cold)
        hot = too_hot(self.setting, start, days)[::step]
        open_ = wood & ~too_cold & ~hot
        counts = np.where(open_, self.table.least, 0)
        worked = open_ & (ready.min(axis=0) < 1.0)  # where all that take are ready in every scenario, the least does
        counts[worked] = self.table.counts(ready[:, worked])
        early = self.early(start, days, target)[::step] if early is None else early
        standing = standings_of(counts, early, self.table.least, self.setting.assumptions)
        return CutDays(start, standing, counts, ready, wood, cold, too_cold, hot)

    def too_cold(self, cold: Cold) -> Bools:
        """Days that cold closes: more nights to carry in than one would, or a risk of death above the accepted."""
        most = self.setting.assumptions.carry_nights
        shut = cold.killed > self.want.accepted_risk
        return np.asarray(shut if most is None else shut | (np.round(cold.nights) > most))

    def early(self, start: date, days: int, target: date) -> Bools:
        """Cut days of which half would wait in their pots longer than the plant has patience; shape (days,)."""
        if self.setting.method.direct or not self.is_held:
            return np.zeros(days, dtype=bool)
        patient = add_days(target, -self.setting.plant.patience_days - 1)
        return np.asarray(ready_by_target(self.raising.usual, start, days, patient)[0] >= 0.5)

    @property
    def is_held(self) -> bool:
        """Whether the plants wait in their pots for a day: those that stay in a pot for good do not."""
        return self.want.purpose != "pot"

    def elsewhere(self, setting: Setting) -> Curves:
        """The same want asked at other places."""
        return replace(self, setting=setting)
