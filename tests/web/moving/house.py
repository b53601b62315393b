"""What tests of a move share: a day, mothers, what a move says of each, the question that begins it."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client

from elder.web.garden import access
from elder.web.garden.models import Garden
from elder.web.moving.models import HouseMove
from elder.web.read.moves import Coming, move_today
from elder.web.stock.models import StockPlant
from tests.web.conftest import TODAY
from tests.web.presses import at

OCTOBER = date(2027, 10, 9)


def mother(garden: Garden, plant: str, where: str = "Bed", name: str = "") -> StockPlant:
    place = garden.places.get(name=where)
    return StockPlant.objects.create(
        garden=garden,
        name=name or f"Our {plant}",
        plant=plant,
        gives=8,
        again_days=30,
        place=place,
        since=date(2024, 4, 1),
    )


def coming(move: HouseMove, day: date = TODAY) -> dict[str, Coming]:
    garden = Garden.objects.get(pk=move.garden_id)
    row = HouseMove.objects.select_related("to").get(pk=move.pk)
    return {one.standing.plant.slug: one for one in move_today(row, garden, day).coming}


def later(monkeypatch: pytest.MonkeyPatch, day: date) -> date:
    monkeypatch.setattr(access, "today_in", lambda garden: day)
    return day


def asked(client: Client, garden: Garden, **more: Any) -> Any:
    data = {
        "day": OCTOBER.isoformat(),
        "to": "",
        "vehicle": "a van",
        "long": 250,
        "wide": 130,
        "high": "",
        "carries": 450,
    }
    return client.post(at("moving-new", garden), {**data, "key": uuid4(), **more})
