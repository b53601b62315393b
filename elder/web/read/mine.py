"""A garden's own record: what every batch of it told at its looks, and what that makes of the handbook's ways."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property, lru_cache
from typing import Any, cast

import numpy as np
from django.db.models.fields.json import KeyTextTransform, KeyTransform

from elder.engine.assumptions import Assumptions
from elder.engine.batch.drying import dried_days
from elder.engine.batch.forecast import Moves
from elder.engine.batch.history import newest_day, retold
from elder.engine.batch.shared_luck import lucks
from elder.engine.batch.state import BatchState
from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.routes import Route
from elder.engine.place.running_units import units_along
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.plan.condition import Condition
from elder.engine.plan.want import UNHARDENED
from elder.engine.record.knowing import (
    OwnWay,
    PlanBy,
    corrected,
    own_way,
    prior_of,
    with_after_roots,
    with_own,
    with_own_spread,
)
from elder.engine.record.looks import Look, looks_of, tally_of
from elder.engine.record.scoring import Bias, Outcome, bias_of
from elder.engine.record.standing import AfterRoots, after_roots_of, for_plant, together
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.read.gardens import assumptions_of, climate_of, places_of, stood_at
from elder.web.read.histories import History, all_histories
from elder.web.read.ways import condition_of, moves_along, way_of

CARRIED_FROM = "carried_from"  # in a batch's plan: the batch of the garden before that it goes on from
MOST_DAYS = 3 * 366  # a batch is followed so long at the most
LAST_DUE = 20  # forecasts by which Elder judges whether it is too hopeful (assumed)
GRACE_DAYS = 7  # past its day on which a plant still counts as ready by it: people are late (assumed)
SOUND_ENOUGH = 0.9  # what was cut in a worse state says nothing of sound wood (assumed)


@dataclass(frozen=True, eq=False)
class Told:
    """One batch and what it told: its looks in warmth, how many of its rooted came to stand, and where it stands."""

    row: Batch
    history: History
    plant: Plant
    method: Method
    state: BatchState
    looks: tuple[Look, ...]
    after: AfterRoots
    condition: Condition
    target: date
    kept: Mapping[str, Any] | None  # what was forecast when it was cut

    @property
    def way(self) -> tuple[str, str]:
        """Its plant and its way, by their slugs."""
        return self.row.plant, self.row.method

    @property
    def teaches(self) -> bool:
        """Whether it says anything of sound cuttings of its way."""
        return self.condition.share >= SOUND_ENOUGH

    @property
    def due_on(self) -> date:
        """The day on which its forecast can be judged: people may be a week late in planting out."""
        return self.target + timedelta(days=GRACE_DAYS)

    def came_by(self, day: date) -> int:
        """How many had come to stand by a day: put out, given away as plants, or hardening; where they stay in their
        pots, those that live."""
        state = _state_on(self.history, day, self.method.route)
        out = (
            state.count("hardening") + state.count("planted") + sum(lot.count for lot in state.given_seen if lot.grown)
        )
        return out + (state.count("potted") if self.stays_potted else 0)

    @property
    def stays_potted(self) -> bool:
        """Whether its plants were to stand in their pots."""
        return self.row.want is not None and self.row.want.purpose in UNHARDENED

    @cached_property
    def outcome(self) -> Outcome | None:
        """What was forecast beside what came; nothing of a batch without a plan of its own."""
        return self._outcome("counts")

    @cached_property
    def by_handbook(self) -> Outcome | None:
        """The same had the handbook alone been asked."""
        return self._outcome("handbook")

    def _outcome(self, which: str) -> Outcome | None:
        if not self.kept or which not in self.kept:
            return None
        wanted, came = int(self.row.wanted or 1), self.came_by(self.due_on)  # type: ignore[attr-defined]  # annotated
        counts = np.array(self.kept[which])
        corrected = float(self.kept.get("corrected", 1.0)) if which == "counts" else 1.0
        return Outcome(counts, min(wanted, len(counts) - 1), min(came, len(counts) - 1), corrected)

    @property
    def mother(self) -> tuple[object, ...]:
        """By what its mother is told from others; one without a name shares her luck with nobody."""
        known = self.row.mother_id or self.row.stock_plant.strip().lower() or f"batch {self.row.pk}"
        return (*self.way, known, self.condition.reasons)


@dataclass(frozen=True, eq=False)
class GardenRecord:
    """All that a garden's batches have told up to a day."""

    told: tuple[Told, ...]
    assumed: Assumptions
    plan_by: PlanBy
    today: date
    before: tuple[Told, ...] = ()  # of the garden these people moved from: they teach on, and are listed there

    @cached_property
    def due(self) -> tuple[Told, ...]:
        """Batches whose forecast has fallen due, in the order it did."""
        found = [one for one in self.told if one.due_on <= self.today and one.kept]
        return tuple(sorted(found, key=lambda one: (one.due_on, one.row.pk)))

    @cached_property
    def bias(self) -> Bias:
        """Whether Elder is too hopeful here, by the forecasts that fell due last: what it has learned since is not
        corrected for twice."""
        return self._bias_after(len(self.due))

    def _bias_after(self, count: int) -> Bias:
        """The same when so many had fallen due."""
        return bias_of([one.outcome for one in self.due[max(count - LAST_DUE, 0) : count] if one.outcome])

    @cached_property
    def corrects_since(self) -> date | None:
        """Since when it corrects for that; ``None`` where it does not."""
        count = len(self.due)
        while count and self._bias_after(count).corrects:
            count -= 1
        return self.due[count].due_on if count < len(self.due) else None

    @property
    def correction(self) -> float:
        """What the take is times, for what Elder has been too hopeful, or too timid, by."""
        return self.bias.share if self.bias.corrects and self.plan_by != "handbook" else 1.0

    @cached_property
    def luck(self) -> dict[int, int]:
        """Of each batch, by its key, the number of the luck it shares."""
        found = lucks([(one.mother, one.state.taken_on) for one in (*self.before, *self.told)])
        return {one.row.pk: luck for one, luck in zip((*self.before, *self.told), found, strict=True)}

    @cached_property
    def by_way(self) -> Mapping[tuple[str, str], tuple[Told, ...]]:
        """What teaches of each way, of this garden alone."""
        return _by_way(self.told)

    @cached_property
    def taught_by_way(self) -> Mapping[tuple[str, str], tuple[Told, ...]]:
        """The same with the garden they were in before."""
        return _by_way((*self.before, *self.told))

    def own(
        self, plant: Plant, method: Method, *, by: PlanBy = "both", but: Callable[[Told], bool] | None = None
    ) -> OwnWay | None:
        """What its own batches say of a way, ``None`` where there are none; ``but``: of which it is not asked."""
        batches = [one for one in self.taught_by_way.get((plant.slug, method.slug), ()) if but is None or not but(one)]
        if not batches:
            return None
        prior = prior_of(method, plant.cardinals, self.assumed.speed_sd, by)
        lucks = [self.luck[one.row.pk] for one in batches]
        return own_way(prior, [one.looks for one in batches], lucks, tally_of([one.state for one in batches]))

    def after_roots(self, slug: str, *, but: int | None = None) -> Take:
        """Of a plant's rooted, the share that comes to stand, as this garden's batches have shown it."""
        parts = [(one.row.plant == slug, one.after) for one in (*self.before, *self.told) if one.row.pk != but]
        own, others = (together(after for here, after in parts if here is mine) for mine in (True, False))
        general = AfterRoots() if self.plan_by == "handbook" else others
        prior = Take(self.assumed.stand_share, self.assumed.stand_weight)
        return for_plant(AfterRoots() if self.plan_by == "handbook" else own, general, prior)

    def planned_with(self, plant: Plant, method: Method, *, luck: int | None = None) -> OwnWay | None:
        """What of one's own a way is planned with; nothing where the handbook is planned by, or where too few have
        told. ``luck``: a luck whose batches are left out, since they are forecast from their own looks."""
        if self.plan_by == "handbook":
            return None
        but = None if luck is None else (lambda one: self.luck[one.row.pk] == luck)
        own = self.own(plant, method, by=self.plan_by, but=but)
        return own if own and own.tells else None

    def way_here(self, plant: Plant, method: Method, *, luck: int | None = None) -> Method:
        """A way as this garden plans with it."""
        own = self.planned_with(plant, method, luck=luck)
        return corrected(with_own(method, own.learned) if own else method, self.correction)

    def assumed_for(self, plant: Plant, method: Method, *, luck: int | None = None) -> Assumptions:
        """What is assumed of a way here: how unlike batches are, with what is not known of one's own days; and how
        many of the rooted come to stand."""
        own = self.planned_with(plant, method, luck=luck)
        assumed = with_own_spread(self.assumed, own.learned) if own else self.assumed
        return with_after_roots(assumed, self.after_roots(plant.slug))

    def plant_here(self, plant: Plant) -> Plant:
        """A plant with all its ways as this garden plans with them."""
        known = any(slug == plant.slug for slug, _ in self.taught_by_way)
        if self.plan_by == "handbook" or (not known and self.correction == 1.0):
            return plant
        return replace(plant, methods=tuple(self.way_here(plant, method) for method in plant.methods))


