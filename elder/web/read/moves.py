"""A move reckoned for today: what becomes of each plant, what its cuttings ask, how it is loaded."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final

from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import cached_property, kept
from elder.engine.shed.containers import final_pot
from elder.engine.shed.packing import Floor, holds
from elder.engine.shed.vessels import Vessel
from elder.engine.year.load import LoadPlan, Thing, Vehicle, load_plan
from elder.engine.year.moving import USUAL_SIZE, MoveAnswer, MoveWay, ToMove, move_answer
from elder.engine.year.winter import winter_of
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.moving.models import HouseMove, MovedPlant
from elder.web.read.gardens import climate_of, places_of
from elder.web.read.kit import kit_of
from elder.web.read.mothers import Known, known
from elder.web.read.there import has_any
from elder.web.read.wants import Reckoning, reckon
from elder.web.read.winter_stands import BeforeWinter, of_batches, of_mothers
from elder.web.season.models import Want

_answer = kept(move_answer)
_load = kept(load_plan)
HEDGE_TO_THE_METRE: Final = 3  # plants (common practice)
CRATE_CM: Final = (60.0, 40.0, 22.0)  # of a crate for small pots (assumed)
SMALL_CM: Final = 16.0  # pots no wider than this go in crates (assumed)
CRATE_KG: Final = 1.5
BARE_SHARE: Final = 0.3  # of a pot's weight that is left when its mix is knocked out (assumed)
YOUNG_CM: Final = 20.0  # how tall young plants stand in their pots (assumed)
TRAY_CELLS: Final = 24  # cuttings from this many on go into trays of cells (assumed)


@dataclass(frozen=True, eq=False)
class Coming:
    """A plant of the move: as it stands, what Elder advises, what was chosen, and what was done."""

    standing: BeforeWinter
    thing: ToMove
    answer: MoveAnswer
    row: MovedPlant | None
    reckoning: Reckoning | None

    @property
    def key(self) -> str:
        """What an address calls it."""
        return self.standing.key

    @property
    def way(self) -> MoveWay:
        """What becomes of it: as was chosen, else as advised."""
        return MoveWay(self.row.way) if self.row and self.row.way else self.answer.way

    @property
    def is_chosen(self) -> bool:
        """Whether somebody decided otherwise than was advised."""
        return self.way is not self.answer.way

    @property
    def is_done(self) -> bool:
        """Whether its part before the move is done."""
        if self.way is MoveWay.CUTTINGS:
            return bool(self.reckoning and self.reckoning.batches)
        return self.way in (MoveWay.POT, MoveWay.LEAVE) or bool(self.row and self.row.done_on)

    @property
    def wanted(self) -> int:
        """How many cuttings' plants are to come along of it: one for one, or a hedge of them."""
        if self.row and self.row.hedge_m:
            return max(math.ceil(self.row.hedge_m * HEDGE_TO_THE_METRE), 1)
        return max(self.standing.count, 1)


@dataclass(frozen=True, eq=False)
class MoveToday:
    """A move as it stands today."""

    row: HouseMove
    today: date
    climate: Climate
    coming: tuple[Coming, ...]
    garden: Garden

    @property
    def days_left(self) -> int:
        """Days until the move."""
        return (self.row.day - self.today).days

    @property
    def along(self) -> tuple[Coming, ...]:
        """What comes along as a plant or as cuttings."""
        return tuple(one for one in self.coming if one.way not in (MoveWay.SEED, MoveWay.LEAVE))

    @property
    def vehicle(self) -> Vehicle:
        """What carries it."""
        row = self.row
        return Vehicle(row.long_cm, row.wide_cm, row.high_cm, row.carries_kg)

    @cached_property
    def things(self) -> tuple[Thing, ...]:
        """Every box, pot and ball that is loaded."""
        return tuple(thing for one in self.along for thing in _things(one, self.garden))

    @cached_property
    def load(self) -> LoadPlan:
        """How it is loaded."""
        return _load(self.things, self.vehicle)


def size_of(plant: Plant, row: MovedPlant | None) -> tuple[float, float]:
    """How tall a plant stands and how thick its stem is, cm: as measured, else as its group usually does."""
    tall, thick = USUAL_SIZE[plant.group]
    if row is None:
        return tall, thick
    return row.height_cm or tall, thick if row.stem_cm is None else row.stem_cm


def move_today(row: HouseMove, garden: Garden, today: date, every: list[Known] | None = None) -> MoveToday:
    """A move reckoned. ``every``: the garden's mothers, where they are known already."""
    climate = climate_of(garden)
    rows = {one.what: one for one in row.plants.select_related("want__rooting_place", "want__growing_place", "want")}
    stands = [
        *of_mothers(garden, known(garden, today) if every is None else every),
        *of_batches(garden, today, winter_of(climate, today)),
    ]
    # What was struck for the move stands on its mother's line, not on one of its own.
    struck = set(Batch.objects.filter(want__moved_by__move=row).values_list("pk", flat=True)) if rows else set()
    stands = [one for one in stands if one.batch not in struck]
    there = climate_of(row.to) if row.to else None
    found = [_coming(one, rows.get(one.key), (row, garden, there), today) for one in stands]
    return MoveToday(row, today, climate, tuple(sorted(found, key=_order)), garden)


