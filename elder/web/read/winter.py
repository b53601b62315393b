"""The winter list of a garden: what stands where, what becomes of it, what saves it, who goes where."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property, lru_cache
from typing import Final

from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.plan.light_needs import Suited, fit_on, need_of
from elder.engine.plan.wood import MotherHere
from elder.engine.round.loads import weight_kg, wet_kg
from elder.engine.shed.containers import final_pot
from elder.engine.shed.kit import AsTreated
from elder.engine.shed.packing import holds
from elder.engine.year.winter import (
    APART_WEEKS,
    CHECK_DAYS,
    Answer,
    HowMany,
    Outside,
    Shelter,
    WinterWay,
    how_many,
    keep_at,
    spares_worth,
    winter_answer,
    winter_of,
)
from elder.web.garden.models import Garden, Place
from elder.web.read.gardens import climate_of, place_of, places_of
from elder.web.read.kit import kit_of
from elder.web.read.light import light_of
from elder.web.read.mine import Told, record_of
from elder.web.read.mothers import Known, known
from elder.web.read.space import floor_of
from elder.web.year.models import Wintered

SURE: Final = 0.9
HALF_YEAR: Final = timedelta(days=182)
BED: Final = EnginePlace("air")  # what stands in a bed has the open air over it
_answer = lru_cache(maxsize=512)(winter_answer)


@dataclass(frozen=True)
class BeforeWinter:
    """Plants of one kind that stand together before winter: how many, in pots or in a bed, at which place (``None``: in
    a bed that is no place), of which mother or batch; one pot's weight, kg."""

    name: str
    plant: Plant
    variety: str
    count: int
    in_pot: bool
    place: Place | None
    kg: float
    stock: int | None = None
    batch: int | None = None
    mother: MotherHere | None = None

    @property
    def key(self) -> str:
        """What a form calls it."""
        where = self.place.pk if self.place else 0
        whose = f"s{self.stock}" if self.stock else f"b{self.batch}"
        return f"{whose}-{'pot' if self.in_pot else 'bed'}-{where}"

    @property
    def outside(self) -> Outside:
        """What it is asked about as."""
        here = place_of(self.place) if self.place and self.place.standing != Place.Standing.GROUND else BED
        return Outside(self.plant, self.in_pot, here, self.mother)


@dataclass(frozen=True, eq=False)
class WinterLine:
    """One line of the list. ``shelter``: where there is room for them; ``crowded``: how many find none where they would
    go; ``keep``: how many of those kept there see the spring; ``many``: how many to keep for so many wanted; ``row``:
    what was done already."""

    standing: BeforeWinter
    answer: Answer
    shelter: Shelter | None
    crowded: int
    keep: Take | None
    many: HowMany | None
    row: Wintered | None
    tops_row: Wintered | None

    @property
    def way(self) -> WinterWay:
        """What is to be done."""
        return self.answer.way

    @property
    def is_work(self) -> bool:
        """Whether hands are needed."""
        return self.way not in (WinterWay.LEFT, WinterWay.SOWN, WinterWay.LOST)

    @property
    def is_done(self) -> bool:
        """Whether it was done."""
        return self.row is not None or (self.way is WinterWay.TOPS and self.tops_row is not None)

    @property
    def due(self) -> date | None:
        """The last day for it: of its tops the last to strike them, else the last before the frost."""
        return self.answer.tops_until if self.way is WinterWay.TOPS else self.answer.by

    @cached_property
    def worth(self) -> tuple[float, float] | None:
        """What spares kept apart are worth for a bed that is left or covered: the chance of something to go on from in
        spring, without them and with."""
        killed = self.answer.covered if self.way is WinterWay.COVERED else self.answer.bare
        if not self.answer.insured or self.keep is None or self.many is None or self.standing.in_pot:
            return None
        few = min(self.many.mothers, self.many.kept)
        return spares_worth(killed, self.many.kept, self.keep, few)


@dataclass(frozen=True, eq=False)
class WinterList:
    """The list of a winter: its lines in the order they fall due, and the midsummer it belongs to."""

    summer: date
    today: date
    lines: list[WinterLine]

    @property
    def winter(self) -> int:
        """The number a winter is kept under."""
        return self.summer.year

    @property
    def work(self) -> list[WinterLine]:
        """What asks for hands, soonest first, the heaviest first of a day while one is fresh."""
        return [line for line in self.lines if line.is_work]


