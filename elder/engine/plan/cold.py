"""What cold does to a cut day: nights on which pots would have to be carried in, and years that kill what stands in
the ground."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.climate.climate import Climate
from elder.engine.climate.frost_fit import LAW_YEARS
from elder.engine.climate.years import WALKED_YEARS, possible_years
from elder.engine.keeping import kept
from elder.engine.place.possible_warmth import along_years, running_units, walked
from elder.engine.place.warmth import Place
from elder.engine.setting import Setting


@dataclass(frozen=True, eq=False)
class Cold:
    """Of each cut day: ``nights`` on which pots would have to be carried in, the mean over the possible years; and
    ``killed``, the share of years with a night that kills it where it stands in the ground; shapes (cut_days,)."""

    nights: Floats
    killed: Floats

    def every(self, step: int) -> Cold:
        """Of every so manyth cut day."""
        return self if step == 1 else Cold(self.nights[::step], self.killed[::step])


def cold_of(setting: Setting, start: date, cut_days: int, target: date) -> Cold:
    """Cold from each cut day to the target. Unrooted dormant wood bears what a plant in leaf does not."""
    none = np.zeros(cut_days)
    days = (target - start).days + 1
    if setting.assumptions.carry_nights is None or days < 1:
        return Cold(none, none)
    half = half_rooted(setting, start, cut_days, days)
    since = half if setting.method.wood == "dormant" else np.minimum(np.arange(cut_days), days)
    if setting.method.direct:
        return Cold(none, _killed(setting, start, days, since))
    places = setting.rooting_place, setting.stands_at
    years, limit_c = max(setting.assumptions.years, WALKED_YEARS), setting.plant.frost_limit_c
    rooting, growing = (_nights_before(setting.climate, place, limit_c, years, start, days) for place in places)
    return Cold(rooting[half] - rooting[since] + growing[days] - growing[half], none)


def half_rooted(setting: Setting, start: date, cut_days: int, days: int) -> Ints:
    """The day by which half of those cut on each day have rooted in the year of the normals, ``days`` at most."""
    raising = setting.raising()
    units = running_units(setting.rooting_place, setting.climate, raising.cardinals, 1, start, days)[0]
    begun = np.minimum(np.arange(cut_days) + raising.dry_days, days)
    reached = np.searchsorted(units, units[begun] + raising.rooting_law.median)
    return np.asarray(np.minimum(reached, days), dtype=np.int64)


def _lows(climate: Climate, place: Place, start: date, days: int, years: int) -> Floats:
    """The lowest of each night at a place; shape (years, days)."""
    possible = possible_years(climate, years)
    if place.standing == "room":
        return np.full((1, days), place.night_c)
    position, turned = along_years(climate.normals, start, days)
    low = walked(possible.t_min, possible, position, turned) + place.lift_night_c
    return low if place.floor_c is None else np.maximum(low, place.floor_c)


def nights_below(setting: Setting, place: Place, first: date, last: date) -> float:
    """Nights from a day to before another on which a place falls below what the plant bears, the mean over years."""
    days = max((last - first).days, 0)
    years = max(setting.assumptions.years, WALKED_YEARS)
    return float(_nights_before(setting.climate, place, setting.plant.frost_limit_c, years, first, days)[-1])


def carry_nights_before(setting: Setting, place: Place, start: date, days: int) -> Floats:
    """Nights before each day on which a plant would have to be carried in at a place; shape (days + 1,)."""
    years = max(setting.assumptions.years, WALKED_YEARS)
    return _nights_before(setting.climate, place, setting.plant.frost_limit_c, years, start, days)


@kept
def _nights_before(climate: Climate, place: Place, limit_c: float, years: int, start: date, days: int) -> Floats:
    """Nights before each day on which a place falls below what the plant bears, the mean over years; shape (days + 1,),
    read only."""
    low = _lows(climate, place, start, days, years)
    nights = np.concatenate(([0.0], np.cumsum((low < limit_c).mean(axis=0))))
    nights.setflags(write=False)
    return nights


def _killed(setting: Setting, start: date, days: int, since: Ints) -> Floats:
    """The share of years with a killing night between each of some days and the last."""
    low = _lows(setting.climate, setting.rooting_place, start, days, LAW_YEARS)
    hard = np.zeros((len(low), days + 1), dtype=np.int32)
    np.cumsum(low < setting.plant.frost_limit_c, axis=1, out=hard[:, 1:])
    return np.asarray((hard[:, -1:] > hard[:, since]).mean(axis=0))
