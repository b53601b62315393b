"""Crops that stand for years: first fruit by their own warmth, their ladder of pots, the winters they come in for."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache
from typing import Any, Final

import numpy as np
from scipy.special import ndtri

from elder.engine.arrays import Floats
from elder.engine.chance.rooting_time import Z_ONE_IN_TEN
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS, add_days
from elder.engine.climate.frost_fit import LAW_YEARS, MIDSUMMER
from elder.engine.climate.normals import midsummer
from elder.engine.climate.years import WALKED_YEARS, possible_years
from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.tables import read_bench
from elder.engine.place.possible_warmth import running_units
from elder.engine.place.warmth import Cardinals, Place, beta_response
from elder.engine.plan.harvest import harvest_day
from elder.engine.round.potting import ladder
from elder.engine.shed.containers import final_pot
from elder.engine.shed.kit import PLAIN, Kit
from elder.engine.shed.mix import mix_for, usual_recipe
from elder.engine.shed.vessels import Vessel
from elder.engine.year.winter import bears_outside_c

FOLLOWED_DAYS: Final = 12 * YEAR_DAYS  # a fruit that far off is not waited for
OVERDUE: Final = 0.05  # fewer than so many still to fruit: no day is told (assumed)
NODES: Final = 20  # of how quick a plant is, weighed evenly


@lru_cache(maxsize=1)
def _book() -> dict[str, Any]:
    return read_bench("long_crops")[0]


@dataclass(frozen=True)
class CropFacts:
    """What a long crop does: days from flower to fruit, whether it ends then, who follows, what its flower looks
    like."""

    flower_to_fruit: tuple[int, int]
    ends: bool
    follows: str
    signs: str


def crop_facts(plant: Plant) -> CropFacts:
    """Of a plant, or of any other."""
    row = _book()["plants"].get(plant.kin, _book()["other"])
    early, late = row["flower_to_fruit"]
    return CropFacts((early, late), row["ends"], row["follows"], row["signs"])


@lru_cache(maxsize=256)
def told_at(plant: Plant) -> float:
    """Units a day in the warmth that a plant's days to fruit are told at: a steady one for tropical fruit, a temperate
    year for all others."""
    book, cardinals = _book(), plant.cardinals
    if plant.group in book["steady"]["groups"]:
        return float(_response(np.array(float(book["steady"]["at"])), cardinals))
    year = book["temperate"]
    day = np.arange(YEAR_DAYS)[:, None]
    hour = (np.arange(24)[None, :] + 0.5 - 15) / 24
    mean = year["mean"] + year["swing"] * np.cos(2 * np.pi * day / YEAR_DAYS)
    return float(_response(mean + year["day"] * np.cos(2 * np.pi * hour), cardinals).mean())


def _response(celsius: Floats, cardinals: Cardinals) -> Floats:
    return np.asarray(beta_response(celsius, t_min=cardinals.t_min, t_opt=cardinals.t_opt, t_max=cardinals.t_max))


@dataclass(frozen=True)
class FruitDate:
    """When the first fruit is ripe: one in ten by ``early``, half by ``likely``, nine in ten by ``late``; ``None``: not
    within twelve years. ``seen``: reckoned from a flower that was seen. ``overdue``: nearly all such plants would have
    fruited by now, so that no day is told."""

    early: date | None
    likely: date | None
    late: date | None
    seen: bool = False
    overdue: bool = False


def first_fruit(
    plant: Plant,
    climate: Climate,
    place: Place,
    since: date,
    *,
    flowered: date | None = None,
    not_by: date | None = None,
) -> FruitDate:
    """The first fruit of a plant that has stood at a place since a day, over the possible years and over how quick
    plants are; from the flower on, once that was seen. ``plant``: as its method grows it. ``not_by``: it had not
    fruited by then, so that it is one of those that are slower. In the crop's own season, where it has one and no
    flower was seen."""
    span = crop_facts(plant).flower_to_fruit if flowered else (plant.harvest_early_days, plant.harvest_late_days)
    start = flowered or since
    units = running_units(place, climate, plant.cardinals, WALKED_YEARS, start, FOLLOWED_DAYS)
    wanted = _nodes(span) * told_at(plant)
    reached = np.sort(np.concatenate([np.searchsorted(year, wanted) for year in units]))
    left = reached[reached >= (not_by - start).days] if not_by else reached
    if len(left) < OVERDUE * len(reached):
        return FruitDate(None, None, None, overdue=True)
    reached = left
    days = [int(reached[int(share * (len(reached) - 1))]) for share in (0.1, 0.5, 0.9)]
    early, likely, late = (_on(plant, climate, start, one, snap=flowered is None) for one in days)
    return FruitDate(early, likely, late, seen=flowered is not None)


def _nodes(span: tuple[int, int]) -> Floats:
    """Days that each of as many even parts of all plants take, one in ten by the first of the span, nine by the
    second; shape (nodes,)."""
    sigma = math.log(span[1] / span[0]) / (2 * Z_ONE_IN_TEN) if span[1] > span[0] else 0.0
    levels = (np.arange(NODES) + 0.5) / NODES
    return np.asarray(math.sqrt(span[0] * span[1]) * np.exp(sigma * ndtri(levels)))


def _on(plant: Plant, climate: Climate, start: date, days: int, *, snap: bool) -> date | None:
    if days > FOLLOWED_DAYS:
        return None
    return harvest_day(plant, climate, start, days) if snap else add_days(start, days)


@dataclass(frozen=True)
class PotStep:
    """A pot of the ladder: the day it is due or was done; ``litres`` of mix that go into it round the old ball, poured,
    and of what."""

    vessel: Vessel
    on: date
    done: bool
    litres: float
    parts: Mapping[str, float]
    renewed: bool = False


def pot_steps(
    plant: Plant, method: Method, potted: Sequence[tuple[date, Vessel]], kit: Kit = PLAIN
) -> tuple[PotStep, ...]:
    """The ladder of a plant from the pots it has stood in, the first first: those done, then those to come, each as
    long after the one before as the ladder has it. Raises ValueError for a plant that never stood in a pot."""
    if not potted:
        raise ValueError("a ladder begins with a pot")
    recipe = usual_recipe(plant, method, "pot", {}, kit) or kit.mixed("plain")
    steps, before = [], 0.0
    for on, vessel in potted:
        steps.append(_step(vessel, on, before, dict(recipe.parts), done=True, renewed=vessel.filled_l <= before))
        before = vessel.filled_l
    for vessel, on in _to_come(plant, method, potted, kit):
        renewed = vessel.filled_l <= before
        steps.append(_step(vessel, on, before * (2 / 3 if renewed else 1), dict(recipe.parts), renewed=renewed))
        before = vessel.filled_l
    return tuple(steps)


def _step(
    vessel: Vessel, on: date, before: float, parts: Mapping[str, float], *, done: bool = False, renewed: bool = False
) -> PotStep:
    fresh = max(vessel.filled_l - before, 0.0)
    poured = mix_for(parts, fresh)
    return PotStep(vessel, on, done, sum(poured.values()), poured, renewed)


def _to_come(
    plant: Plant, method: Method, potted: Sequence[tuple[date, Vessel]], kit: Kit
) -> list[tuple[Vessel, date]]:
    """The next pots: of the ladder those greater than the one it stands in, its days between them kept; of all others a
    greater one each spring, then fresh mix."""
    last_on, last = potted[-1]
    rungs = ladder(plant, method, last_on, {}, kit)
    if len(rungs) > 1:
        greater = [rung for rung in rungs if rung.vessel.filled_l > last.filled_l + 1e-9]
        if not greater:
            return []
        at = rungs.index(greater[0])
        begun = rungs[at - 1].due if at else last_on
        return [(rung.vessel, last_on + (rung.due - begun)) for rung in greater]
    book = _book()["yearly"]
    pots = sorted((one for one in kit.every() if one.said == "litres" and not one.gone), key=lambda one: one.filled_l)
    found, vessel, day = [], last, last_on
    for _ in range(2):
        day = add_days(day, YEAR_DAYS)
        least = vessel.filled_l * book["times"]
        bigger = next((one for one in pots if least <= one.filled_l <= book["most"]), vessel)
        found.append((bigger, day))
        vessel = bigger
    return found


def first_pot_of(plant: Plant, method: Method, kit: Kit = PLAIN) -> Vessel:
    """The pot it is taken to stand in where nobody said."""
    return final_pot(plant, method, {}, kit)


@dataclass(frozen=True)
class WintersIn:
    """How often a plant must come in from a place, as a share of winters; and of those the middle first and last day
    it stays in, and how many days (0 where it never must)."""

    share: float
    first: date | None
    last: date | None
    days: int


def winters_in(plant: Plant, climate: Climate, place: Place, today: date, *, in_pot: bool = True) -> WintersIn:
    """The winters of the possible years in which a night at a place falls below what a plant bears there, and for how
    long: from the first such night to the last."""
    if place.standing == "room":
        return WintersIn(0.0, None, None, 0)
    limit = bears_outside_c(plant, in_pot=in_pot)
    years = possible_years(climate, LAW_YEARS)
    night = years.t_min + place.lift_night_c
    night = night if place.floor_c is None else np.maximum(night, place.floor_c)
    # From one midsummer to the next, each year followed by the next.
    winter = np.concatenate((night[:, MIDSUMMER:], night[years.following][:, :MIDSUMMER]), axis=1)
    below = winter < limit
    cold = below.any(axis=1)
    if not cold.any():
        return WintersIn(0.0, None, None, 0)
    firsts = below[cold].argmax(axis=1)
    lasts = below.shape[1] - 1 - below[cold][:, ::-1].argmax(axis=1)
    summer = _last_midsummer(climate, today)
    first, last = (summer + timedelta(days=int(np.median(one))) for one in (firsts, lasts))
    return WintersIn(float(cold.mean()), first, last, int(np.median(lasts - firsts)) + 1)


def _last_midsummer(climate: Climate, today: date) -> date:
    summer = date(today.year, 1, 1) + timedelta(days=midsummer(climate.normals))
    return summer if summer <= today else summer.replace(year=today.year - 1)


def follower_fruit(plant: Plant, climate: Climate, place: Place, since: date) -> FruitDate | None:
    """When the pup that follows one that has ended fruits itself; ``None`` for plants without pups."""
    way = next((way for way in plant.methods if way.form == "pup"), None)
    return first_fruit(plant.grown_by(way), climate, place, since) if way else None
