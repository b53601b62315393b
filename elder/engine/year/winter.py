"""Over winter: what becomes of each plant where it stands, what saves it, by when, and how many to keep for spring.

That a pot freezes through where a bed does not, what a cover lifts and how many see the spring are common practice of
the trade; the numbers are assumed and marked so.
"""

from __future__ import annotations

import math
from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from typing import Final

import numpy as np

from elder.engine.chance.counting import Take, chance_at_least, cuttings_needed
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS, doy0_range
from elder.engine.climate.frost_risk import frost_risk, last_safe_day
from elder.engine.climate.normals import midsummer
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.light_needs import Suited
from elder.engine.plan.overwinter import WINTER_KEEP, YOUNG_SHARE
from elder.engine.plan.wintering import keeps_at, middle_night, one_in_ten_night, share_below, winter_least_c
from elder.engine.plan.wood import MotherHere, wood_days

POT_ROOTS_C: Final = 5.0  # roots in a pot are so much nearer the air's cold than roots in a bed (assumed)
HARDY_BELOW_C: Final = -2.0  # plants that bear less than this bear no less in a pot (assumed)
COVER_LIFT_C: Final = 3.0  # straw and fleece over a plant where it stands (assumed)
BORDERLINE_KEEP, DIM_KEEP = 0.95, 0.8  # of those kept, how many come through in poor light, and too little (assumed)
BEFORE_DAYS: Final = 28  # tops are best struck so long before the frost, while there is warmth (assumed)
LIST_OPENS_DAYS: Final = 75  # before the first of its days the list is worth reading (assumed)
APART_WEEKS: Final = 3  # what comes in stands apart, for what came in with it (common practice)
CHECK_DAYS: Final = 14  # how often what winters is looked through (assumed)
MILD_C: Final = 5.0  # the night must stay so far above what it bears for a day out (assumed)
NO_LEAP_YEAR: Final = 2027  # whose days of the year are dates of every year
CLUMPS: Final = frozenset({"division", "runner", "pup"})  # what is lifted with roots anyway
DUG_GROUPS: Final = frozenset({"herb", "leafy perennial", "unknown"})  # small enough to dig and pot (assumed)


class WinterWay(StrEnum):
    """What is done with a plant before winter, or that it is left."""

    LEFT = "left"
    COVERED = "covered"
    POT_IN = "in"
    DUG = "dug"
    TOPS = "tops"
    SOWN = "sown"
    LOST = "lost"


@dataclass(frozen=True)
class Outside:
    """What stands where, before winter: a plant in a bed or in a pot, at a place."""

    plant: Plant
    in_pot: bool
    place: Place
    mother: MotherHere | None = None


@dataclass(frozen=True)
class Shelter:
    """A place something could be kept at: its light for that plant in midwinter, and pots there is room for (``None``:
    nobody said)."""

    key: Hashable
    place: Place
    light: Suited = Suited.FITS
    room: int | None = None

    def __hash__(self) -> int:
        """By its key: a question holds every place of a garden."""
        return hash(self.key)


@dataclass(frozen=True)
class WinterAnswer:
    """What becomes of one. ``lost_share`` of winters would kill it where it stands, ``bare`` as it is and ``covered``
    under a cover; ``lowest_c`` the lowest night there in one winter of ten. ``by``: the last day before the frost that
    hurts it; ``out_on``: the first day it may stand out again. ``shelters``: where it could be kept, the best first.
    ``tops``: the way its tops may be struck by, and from when to when; ``insured``: whether tops are worth having
    beside what is done."""

    way: WinterWay
    bare: float
    covered: float
    lowest_c: float
    bears_c: float
    by: date | None
    out_on: date | None
    shelters: tuple[Shelter, ...] = ()
    tops: Method | None = None
    tops_from: date | None = None
    tops_until: date | None = None
    insured: bool = False


def bears_outside_c(plant: Plant, *, in_pot: bool) -> float:
    """The lowest night a settled plant bears out of doors, °C: at rest, where it is one that rests; in a pot less."""
    limit = plant.frost_limit_c if plant.rest_limit_c is None else plant.rest_limit_c
    return limit + POT_ROOTS_C if in_pot and limit < HARDY_BELOW_C else limit