def _coming(
    standing: BeforeWinter,
    row: MovedPlant | None,
    about: tuple[HouseMove, Garden, Climate | None],
    today: date,
) -> Coming:
    move, garden, there = about
    tall, thick = size_of(standing.plant, row)
    thing = ToMove(standing.plant, standing.in_pot, tall, thick, standing.kg, standing.mother)
    asked_on, risk = min(today, move.day), garden.accepted_risk
    answer = _answer(thing, climate_of(garden), today=asked_on, day=move.day, there=there, accepted_risk=risk)
    found = Coming(standing, thing, answer, row, None)
    if found.way is not MoveWay.CUTTINGS:
        return found
    return Coming(standing, thing, answer, row, _cuttings(found, move, garden, today))


def _cuttings(one: Coming, move: HouseMove, garden: Garden, today: date) -> Reckoning | None:
    """The want its cuttings are raised by, or would be."""
    if one.row and one.row.want:
        want = one.row.want
        return reckon(want, garden, today, batches=want.batches.prefetch_related("entries", "also_for", "want"))
    if move.day <= today:
        return None
    return next(iter(_raised(one, move, garden, today)), None)


def _raised(one: Coming, move: HouseMove, garden: Garden, today: date) -> list[Reckoning]:
    """The first way its cuttings could be raised by in time, tried in the order they take; the usual one, with its
    refusal, where none could."""
    ways = sorted((way for way in one.standing.plant.ways if not way.direct), key=lambda way: -way.plant_take.mean)
    first = [one.answer.cut] if one.answer.cut else []
    refused: list[Reckoning] = []
    for way in dict.fromkeys([*first, *ways]):
        asked = cuttings_want(one, move, garden, way)
        if asked is None:
            return []
        found = reckon(asked, garden, today)
        if found.refusal is None:
            return [found]
        refused.append(found)
    return refused


def cuttings_want(one: Coming, move: HouseMove, garden: Garden, method: Method) -> Want | None:
    """So many young plants of it, ready by the day before the move, kept nowhere; ``None`` where there is no place to
    strike them."""
    places = [place for place in places_of(garden).values() if place.standing != "ground"]
    if not places:
        return None
    return Want(
        garden=garden,
        plant=one.standing.plant.slug,
        variety=one.standing.variety,
        method=method.slug,
        wanted=min(one.wanted, 200),
        by=move.day - timedelta(days=1),
        purpose=Want.Purpose.SPARE,
        rooting_place=places[0],
        growing_place=next((place for place in places if place.standing == "air"), places[0]),
        mother_id=one.standing.stock,
    )


ORDER: Final = {
    way: i for i, way in enumerate((MoveWay.CUTTINGS, MoveWay.DIG, MoveWay.POT, MoveWay.SEED, MoveWay.LEAVE))
}


def _order(one: Coming) -> tuple[int, float, str]:
    return ORDER[one.way], -one.answer.kg, one.standing.name


def _things(one: Coming, garden: Garden) -> Iterator[Thing]:
    """A plant of the move as it is loaded."""
    name = one.standing.name
    if one.way is MoveWay.DIG:
        ball = one.answer.ball
        if ball is None:
            return
        high = ball.deep_cm + one.thing.height_cm * 2 / 3  # a third of the top is off
        yield Thing(one.key, name, ball.across_cm, ball.across_cm, high, round(ball.kg, 1))
        return
    way = one.answer.cut or next(iter(one.standing.plant.methods), None)
    if way is None:
        return
    vessel = final_pot(one.standing.plant, way, {}, kit_of(garden))
    if one.way is MoveWay.CUTTINGS:
        yield from _crated(one.key, f"cuttings of {name}", vessel, one.wanted, _young_kg(vessel))
    elif one.standing.count > 1 or vessel.foot_cm[0] <= SMALL_CM:
        yield from _crated(one.key, name, vessel, one.standing.count, one.standing.kg)
    else:
        high = vessel.shape.height_cm + one.thing.height_cm
        long, wide = vessel.foot_cm
        kg = round(one.standing.kg, 1)
        yield Thing(one.key, name, long, wide, high, kg, emptied_kg=round(BARE_SHARE * kg, 1))


def _young_kg(vessel: Vessel) -> float:
    return vessel.filled_l * 1.2 + vessel.empty_kg


def _crated(key: str, name: str, vessel: Vessel, count: int, each_kg: float) -> Iterator[Thing]:
    """Small pots in crates, as many as stand in one and two people lift."""
    long, wide, high = CRATE_CM
    room = max(holds(vessel, Floor(long, wide)), 1)
    crates = math.ceil(count / room)
    for i in range(crates):
        here = min(room, count - i * room)
        said = f"{name}, crate {i + 1} of {crates}" if crates > 1 else f"{name}, a crate"
        tall = max(vessel.shape.height_cm + YOUNG_CM, high)
        yield Thing((key, i), said, long, wide, tall, round(here * each_kg + CRATE_KG, 1), may_lie=False)


def open_move(garden: Garden) -> HouseMove | None:
    """The move that is planned from a garden, if one is."""
    if not has_any(garden, HouseMove):
        return None
    return HouseMove.objects.filter(garden=garden, moved_on=None, off_on=None).select_related("to__household").last()
