"""Taking a batch for a want: checked, written, with the plan it was made under."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from typing import Any
from uuid import UUID, uuid4, uuid5

from django.db import transaction

from elder.engine.batch.history import replay
from elder.engine.batch.outlook import plan_outlook
from elder.engine.handbook.bench import AT_ONCE
from elder.engine.handbook.loading import handbook
from elder.engine.plan.condition import Condition, CutFrom, condition_on, size_reasons
from elder.engine.plan.counts_ready import counts_planned, counts_under
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting
from elder.engine.shed.containers import vessel_for
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Person, Place
from elder.web.read.gardens import assumptions_of, climate_of, place_of
from elder.web.read.histories import entries_of
from elder.web.read.kit import STUCK_IN, kit_of
from elder.web.read.mothers import mother_here
from elder.web.read.records import record_of
from elder.web.read.wants import Reckoning, reckon
from elder.web.read.what_if import STOCK, WhatIf, want_of
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant

UNPLANNED_DAYS = 90  # when a batch without a plan is looked for to be ready (assumed)


@dataclass(frozen=True)
class Taken:
    """What was really taken; ``seen``: what was seen to hold it back, by name."""

    on: date
    count: int
    stock_plant: str
    rooting_place: Place
    growing_place: Place
    key: UUID | None = None
    seen: tuple[str, ...] = ()
    treatment: dict[str, str] = field(default_factory=dict)


def want_spoken_for(garden: Garden, person: Person, today: date, **asked: Any) -> Want:
    """A want behind a batch that something else speaks for, a trial or a line: kept, so that its plants are plants, and
    put away at once, so that it does not stand on the season's board."""
    return Want.objects.create(garden=garden, made_by=person, closed_on=today, **asked)


@transaction.atomic
def take_batch(want: Want, taken: Taken, *, garden: Garden, person: Person, today: date) -> Batch | Refusal:
    """Write down a batch for a want, with the plan it was made under; the same form twice makes one."""
    again = Entry.objects.filter(key=taken.key).select_related("batch").first() if taken.key else None
    if again:
        ours = again.batch.garden_id == garden.pk and again.kind == Entry.Kind.TAKEN
        return again.batch if ours else Refusal("sent_elsewhere", "")
    batch = Batch(
        garden=garden,
        want=want,
        plant=want.plant,
        variety=want.variety,
        method=want.method,
        stock_plant=taken.stock_plant,
        mother=mother_named(garden, want.plant, taken.stock_plant),
        treatment=taken.treatment,
        rooting_place=taken.rooting_place,
        growing_place=taken.growing_place,
    )
    seen = (*taken.seen, *size_reasons(taken.treatment))
    batch.condition = list(cut_condition(want, garden, taken.on, mother=batch.mother, seen=seen).reasons)
    first = Entry(kind=Entry.Kind.TAKEN, on=taken.on, count=taken.count, by=person, key=taken.key or uuid4())
    refused = replay(entries_of([first]), today=today)
    if isinstance(refused, Refusal):
        return refused
    batch.plan = _plan_kept(want, replace(taken, seen=tuple(batch.condition)), garden, today)
    plant = handbook()[want.plant]
    batch.plan[STUCK_IN] = vessel_for(plant, plant.method(want.method), taken.treatment, kit_of(garden)).key
    batch.save()
    first.batch = batch
    first.save()
    if handbook()[want.plant].method(want.method).dry_days and taken.treatment.get("callus") == AT_ONCE:
        Entry.objects.create(batch=batch, kind=Entry.Kind.TENDED, deed="stick", on=taken.on, by=person)
    return batch


@transaction.atomic
def take_shares(
    want: Want, taken: Taken, shares: Sequence[tuple[str, int]], *, garden: Garden, person: Person, today: date
) -> list[Batch] | Refusal:
    """Write down one cut that came from several mothers: a batch of each, so that each line can be told."""
    made: list[Batch] = []
    key = taken.key or uuid4()
    for i, (name, count) in enumerate(shares):
        part = replace(taken, stock_plant=name, count=count, key=uuid5(key, str(i)) if i else key)
        batch = take_batch(want, part, garden=garden, person=person, today=today)
        if isinstance(batch, Refusal):
            transaction.set_rollback(True)
            return batch
        made.append(batch)
    return made


def cut_condition(
    want: Want, garden: Garden, on: date, *, mother: StockPlant | None, seen: Iterable[str] = ()
) -> Condition:
    """What holds back what is cut for a want on a day, from this mother or from the one it names."""
    plant = handbook()[want.plant]
    here = mother or want.mother
    stock = CutFrom(plant, climate_of(garden), STOCK[Want.Stock(want.stock)], mother_here(here) if here else None)
    return condition_on(plant.method(want.method), stock, on, seen=seen)