def winter_of(climate: Climate, today: date) -> date:
    """The midsummer that the coming winter's list belongs to: the last one, until half of the winter half-year is over;
    then the next."""
    summer = date(NO_LEAP_YEAR, 1, 1) + timedelta(days=midsummer(climate.normals))
    last = max(day for day in (summer.replace(year=today.year - 1), summer.replace(year=today.year)) if day <= today)
    return last if (today - last).days <= YEAR_DAYS // 2 else last.replace(year=last.year + 1)


def first_safe_day(climate: Climate, limit_c: float, *, accepted_risk: float, after: date) -> date | None:
    """The first day from one on, past the coming midwinter, on which the risk that frost still comes is accepted;
    ``None`` where there is none to fear in any."""
    risk = frost_risk(climate, limit_c)[doy0_range(after, 2 * YEAR_DAYS)]
    if not (risk > accepted_risk).any():
        return None
    risky = risk > accepted_risk
    begins = int(np.argmax(risky))
    ends = begins + int(np.argmax(~risky[begins:]))
    return after + timedelta(days=ends)


def winter_answer(
    outside: Outside, shelters: Iterable[Shelter], climate: Climate, *, after: date, accepted_risk: float
) -> WinterAnswer:
    """What becomes of one plant in the winter after a midsummer, and what saves it."""
    plant, place = outside.plant, outside.place
    bears = winter_least_c(plant, place) if place.standing == "room" else bears_outside_c(plant, in_pot=outside.in_pot)
    bare, covered = (share_below(bears - lift, place, climate) for lift in (0.0, COVER_LIFT_C))
    kept_at = tuple(_keeping(plant, shelters, climate, accepted_risk))
    hurt_c = bears if plant.rest_limit_c is not None and place.standing != "room" else plant.frost_limit_c
    by = last_safe_day(climate, hurt_c - place.lift_night_c, accepted_risk=accepted_risk, after=after)
    out_on = first_safe_day(climate, hurt_c, accepted_risk=accepted_risk, after=after)
    way = _way(outside, (bare, covered), kept_at, accepted_risk)
    tops = _tops(outside, climate, after, by) if kept_at else None
    if way is WinterWay.LOST and tops:
        way = WinterWay.TOPS
    if way is WinterWay.LOST and (plant.seed or (plant.instead and plant.instead.way == "sow")):
        way = WinterWay.SOWN
    wanted = way in (WinterWay.TOPS, WinterWay.COVERED, WinterWay.DUG) or bare > accepted_risk / 2
    return WinterAnswer(
        way=way,
        bare=bare,
        covered=covered,
        lowest_c=one_in_ten_night(place, climate),
        bears_c=bears,
        by=by if way is not WinterWay.LEFT or wanted else None,
        out_on=out_on,
        shelters=kept_at,
        tops=tops[0] if tops else None,
        tops_from=tops[1] if tops else None,
        tops_until=tops[2] if tops else None,
        insured=bool(tops) and wanted and way is not WinterWay.TOPS,
    )


def _way(outside: Outside, deaths: tuple[float, float], kept_at: Sequence[Shelter], accepted_risk: float) -> WinterWay:
    """The least trouble that brings it through: left, covered, carried in, dug; else it is lost."""
    plant, (bare, covered) = outside.plant, deaths
    if bare <= accepted_risk:
        return WinterWay.LEFT
    if covered <= accepted_risk:
        return WinterWay.COVERED
    if outside.in_pot and kept_at:
        return WinterWay.POT_IN
    small = plant.group in DUG_GROUPS and not plant.crops_before_frost and bool(plant.methods)
    if kept_at and (small or any(way.form in CLUMPS for way in plant.methods)):
        return WinterWay.DUG
    return WinterWay.LOST


def _keeping(plant: Plant, shelters: Iterable[Shelter], climate: Climate, accepted_risk: float) -> list[Shelter]:
    """The places that keep it, best first: by light, then the coolest, for warmth without light draws a plant."""
    found = []
    for shelter in shelters:
        if keeps_at(plant, shelter.place, climate, accepted_risk):
            found.append((shelter.light, middle_night(shelter.place, climate), shelter))
    return [shelter for _, _, shelter in sorted(found, key=lambda one: one[:2])]


