"""Moving house: what becomes of each plant - dug, carried in its pot, cut, sown again, or left - and when it is dug.

That shrubs are dug in the cool half of the year and never in the heat without need, that a third of the foliage comes
off, and that they are watered deeply once a week for three months is common practice of the trade.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from typing import Final

import numpy as np

from elder.engine.arrays import Bools
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import doy0, doy0_range
from elder.engine.climate.normals import daily_normals
from elder.engine.handbook.model import Method, Plant
from elder.engine.plan.wintering import stands_through
from elder.engine.plan.wood import MotherHere, wood_days
from elder.engine.round.lifting import weight_limit_kg
from elder.engine.year.road import bears_days
from elder.engine.year.root_ball import Ball, ball_of
from elder.engine.year.winter import CLUMPS

DIG_AHEAD: Final = timedelta(days=21)  # dug so long before the move at the soonest, where it is cool then (assumed)
MUST_AHEAD: Final = timedelta(days=4)  # and in growth as late as can be (assumed)
COOL_NOON_C: Final = 17.0  # a usual noon up to this is cool enough to dig, in any season (assumed)
HOT_C: Final = 25.0  # a usual noon above this is the heat nothing is dug in (assumed)
PEOPLE: Final = 2  # lift together at the most (assumed: more seldom find hold)
PIECE_CM: Final = 25.0  # a piece of a clump is dug as a plant so tall (assumed)
WATERED_WEEKS: Final = 13  # three months (common practice)
RESTS_C: Final = 5.0  # below this the ground stays wet and nothing drinks (assumed)
SLOW_DAYS: Final = 300  # what bears no sooner than this is worth digging (assumed)
EASY_DAYS: Final = 45  # what roots within this is sooner cut than a big plant is dug (assumed)
BIG_CM: Final = 60.0


# How tall a plant of a group usually stands and how thick its stem is, cm, where nobody measured it (assumed).
USUAL_SIZE: Final = {
    "herb": (40.0, 0.5), "vegetable": (80.0, 1.0), "leafy perennial": (60.0, 1.5), "soft fruit": (130.0, 2.0),
    "flowering shrub": (120.0, 2.0), "tree fruit": (220.0, 4.0), "tropical fruit": (180.0, 5.0),
    "unknown": (80.0, 1.0),
}  # fmt: skip


class MoveWay(StrEnum):
    """What becomes of a plant that is moved house with."""

    POT = "pot"
    DIG = "dig"
    CUTTINGS = "cuttings"
    SEED = "seed"
    LEAVE = "leave"


@dataclass(frozen=True)
class ToMove:
    """A plant that would come along: in a pot of so many kg, or in the ground, so tall and with a stem so thick, cm."""

    plant: Plant
    in_pot: bool
    height_cm: float
    stem_cm: float
    pot_kg: float = 0.0
    mother: MotherHere | None = None

    @property
    def is_clump(self) -> bool:
        """Whether a piece of it is lifted with roots."""
        return any(way.form in CLUMPS for way in self.plant.methods)


@dataclass(frozen=True)
class MoveAnswer:
    """What becomes of it and why, as codes. ``ball`` and ``kg``: as it is lifted; ``people`` it takes, nought for more
    than there are. ``dig``: the first and last day for it; ``must``: it is dug in growth, because there is no cool day
    left. ``cut``: the way its cuttings are struck by; ``may``: what else could be done."""

    way: MoveWay
    why: tuple[str, ...]
    ball: Ball | None = None
    kg: float = 0.0
    people: int = 1
    dig: tuple[date, date] | None = None
    must: bool = False
    cut: Method | None = None
    may: tuple[MoveWay, ...] = ()

    @property
    def emptied(self) -> bool:
        """Whether its pot is too heavy to be lifted full."""
        return self.way is MoveWay.POT and self.people == 0


def people_for(kg: float, limit_kg: float | None = None) -> int:
    """How many people lift so much, each within the recommended weight limit; nought for more than there are."""
    each = weight_limit_kg() if limit_kg is None else limit_kg
    return next((count for count in range(1, PEOPLE + 1) if kg <= count * each + 1e-9), 0)


def cool_days(climate: Climate) -> Bools:
    """On which days of the year digging does little harm: in its cooler half, and on any whose usual noon is cool;
    shape (365,)."""
    low, high = daily_normals(climate.normals)
    mean = (low + high) / 2
    return np.asarray((mean <= np.median(mean)) | (high <= COOL_NOON_C))


def dig_days(climate: Climate, today: date, day: date) -> tuple[tuple[date, date], bool] | None:
    """The first and last day for digging before a move, on the last three weeks of cool days there are; and whether it
    has to be in the warm half of the year, as late as can be. ``None`` where those days would be hot."""
    last = max(day - timedelta(days=1), today)  # on the day itself there is that day yet
    cool = cool_days(climate)[doy0_range(today, (last - today).days + 1)]
    if cool.any():
        end = int(np.flatnonzero(cool)[-1])
        warm = np.flatnonzero(~cool[:end])
        begin = max(end - DIG_AHEAD.days, int(warm[-1]) + 1 if len(warm) else 0)
        return (today + timedelta(days=begin), today + timedelta(days=end)), False
    start = max(last - MUST_AHEAD, today)
    if float(daily_normals(climate.normals)[1][doy0(last)]) > HOT_C:
        return None
    return (start, last), True


def cutting_way(thing: ToMove, climate: Climate, today: date, day: date) -> Method | None:
    """The way its cuttings are struck by so that they come along: the surest whose wood is in season early enough to
    root by the day, or that travels unrooted; ``None`` for none."""
    days = (day - today).days
    found: list[tuple[float, Method]] = []
    for way in thing.plant.ways:
        if way.direct or way.form in CLUMPS or days < 1:
            continue
        season = wood_days(thing.plant, way.wood, climate, (today, days), mother=thing.mother)
        rooted = days - round(way.rooting.late) - way.dry_days
        on_the_way = season[max(days - bears_days(way.form, "unrooted"), 0) :].any()
        if (rooted > 0 and season[:rooted].any()) or on_the_way:
            found.append((way.plant_take.mean, way))
    return max(found, key=lambda one: one[0])[1] if found else None


def move_answer(
    thing: ToMove, climate: Climate, *, today: date, day: date, there: Climate | None = None, accepted_risk: float = 0.1
) -> MoveAnswer:
    """What becomes of one plant by the day of the move. ``there``: the new garden's climate, where it is known."""
    cut = cutting_way(thing, climate, today, day)
    may = _may(thing, cut)
    if thing.in_pot:
        people = people_for(thing.pot_kg)
        why = ("in_pot", *(("too_heavy_full",) if not people else ()))
        return MoveAnswer(MoveWay.POT, why, kg=thing.pot_kg, people=people, cut=cut, may=may)
    if thing.plant.crops_before_frost and not thing.is_clump:
        return _one_summer(thing.plant, cut, may)
    tender_there = there is not None and not stands_through(thing.plant, there, accepted_risk)
    ball = ball_of(PIECE_CM if thing.is_clump else thing.height_cm, 0.0 if thing.is_clump else thing.stem_cm)
    people, when = people_for(ball.kg), dig_days(climate, today, day)
    answer = _in_the_ground(thing, cut, people, when)
    why = (*answer[1], *(("tender_there",) if tender_there else ()))
    dug = answer[0] is MoveWay.DIG
    return MoveAnswer(
        way=answer[0],
        why=why,
        ball=ball if dug else None,
        kg=ball.kg if dug else 0.0,
        people=people if dug else 1,
        dig=when[0] if when and dug else None,
        must=bool(when and when[1] and dug),
        cut=cut,
        may=may,
    )