def mother_named(garden: Garden, plant: str, name: str) -> StockPlant | None:
    """The garden's own mother of that name and kind, if she is on the list."""
    return StockPlant.objects.filter(garden=garden, plant=plant, name__iexact=name.strip()).first()


def _plan_kept(want: Want, taken: Taken, garden: Garden, today: date) -> dict[str, object]:
    """The inputs and the forecast of that day, so that the record can set them beside what came."""
    earlier = list(want.batches.prefetch_related("entries").all())
    if earlier:  # the want keeps the day it was first planned for
        first = {key: value for key, value in earlier[0].plan.items() if key != "forecast"}
        return {**first, "count": taken.count, "taken_on": taken.on.isoformat(), "topped_up": True}
    row = Want(**{field.attname: getattr(want, field.attname) for field in Want._meta.concrete_fields})
    row.rooting_place, row.growing_place = taken.rooting_place, taken.growing_place
    plan = _plan_seen_from(row, garden, taken, today)
    if isinstance(plan, Refusal):
        # What was really cut is written down even where no plan stands behind it.
        target = want.by or taken.on + timedelta(days=UNPLANNED_DAYS)
        unplanned = {"target": target.isoformat(), "window": None, "refused": plan.code}
        return {**unplanned, "taken_on": taken.on.isoformat(), "count": taken.count, "wanted": want.total}
    option = plan.option(max(taken.on, plan.start))
    window = [plan.window.opens.isoformat(), plan.window.shuts.isoformat()] if plan.window else None
    return {
        "target": plan.target.isoformat(),
        "window": window,
        "taken_on": taken.on.isoformat(),
        "count": taken.count,
        "advised_count": option.count,
        "recommended": plan.recommended.isoformat(),
        "rooted": [day and day.isoformat() for day in option.rooted],
        "ready": [day and day.isoformat() for day in option.ready],
        "harvest": [day and day.isoformat() for day in option.harvest],
        "wanted": want.total,
        "confidence": want.confidence,
        "accepted_risk": garden.accepted_risk,
        "take": [plan.roots.mean, plan.roots.weight],
        "forecast": _forecast_kept(row, garden, taken, plan),
    }


def _forecast_kept(row: Want, garden: Garden, taken: Taken, plan: SeasonPlan) -> dict[str, object]:
    """How many of what was cut were to be ready by the day, as planned and by the handbook alone; by what it was
    planned, and what was corrected for."""
    record, day = record_of(garden, taken.on), max(taken.on, plan.start)
    want, plant = want_of(row, garden, taken.on, WhatIf(seen=taken.seen)), handbook()[row.plant]
    method = plant.method(row.method)
    places = place_of(row.rooting_place), place_of(row.growing_place)
    plain = Setting(plant, method, climate_of(garden), *places, taken.on, assumptions_of(garden)).grown
    book = counts_under(
        want.condition.under(plain),
        day,
        plan.target,
        count=taken.count,
        take=want.condition.lowers(method.plant_take),
        harden=want.is_hardened,
    )
    planned = counts_planned(plan, day, taken.count)
    by = record.plan_by if record.planned_with(plant, method) else Garden.PlanBy.HANDBOOK
    return {
        "counts": [round(float(chance), 5) for chance in planned],
        "handbook": [round(float(chance), 5) for chance in book],
        "by": by,
        "corrected": record.correction,
        "line": _line_kept(plan, day, taken.count),
    }


def _line_kept(plan: SeasonPlan, day: date, count: int) -> dict[str, object]:
    """The rise of plants then expected, as it was drawn: days from the cut, and how many."""
    outlook = plan_outlook(plan, day, count=count)
    return {
        "start": day.isoformat(),
        "at": [int(i) for i in outlook.at],
        "expected": [round(float(number), 2) for number in outlook.expected],
    }


def _plan_seen_from(row: Want, garden: Garden, taken: Taken, today: date) -> SeasonPlan | Refusal:
    """The plan as it stood on the day of the cut, for what was cut as it was; from today where there was none then."""
    what_if = WhatIf(seen=taken.seen)
    then = reckon(row, garden, taken.on, what_if=what_if).plan
    if isinstance(then, SeasonPlan):
        return then
    return reckon(row, garden, today, what_if=what_if).plan


def advised(reckoning: Reckoning) -> int:
    """How many to offer in the take form: what is short, else what the plan says."""
    if reckoning.batches:
        return reckoning.shortfall.count if reckoning.shortfall else 1
    return reckoning.to_cut or reckoning.needed
