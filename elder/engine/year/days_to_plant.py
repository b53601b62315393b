"""How long a cutting takes to a plant that can be cut or set out, for a cut on each day of the years ahead."""

from __future__ import annotations

from datetime import date
from typing import Final

import numpy as np

from elder.engine.chance.ready_by import first_day_at, ready_from_cut
from elder.engine.climate.day_of_year import add_days
from elder.engine.plan.cold import half_rooted, nights_below
from elder.engine.plan.wood import MotherHere, wood_days
from elder.engine.setting import Setting

STANDS_LEVEL: Final = 0.95  # a lot stands when so many of those that take do, over all years and speeds (assumed)
STEP_DAYS: Final = 28  # every so many cut days are followed, those between lie on the line between (assumed)
WEEK: Final = 7
FOLLOWED_DAYS: Final = 420  # one that does not stand within so long is not waited for
COLD_NIGHTS: Final = 7.0  # more nights than this that would hurt close a cut day, where nothing else was said


def days_to_plant(setting: Setting, start: date, days: int) -> tuple[int, ...]:
    """Days from the cut until nearly all that take stand, unhardened, for a cut on each day from ``start``; where it is
    not within ``FOLLOWED_DAYS``, those."""
    raising = setting.raising(harden=False)
    at = list(range(0, days + STEP_DAYS, STEP_DAYS))
    found = []
    for day in at:
        ready = ready_from_cut(raising, add_days(start, day), FOLLOWED_DAYS).mean_ready
        reached = int(first_day_at(ready, STANDS_LEVEL))
        found.append(reached if reached >= 0 else FOLLOWED_DAYS)
    between = np.interp(np.arange(days), at, found)
    return tuple(int(one) for one in np.maximum(np.ceil(between), 1))


def shut_days(setting: Setting, start: date, days: int, mother: MotherHere | None = None) -> dict[date, str]:
    """The days from ``start`` on which nothing is cut, each with its reason: *wood*, none is in season; *cold*, more
    nights than one would carry pots in fall below what it bears from the cut until half have rooted."""
    wood = wood_days(setting.plant, setting.method.wood, setting.climate, (start, days), mother=mother)
    found = {add_days(start, int(day)): "wood" for day in np.flatnonzero(~wood)}
    if setting.rooting_place.standing == "room" or setting.method.wood == "dormant":
        return found
    most = setting.assumptions.carry_nights
    half = half_rooted(setting, start, days, days + FOLLOWED_DAYS)
    for day in range(0, days, WEEK):
        first = add_days(start, day)
        nights = nights_below(setting, setting.rooting_place, first, add_days(start, int(half[day])))
        if nights > (COLD_NIGHTS if most is None else most):
            for one in range(day, min(day + WEEK, days)):
                found.setdefault(add_days(start, one), "cold")
    return found
