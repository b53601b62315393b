"""A garden's own record: what every batch of it told at its looks, and what that makes of the handbook's ways."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date

from elder.engine.assumptions import Assumptions
from elder.engine.batch.shared_luck import lucks
from elder.engine.chance.counting import Take
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import cached_property
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
from elder.engine.record.looks import tallied
from elder.engine.record.scoring import Bias, bias_of
from elder.engine.record.standing import AfterRoots, for_plant, together
from elder.web.read.told import Told

LAST_DUE = 20  # forecasts by which Elder judges whether it is too hopeful (assumed)


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
        return {one.key: luck for one, luck in zip((*self.before, *self.told), found, strict=True)}

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
        if but is not None:
            return self._own(plant, method, by, but)
        asked = plant.slug, plant.cardinals, method, by
        if asked not in self._owned:
            self._owned[asked] = self._own(plant, method, by, None)
        return self._owned[asked]

    @cached_property
    def _owned(self) -> dict[tuple[object, ...], OwnWay | None]:
        """What was asked already of ways."""
        return {}

    def _own(self, plant: Plant, method: Method, by: PlanBy, but: Callable[[Told], bool] | None) -> OwnWay | None:
        batches = [one for one in self.taught_by_way.get((plant.slug, method.slug), ()) if but is None or not but(one)]
        if not batches:
            return None
        prior = prior_of(method, plant.cardinals, self.assumed.speed_sd, by)
        lucks = [self.luck[one.key] for one in batches]
        return own_way(prior, [one.looks for one in batches], lucks, tallied(one.tally for one in batches))

    @cached_property
    def _stood(self) -> Mapping[str, AfterRoots]:
        """Of each plant, what its batches have shown of how many come to stand."""
        found: dict[str, AfterRoots] = defaultdict(AfterRoots)
        for one in (*self.before, *self.told):
            found[one.row.plant] += one.after
        return dict(found)

    def after_roots(self, slug: str) -> Take:
        """Of a plant's rooted, the share that comes to stand, as this garden's batches have shown it."""
        prior = Take(self.assumed.stand_share, self.assumed.stand_weight)
        if self.plan_by == "handbook":
            return for_plant(AfterRoots(), AfterRoots(), prior)
        others = together(after for other, after in self._stood.items() if other != slug)
        return for_plant(self._stood.get(slug, AfterRoots()), others, prior)

    def planned_with(self, plant: Plant, method: Method, *, luck: int | None = None) -> OwnWay | None:
        """What of one's own a way is planned with; nothing where the handbook is planned by, or where too few have
        told. ``luck``: a luck whose batches are left out, since they are forecast from their own looks."""
        if self.plan_by == "handbook":
            return None
        asked = plant.slug, plant.cardinals, method, luck if luck in self._lucks_of((plant.slug, method.slug)) else None
        if asked not in self._planned:
            but = None if asked[-1] is None else (lambda one: self.luck[one.key] == luck)
            own = self.own(plant, method, by=self.plan_by, but=but)
            self._planned[asked] = own if own and own.tells else None
        return self._planned[asked]

    @cached_property
    def _planned(self) -> dict[tuple[object, ...], OwnWay | None]:
        """What was asked already of ways to plan with."""
        return {}

    def _lucks_of(self, way: tuple[str, str]) -> frozenset[int]:
        """The lucks that have a say in a way."""
        if way not in self._lucks:
            self._lucks[way] = frozenset(self.luck[one.key] for one in self.taught_by_way.get(way, ()))
        return self._lucks[way]

    @cached_property
    def _lucks(self) -> dict[tuple[str, str], frozenset[int]]:
        return {}

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
