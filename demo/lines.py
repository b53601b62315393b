"""The demo's lines that are multiplied, each lot cut from its mothers on its day and looked at since."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any
from uuid import uuid4

from demo.entries import written
from elder.engine.refusal import Refusal
from elder.web.garden.models import Garden, Person, Place
from elder.web.read.lines import line_today
from elder.web.stock.models import StockPlant
from elder.web.year.line_actions import CutNow, begin_line, cut_lot
from elder.web.year.models import Multiplying

PLAIN = ("plant", "method", "wanted", "by", "gives", "again_days", "first_take_days", "keep_uncut", "weekday")


def demo_line(data: Mapping[str, Any], garden: Garden, places: Mapping[str, Place], person: Person) -> None:
    """A line as it was begun, and the lots cut of it from its first mothers."""
    mothers = StockPlant.objects.filter(garden=garden, name__in=data["mothers"])
    row = Multiplying(
        variety=data.get("variety", ""),
        rooting_place=places[data["root_at"]],
        growing_place=places[data["grow_at"]],
        **{name: data[name] for name in PLAIN},
    )
    begin_line(row, mothers, garden, person, data["begun"])
    for lot in data["lots"]:
        _lot(row, lot, garden, person)


def _lot(row: Multiplying, lot: Mapping[str, Any], garden: Garden, person: Person) -> None:
    on: date = lot["taken"]
    found = line_today(row, garden, on)
    mother = next(one for one in found.sources if one.mother)
    made = cut_lot(found, CutNow(on, {mother.key: lot["count"]}, row.rooting_place, uuid4()), garden, person, on)
    if isinstance(made, Refusal):
        raise ValueError(f"the demo's {row} cannot be: {made}")
    written(made[0], lot["days"], person)
