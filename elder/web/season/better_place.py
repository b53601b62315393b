"""Places that cannot, or hardly: said at once, with the place that serves."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from datetime import date
from typing import Final

from elder.engine.chance.ready_by import first_day_at, ready_from_cut
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.setting import Setting
from elder.web.garden.models import Garden, Place
from elder.web.read.gardens import place_of, places_of
from elder.web.read.wants import Reckoning
from elder.web.say.words import plural

SLOW_TIMES: Final = 3  # a place that takes so many times the best one's days is said (assumed)
REACH_DAYS: Final = 300


def place_words(reckoning: Reckoning, garden: Garden) -> str:
    """That a place takes three times the days of the best one, and which that is; nothing where neither does."""
    if reckoning.batches:
        return ""
    row, setting = reckoning.row, reckoning.setting
    suited = [one for one in places_of(garden).values() if (one.standing == "ground") == setting.method.direct]
    day = reckoning.option.day if reckoning.option else reckoning.today
    rooting = _said(row.rooting_place, suited, lambda spot: _days(replace(setting, rooting_place=spot), day, "rooted"))
    if rooting or setting.method.direct:
        return f"To root: {rooting}." if rooting else ""
    growing = _said(row.growing_place, suited, lambda spot: _days(replace(setting, growing_place=spot), day, "ready"))
    return f"To be ready: {growing}." if growing else ""


def _said(chosen: Place, suited: Iterable[Place], days: Callable[[EnginePlace], int]) -> str:
    """Both places with their days, where the chosen one is that much slower; −1 days are more than are reckoned."""
    found = {place.pk: days(place_of(place)) for place in suited}
    names = {place.pk: place.name for place in suited}
    in_time = {pk: many for pk, many in found.items() if many >= 0}
    here = found.get(chosen.pk, -1)
    if not in_time:
        return ""
    best = min(in_time, key=lambda pk: in_time[pk])
    if 0 <= here < SLOW_TIMES * in_time[best]:
        return ""
    slow = plural(here, "day", "days") if here >= 0 else f"more than {REACH_DAYS} days"
    return f"{slow} at {chosen.name}, {in_time[best]} at {names[best]}"


def _days(setting: Setting, day: date, stage: str) -> int:
    """Days until half of those cut on a day have rooted, or are ready, in the year of the normals; −1 for too many."""
    followed = ready_from_cut(setting.raising(harden=False).usual, day, REACH_DAYS)
    return int(first_day_at(followed.mean_rooted if stage == "rooted" else followed.mean_ready, 0.5))
