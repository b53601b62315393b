"""The winter list of a garden: what stands where, what becomes of it, what saves it, who goes where."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from operator import is_
from typing import Final

from django.db.models import Model

from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import STORE, cached_property, kept
from elder.engine.plan.light_needs import Suited, fit_on, need_of
from elder.engine.shed.containers import final_pot
from elder.engine.shed.packing import holds
from elder.engine.year.winter import (
    HowMany,
    Shelter,
    WinterAnswer,
    WinterWay,
    how_many,
    keep_at,
    spares_worth,
    winter_answer,
    winter_of,
)
from elder.web.garden.models import Garden, Place
from elder.web.logbook.standing import once_looking
from elder.web.read.gardens import climate_of, place_of, places_of
from elder.web.read.kit import kit_of
from elder.web.read.light import light_of
from elder.web.read.mothers import Known, known
from elder.web.read.records import record_of
from elder.web.read.space import floor_of
from elder.web.read.there import has_any
from elder.web.read.winter_stands import HALF_YEAR, BeforeWinter, of_batches, of_mothers, pot_kg
from elder.web.year.models import Wintered

SURE: Final = 0.9
LINE_BYTES: Final = 3_000  # of a line of the list (measured, rounded)
_answer, _how_many, _keep_at = kept(winter_answer), kept(how_many), kept(keep_at)


@dataclass(frozen=True, eq=False)
class WinterLine:
    """One line of the list. ``shelter``: where there is room for them; ``crowded``: how many find none where they would
    go; ``keep``: how many of those kept there see the spring; ``many``: how many to keep for so many wanted; ``row``:
    what was done already."""

    standing: BeforeWinter
    answer: WinterAnswer
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
    """The list of a winter: its lines in the order they fall due, the midsummer it belongs to, and how many things were
    ``done`` for it."""

    summer: date
    today: date
    lines: list[WinterLine]
    done: int = 0

    @property
    def winter(self) -> int:
        """The number a winter is kept under."""
        return self.summer.year

    @property
    def work(self) -> list[WinterLine]:
        """What asks for hands, soonest first, the heaviest first of a day while one is fresh."""
        return [line for line in self.lines if line.is_work]


def winter_list(
    garden: Garden, today: date, every: list[Known] | None = None, *, until: date | None = None
) -> WinterList:
    """The list of the coming winter, or of the one that has begun. ``every``: the garden's mothers, where they are
    known already. ``until``: only what falls due by a day, for what comes later takes no room from it. Made once as the
    garden stands."""
    name = "winter of", garden.pk, until
    return once_looking(garden, (name, today), lambda: _winter_list(garden, today, every, until), shares=name)


def _winter_list(garden: Garden, today: date, every: list[Known] | None, until: date | None) -> WinterList:
    climate = climate_of(garden)
    summer = winter_of(climate, today)
    rows = list(Wintered.objects.filter(garden=garden)) if has_any(garden, Wintered) else []
    mothers = known(garden, today) if every is None else every
    wanted = _Wanted(
        (today, climate, garden.accepted_risk, kit_of(garden), _cells(places_of(garden).values()), _cells(rows)),
        (*mothers, record_of(garden, today)),
    )
    name = "winter of", garden.pk, until
    last: tuple[_Wanted, WinterList] | None = STORE.held(name)
    if last is not None and last[0].is_still(wanted):
        return last[1]
    stands = [*of_mothers(garden, mothers), *of_batches(garden, today, summer)]
    found = _made(garden, (today, summer, until), stands, [row for row in rows if row.winter == summer.year])
    STORE.hold(name, (wanted, found), LINE_BYTES * len(found.lines))
    return found


@dataclass(frozen=True, eq=False)
class _Wanted:
    """What a list is made of: what is told apart by its worth; and the mothers and the record, which are kept, others
    being made where anything of them changed."""

    cells: tuple[object, ...]
    kept: tuple[object, ...]

    def is_still(self, other: _Wanted) -> bool:
        """Whether nothing changed."""
        same = len(self.kept) == len(other.kept) and all(map(is_, self.kept, other.kept))
        return same and self.cells == other.cells


def _cells(rows: Iterable[Model]) -> tuple[object, ...]:
    return tuple(getattr(row, field.attname) for row in rows for field in row._meta.concrete_fields)


def _made(
    garden: Garden, days: tuple[date, date, date | None], stands: list[BeforeWinter], rows: list[Wintered]
) -> WinterList:
    climate, (today, summer, until) = climate_of(garden), days
    asking = _Asking(garden, climate, summer)
    answered = [(one, asking.answer(one)) for one in stands]
    soon = [pair for pair in answered if until is None or _due(pair[1]) <= until]
    ordered = sorted(soon, key=lambda pair: (_due(pair[1]), -pair[0].kg, pair[0].name))
    room: dict[object, float] = {}
    lines = [_line(one, answer, climate, room, rows) for one, answer in ordered]
    return WinterList(summer, today, lines, len(rows))


def one_more(garden: Garden, today: date, plant: Plant, *, in_pot: bool) -> WinterLine:
    """What would become of a plant that is on no list."""
    climate = climate_of(garden)
    asked = BeforeWinter(plant.name, plant, "", 1, in_pot, None, pot_kg(plant, garden))
    answer = _Asking(garden, climate, winter_of(climate, today)).answer(asked)
    return _line(asked, answer, climate, {}, [])


def _due(answer: WinterAnswer) -> date:
    day = answer.tops_until if answer.way is WinterWay.TOPS else answer.by
    return day or date.max


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


class _Asking:
    """The winter's question, asked once of all that stand alike: their plant, their place, in pots or in the ground."""

    def __init__(self, garden: Garden, climate: Climate, summer: date) -> None:
        self.garden, self.climate, self.summer = garden, climate, summer
        self._shelters: dict[Plant, tuple[Shelter, ...]] = {}
        self._answers: dict[tuple[object, ...], WinterAnswer] = {}

    def answer(self, one: BeforeWinter) -> WinterAnswer:
        """What becomes of it."""
        alike = one.plant, one.in_pot, one.place and one.place.pk, one.mother
        if alike not in self._answers:
            self._answers[alike] = self._ask(one)
        return self._answers[alike]

    def _ask(self, one: BeforeWinter) -> WinterAnswer:
        if one.plant not in self._shelters:
            self._shelters[one.plant] = shelters_for(one.plant, self.garden, self.climate, self.summer)
        shelters = self._shelters[one.plant]
        others = tuple(shelter for shelter in shelters if one.place is None or shelter.key != one.place.pk)
        risk = self.garden.accepted_risk
        return _answer(one.outside, others, self.climate, after=self.summer, accepted_risk=risk)


