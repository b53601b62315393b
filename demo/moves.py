"""The neighbour's move in October, planned on the demo's first day."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import uuid4

from elder.web.garden.hands import Hands
from elder.web.garden.models import Garden, Household, Person
from elder.web.moving.actions import Decided, begin_move, decide
from elder.web.moving.models import HouseMove
from elder.web.stock.models import StockPlant


def demo_move(data: Mapping[str, Any], to: Garden, household: Household, person: Person) -> None:
    """A move to a garden, with what was measured for it and the hedge that is wanted there."""
    garden = Garden.objects.get(household=household, name=data["garden"])
    today = household.demo_day
    if today is None:
        raise ValueError("only the demo has a move laid out")
    row = HouseMove(
        to=to, day=data["day"], vehicle=data["vehicle"], long_cm=data["long"], wide_cm=data["wide"],
        high_cm=data["high"], carries_kg=data["carries"],
    )  # fmt: skip
    begin_move(row, Hands(garden, person, today, uuid4()))
    for mother in StockPlant.objects.filter(garden=garden).select_related("place"):
        tall, thick = data["sized"].get(mother.name, (None, None))
        hedge = data["hedge"].get(mother.name)
        if tall or hedge:
            in_pot = mother.place is not None and mother.place.standing != "ground"
            where = mother.place.pk if mother.place else 0
            what = f"s{mother.pk}-{'pot' if in_pot else 'bed'}-{where}"
            decide(row, what, Decided("cuttings" if hedge else "", tall, thick, hedge))
