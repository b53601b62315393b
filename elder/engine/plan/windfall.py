"""The windfall, forward: what can become of this stem, cut today, and is it still worth it this season?

Every way that suits what is in the hand is tried at every place. A way is worth it *this year* when its
plants can go out before the season shuts; else it may *stand* in its pot until the next, be *kept* through
the winter in the warm, or come *too late*.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from enum import IntEnum
from typing import Final

from elder.engine.arrays import Floats
from elder.engine.chance.counting import Take, sure_number
from elder.engine.chance.ready_by import CutDayChances, first_day_at, ready_from_cut
from elder.engine.climate.day_of_year import add_days, doy0, doy0_range
from elder.engine.climate.normals import midwinter
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.light import PlaceLight
from elder.engine.place.warmth import Place
from elder.engine.plan.cold import cold_of
from elder.engine.plan.condition import Condition, CutFrom, condition_on
from elder.engine.plan.harvest import harvest_day
from elder.engine.plan.light_needs import LightFit, Suited, pair_fits
from elder.engine.plan.material import (
    Material,
    cuttings_from,
    dried_already,
    pieces_that_serve,
    reasons_of,
    suits,
)
from elder.engine.plan.planting_windows import PlantingWindow, planting_windows, struck_out_of_doors
from elder.engine.plan.wintering import keeps_at
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

REACH_DAYS: Final = 480  # how far ahead a windfall is followed
SURE: Final = 0.9  # how sure the promised number is
SETTLED: Final = 0.8  # plants go out once this share of those that will be are ready (assumed)
NO_LIGHTS: Final[Mapping[str, PlaceLight | None]] = {}
THIS_YEAR_DAYS: Final = 200  # a planting window that opens later than this belongs to another year (assumed)


class Worth(IntEnum):
    """What a way is worth, best first."""

    THIS_YEAR = 0
    STANDS = 1
    KEPT = 2
    TOO_LATE = 3


@dataclass(frozen=True)
class WindfallOption:
    """One way to use it. ``places`` are the keys of the rooting and the growing place. ``sure`` plants come of it with
    9 in 10, ``likely`` are expected; ``plant_out`` is ``None`` where it has no season in open ground and stays in
    its pot; ``held_days`` is how long half wait in their pots; ``nights``: on which it has to be carried in.
    ``flags`` name what took from the take (flowering, wilted, out_of_season); ``light``: how the worse of its places
    suits; ``whole``: the same not cut up, where it could be."""

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
    nights: float
    flags: tuple[str, ...]
    light: LightFit
    whole: WindfallOption | None = None


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
    lights: Mapping[str, PlaceLight | None] = NO_LIGHTS,
) -> Windfall | Refusal:
    """Every way that suits the material, each at its best places, ranked; those without its light last, and no closed
    cover in the sun. Source: docs/architecture.md. Of the setting the way and the two places are not read."""
    plant = setting.plant
    suited = [method for method in plant.methods if suits(material, method)]
    offered = [method for method in suited if method.is_offered]
    others = tuple(NotOffered(method) for method in suited if not method.is_offered)
    if refusal := cannot_be_struck(plant):
        return refusal
    if not suited:
        instead = pieces_that_serve(plant, material.piece)
        said = {"plant": plant.name, "piece": material.piece, "instead": instead, "state": material.state}
        return Refusal("not_this_piece", "piece", said)
    hand = _Hand(material, setting, places, accepted_risk, lights)
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
    dim = option.light.standing >= Suited.NOT
    return (option.worth is Worth.TOO_LATE, dim, -round(value, 1), option.worth, out, moves, option.method.minutes_each)


Pair = tuple[tuple[str, Place], tuple[str, Place]]


@dataclass(frozen=True, eq=False)
class _Hand:
    """What stays the same while ways and places are tried."""

    material: Material
    setting: Setting
    places: Sequence[tuple[str, Place]]
    accepted_risk: float
    lights: Mapping[str, PlaceLight | None]

    @property
    def today(self) -> date:
        return self.setting.today

    def is_short(self, methods: list[Method]) -> bool:
        """Whether every way wants a longer piece."""
        return all(cuttings_from(self.material, method) == 0 for method in methods)

    def best_of(self, method: Method) -> WindfallOption | None:
        """The way at its best places; ``None`` where there is no place for it or no cutting in it."""
        if cuttings_from(self.material, method) == 0:
            return None
        tried = [(self._option(method, pair, usual=True), pair) for pair in self._pairs(method)]
        if not tried:
            return None
        _, pair = min(tried, key=lambda one: _rank(one[0]))
        best = self._option(method, pair, usual=False)
        if best.cuttings <= self.material.pieces:
            return best
        uncut = replace(self, material=self.material.uncut)
        return replace(best, whole=uncut._option(method, pair, usual=False))

    def _pairs(self, method: Method) -> Iterator[Pair]:
        if method.direct:
            allowed = struck_out_of_doors(self.setting.plant, self.setting.climate, self.accepted_risk)
            if method.wood == "dormant" or allowed[doy0(self.today)]:
                yield from ((spot, spot) for spot in self.places if spot[1].standing == "ground")
            return
        pots = [spot for spot in self.places if spot[1].standing != "ground"]
        cool = [spot for spot in pots if self._light(method, (spot, spot), None).standing != Suited.SHUT_OUT]
        if method.route.stays:
            yield from ((spot, spot) for spot in cool)
            return
        yield from ((rooting, growing) for rooting in cool for growing in pots)

    def _light(self, method: Method, pair: Pair, ready: date | None) -> LightFit:
        """The worse of both places: where it roots today, where it grows on when half are ready."""
        lights, days = (self.lights.get(pair[0][0]), self.lights.get(pair[1][0])), (self.today, ready or self.today)
        fits = pair_fits(lights, (self.setting.plant, method), self.setting.climate, days)
        return max(fits, key=lambda one: one.standing)

    def _option(self, method: Method, pair: Pair, *, usual: bool) -> WindfallOption:
        """What a pair of places makes of it; ``usual``: in the year of the normals, for setting pairs side by side."""
        plant, condition = self.setting.plant.grown_by(method), self._condition(method)
        setting = condition.under(replace(self._at(method, pair), plant=plant))
        setting = replace(setting, method=dried_already(self.material, setting.method))
        raising = setting.raising().usual if usual else setting.raising()
        count = cuttings_from(self.material, method)
        take = condition.lowers(method.plant_take)
        stands, followed = take.then(setting.after_roots), ready_from_cut(raising, self.today, REACH_DAYS)
        worth, out = self._worth(setting, followed.mean_ready)
        end = out or add_days(self.today, REACH_DAYS - 1)
        ready = followed.ready_on(end)
        half = int(first_day_at(followed.mean_ready, 0.5))
        kept = out and worth is not Worth.KEPT
        ready_on = _day(self.today, half)
        return WindfallOption(
            method=method,
            places=(pair[0][0], pair[1][0]),
            cuttings=count,
            take=take,
            worth=worth,
            sure=0 if usual else sure_number(count, chance_ready=ready, take=stands, confidence=SURE),
            likely=count * stands.mean * float(ready.mean()),
            rooted=_day(self.today, int(first_day_at(followed.mean_rooted, 0.5))),
            ready=ready_on,
            plant_out=out,
            harvest=harvest_day(plant, setting.climate, out, plant.harvest_median_days) if out and kept else None,
            held_days=max((end - self.today).days - half, 0) if out and half >= 0 else 0,
            nights=float(cold_of(setting, self.today, 1, self._until(followed, out)).nights[0]),
            flags=condition.reasons,
            light=self._light(method, pair, ready_on),
        )

    def _at(self, method: Method, pair: Pair) -> Setting:
        return replace(self.setting, method=method, rooting_place=pair[0][1], growing_place=pair[1][1])

    def _until(self, followed: CutDayChances, out: date | None) -> date:
        """Until when it stands in the cold: the day out, else the day most are ready."""
        settled = int(first_day_at(followed.mean_ready, SETTLED))
        return out or add_days(self.today, settled if settled >= 0 else REACH_DAYS - 1)

    def _condition(self, method: Method) -> Condition:
        stock = CutFrom(self.setting.plant, self.setting.climate)
        return condition_on(method, stock, self.today, seen=reasons_of(self.material, method))

    def _worth(self, setting: Setting, ready: Floats) -> tuple[Worth, date | None]:
        """What the way is worth, and the day its plants go out, if they ever do."""
        plant, method = setting.plant, setting.method
        settled = int(first_day_at(ready, SETTLED))
        kept = keeps_at(plant, setting.growing_place, setting.climate, self.accepted_risk)
        for window in self.windows(plant):
            out = self._day_out(window, settled, ready)
            if out is None:
                continue
            if self._is_too_cold(setting, out):
                return Worth.TOO_LATE, None
            waits = (out - self.today).days - int(first_day_at(ready, 0.5))
            soon = (window.opens - self.today).days <= THIS_YEAR_DAYS
            through_winter = soon is False or self._winter_before(out)
            if through_winter and not (kept or method.wood == "dormant"):  # bare wood bears far more
                return Worth.TOO_LATE, None
            if waits <= plant.patience_days or method.direct:
                return (Worth.STANDS if through_winter else Worth.THIS_YEAR), out
            return Worth.KEPT, out
        return (Worth.KEPT if kept and settled >= 0 else Worth.TOO_LATE), None

    def _is_too_cold(self, setting: Setting, out: date) -> bool:
        """Whether it would have to be carried in on more nights than one would, or is killed where it stands."""
        cold, most = cold_of(setting, self.today, 1, out), setting.assumptions.carry_nights
        too_many = most is not None and round(float(cold.nights[0])) > most
        return too_many or float(cold.killed[0]) > self.accepted_risk

    def windows(self, plant: Plant) -> list[PlantingWindow]:
        """When its plants could go out."""
        climate = self.setting.climate
        return planting_windows(plant, climate, accepted_risk=self.accepted_risk, start=self.today, days=REACH_DAYS)

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
        if days <= 0 or self.setting.climate.frost.autumn is None:
            return False
        low = doy0_range(self.today, days)
        coldest = midwinter(self.setting.climate.normals)
        return bool((low == coldest).any())


def _day(today: date, index: int) -> date | None:
    return add_days(today, index) if index >= 0 else None
