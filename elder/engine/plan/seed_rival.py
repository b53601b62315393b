"""Seed as the clone's rival: the same day, the same places, dates side by side."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.engine.chance.ready_by import first_day_at
from elder.engine.chance.rooting_time import units_to_stage
from elder.engine.climate.day_of_year import add_days
from elder.engine.place.running_units import daily_units
from elder.engine.setting import Setting

REACH_DAYS = 400


@dataclass(frozen=True)
class SeedRival:
    """``sow_by``: the last day on which 9 in 10 sown would be ready by the target (``None``: it has gone by);
    ``ready``: when half would be ready if sown on the day the clones are cut; ``days`` between the two."""

    sow_by: date | None
    ready: date | None
    days: int | None
    comes_true: bool
    note: str


def seed_rival(setting: Setting, *, cut_on: date, target: date) -> SeedRival | None:
    """Dates for seed sown at the rooting place and hardened as the clones are; ``None`` where nothing is known of
    it."""
    plant, today = setting.plant, setting.today
    if plant.seed is None:
        return None
    growing = units_to_stage(plant.seed.ready, plant.cardinals)
    days = max((target - today).days, (cut_on - today).days) + REACH_DAYS
    total = np.concatenate(
        ([0.0], np.cumsum(daily_units(setting.rooting_place, setting.climate, plant.cardinals, today, days)))
    )
    harden = setting.method.harden_days
    sown = (cut_on - today).days
    half = int(first_day_at(growing.cdf(total[sown + 1 :] - total[sown]), 0.5))
    by = (target - today).days - harden
    in_time = np.flatnonzero(growing.cdf(total[by + 1] - total[: by + 1]) >= 0.9) if by >= 0 else np.array([])
    return SeedRival(
        sow_by=add_days(today, int(in_time[-1])) if len(in_time) else None,
        ready=add_days(cut_on, half + harden) if half >= 0 else None,
        days=half + harden if half >= 0 else None,
        comes_true=plant.seed.comes_true,
        note=plant.seed.note,
    )