def winter_list(garden: Garden, today: date, every: list[Known] | None = None) -> WinterList:
    """The list of the coming winter, or of the one that has begun. ``every``: the garden's mothers, where they are
    known already."""
    climate = climate_of(garden)
    summer = winter_of(climate, today)
    rows = list(Wintered.objects.filter(garden=garden, winter=summer.year))
    stands = [*_stock(garden, every or known(garden, today)), *_batches(garden, today, summer)]
    answered = [(one, _asked(one, garden, climate, summer)) for one in stands]
    ordered = sorted(answered, key=lambda pair: (_due(pair[1]), -pair[0].kg, pair[0].name))
    room: dict[object, float] = {}
    lines = [_line(one, answer, climate, room, rows) for one, answer in ordered]
    return WinterList(summer, today, lines)


def one_more(garden: Garden, today: date, plant: Plant, *, in_pot: bool) -> WinterLine:
    """What would become of a plant that is on no list."""
    climate = climate_of(garden)
    asked = BeforeWinter(plant.name, plant, "", 1, in_pot, None, _pot_kg(plant, garden))
    answer = _asked(asked, garden, climate, winter_of(climate, today))
    return _line(asked, answer, climate, {}, [])


def _due(answer: Answer) -> date:
    day = answer.tops_until if answer.way is WinterWay.TOPS else answer.by
    return day or date.max


def _stock(garden: Garden, mothers: list[Known]) -> Iterator[BeforeWinter]:
    for one in mothers:
        if one.row.ended_on is None:
            yield _of_mother(one, garden)


def _of_mother(one: Known, garden: Garden) -> BeforeWinter:
    place = one.row.place
    in_pot = place is not None and place.standing != Place.Standing.GROUND
    return BeforeWinter(
        one.row.name,
        one.plant,
        one.row.variety,
        1,
        in_pot,
        place,
        _pot_kg(one.plant, garden) if in_pot else 0.0,
        stock=one.row.pk,
    )


def _batches(garden: Garden, today: date, summer: date) -> Iterator[BeforeWinter]:
    """What stands of batches, in pots and in beds. What was planted before the last winter and bears none is gone."""
    kept = set(Wintered.objects.filter(garden=garden, tops__isnull=False).values_list("tops_id", flat=True))
    for told in record_of(garden, today).told:
        if told.row.pk in kept:
            continue
        potted = told.state.count("potted") + told.state.count("hardening")
        if potted:
            yield _of_batch(told, garden, potted, in_pot=True)
        planted = told.state.count("planted")
        since = told.state.since("planted")
        gone = told.plant.crops_before_frost and since is not None and since < summer - HALF_YEAR
        if planted and not gone:
            yield _of_batch(told, garden, planted, in_pot=False)


def _of_batch(told: Told, garden: Garden, count: int, *, in_pot: bool) -> BeforeWinter:
    row, places = told.row, places_of(garden)
    moved = [move for move in told.state.moves if move.stage == "potted"]
    pk = int(moved[-1].place) if moved else row.growing_place_id
    place = places[pk] if in_pot else places[row.rooting_place_id] if told.method.direct else None
    name = row.stock_plant
    return BeforeWinter(
        f"{row.code}, from {name}",
        told.plant,
        row.variety,
        count,
        in_pot,
        place,
        _pot_kg(told.plant, garden, told.method) if in_pot else 0.0,
        batch=row.pk,
    )


def _pot_kg(plant: Plant, garden: Garden, method: Method | None = None) -> float:
    """About what one pot of it weighs, watered: in its usual pot."""
    way = method or next(iter(plant.methods), None)
    if way is None:
        return 0.0
    kit = kit_of(garden)
    return weight_kg(final_pot(plant, way, {}, kit), wet_kg(plant, way, "potted", AsTreated({}, kit)))


def shelters_for(plant: Plant, garden: Garden, climate: Climate, summer: date) -> tuple[Shelter, ...]:
    """The places of a garden that something could be kept at, with their light in midwinter."""
    way = next(iter(plant.methods), None)
    midwinter = summer + HALF_YEAR
    found = []
    for place in places_of(garden).values():
        if place.standing == Place.Standing.GROUND:
            continue
        need = need_of(plant, way, "rooted") if way else None
        light = fit_on(light_of(place), climate, need, midwinter).standing if need else Suited.FITS
        found.append(Shelter(place.pk, place_of(place), light, _room(plant, way, place, garden)))
    return tuple(found)


def _room(plant: Plant, way: Method | None, place: Place, garden: Garden) -> int | None:
    """How many pots of a plant a place holds, counted or packed on its floor; ``None`` where nobody said."""
    floor = floor_of(place)
    if floor and way:
        return holds(final_pot(plant, way, {}, kit_of(garden)), floor)
    found = place.capacity.get("pot")
    return int(found) if found else None


def _asked(one: BeforeWinter, garden: Garden, climate: Climate, summer: date) -> Answer:
    shelters = shelters_for(one.plant, garden, climate, summer)
    others = tuple(shelter for shelter in shelters if one.place is None or shelter.key != one.place.pk)
    return _answer(one.outside, others, climate, after=summer, accepted_risk=garden.accepted_risk)