def _line(
    one: BeforeWinter, answer: WinterAnswer, climate: Climate, room: dict[object, float], rows: Sequence[Wintered]
) -> WinterLine:
    done = [row for row in rows if _same(row, one)]
    row = next((row for row in done if row.way != Wintered.DoneBy.TOPS), None)
    tops = next((row for row in done if row.way == Wintered.DoneBy.TOPS), None)
    moves = answer.way in (WinterWay.POT_IN, WinterWay.DUG)
    shelter, crowded = _placed(answer.shelters, one.count if moves else 1, room) if moves or answer.tops else (None, 0)
    keep = _keep_at(one.plant, shelter, climate) if shelter else None
    spring = next((way for way in one.plant.ways if not way.direct), None)
    wanted = row.wanted if row else one.count
    many = _how_many(one.plant, spring, wanted, keep, SURE, tops=answer.tops) if keep else None
    return WinterLine(one, answer, shelter, crowded, keep, many, row, tops)


def _same(row: Wintered, one: BeforeWinter) -> bool:
    same = row.stock_id == one.stock if one.stock else row.batch_id == one.batch
    bed = row.way in (Wintered.DoneBy.COVERED, Wintered.DoneBy.DUG, Wintered.DoneBy.TOPS)
    return same and (bed or one.in_pot or row.way == Wintered.DoneBy.POT_IN)


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


def with_wanted(line: WinterLine, wanted: int) -> WinterLine:
    """The same line for another number in spring."""
    if line.keep is None:
        return line
    spring = next((way for way in line.standing.plant.ways if not way.direct), None)
    many = _how_many(line.standing.plant, spring, wanted, line.keep, SURE, tops=line.answer.tops)
    return replace(line, many=many)
