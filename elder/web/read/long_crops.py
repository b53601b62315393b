"""The crops of a garden that stand for years, as they stand today: pots, fruit, pups, winters."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import cached_property, kept
from elder.engine.mother.gives_today import Giving
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.round.potting import Potting, ladder, potting_of
from elder.engine.shed.kit import Kit
from elder.engine.shed.mix import ph_range
from elder.engine.shed.vessels import Vessel
from elder.engine.year.long_crop import (
    CropFacts,
    FruitDate,
    PotStep,
    WintersIn,
    crop_facts,
    first_fruit,
    first_pot_of,
    follower_fruit,
    pot_steps,
    winters_in,
)
from elder.engine.year.winter import CLUMPS
from elder.web.garden.models import Garden, Place
from elder.web.logbook.standing import once
from elder.web.read.gardens import climate_of, place_of, places_of
from elder.web.read.kit import kit_of
from elder.web.read.mothers import Known, known
from elder.web.read.records import record_of
from elder.web.read.told import Told
from elder.web.season.models import Want
from elder.web.stock.models import StockLook, StockPlant

LONG_DAYS: Final = 300  # what first crops later than this stands for years
CROP_BYTES: Final = 2_000  # of a crop, besides its mother or batch (measured, rounded)
MOST_POTS: Final = 30  # a pot a year; more nobody looks at
BED: Final = EnginePlace("air")
_first_fruit = kept(first_fruit)
_winters_in = kept(winters_in)
_pot_steps = kept(pot_steps)


@dataclass(frozen=True, eq=False)
class LongCrop:
    """One crop that stands for years. ``since``: from when its warmth counts; ``said``: the pots it has stood in, so
    far as anybody said; ``guessed``: nobody said, so its usual ones are taken."""

    key: str
    name: str
    variety: str
    plant: Plant
    method: Method
    climate: Climate
    place: Place | None
    since: date
    today: date
    count: int
    said: tuple[tuple[date, Vessel], ...]
    guessed: bool
    kit: Kit
    looks: tuple[StockLook, ...] = ()
    giving: Giving | None = None
    stock: StockPlant | None = None
    batch: int | None = None

    @property
    def here(self) -> EnginePlace:
        """Where it stands, as the engine knows it."""
        in_bed = self.place is None or self.place.standing == Place.Standing.GROUND
        return BED if in_bed or self.place is None else place_of(self.place)

    @property
    def in_pot(self) -> bool:
        """Whether it stands in a pot."""
        return self.place is not None and self.place.standing != Place.Standing.GROUND

    @property
    def facts(self) -> CropFacts:
        """What its kind does."""
        return crop_facts(self.plant)

    @property
    def growth(self) -> str:
        """How it was last seen."""
        return self.looks[-1].growth if self.looks else "growing"

    @property
    def flowered(self) -> date | None:
        """The day its flower was first seen, of the fruit that is still to come."""
        since: date | None = None
        for look in self.looks:
            if look.growth == StockLook.Growth.FLOWERING:
                since = since or look.on
            elif look.growth in (StockLook.Growth.FRUITED, StockLook.Growth.RESTING):
                since = None
        return since

    @property
    def has_ended(self) -> bool:
        """Whether it has fruited and dies of it."""
        return self.facts.ends and self.growth == StockLook.Growth.FRUITED

    @cached_property
    def fruit(self) -> FruitDate:
        """When its first fruit is ripe."""
        plant = self.plant.grown_by(self.method)
        not_by = None if self.has_fruited else self.today
        return _first_fruit(plant, self.climate, self.here, self.since, flowered=self.flowered, not_by=not_by)

    @property
    def has_fruited(self) -> bool:
        """Whether fruit was seen on it."""
        return any(look.growth in (StockLook.Growth.FRUITING, StockLook.Growth.FRUITED) for look in self.looks)

    @property
    def bears(self) -> bool:
        """Whether its crop is one that is waited for."""
        return self.plant.harvest_late_days >= LONG_DAYS

    @cached_property
    def follower(self) -> FruitDate | None:
        """When the one that follows it fruits, once it has ended."""
        if not self.has_ended:
            return None
        seen = next((look.on for look in self.looks if look.growth == StockLook.Growth.FRUITED), self.today)
        return follower_fruit(self.plant, self.climate, self.here, seen)

    @cached_property
    def potted(self) -> tuple[tuple[date, Vessel], ...]:
        """The pots it has stood in, or is taken to have stood in by now."""
        return climbed(self.plant, self.method, self.since, self.today, self.kit) if self.guessed else self.said

    @cached_property
    def steps(self) -> tuple[PotStep, ...]:
        """Its pots, those it has had and those to come."""
        return _pot_steps(self.plant, self.method, self.potted, self.kit) if self.potted else ()

    @property
    def next_pot(self) -> PotStep | None:
        """The next pot."""
        return next((step for step in self.steps if not step.done), None)

    @cached_property
    def winters(self) -> WintersIn:
        """How often and how long it must come in from where it stands."""
        return _winters_in(self.plant, self.climate, self.here, self.today, in_pot=self.in_pot)

    @property
    def potting(self) -> Potting:
        """How it is potted."""
        return potting_of(self.plant, self.method, {}, self.kit)

    @property
    def ph(self) -> tuple[float, float] | None:
        """The pH it wants."""
        return ph_range(self.plant)


def long_crops(garden: Garden, today: date, every: list[Known] | None = None) -> list[LongCrop]:
    """Every one of a garden, mothers first; made once as the garden stands. ``every``: the garden's mothers, where they
    are known already."""
    return once(garden, ("long crops", today), lambda: _long_crops(garden, today, every), each=CROP_BYTES)


def _long_crops(garden: Garden, today: date, every: list[Known] | None) -> list[LongCrop]:
    climate, kit = climate_of(garden), kit_of(garden)
    mothers = [
        _of_mother(one, climate, kit, today)
        for one in (known(garden, today) if every is None else every)
        if one.row.ended_on is None and _stands_for_years(one)
    ]
    return [*mothers, *_of_batches(garden, climate, kit, today)]


def _stands_for_years(one: Known) -> bool:
    if not one.plant.methods:
        return False
    in_pot = one.row.place is not None and one.row.place.standing != Place.Standing.GROUND
    long = one.plant.harvest_late_days >= LONG_DAYS or bool(one.plant.pups)
    return long or (in_pot and not one.plant.crops_before_frost)


def _of_mother(one: Known, climate: Climate, kit: Kit, today: date) -> LongCrop:
    row, plant = one.row, one.plant
    method = _raised_by(row, plant)
    since = row.since or today
    in_pot = row.place is not None and row.place.standing != Place.Standing.GROUND
    potted = tuple((pot.on, kit.used(pot.container)) for pot in one.pots)
    return LongCrop(
        key=f"s{row.pk}",
        name=row.name,
        variety=row.variety,
        plant=plant,
        method=method,
        climate=climate,
        place=row.place,
        since=since,
        today=today,
        count=1,
        said=potted,
        guessed=in_pot and not potted,
        kit=kit,
        looks=tuple(one.looks),
        giving=one.giving,
        stock=row,
    )


def climbed(plant: Plant, method: Method, since: date, today: date, kit: Kit) -> tuple[tuple[date, Vessel], ...]:
    """The pots it is taken to have stood in by now where nobody said: its first, and each as it fell due."""
    return tuple((on, vessel) for on, vessel in _climb(plant, method, since, kit) if on <= max(today, since))


@kept
def _climb(plant: Plant, method: Method, since: date, kit: Kit) -> tuple[tuple[date, Vessel], ...]:
    """Every pot it climbs, whether it is due yet or not: today is no matter for it."""
    potted = [(since, first_pot_of(plant, method, kit))]
    for _ in range(MOST_POTS):
        coming = next((step for step in pot_steps(plant, method, potted, kit) if not step.done), None)
        if coming is None:
            break
        potted.append((coming.on, coming.vessel))
    return tuple(potted)


def _raised_by(row: StockPlant, plant: Plant) -> Method:
    """The way it was raised by: of the batch it was kept from, else its usual one."""
    if row.raised_from:
        return plant.method(row.raised_from.method)
    return next((way for way in plant.ways if way.form not in CLUMPS), plant.methods[0])


def _of_batches(garden: Garden, climate: Climate, kit: Kit, today: date) -> Iterator[LongCrop]:
    """What stands in pots for good."""
    for told in record_of(garden, today).told:
        want = told.row.want
        if want is not None and want.purpose == Want.Purpose.POT and told.state.count("potted"):
            yield _of_batch(told, garden, climate, kit, today)


def _of_batch(told: Told, garden: Garden, climate: Climate, kit: Kit, today: date) -> LongCrop:
    state, row, places = told.state, told.row, places_of(garden)
    potted_on = state.since("potted") or state.taken_on
    moved = [move for move in state.moves if move.stage == "potted"]
    rungs = ladder(told.plant, told.method, potted_on, row.treatment, kit)
    days = (potted_on, *state.potted_up)
    potted = tuple((day, rungs[min(i, len(rungs) - 1)].vessel) for i, day in enumerate(days))
    return LongCrop(
        key=f"b{row.pk}",
        name=f"{row.code}, from {row.stock_plant}",
        variety=row.variety,
        plant=told.plant,
        method=told.method,
        climate=climate,
        place=places[int(moved[-1].place) if moved else row.growing_place_id],
        since=potted_on,
        today=today,
        count=state.count("potted"),
        said=potted,
        guessed=False,
        kit=kit,
        batch=row.pk,
    )
