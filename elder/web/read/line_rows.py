"""A line's rows to engine values: its setting, who may be cut, what was cut and what still roots."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.handbook.loading import handbook
from elder.engine.keeping import kept, lent
from elder.engine.plan.wood import MotherHere
from elder.engine.setting import Setting
from elder.engine.shed.containers import stuck_in
from elder.engine.year.days_to_plant import days_to_plant, shut_days
from elder.engine.year.line import NEVER, CutGroup, Line, Rooting
from elder.engine.year.multiply import LONGEST_DAYS
from elder.web.garden.models import Garden
from elder.web.read.batches import BatchToday, batch_rows, batch_today
from elder.web.read.gardens import climate_of, place_of
from elder.web.read.mothers import Known
from elder.web.read.records import record_of
from elder.web.read.space import capacities
from elder.web.year.models import LineLot, Multiplying

_days_to_plant = lent(days_to_plant)
_shut_days = kept(shut_days)


@dataclass(frozen=True, eq=False)
class LotToday:
    """A lot that was cut: its batch as it stands, the day it counts as plants, how many of them were cut since."""

    row: LineLot
    batch: BatchToday
    plant_on: date

    @property
    def stands(self) -> int:
        """Plants of it that stand: in pots, hardening or planted."""
        return sum(self.batch.state.count(stage) for stage in ("potted", "hardening", "planted"))

    @property
    def coming(self) -> int:
        """Those of it still on their way to a pot."""
        return self.batch.state.count("waiting") + self.batch.state.count("rooted")


@dataclass(frozen=True)
class Source:
    """Who may be cut for the line: a mother, or the plants of a lot; so many from a day on, each giving so many."""

    name: str
    plants: int
    gives: int
    cut_from: date
    generation: int
    mother: int | None = None
    lot: int | None = None

    @property
    def most(self) -> int:
        """All the cuttings they give."""
        return self.plants * self.gives

    @property
    def key(self) -> str:
        """What a form calls it."""
        return f"mother{self.mother}" if self.mother else f"lot{self.lot}-{self.cut_from.toordinal()}"


def mothers_of(row: Multiplying) -> frozenset[int]:
    """The keys of a line's first mothers."""
    asked: Iterable[int] | None = getattr(row, "asked_mothers", None)
    return frozenset(asked if asked is not None else row.mothers.values_list("pk", flat=True))


def line_setting(row: Multiplying, garden: Garden, today: date) -> Setting:
    """What a line is asked under: by the garden's own record where it says something."""
    plant, record = handbook()[row.plant], record_of(garden, today)
    method = plant.method(row.method)
    places = place_of(row.rooting_place), place_of(row.growing_place)
    assumed = record.assumed_for(plant, method)
    return Setting(plant, record.way_here(plant, method), climate_of(garden), *places, today, assumed).grown


def shut_on(setting: Setting, today: date, mother: MotherHere | None) -> dict[date, str]:
    """The days of the years ahead on which nothing is cut. Reckoned from the first of the month, and kept for it."""
    first = today.replace(day=1)
    found = _shut_days(setting.asked_on(first), first, LONGEST_DAYS + YEAR_DAYS, mother)
    return {day: why for day, why in found.items() if day >= today}


def slow_days(setting: Setting, today: date) -> tuple[int, ...]:
    """Days to a plant for a cut on each day of the year from today; kept for the month."""
    first = today.replace(day=1)
    found = _days_to_plant(setting.asked_on(first), first, YEAR_DAYS)
    gone = (today - first).days
    return (*found[gone:], *found[:gone])


def line_of(row: Multiplying, setting: Setting, slow: tuple[int, ...]) -> Line:
    return Line(
        gives=max(row.gives, 1),
        again_days=row.again_days,
        first_take_days=row.first_take_days if row.gives else NEVER,
        days_to_plant=max(slow),
        take=setting.method.plant_take.then(setting.after_roots),
        slow_days=slow,
    )


def closed_days(row: Multiplying, shut: Mapping[date, str], today: date) -> frozenset[date]:
    if row.weekday is None:
        return frozenset(shut)
    others = (today + timedelta(days=day) for day in range(LONGEST_DAYS + YEAR_DAYS))
    return frozenset(shut) | {day for day in others if day.weekday() != row.weekday}


def room_of(row: Multiplying, setting: Setting) -> int | None:
    """How many cuttings the rooting place holds at one time; ``None`` where nobody said."""
    holds = capacities([row.rooting_place]).get((row.rooting_place_id, setting.method.container))
    return holds * stuck_in(setting.plant, setting.method, 1).each if holds else None