def _line(
    one: BeforeWinter, answer: Answer, climate: Climate, room: dict[object, float], rows: Sequence[Wintered]
) -> WinterLine:
    done = [row for row in rows if _same(row, one)]
    row = next((row for row in done if row.way != Wintered.Way.TOPS), None)
    tops = next((row for row in done if row.way == Wintered.Way.TOPS), None)
    moves = answer.way in (WinterWay.POT_IN, WinterWay.DUG)
    shelter, crowded = _placed(answer.shelters, one.count if moves else 1, room) if moves or answer.tops else (None, 0)
    keep = keep_at(one.plant, shelter, climate) if shelter else None
    spring = next((way for way in one.plant.ways if not way.direct), None)
    wanted = row.wanted if row else one.count
    many = how_many(one.plant, spring, wanted, keep, SURE, tops=answer.tops) if keep else None
    return WinterLine(one, answer, shelter, crowded, keep, many, row, tops)


def _same(row: Wintered, one: BeforeWinter) -> bool:
    same = row.stock_id == one.stock if one.stock else row.batch_id == one.batch
    bed = row.way in (Wintered.Way.COVERED, Wintered.Way.DUG, Wintered.Way.TOPS)
    return same and (bed or one.in_pot or row.way == Wintered.Way.POT_IN)


def _placed(shelters: Iterable[Shelter], count: int, room: dict[object, float]) -> tuple[Shelter | None, int]:
    """The best place with room for so many, and how many find none where it has to be another; what is given away of
    room is written down."""
    options = list(shelters)
    for shelter in options:
        if shelter.room is None or count <= _left(shelter, room):
            _fill(shelter, count, room)
            return shelter, 0
    if not options:
        return None, 0
    first = options[0]
    crowded = count - _left(first, room)
    room[first.key] = 0.0
    return first, crowded


def _left(shelter: Shelter, room: Mapping[object, float]) -> int:
    """How many of its pots a place still has room for; ``room`` is the share of each place that is left."""
    return int(room.get(shelter.key, 1.0) * (shelter.room or 0) + 1e-9)


def _fill(shelter: Shelter, count: int, room: dict[object, float]) -> None:
    if shelter.room:
        room[shelter.key] = room.get(shelter.key, 1.0) - count / shelter.room


@dataclass(frozen=True, eq=False)
class CareToday:
    """What winters, as it stands today: how many live by the last look, when it is looked at next, whether it still
    stands apart, whether today is the day to count for spring."""

    row: Wintered
    plant: Plant
    alive: int
    last: date
    apart_until: date | None
    next_check: date
    counts: bool


def cares_today(garden: Garden, today: date) -> list[CareToday]:
    """Everything that winters, by place."""
    rows = Wintered.objects.filter(garden=garden, done_on=None).select_related("place", "stood_at", "tops", "stock")
    states = {told.row.pk: told.state for told in record_of(garden, today).told}
    found = []
    for row in rows.prefetch_related("checks"):
        found.append(_care(row, today, states[row.tops_id].living if row.tops_id in states else None))
    return sorted(found, key=lambda one: (one.row.place.walk if one.row.place else 999, one.next_check))


def _care(row: Wintered, today: date, tops_living: int | None) -> CareToday:
    checks = list(row.checks.all())
    last = max([row.on, *(check.on for check in checks)])
    lost = sum(check.lost for check in checks)
    alive = tops_living if tops_living is not None else row.lived if row.lived is not None else row.count - lost
    moved_in = row.way in (Wintered.Way.POT_IN, Wintered.Way.DUG)
    apart = row.on + timedelta(weeks=APART_WEEKS) if moved_in else None
    step = 7 if apart and last < apart else CHECK_DAYS
    return CareToday(
        row=row,
        plant=handbook()[row.plant],
        alive=alive,
        last=last,
        apart_until=apart if apart and apart >= today else None,
        next_check=last + timedelta(days=step),
        counts=row.lived is None and row.out_on is not None and today >= row.out_on,
    )


def by_place(cares: Iterable[CareToday]) -> dict[str, list[CareToday]]:
    """What winters at each place, by its name."""
    found: dict[str, list[CareToday]] = defaultdict(list)
    for one in cares:
        found[one.row.place.name if one.row.place else "In the beds"].append(one)
    return dict(found)


def with_wanted(line: WinterLine, wanted: int) -> WinterLine:
    """The same line for another number in spring."""
    if line.keep is None:
        return line
    spring = next((way for way in line.standing.plant.ways if not way.direct), None)
    many = how_many(line.standing.plant, spring, wanted, line.keep, SURE, tops=line.answer.tops)
    return replace(line, many=many)
