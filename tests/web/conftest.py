"""A garden on a fixed day, and people signed in to it."""

from __future__ import annotations

import re
from datetime import date
from typing import Any

import pytest
from django.test import Client

from elder.web.batches.models import Batch
from elder.web.garden import access
from elder.web.rounds import round as rounds
from tests.factories import GardenFactory, PlaceFactory, WantFactory, member, take
from tests.web.presses import MILD

TODAY = date(2027, 3, 20)


@pytest.fixture(autouse=True)
def read_as_a_browser_reads(monkeypatch: pytest.MonkeyPatch) -> None:
    """Any white space counts as one space, so that where a template's lines break says nothing."""
    fetch = Client.request

    def collapsed(self: Client, **request: Any) -> Any:
        response = fetch(self, **request)
        if response["Content-Type"].startswith("text/html") and not response.streaming:
            response.content = re.sub(rb"\s+", b" ", response.content)
        return response

    monkeypatch.setattr(Client, "request", collapsed)


@pytest.fixture
def today(monkeypatch: pytest.MonkeyPatch) -> date:
    """Everything takes its day from one clock, so one patch sets it."""
    monkeypatch.setattr(access, "today_in", lambda garden: TODAY)
    return TODAY


@pytest.fixture
def garden(db: None, today: date) -> Any:
    """Harrow Stair with a sill."""
    row = GardenFactory()
    PlaceFactory(garden=row, name="Kitchen sill")
    return row


@pytest.fixture
def sign_in(garden: Any) -> Any:
    """Sign someone new in to the garden in a role."""

    def signed(role: str = "owner", into: Any = None) -> Client:
        client = Client()
        client.force_login(member(into or garden, role), backend="django.contrib.auth.backends.ModelBackend")
        return client

    return signed


@pytest.fixture
def owner(sign_in: Any) -> Client:
    return sign_in("owner")


@pytest.fixture
def sill(garden: Any) -> Any:
    """The garden's only place."""
    return garden.places.get()


@pytest.fixture
def want(garden: Any, sill: Any) -> Any:
    """Eight tomatoes, as soon as it is safe."""
    return WantFactory(garden=garden, rooting_place=sill)


@pytest.fixture
def batch(want: Any) -> Batch:
    """Eleven side shoots for it, taken a fortnight ago."""
    return take(want, on=date(2027, 3, 6))


@pytest.fixture
def mild(monkeypatch: pytest.MonkeyPatch) -> None:
    """Weather in which nothing need be carried or shaded, unless a test says otherwise."""
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: MILD)