def _by_way(told: Iterable[Told]) -> Mapping[tuple[str, str], tuple[Told, ...]]:
    found: dict[tuple[str, str], list[Told]] = defaultdict(list)
    for one in told:
        if one.teaches:
            found[one.way].append(one)
    return {way: tuple(batches) for way, batches in found.items()}


@lru_cache(maxsize=4096)
def _state_on(history: History, day: date, route: Route) -> BatchState:
    """A batch as it stood at the end of a day."""
    return retold(history.until(day).entries, route)


def record_of(garden: Garden, today: date) -> GardenRecord:
    """A garden's record up to a day, made once a request."""
    kept = vars(garden).setdefault("_records_by_day", {})
    if today not in kept:
        kept[today] = _record_of(garden, today)
    return cast("GardenRecord", kept[today])


def _record_of(garden: Garden, today: date) -> GardenRecord:
    climate = climate_of(garden)
    places = {pk: stood_at(place) for pk, place in places_of(garden).items()}
    histories = {pk: history.until(today) for pk, history in all_histories(garden.pk).items()}
    rows = Batch.objects.filter(garden=garden).select_related("want").defer("plan")
    rows = rows.annotate(
        ready_by=KeyTextTransform("target", "plan"),
        wanted=KeyTransform("wanted", "plan"),
        forecast=KeyTransform("forecast", "plan"),
        carried_from=KeyTransform(CARRIED_FROM, "plan"),
    )
    told = [
        _told(row, histories[row.pk], climate, places, today)
        for row in rows
        if row.pk in histories and histories[row.pk].is_begun
    ]
    before = _before(garden, today, {getattr(one.row, "carried_from", None) for one in told})
    return GardenRecord(tuple(told), assumptions_of(garden), cast("PlanBy", garden.plan_by), today, before)


