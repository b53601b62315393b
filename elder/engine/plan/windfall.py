"""The windfall, forward: what can become of this stem, cut today, and is it still worth it this season?

Every way that suits what is in the hand is tried at every place. A way is worth it *this year* when its
plants can go out before the season shuts; else it may *stand* in its pot until the next, be *kept* through
the winter in the warm, or come *too late*.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from enum import IntEnum
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.chance.counting import Take, sure_number
from elder.engine.chance.ready_by import delayed, established_at, first_day_at, rooted_by
from elder.engine.chance.rooting_time import units_to_stage
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import add_days, doy0, doy0_range
from elder.engine.climate.normals import midwinter
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.running_units import daily_units
from elder.engine.place.warmth import Place
from elder.engine.plan.material import STATES, WHOLE, Material, cuttings_from, suits
from elder.engine.plan.next_hour import next_hour
from elder.engine.plan.overwinter import keeps_at
from elder.engine.plan.planting_windows import PlantingWindow, planting_windows, struck_out_of_doors
from elder.engine.plan.wood import wood_in_season
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

REACH_DAYS: Final = 480  # how far ahead a windfall is followed
SURE: Final = 0.9  # how sure the promised number is
SETTLED: Final = 0.8  # plants go out once this share of those that will be are ready (assumed)
THIS_YEAR_DAYS: Final = 200  # a planting window that opens later than this belongs to another year (assumed)

OUT_OF_SEASON: Final = 0.45  # of the take, for wood that is not in season (assumed)


class Worth(IntEnum):
    """What a way is worth, best first."""

    THIS_YEAR = 0
    STANDS = 1
    KEPT = 2
    TOO_LATE = 3


@dataclass(frozen=True)
class WindfallOption:
    """One way to use it. ``places`` are the keys of the rooting and the growing place. ``sure`` plants come of
    it with 9 in 10, ``likely`` are expected; ``plant_out`` is ``None`` where it has no season in open ground and
    stays in its pot; ``held_days`` is how long half wait in their pots. ``flags`` name
    what took from the take (flowering, wilted, out_of_season); ``steps`` what to do in the next hour."""

    method: Method
    places: tuple[str, str]
    cuttings: int
    take: Take
    worth: Worth
    sure: int
    likely: float
    rooted: date | None
    ready: date | None
    plant_out: date | None
    harvest: date | None
    held_days: int
    flags: tuple[str, ...]
    steps: tuple[str, ...]


@dataclass(frozen=True)
class NotOffered:
    """A way that suits the piece and is not worth it: a leaf that roots and stays a leaf."""

    method: Method


@dataclass(frozen=True)
class Windfall:
    """Every way, best first, and those that only seem to be ways."""

    options: tuple[WindfallOption, ...]
    not_offered: tuple[NotOffered, ...]


def what_can_this_become(
    material: Material,
    setting: Setting,
    places: Sequence[tuple[str, Place]],
    *,
    accepted_risk: float = 0.10,
) -> Windfall | Refusal:
    """Every way that suits the material, each at its best places, ranked. Source: docs/architecture.md.

    Of the setting the way and the two places are not read: every way and every place is tried.
    """
    plant = setting.plant
    suited = [method for method in plant.methods if suits(material, method)]
    offered = [method for method in suited if method.is_offered]
    others = tuple(NotOffered(method) for method in suited if not method.is_offered)
    if refusal := cannot_be_struck(plant):
        return refusal
    if not suited:
        return Refusal("not_this_piece", "piece", {"plant": plant.name, "piece": material.piece})
    hand = _Hand(material, plant, setting.climate, places, setting.today, accepted_risk)
    found = [best for method in offered if (best := hand.best_of(method))]
    if not found and not others:
        return Refusal("too_short" if hand.is_short(offered) else "no_place", "length", {"plant": plant.name})
    return Windfall(tuple(sorted(found, key=_rank)), others)


# A plant next year is worth less than one this year, and one to nurse through winter less again (assumed).
WORTH_WEIGHT: Final[dict[Worth, float]] = {
    Worth.THIS_YEAR: 1.0,
    Worth.STANDS: 0.7,
    Worth.KEPT: 0.5,
    Worth.TOO_LATE: 0.01,
}


def cannot_be_struck(plant: Plant) -> Refusal | None:
    """Why nothing of a plant is ever struck: it has no way."""
    if plant.methods:
        return None
    return Refusal("not_struck", "plant", {"plant": plant.name, "way": plant.instead and plant.instead.way})


def _rank(option: WindfallOption) -> tuple[object, ...]:
    out = option.plant_out or option.ready or date.max
    value = option.likely * WORTH_WEIGHT[option.worth]
    moves = option.places[0] != option.places[1]
    return (-round(value, 1), option.worth, out, moves, option.method.minutes_each)


@dataclass(frozen=True, eq=False)
class _Hand:
    """What stays the same while ways and places are tried."""

    material: Material
    plant: Plant
    climate: Climate
    places: Sequence[tuple[str, Place]]
    today: date
    accepted_risk: float

    def is_short(self, methods: list[Method]) -> bool:
        """Whether every way wants a longer piece."""
        return all(cuttings_from(self.material, method) == 0 for method in methods)

    def best_of(self, method: Method) -> WindfallOption | None:
        """The way at its best places; ``None`` where there is no place for it or no cutting in it."""
        if cuttings_from(self.material, method) == 0:
            return None
        options = [self._option(method, *pair) for pair in self._pairs(method)]
        return min(options, key=_rank, default=None)

    def _pairs(self, method: Method) -> Iterator[tuple[tuple[str, Place], tuple[str, Place]]]:
        if method.direct:
            allowed = struck_out_of_doors(self.plant, self.climate, self.accepted_risk)
            if method.wood == "dormant" or allowed[doy0(self.today)]:
                yield from ((spot, spot) for spot in self.places if spot[1].standing == "ground")
            return
        pots = [spot for spot in self.places if spot[1].standing != "ground"]
        yield from ((rooting, growing) for rooting in pots for growing in pots)

    def _option(self, method: Method, rooting: tuple[str, Place], growing: tuple[str, Place]) -> WindfallOption:
        plant = self.plant.grown_by(method)
        count = cuttings_from(self.material, method)
        take, flags = self._take(method)
        rooted, ready = self._courses(method, rooting[1], growing[1])
        worth, out = self._worth(plant, method, ready, growing[1])
        end = (out - self.today).days if out else REACH_DAYS - 1
        chance = float(ready[min(end, REACH_DAYS - 1)])
        half = int(first_day_at(ready, 0.5))
        return WindfallOption(
            method=method,
            places=(rooting[0], growing[0]),
            cuttings=count,
            take=take,
            worth=worth,
            sure=sure_number(count, chance_ready=chance, take=take, confidence=SURE),
            likely=count * take.mean * chance,
            rooted=_day(self.today, int(first_day_at(rooted, 0.5))),
            ready=_day(self.today, half),
            plant_out=out,
            harvest=add_days(out, plant.harvest_median_days) if out and worth is not Worth.KEPT else None,
            held_days=max(end - half, 0) if out and half >= 0 else 0,
            flags=flags,
            steps=tuple(next_hour(self.material, method)),
        )

    def _take(self, method: Method) -> tuple[Take, tuple[str, ...]]:
        share, flags = STATES[self.material.state], []
        if share < 1:
            flags.append(self.material.state)
        if self.material.piece not in WHOLE and not self._in_season(method):
            share *= OUT_OF_SEASON
            flags.append("out_of_season")
        take = method.plant_take
        return Take(take.mean * share, take.weight), tuple(flags)

    def _in_season(self, method: Method) -> bool:
        season = wood_in_season(self.climate, method.wood, stock_indoors=self.plant.stock_indoors)
        return bool(season[doy0(self.today)])

    def _courses(self, method: Method, rooting: Place, growing: Place) -> tuple[Floats, Floats]:
        """Chance of being rooted, and of being ready, by each day from today; shapes (days,)."""
        units = daily_units(rooting, self.climate, self.plant.cardinals, self.today, REACH_DAYS)
        law = units_to_stage(method.rooting, self.plant.cardinals)
        rooted = rooted_by(units, law, cut_days=1, dry_days=method.dry_days)[0]
        grid = established_at(self.plant.cardinals, method.establish, self.climate, growing, self.today, REACH_DAYS)
        return rooted, delayed(np.diff(rooted, prepend=0.0) @ grid, method.harden_days)

    def _worth(self, plant: Plant, method: Method, ready: Floats, growing: Place) -> tuple[Worth, date | None]:
        """What the way is worth, and the day its plants go out, if they ever do."""
        windows = planting_windows(
            plant, self.climate, accepted_risk=self.accepted_risk, start=self.today, days=REACH_DAYS
        )
        settled = int(first_day_at(ready, SETTLED))
        kept = keeps_at(plant, growing, self.climate)
        for window in windows:
            out = self._day_out(window, settled, ready)
            if out is None:
                continue
            waits = (out - self.today).days - int(first_day_at(ready, 0.5))
            soon = (window.opens - self.today).days <= THIS_YEAR_DAYS
            through_winter = soon is False or self._winter_before(out)
            if through_winter and not (kept or method.wood == "dormant"):  # bare wood bears far more
                return Worth.TOO_LATE, None
            if waits <= plant.patience_days or method.direct:
                return (Worth.STANDS if through_winter else Worth.THIS_YEAR), out
            return Worth.KEPT, out
        return (Worth.KEPT if kept and settled >= 0 else Worth.TOO_LATE), None

    def _day_out(self, window: PlantingWindow, settled: int, ready: Floats) -> date | None:
        """The first day of a window on which most are ready; its last day where half are by then."""
        if settled >= 0:
            day = max(window.opens, add_days(self.today, settled))
            if day <= window.shuts:
                return day
        last = (window.shuts - self.today).days
        return window.shuts if 0 <= last < REACH_DAYS and ready[last] >= 0.5 else None

    def _winter_before(self, out: date) -> bool:
        """Whether a night that this plant does not bear lies between today and the day out."""
        days = (out - self.today).days
        if days <= 0 or self.climate.frost.autumn is None:
            return False
        low = doy0_range(self.today, days)
        coldest = midwinter(self.climate.normals)
        return bool((low == coldest).any())


def _day(today: date, index: int) -> date | None:
    return add_days(today, index) if index >= 0 else None
