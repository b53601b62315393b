"""The Season page's server time with 5, 40 and 100 wants, cold and warm, and at another risk (what if)."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from typing import Any

from bench.table import Line, forget, timed

WANTS = [
    ("tomato", "jar"),
    ("basil", "jar"),
    ("mint", "jar"),
    ("chilli", "dome"),
    ("sweet-potato", "pot"),
    ("grapevine", "stick"),
]
AIMS = {5: 60, 40: 150, 100: 250}
BATCH_EVERY = 4  # every fourth want has been cut


def lines() -> list[Line]:
    """The server time of the Season page for each number of wants."""
    return [line for wants in AIMS for line in _one(wants)]


def _one(wants: int) -> list[Line]:
    from tests.factories import GardenFactory, PlaceFactory, WantFactory, take

    garden = GardenFactory()
    places = [PlaceFactory(garden=garden), PlaceFactory(garden=garden, standing="air", lift_day_c=7, lift_night_c=2)]
    for i in range(wants):
        plant, method = WANTS[i % len(WANTS)]
        place = places[i % 2]
        row = WantFactory(
            garden=garden, plant=plant, method=method, wanted=3 + i % 10, rooting_place=place, growing_place=place
        )
        if i % BATCH_EVERY == 0:
            take(row, on=date.today() - timedelta(days=20 + i % 7), count=6 + i % 10, today=date.today())  # noqa: DTZ011
    warm, fetch = fetching("season", garden)
    forget()
    cold, _ = timed(fetch, 1)
    moved, _ = timed(lambda: fetch("?risk=4"), 1)
    floor, _ = fetching("season", GardenFactory())
    what = f"{wants} wants"
    return [
        Line("Season", f"{what}, warm", warm, "an empty garden, warm", floor, f"aim: under {AIMS[wants]} ms"),
        Line("Season", f"{what}, nothing kept", cold, "warm", warm),
        Line("Season", f"{what}, a dial moved", moved, "warm", warm),
    ]


def fetching(name: str, garden: Any) -> tuple[float, Callable[..., None]]:
    """What a garden's page takes warm, and what fetches it, or another address. Raises RuntimeError."""
    from django.test import Client
    from django.urls import reverse

    from tests.factories import member

    client = Client()
    client.force_login(member(garden), backend="django.contrib.auth.backends.ModelBackend")
    page = reverse(name, args=[garden.pk])

    def fetch(query: str = "", address: str = page) -> None:
        if client.get(address + query).status_code != 200:
            raise RuntimeError(f"{address} did not come")

    fetch()
    return timed(fetch, 9)[0], fetch