def takes_left(row: Multiplying, mother: int, lots: Iterable[LotToday]) -> int | None:
    """How often a tuber still gives: each lot that was cut of it is one time less; ``None`` for what is no tuber."""
    if row.mother_takes is None:
        return None
    cut = {lot.batch.state.taken_on for lot in lots if lot.row.source_id is None and lot.batch.row.mother_id == mother}
    return max(row.mother_takes - len(cut), 0)


def from_mothers(row: Multiplying, mothers: list[Known], lots: list[LotToday], today: date) -> list[Source]:
    """What each first mother gives, and from when: what she has now, or all of it once it has come back."""
    found = []
    for one in mothers:
        if one.row.ended_on or not one.giving.full or takes_left(row, one.row.pk, lots) == 0:
            continue
        whole = one.giving.now >= one.giving.full or one.giving.full_on is None
        day = today if whole else one.giving.full_on or today
        gives = one.giving.now if whole else one.giving.full
        if gives:
            found.append(Source(one.row.name, 1, gives, day, 0, mother=one.row.pk))
    return found


def groups_of(
    sources: Iterable[Source], mothers: list[Known], row: Multiplying, lots: list[LotToday], today: date
) -> tuple[CutGroup, ...]:
    """Who stands of a line, and from when each may be cut. A mother that gives nothing is a plant all the same."""
    found, giving = [], set()
    for source in sources:
        if source.mother is None:
            found.append(CutGroup(source.plants, source.cut_from, source.generation))
            continue
        giving.add(source.mother)
        again = next(one.row.again_days for one in mothers if one.row.pk == source.mother)
        left = takes_left(row, source.mother, lots)
        found.append(CutGroup(source.plants, source.cut_from, 0, source.gives, again, left))
    idle = sum(1 for one in mothers if one.row.pk not in giving and not one.row.ended_on)
    return (*found, CutGroup(idle, today, 0, takes=0)) if idle else tuple(found)


def lots_of(row: Multiplying, garden: Garden, today: date) -> list[LotToday]:
    """The lots that were cut, in their order."""
    if row.pk is None:
        return []
    batches = {one.pk: one for one in batch_rows(garden).filter(line_lot__line=row)}
    found = []
    for lot in row.lots.all():
        batch = batches[lot.batch_id]
        found.append(LotToday(lot, batch_today(batch, garden, today, want=batch.want), lot.plant_on))
    return found


def from_lots(lots: list[LotToday], row: Multiplying, today: date) -> list[Source]:
    """The plants of each lot that stand, by when they may next be cut: those that were cut last wait longest."""
    found: list[Source] = []
    for lot in lots:
        first = lot.plant_on + timedelta(days=row.first_take_days)
        left = lot.stands if today >= lot.plant_on else 0
        cuts = [other for other in lots if other.row.source_id == lot.row.pk]
        for cut in sorted(cuts, key=lambda one: one.batch.state.taken_on, reverse=True):
            count = min(cut.row.plants_cut, left)
            again = cut.batch.state.taken_on + timedelta(days=row.again_days)
            if count and again > today:
                found.append(_source(lot, row, count, again))
                left -= count
        if left:
            found.append(_source(lot, row, left, max(first, today)))
    return found


def _source(lot: LotToday, row: Multiplying, count: int, day: date) -> Source:
    name = f"the plants of {lot.batch.row.code}"
    day = day if row.gives else date.max
    return Source(name, count, max(row.gives, 1), day, lot.row.generation, lot=lot.row.pk)


def rooting_of(lot: LotToday, row: Multiplying, today: date) -> list[Rooting]:
    """Those of a lot that are no plants yet, by its own forecast to the day; from the day they ought to stand, those
    that do are taken as standing and only the rest as coming."""
    counts = np.asarray(lot.batch.forecast.ready_on(max(row.by, today)))
    stands = lot.stands if today >= lot.plant_on else 0
    left = _left_of(counts, stands + lot.batch.state.given)  # what was given away stands elsewhere
    if len(left) < 2:
        return []
    return [Rooting(tuple(left.tolist()), max(lot.plant_on, today + timedelta(days=1)), lot.row.generation)]


def _left_of(counts: Floats, stands: int) -> Floats:
    """The chances of how many come besides those that stand already."""
    if not stands:
        return counts
    left = counts[stands:].copy() if len(counts) > stands else np.ones(1)
    left[0] += counts[:stands].sum()
    return np.asarray(left)