def _one_summer(plant: Plant, cut: Method | None, may: tuple[MoveWay, ...]) -> MoveAnswer:
    """What crops in one summer is not dug: its seed where that comes true, else a cutting of it."""
    if plant.seed and plant.seed.comes_true:
        return MoveAnswer(MoveWay.SEED, ("one_summer", "comes_true"), cut=cut, may=may)
    if cut:
        return MoveAnswer(MoveWay.CUTTINGS, ("one_summer", "not_true"), cut=cut, may=may)
    return MoveAnswer(MoveWay.LEAVE, ("one_summer", "no_wood"), cut=cut, may=may)


def _in_the_ground(
    thing: ToMove, cut: Method | None, people: int, when: tuple[tuple[date, date], bool] | None
) -> tuple[MoveWay, tuple[str, ...]]:
    """Dug, cut, or left, of what stands in the ground for years."""
    plant = thing.plant
    if thing.is_clump and when:
        return MoveWay.DIG, ("clump",)
    if not people:
        return (MoveWay.CUTTINGS, ("too_big",)) if cut else (MoveWay.LEAVE, ("too_big", "no_wood"))
    if when is None:
        return (MoveWay.CUTTINGS, ("no_cool_day",)) if cut else (MoveWay.LEAVE, ("no_cool_day", "no_wood"))
    easy = cut is not None and cut.rooting.late <= EASY_DAYS and plant.harvest_early_days < SLOW_DAYS
    if easy and (thing.height_cm > BIG_CM or when[1]):
        return MoveWay.CUTTINGS, ("roots_easily",)
    if plant.harvest_early_days >= SLOW_DAYS:
        return MoveWay.DIG, ("years_to_bear",)
    return MoveWay.DIG, ("small_enough",)


def _may(thing: ToMove, cut: Method | None) -> tuple[MoveWay, ...]:
    """What else could be done with it."""
    ways = [MoveWay.POT] if thing.in_pot else [MoveWay.DIG]
    ways += [MoveWay.CUTTINGS] if cut else []
    ways += [MoveWay.SEED] if thing.plant.seed or (thing.plant.instead and thing.plant.instead.way == "sow") else []
    return (*ways, MoveWay.LEAVE)


def deep_waterings(planted_on: date, climate: Climate) -> list[date]:
    """The days on which what was planted is watered deeply: once a week for three months, but for weeks so cold that
    nothing drinks."""
    low, high = daily_normals(climate.normals)
    mean = (low + high) / 2
    weeks = (planted_on + timedelta(weeks=week) for week in range(1, WATERED_WEEKS + 1))
    return [on for on in weeks if mean[doy0(on)] >= RESTS_C]
