"""Every mother of a garden with what it can give today, in the same few queries whatever their number."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any, Final, TypeVar, cast

from django.db.models import Model

from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.keeping import STORE, kept
from elder.engine.mother.gives_today import Giving, Growth, Health, Mother, MotherSeen, giving, wood_opens
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.plan.wood import MotherHere
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once
from elder.web.read.gardens import climate_of, place_of, places_of
from elder.web.read.there import has_any
from elder.web.stock.models import StockLook, StockPlant
from elder.web.year.models import PotUp

_wood_opens = kept(wood_opens)

EACH_BYTES: Final = 6_000  # of a mother, her looks and her cells (measured, rounded)
LATER: Final[Mapping[type[Model], tuple[str, ...]]] = {
    StockLook: ("key", "by_id", "made_at"),
    PotUp: ("key", "by_id"),
}

Cells = tuple[Any, ...]
Taken = tuple[tuple[date, int], ...]
M = TypeVar("M", bound=Model)
PLACE: Final = [field.attname for field in StockPlant._meta.concrete_fields].index("place_id")


@dataclass(frozen=True, eq=False)
class Known:
    """A mother, how it was last seen, what it gives; ``opens`` is when wood of its is next in season."""

    row: StockPlant
    plant: Plant
    looks: list[StockLook]
    pots: list[PotUp]
    seen: MotherSeen
    giving: Giving
    opens: date | None
    taken: list[tuple[date, int]]
    today: date

    @property
    def rests(self) -> bool:
        """Whether nothing of it is in season today."""
        return self.opens is None or self.opens > self.today

    @property
    def now(self) -> int:
        """What it gives today: nothing while it rests, unless it is pups."""
        return 0 if self.rests and self.seen.pups is None else self.giving.now


def known(garden: Garden, today: date, *, only: int | None = None, hold: bool = True) -> list[Known]:
    """The mothers, those that give most first, the ended last; made once as the garden stands, and of those of which
    nothing changed since the last time only their place is asked anew. ``hold``: not for a day that is only asked
    about, since one day's mothers of a large garden are three megabytes."""
    if only is not None:
        return _asked_in_full(garden, today, only)
    name = "mothers of", garden.pk, today
    return once(garden, name, lambda: _kept(garden, today, hold=hold), shares=name if hold else None)


def _asked_in_full(garden: Garden, today: date, only: int) -> list[Known]:
    """One mother, with all that was written of her."""
    rows = (
        StockPlant.objects.filter(garden=garden, pk=only)
        .select_related("raised_from")
        .defer("raised_from__plan")
        .prefetch_related("looks", "pots")
    )
    takes, places = takes_by_mother(garden), places_of(garden)
    found = []
    for row in rows:
        row.place = places[row.place_id] if row.place_id else None
        taken = tuple(takes.get(row.pk, ()))
        found.append(_known(row, list(row.looks.all()), list(row.pots.all()), taken, climate_of(garden), today))
    return found


@dataclass(frozen=True, eq=False)
class _Mothers:
    """What was read of a garden's mothers the last time, under which climate, and what came of it, by their keys."""

    where: Cells
    cells: Mapping[int, Cells]
    known: Mapping[int, Known]


def _kept(garden: Garden, today: date, *, hold: bool) -> list[Known]:
    name = "mothers of", garden.pk, today
    climate, places = climate_of(garden), places_of(garden)
    where, cells = (climate, id(handbook())), _cells(garden)
    last: _Mothers | None = STORE.held(name)
    same = {} if last is None or last.where != where else {pk for pk in cells if last.cells.get(pk) == cells[pk]}
    found: dict[int, Known] = {}
    for pk, (row, looks, pots, taken, _) in cells.items():
        if last and pk in same:
            found[pk] = last.known[pk]
            found[pk].row.place = places.get(row[PLACE])
            continue
        made = _row(row)
        made.place = places.get(row[PLACE])
        found[pk] = _known(made, _rows(StockLook, looks), _rows(PotUp, pots), taken, climate, today)
    if hold:
        STORE.hold(name, _Mothers(where, cells, found), EACH_BYTES * len(found))
    return _ordered(found.values())


def _ordered(found: Iterable[Known]) -> list[Known]:
    return sorted(found, key=lambda one: (bool(one.row.ended_on), -one.now, one.row.name))


