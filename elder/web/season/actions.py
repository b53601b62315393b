"""What a person does to wants: one function a verb."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.refusal import Refusal
from elder.web.garden.models import Garden, Person, Place
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.read.wants import Reckoning, reckon
from elder.web.say.words import sureness
from elder.web.season.forms import MOST_NIGHTS
from elder.web.season.models import Want
from elder.web.season.place_keys import key_of, parse_key
from elder.web.season.series import rows_of


def weigh_want(row: Want, garden: Garden, today: date) -> Reckoning:
    """Reckon a want as filled in, saved or not."""
    return reckon(row, garden, today)


@transaction.atomic
def keep_want(
    row: Want, garden: Garden, person: Person, today: date, *, lots: int = 1, apart_days: int = 21
) -> Want | Refusal:
    """Save a want that can be had, in its lots or steps; otherwise say why it cannot, and save nothing."""
    rows = rows_of(row, garden, today, lots=lots, apart_days=apart_days)
    if isinstance(rows, Refusal):
        return rows
    reckonings = [weigh_want(one, garden, today) for one in rows]
    for reckoning in reckonings:
        if isinstance(reckoning.plan, Refusal):
            return reckoning.plan
        _forget_day_outside(reckoning.row, reckoning.plan)
    for reckoning in reckonings:
        one = reckoning.row
        if one.cuttings:  # what is promised today is what is wanted from now on
            one.wanted = reckoning.needed
        one.made_by = one.made_by or person
        one.save()
    return rows[0]


def move_cut(row: Want, day: date | None, garden: Garden, today: date) -> None:
    """Choose a cut day for a want, or go back to the recommended one."""
    row.cut_on = day
    plan = weigh_want(row, garden, today).plan
    if isinstance(plan, SeasonPlan):
        _forget_day_outside(row, plan)
    row.save(update_fields=["cut_on"])


@transaction.atomic
def place_wants(changes: Iterable[PlaceChange], garden: Garden, today: date) -> tuple[int, Undo]:
    """Give wants the days and places that were accepted; how many were changed, and the way back.

    A change was weighed for the day the plants were to be ready. "As soon as it is safe" would find another day
    from slower places, and the room promised would be gone; then the want is held to the day it had.
    """
    before = []
    for change in changes:
        before.append(key_of(change.row))
        row, target = change.row, weigh_want(change.row, garden, today).target
        row.cut_on = change.day
        row.rooting_place, row.growing_place = change.places
        if row.by is None and target and weigh_want(row, garden, today).target != target:
            row.by = target
        row.save(update_fields=["cut_on", "rooting_place", "growing_place", "by"])
    return len(before), Undo("fit", {"before": before})


def named_changes(garden: Garden, keys: Iterable[str]) -> list[PlaceChange]:
    """What keys name: uncut wants and places of this garden, and nothing else."""
    rows = {row.pk: row for row in Want.objects.filter(garden=garden, closed_on=None, batches=None)}
    places = {place.pk: place for place in garden.places.all()}
    found = [parsed for key in keys if (parsed := parse_key(key))]
    return [
        PlaceChange(rows[key.want], key.day, (places[key.rooting], places[key.growing]), key.by)
        for key in found
        if key.want in rows and key.rooting in places and key.growing in places
    ]


@takes_back("fit", verb="plan")
@transaction.atomic
def put_back(asked: Asked) -> Undone:
    """Each want as it stood, the day it was for included."""
    keys = asked.told["before"]
    for change in named_changes(asked.garden, [str(key) for key in keys] if isinstance(keys, list) else []):
        row = change.row
        row.cut_on, row.by = change.day, change.by
        row.rooting_place, row.growing_place = change.places
        row.save(update_fields=["cut_on", "rooting_place", "growing_place", "by"])
    return Undone("Undone: they stand as they did.", "season")


@dataclass(frozen=True)
class PlaceChange:
    """Another day (``None``: the recommended one) and other places for a want; ``by`` is read when putting back."""

    row: Want
    day: date | None
    places: tuple[Place, Place]
    by: date | None = None


def accept_risk(garden: Garden, risk: float) -> Undo:
    """Another frost risk for the whole garden."""
    before, garden.accepted_risk = garden.accepted_risk, risk
    Garden.objects.filter(pk=garden.pk).update(accepted_risk=risk)
    return Undo("risk", {"risk": before})


@takes_back("risk", verb="keep")
def accept_risk_again(asked: Asked) -> Undone:
    """Back to the risk that held before."""
    risk = asked.told["risk"]
    accept_risk(asked.garden, float(risk) if isinstance(risk, int | float) else asked.garden.accepted_risk)
    return Undone(f"From now on you accept a frost risk of {sureness(asked.garden.accepted_risk)}.", "season")


def put_away(row: Want, today: date) -> Undo:
    """Close a want: it leaves the season, its batches stay."""
    row.closed_on = today
    row.save(update_fields=["closed_on"])
    return Undo("want-away", {"want": row.pk})


@takes_back("want-away", verb="plan")
def back_in_season(asked: Asked) -> Undone:
    """A want that was put away stands in the season again."""
    row = get_object_or_404(Want, pk=asked.number("want"), garden=asked.garden)
    bring_back(row)
    return Undone("Back in the season.", "season")


def bring_back(row: Want) -> None:
    """Undo putting away."""
    row.closed_on = None
    row.save(update_fields=["closed_on"])


def _forget_day_outside(row: Want, plan: SeasonPlan) -> None:
    """A chosen day that the plan did not weigh, or that is the recommended one, is no choice."""
    if row.cut_on and (not 0 <= plan.index(row.cut_on) < len(plan) or row.cut_on == plan.recommended):
        row.cut_on = None


def accept_nights(row: Want, nights: int) -> bool:
    """Say of a want on how many cold nights its pots will be carried in; false for what is no such number."""
    if not 0 <= nights <= MOST_NIGHTS:
        return False
    row.carry_nights = nights
    row.save(update_fields=["carry_nights"])
    return True