def _before(garden: Garden, today: date, carried: set[int | None]) -> tuple[Told, ...]:
    """What was told in the garden these people moved from; what they carried here goes on here, and counts once."""
    former = garden.came_from if garden.came_from_id else None
    known = record_of(former, today) if former and former.closed_on else None
    return tuple(one for one in (*known.before, *known.told) if one.row.pk not in carried) if known else ()


def _told(row: Batch, history: History, climate: Climate, places: Mapping[int, EnginePlace], today: date) -> Told:
    plant, method = way_of(row)
    condition = condition_of(row)
    began = places[row.rooting_place_id]
    state, looks = _looked(history, (plant, method), climate, began, moves_along(history.entries, places))
    paced = tuple(look._replace(units=look.units / condition.days) for look in looks)
    target = date.fromisoformat(row.ready_by)  # type: ignore[attr-defined]  # annotated
    after = after_roots_of(state, target, today)
    kept = row.forecast  # type: ignore[attr-defined]  # annotated
    return Told(row, history, plant, method, state, paced, after, condition, target, kept)


@lru_cache(maxsize=4096)
def _looked(
    history: History, way: tuple[Plant, Method], climate: Climate, began: EnginePlace, moves: Moves
) -> tuple[BatchState, tuple[Look, ...]]:
    """A batch's state and its looks, in units of the warmth where it stood; kept, since most batches are over."""
    plant, method = way
    state = retold(history.entries, method.route)
    newest = newest_day(history.entries)
    days = min((newest - state.taken_on).days + 1, MOST_DAYS)
    gained = units_along(began, moves.rooting, climate, plant.cardinals, state.taken_on, days)
    gained[: dried_days(state, method, newest)] = 0.0
    return state, looks_of(state, np.cumsum(gained))
