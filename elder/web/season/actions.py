"""What a person does to wants: one function a verb."""

from __future__ import annotations

from datetime import date

from django.db import transaction

from elder.engine.plan import SeasonPlan
from elder.engine.refusal import Refusal
from elder.web.garden.models import Garden, Person
from elder.web.season.models import Want
from elder.web.season.reckoning import Reckoning, reckon


def weigh_want(row: Want, garden: Garden, today: date) -> Reckoning:
    """Reckon a want as filled in, saved or not."""
    return reckon(row, garden, today)


@transaction.atomic
def keep_want(row: Want, garden: Garden, person: Person, today: date) -> Want | Refusal:
    """Save a want that can be had; otherwise say why it cannot."""
    reckoning = weigh_want(row, garden, today)
    if isinstance(reckoning.plan, Refusal):
        return reckoning.plan
    _forget_day_outside(row, reckoning.plan)
    row.made_by = row.made_by or person
    row.save()
    return row


def move_cut(row: Want, day: date | None, garden: Garden, today: date) -> None:
    """Choose a cut day for a want, or go back to the recommended one."""
    row.cut_on = day
    plan = weigh_want(row, garden, today).plan
    if isinstance(plan, SeasonPlan):
        _forget_day_outside(row, plan)
    row.save(update_fields=["cut_on"])


def put_away(row: Want, today: date) -> None:
    """Close a want: it leaves the season, its batches stay."""
    row.closed_on = today
    row.save(update_fields=["closed_on"])


def bring_back(row: Want) -> None:
    """Undo putting away."""
    row.closed_on = None
    row.save(update_fields=["closed_on"])


def _forget_day_outside(row: Want, plan: SeasonPlan) -> None:
    """A chosen day that the plan did not weigh, or that is the recommended one, is no choice."""
    if row.cut_on and (not 0 <= plan.course.index(row.cut_on) < len(plan) or row.cut_on == plan.recommended):
        row.cut_on = None