def _tops(outside: Outside, climate: Climate, after: date, by: date | None) -> tuple[Method, date, date] | None:
    """The surest way its tops may be struck by under cover before the frost, and the first and last day for it: while
    its wood is in season, and as long as there is something left to cut."""
    end = by or after + timedelta(days=YEAR_DAYS // 2)
    days = max((end - after).days, 0) + 1
    found: list[tuple[float, Method, date, date]] = []
    for way in outside.plant.ways:
        if way.direct or way.form in CLUMPS or way.form == "crown top":
            continue
        season = wood_days(outside.plant, way.wood, climate, (after, days), mother=outside.mother)
        if season.any():
            last = after + timedelta(days=int(np.flatnonzero(season)[-1]))
            first = max(last - timedelta(days=BEFORE_DAYS), after)
            found.append((way.plant_take.mean, way, first, last))
    if not found:
        return None
    _, way, first, last = max(found, key=lambda one: one[0])
    return way, first, last


def keep_at(plant: Plant, shelter: Shelter, climate: Climate) -> Take:
    """How many of those kept at a place see the spring: of the winters that stay warm enough there, as many as is
    usual, fewer in poor light."""
    warm = 1 - share_below(winter_least_c(plant, shelter.place), shelter.place, climate)
    light = {Suited.FITS: 1.0, Suited.BORDERLINE: BORDERLINE_KEEP}.get(shelter.light, DIM_KEEP)
    return Take(WINTER_KEEP.mean * warm * light, WINTER_KEEP.weight)


@dataclass(frozen=True)
class HowMany:
    """For so many in spring: ``kept`` plants through the winter; with ``cut`` tips taken in spring from the ``mothers``
    that live, each giving ``gives`` (0: they are set out themselves); ``tops`` to strike now where they begin as
    such."""

    wanted: int
    kept: int
    mothers: int
    gives: int
    cut: int
    tops: int


def how_many(
    plant: Plant, way: Method | None, wanted: int, keep: Take, confidence: float, *, tops: Method | None = None
) -> HowMany | None:
    """The fewest to keep for so many in spring: those themselves, or a few mothers that the rest is cut from; ``None``
    where it takes more than is reckoned."""
    whole = cuttings_needed(wanted, chance_ready=1.0, take=keep, confidence=confidence)
    kept, mothers, gives, cut = whole, wanted, 0, 0
    if way is not None and not way.direct:
        count = cuttings_needed(wanted, chance_ready=1.0, take=way.plant_take, confidence=confidence)
        each = max(1, math.floor(plant.gives * YOUNG_SHARE))
        few = math.ceil(count / each) if count else wanted
        begun = cuttings_needed(few, chance_ready=1.0, take=keep, confidence=confidence)
        if begun is not None and (kept is None or begun < kept):
            kept, mothers, gives, cut = begun, few, each, count or 0
    if kept is None:
        return None
    struck = 0
    if tops is not None:
        struck = cuttings_needed(kept, chance_ready=1.0, take=tops.plant_take, confidence=confidence) or 0
    return HowMany(wanted, kept, mothers, gives, cut, struck)


@dataclass(frozen=True)
class Second:
    """The second step, from ``lived`` plants: ``cut`` tips of them (0: they are set out themselves), what that gives
    with the confidence asked, and the chance of as many as are wanted."""

    lived: int
    cut: int
    sure: int
    chance: float


def second_step(plant: Plant, way: Method | None, lived: int, wanted: int, confidence: float) -> Second:
    """What those that really lived come to in spring."""
    if lived >= wanted or way is None or way.direct:
        return Second(lived, 0, min(lived, wanted), float(lived >= wanted))
    each = max(1, math.floor(plant.gives * YOUNG_SHARE))
    most = lived * each
    need = cuttings_needed(wanted, chance_ready=1.0, take=way.plant_take, confidence=confidence)
    cut = min(most, need if need is not None else most)
    chance = float(chance_at_least(wanted, cut, chance_ready=1.0, take=way.plant_take)) if cut else 0.0
    sure = 0
    for count in range(wanted, 0, -1):
        if cut and float(chance_at_least(count, cut, chance_ready=1.0, take=way.plant_take)) >= confidence:
            sure = count
            break
    return Second(lived, cut, max(sure, min(lived, wanted)), chance)


def spares_worth(killed: float, spares: int, keep: Take, enough: int) -> tuple[float, float]:
    """The chance that there is something in spring to go on from: with the bed alone, and with spares kept apart of
    which so many must live. The bed lives or dies as a whole."""
    alone = 1 - killed
    apart = float(chance_at_least(enough, spares, chance_ready=1.0, take=keep)) if spares else 0.0
    return alone, 1 - killed * (1 - apart)
