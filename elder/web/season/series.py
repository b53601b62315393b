"""One thing asked for, kept as several wants: lots of a succession, or the two steps of a winter."""

from __future__ import annotations

from copy import copy
from datetime import date
from uuid import uuid4

from elder.engine.keeping import kept
from elder.engine.plan.lots import lot_sizes, plan_lots
from elder.engine.plan.overwinter import CarryPlan, carry_over
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.refusal import Refusal
from elder.web.garden.models import Garden
from elder.web.read.want_settings import want_setting
from elder.web.read.what_if import want_of
from elder.web.season.models import Want

# The answer and what is kept of it ask the same thing.
_carry_over = kept(carry_over)


def rows_of(row: Want, garden: Garden, today: date, *, lots: int = 1, apart_days: int = 21) -> list[Want] | Refusal:
    """The wants, unsaved, that one filled-in sheet comes to. The first is the sheet's own row."""
    if row.purpose == Want.Purpose.OVER:
        return _winter_rows(row, garden, today)
    if lots > 1:
        return _lot_rows(row, garden, today, lots, apart_days)
    return [row]


def _lot_rows(row: Want, garden: Garden, today: date, lots: int, apart_days: int) -> list[Want] | Refusal:
    asked = want_of(_alone(row, spares=0), garden, today)
    plans = plan_lots(asked, lots, apart_days, want_setting(row, garden, today))
    failed = next((plan for plan in plans if isinstance(plan, Refusal)), None)
    if failed:
        return failed
    rows, series = [], uuid4()
    for i, (plan, size) in enumerate(zip(plans, lot_sizes(row.wanted, lots), strict=True)):
        if isinstance(plan, SeasonPlan):
            by = row.by if i == 0 else plan.target
            lot = {
                "wanted": size,
                "by": by,
                "spares": row.spares if i == 0 else 0,
                "cut_on": row.cut_on if i == 0 else None,
            }
            rows.append(_alone(row, **lot, series=series, lot=i + 1, lots=lots))
    return rows


def carry_plan(row: Want, garden: Garden, today: date) -> CarryPlan | Refusal:
    """Both steps of a plant carried through winter."""
    asked = want_of(_alone(row, purpose=Want.Purpose.BED), garden, today)
    return _carry_over(asked, want_setting(row, garden, today).grown)


def _winter_rows(row: Want, garden: Garden, today: date) -> list[Want] | Refusal:
    carried = carry_plan(row, garden, today)
    if isinstance(carried, Refusal):
        return carried
    series = uuid4()
    first = {"purpose": Want.Purpose.WINTER, "wanted": carried.kept, "by": None, "spares": 0}
    second = {"purpose": Want.Purpose.BED, "by": carried.second.target, "stock": Want.Stock.INDOORS, "cut_on": None}
    return [
        _alone(row, **first, series=series, lot=1, lots=2),
        _alone(row, **second, series=series, lot=2, lots=2),
    ]


def _alone(row: Want, **changes: object) -> Want:
    """A want like another, with some of it changed. Only the first of a series may stand for a row that is
    kept already; any other is a row of its own."""
    other = copy(row)
    other._state = copy(row._state)
    if changes.get("lot", 1) != 1:
        other.pk, other._state.adding = None, True
    for name, value in changes.items():
        setattr(other, name, value)
    return other
