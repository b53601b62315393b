"""A garden on a fixed day, and people signed in to it."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from django.test import Client

from elder.web.garden import access
from tests.factories import GardenFactory, PlaceFactory, member

TODAY = date(2027, 3, 20)


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