def _cells(garden: Garden) -> dict[int, tuple[Cells, Cells, Cells, tuple[tuple[date, int], ...], EnginePlace | None]]:
    """All that a mother's answer is made of, as plain cells by her key: her row, her looks, her pots, what was cut from
    her, where she stands."""
    if not has_any(garden, StockPlant):
        return {}
    rows = list(StockPlant.objects.filter(garden=garden).values_list(*_names(StockPlant), "raised_from__method"))
    looks, pots = _by_mother(StockLook, garden, "mother_id"), _by_mother(PotUp, garden, "stock_id")
    takes = takes_by_mother(garden)
    places = {pk: place_of(place) for pk, place in places_of(garden).items()}
    return {
        row[0]: (row, tuple(looks[row[0]]), tuple(pots[row[0]]), tuple(takes.get(row[0], ())), places.get(row[PLACE]))
        for row in rows
    }


def _by_mother(model: type[Model], garden: Garden, mother: str) -> Mapping[int, list[Cells]]:
    found: dict[int, list[Cells]] = defaultdict(list)
    at = _names(model).index(mother)
    ordered = model._default_manager.filter(**{f"{mother.removesuffix('_id')}__garden": garden}).order_by("on", "pk")
    for cells in ordered.values_list(*_names(model)):
        found[cells[at]].append(cells)
    return found


def _names(model: type[Model]) -> list[str]:
    """The columns that are read of many; what was written beside them is asked of one alone."""
    return [field.attname for field in model._meta.concrete_fields if field.attname not in LATER.get(model, ())]


def _row(cells: Cells) -> StockPlant:
    names = _names(StockPlant)
    row = StockPlant.from_db(StockPlant.objects.db, names, cells[: len(names)])
    raised = row.raised_from_id and Batch.from_db(Batch.objects.db, ["id", "method"], (row.raised_from_id, cells[-1]))
    row.raised_from = raised or None
    return row


def _rows(model: type[M], several: Iterable[Cells]) -> list[M]:
    return [model.from_db(model._default_manager.db, _names(model), cells) for cells in several]


def _known(
    row: StockPlant, looks: list[StockLook], pots: list[PotUp], taken: Taken, climate: Climate, today: date
) -> Known:
    plant, seen = handbook()[row.plant], seen_of(looks)
    gives = giving(Mother(row.gives, row.again_days, plant.pups, row.ended_on), seen, taken, today)
    opens = _wood_opens(plant, climate, today, mother_here(row, looks))
    return Known(row, plant, looks, pots, seen, gives, opens, sorted(taken), today)


def mother_here(row: StockPlant, looks: Iterable[StockLook] | None = None) -> MotherHere:
    """Where a mother stands, and how she was last seen."""
    place = place_of(row.place) if row.place else None
    last = next(iter(sorted(row.looks.all() if looks is None else looks, key=lambda one: (one.on, one.pk))[-1:]), None)
    if last is None:
        return MotherHere(place)
    return MotherHere(place, last.on, last.growth, last.wood, last.shoots)


def seen_of(looks: Iterable[StockLook]) -> MotherSeen:
    """A mother as last seen: its latest growth and health, and the latest count of each thing counted."""
    seen = MotherSeen()
    for look in looks:
        counted = {
            name: getattr(look, name) if getattr(look, name) is not None else getattr(seen, name)
            for name in ("shoots", "pups", "stalks")
        }
        counts = any(getattr(look, name) is not None for name in ("shoots", "pups"))
        growth, health = cast("Growth", look.growth), cast("Health", look.health)
        seen = MotherSeen(look.on if counts or seen.on is None else seen.on, growth, health, **counted)
    return seen


def costs_the_mother(plant: str, method: str) -> bool:
    """Whether what is cut is taken from what a mother gives: a crown top comes with its fruit, however many pups or
    shoots she has."""
    return handbook()[plant].method(method).form != "crown top"


def takes_by_mother(garden: Garden) -> dict[int, list[tuple[date, int]]]:
    """What was cut from each mother and when, of what she gives."""
    found: dict[int, list[tuple[date, int]]] = defaultdict(list)
    taken = Entry.objects.filter(
        batch__garden=garden, kind=Entry.Kind.TAKEN, struck_by=None, batch__mother__isnull=False
    )
    for mother, plant, method, on, count in taken.values_list(
        "batch__mother", "batch__plant", "batch__method", "on", "count"
    ):
        if costs_the_mother(plant, method):
            found[mother].append((on, count))
    return found
