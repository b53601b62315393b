"""When each kind of wood is there to cut, by the climate's own phases and not by the names of months."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from typing import Final

import numpy as np

from elder.engine.arrays import Bools
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS, add_days, doy0_range
from elder.engine.climate.normals import MID_MONTHS, Normals
from elder.engine.climate.phases import growing_season, rest
from elder.engine.handbook.model import Plant, Wood
from elder.engine.place.warmth import Place

SOFTWOOD_SHARE = 0.40  # the first part of the year but its rest (assumed)
SEMI_RIPE_SHARE = 0.85  # from there until this much of it has gone (assumed)
SEEN_DAYS = 30  # for so long what was seen on a mother goes before the calendar (assumed)
DORMANT_MARGIN_DAYS = 14  # dormant wood ends this long before the rest does (assumed)


@lru_cache(maxsize=256)
def wood_in_season(climate: Climate, wood: Wood, *, stock_indoors: bool) -> Bools:
    """Days of the year on which that wood can be cut; shape (365,).

    Stock kept indoors at 15 °C and above is in growth all year, and so never gives dormant wood. A crown
    top is there whenever its fruit is (``any``).
    """
    if wood == "any":
        return np.ones(YEAR_DAYS, dtype=bool)
    if stock_indoors:
        return np.full(YEAR_DAYS, wood != "dormant")
    season, (rest_start, rest_days) = growing_season(climate.normals), rest(climate.normals)
    day = np.arange(YEAR_DAYS)
    resting, awake = (day - rest_start) % YEAR_DAYS, (day - rest_start - rest_days) % YEAR_DAYS
    awake_days = YEAR_DAYS - rest_days
    soft, ripe = SOFTWOOD_SHARE * awake_days, SEMI_RIPE_SHARE * awake_days
    phases = {
        "growing": (day - season.start) % YEAR_DAYS < season.days,
        "softwood": awake < soft,
        "semi-ripe": (awake >= soft) & (awake < ripe),
        "dormant": resting < rest_days - DORMANT_MARGIN_DAYS,
    }
    return np.asarray(phases[wood], dtype=bool)


@dataclass(frozen=True)
class MotherHere:
    """What is known of the mother cuttings are to come from: where she stands, and how she was last seen.

    ``growth`` is growing, resting, flowering, fruiting or fruited; ``wood`` soft, half, ripe, bare or nothing said;
    ``shoots`` fit to cut, where they were counted.
    """

    place: Place | None = None
    seen_on: date | None = None
    growth: str = "growing"
    wood: str = ""
    shoots: int | None = None

    def has(self, wood: Wood) -> bool | None:
        """Whether she was seen to have that wood; ``None`` where what was seen says nothing of it."""
        if wood == "any":
            return None
        bare = self.growth == "resting" or self.wood == "bare"
        if wood == "dormant":
            return bare
        if bare:
            return False
        if wood == "growing":
            return True
        fits = {"softwood": ("soft",), "semi-ripe": ("half", "ripe")}[wood]
        return self.wood in fits if self.wood else True if self.shoots else None

    def in_flower(self, day: date) -> bool:
        """Whether she was in flower when she was last seen, not long before a day."""
        return self.growth == "flowering" and self._is_fresh(day)

    def _is_fresh(self, day: date) -> bool:
        return self.seen_on is not None and 0 <= (day - self.seen_on).days <= SEEN_DAYS


def season_at(place: Place | None, climate: Climate) -> Climate:
    """The climate of a place outdoors, under cover or not, for its seasons."""
    if place is None or (not place.lift_day_c and not place.lift_night_c and place.floor_c is None):
        return climate
    return _season_under(place.modelled, climate)


@lru_cache(maxsize=256)
def _season_under(place: Place, climate: Climate) -> Climate:
    least = -99.0 if place.floor_c is None else place.floor_c
    low = tuple(max(t + place.lift_night_c, least) for t in climate.normals.t_min)
    lifts = place.lifts[MID_MONTHS.astype(int)].tolist()
    high = tuple(max(t + lift, least) for t, lift in zip(climate.normals.t_max, lifts, strict=True))
    return replace(climate, normals=Normals(low, high))


LIFTED_AFTER_DAYS: Final = 150  # in its row from one rest to the next, a whole growing season (assumed)


def next_rest(climate: Climate, after: date) -> tuple[date, date]:
    """First and last day of the first rest that begins a season or more after a day: when plants lined out are lifted.
    Where winters are mild it is the coolest run of days all the same."""
    start = add_days(after, LIFTED_AFTER_DAYS)
    dormant = wood_in_season(climate, "dormant", stock_indoors=False)[doy0_range(start, 2 * YEAR_DAYS)]
    turns = np.flatnonzero(np.diff(dormant.astype(np.int8)))  # the day before each beginning and end
    begins, ends = (turns[0], turns[1]) if not dormant[0] else (turns[1], turns[2])
    return add_days(start, int(begins) + 1), add_days(start, int(ends))


def wood_days(
    plant: Plant,
    wood: Wood,
    climate: Climate,
    days: tuple[date, int],
    *,
    indoors: bool | None = None,
    mother: MotherHere | None = None,
) -> Bools:
    """Whether there is that wood to cut on each of so many days from one; shape (days,).

    What was seen on the mother in the last 30 days goes before any calendar; then the season of the place she stands
    at; then what is usual for the plant. ``indoors`` says where she stands, whatever her place.
    """
    start, count = days
    place = mother.place if mother and indoors is None else None
    if indoors is None:
        indoors = place.standing == "room" if place else plant.stock_indoors
    season = wood_in_season(season_at(place, climate), wood, stock_indoors=indoors)[doy0_range(start, count)]
    if mother and mother.seen_on and (has := mother.has(wood)) is not None:
        first = (mother.seen_on - start).days
        season[max(first, 0) : max(first + SEEN_DAYS + 1, 0)] = has
    return np.asarray(season)
