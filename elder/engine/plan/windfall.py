"""The windfall, forward: what can become of this stem, cut today, and is it still worth it this season?

Every way that suits what is in the hand is tried at every place. A way is worth it *this year* when its
plants can go out before the season shuts; else it may *stand* in its pot until the next, be *kept* through
the winter in the warm, or come *too late*.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Final

from elder.engine.chance.counting import Take, sure_number
from elder.engine.chance.ready_by import CutDayChances, first_day_at, ready_from_cut
from elder.engine.climate.day_of_year import add_days, doy0
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import cached_property
from elder.engine.place.light import PlaceLight
from elder.engine.place.warmth import Place
from elder.engine.plan.cold import cold_of
from elder.engine.plan.condition import Condition, CutFrom, condition_on
from elder.engine.plan.harvest import harvest_day
from elder.engine.plan.light_needs import LightFit, Stage, Suited, fit_on, need_of
from elder.engine.plan.material import (
    Material,
    cuttings_from,
    dried_already,
    pieces_that_serve,
    reasons_of,
    suits,
)
from elder.engine.plan.planting_windows import struck_out_of_doors
from elder.engine.plan.windfall_pairs import Glanced, Pair, best_looking
from elder.engine.plan.windfall_worth import REACH_DAYS, SETTLED, WORTH_WEIGHT, Season, Worth, day_at
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

SURE: Final = 0.9  # how sure the promised number is
NO_LIGHTS: Final[Mapping[str, PlaceLight | None]] = {}
LOOKED_AT: Final = 10  # of the pairs of places, so many are looked at closely (assumed)


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

    @cached_property
    def season(self) -> Season:
        """What the year ahead allows."""
        return Season(self.setting.climate, self.today, self.accepted_risk)

    def is_short(self, methods: list[Method]) -> bool:
        """Whether every way wants a longer piece."""
        return all(cuttings_from(self.material, method) == 0 for method in methods)

    def best_of(self, method: Method) -> WindfallOption | None:
        """The way at its best places; ``None`` where there is no place for it or no cutting in it."""
        if cuttings_from(self.material, method) == 0:
            return None
        pairs = self._worth_trying(method)
        if not pairs:
            return None
        tried = [(self._option(method, pair, usual=True), pair) for pair in pairs] if len(pairs) > 1 else []
        pair = min(tried, key=lambda one: _rank(one[0]))[1] if tried else pairs[0]
        best = self._option(method, pair, usual=False)
        if best.cuttings <= self.material.pieces:
            return best
        uncut = replace(self, material=self.material.uncut)
        return replace(best, whole=uncut._option(method, pair, usual=False))

    def _worth_trying(self, method: Method) -> list[Pair]:
        """The pairs to look at closely: of places that are alike the first alone, and of many pairs the best few, set
        side by side."""
        first: dict[tuple[Place, PlaceLight | None], str] = {}
        for key, place in self.places:
            first.setdefault((place, self.lights.get(key)), key)
        alone = set(first.values())
        pairs = [pair for pair in self._pairs(method) if pair[0][0] in alone and pair[1][0] in alone]
        if len(pairs) <= LOOKED_AT:
            return pairs
        return best_looking(pairs, self._glanced(method, pairs), LOOKED_AT)

    def _glanced(self, method: Method, pairs: Sequence[Pair]) -> Glanced:
        setting = self._prepared(method, pairs[0])
        stands = self._condition(method).lowers(method.plant_take).then(setting.after_roots).mean
        count = cuttings_from(self.material, method)
        return Glanced(setting, self.season, count * stands, lambda pair, day: self._light(method, pair, day))

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
        rooting = self._fit(method, "unrooted", pair[0][0], self.today)
        if method.direct:
            return rooting
        growing = self._fit(method, "rooted", pair[1][0], ready or self.today)
        return growing if growing.standing > rooting.standing else rooting

    def _fit(self, method: Method, stage: Stage, key: str, day: date) -> LightFit:
        """How the light of one place suits on a day, asked once: every place stands in forty pairs."""
        asked = method.slug, stage, key, day
        if asked not in self._fits:
            need = need_of(self.setting.plant, method, stage)
            self._fits[asked] = fit_on(self.lights.get(key), self.setting.climate, need, day)
        return self._fits[asked]

    @cached_property
    def _fits(self) -> dict[tuple[str, Stage, str, date], LightFit]:
        return {}

    def _option(self, method: Method, pair: Pair, *, usual: bool) -> WindfallOption:
        """What a pair of places makes of it; ``usual``: in the year of the normals, for setting pairs side by side."""
        setting, condition = self._prepared(method, pair), self._condition(method)
        plant = setting.plant
        raising = setting.raising().usual if usual else setting.raising()
        count = cuttings_from(self.material, method)
        take = condition.lowers(method.plant_take)
        stands, followed = take.then(setting.after_roots), ready_from_cut(raising, self.today, REACH_DAYS)
        worth, out = self.season.worth(setting, followed.mean_ready)
        end = out or add_days(self.today, REACH_DAYS - 1)
        ready = followed.ready_on(end)
        half = int(first_day_at(followed.mean_ready, 0.5))
        kept = out and worth is not Worth.KEPT
        ready_on = day_at(self.today, half)
        return WindfallOption(
            method=method,
            places=(pair[0][0], pair[1][0]),
            cuttings=count,
            take=take,
            worth=worth,
            sure=0 if usual else sure_number(count, chance_ready=ready, take=stands, confidence=SURE),
            likely=count * stands.mean * float(ready.mean()),
            rooted=day_at(self.today, int(first_day_at(followed.mean_rooted, 0.5))),
            ready=ready_on,
            plant_out=out,
            harvest=harvest_day(plant, setting.climate, out, plant.harvest_median_days) if out and kept else None,
            held_days=max((end - self.today).days - half, 0) if out and half >= 0 else 0,
            nights=float(cold_of(setting, self.today, 1, self._until(followed, out)).nights[0]),
            flags=condition.reasons,
            light=self._light(method, pair, ready_on),
        )

    def _prepared(self, method: Method, pair: Pair) -> Setting:
        """A way at a pair of places, as what is in the hand roots by it."""
        plant = self.setting.plant.grown_by(method)
        plain = replace(self.setting, plant=plant, method=method, rooting_place=pair[0][1], growing_place=pair[1][1])
        setting = self._condition(method).under(plain)
        return replace(setting, method=dried_already(self.material, setting.method))

    def _until(self, followed: CutDayChances, out: date | None) -> date:
        """Until when it stands in the cold: the day out, else the day most are ready."""
        settled = int(first_day_at(followed.mean_ready, SETTLED))
        return out or add_days(self.today, settled if settled >= 0 else REACH_DAYS - 1)

    def _condition(self, method: Method) -> Condition:
        stock = CutFrom(self.setting.plant, self.setting.climate)
        return condition_on(method, stock, self.today, seen=reasons_of(self.material, method))
