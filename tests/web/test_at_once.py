"""Several at the same moment, each verb of those that read before they write: written once, and nobody meets an error.
On SQLite with every run; on PostgreSQL by ``make test-postgres``."""

from __future__ import annotations

from threading import Barrier
from typing import Any
from uuid import uuid4

import pytest
from django.db import OperationalError, connection
from django.test import Client
from django.urls import reverse

from elder.web.batches.models import Batch, Entry
from elder.web.garden import access
from elder.web.garden.access import alone_in
from elder.web.garden.models import Invitation, Membership
from elder.web.logbook.trouble import Trouble, trouble_of
from elder.web.rounds import round as rounds
from elder.web.season.models import Want
from elder.web.shed.models import MixOrder, ShedEntry
from elder.web.stock.models import StockLook, StockPlant
from tests.factories import PASSWORD, GardenFactory, PlaceFactory, WantFactory, member
from tests.web.presses import MILD, TODAY, at
from tests.web.test_acknowledged import TOGETHER, at_once


@pytest.fixture
def garden(transactional_db: None, monkeypatch: pytest.MonkeyPatch) -> Any:
    monkeypatch.setattr(access, "today_in", lambda garden: TODAY)
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: MILD)
    row = GardenFactory()
    PlaceFactory(garden=row, name="Kitchen sill")
    return row


@pytest.fixture
def owners(garden: Any) -> list[Client]:
    clients = [Client() for _ in range(TOGETHER)]
    for client in clients:
        client.force_login(member(garden, "owner"), backend="django.contrib.auth.backends.ModelBackend")
    return clients


def test_the_same_take_many_times_at_once_makes_one_batch(garden: Any, owners: list[Client]) -> None:
    want = WantFactory(garden=garden, rooting_place=garden.places.get())
    sill = garden.places.get().pk
    data = {
        "on": TODAY.isoformat(), "count": 11, "stock_plant": "Ferry Lamp 1", "rooting_place": sill,
        "growing_place": sill, "key": uuid4(),
    }  # fmt: skip
    assert at_once(lambda i: owners[i].post(at("take", garden, want.pk), data).status_code) == [302] * TOGETHER
    assert Batch.objects.count() == 1
    assert Entry.objects.filter(kind="taken").count() == 1


def test_one_mother_is_looked_at_once(garden: Any, owners: list[Client]) -> None:
    mother = StockPlant.objects.create(garden=garden, name="Old one", plant="mint", gives=4, again_days=9)
    data = {"on": TODAY.isoformat(), "growth": "growing", "health": "well", "key": uuid4()}
    codes = at_once(lambda i: owners[i].post(at("stock-look", garden, mother.pk), data).status_code)
    assert codes == [302] * TOGETHER
    assert StockLook.objects.count() == 1


def test_one_mix_that_six_make_is_made_once(garden: Any, owners: list[Client]) -> None:
    order = MixOrder.objects.create(garden=garden, recipe="light", vessel="bag", count=9, by=TODAY)
    codes = at_once(lambda i: owners[i].post(at("shed-mixed", garden, order.pk), {"key": uuid4()}).status_code)
    assert max(codes) < 500
    assert ShedEntry.objects.filter(kind="made").count() == 1
    order.refresh_from_db()
    assert order.mixed_on == TODAY


def test_a_want_is_put_away_once(garden: Any, owners: list[Client]) -> None:
    want = WantFactory(garden=garden, rooting_place=garden.places.get())
    assert at_once(lambda i: owners[i].post(at("want-away", garden, want.pk)).status_code) == [302] * TOGETHER
    assert Want.objects.get().closed_on == TODAY


def test_old_notes_pressed_six_times_are_kept_once(garden: Any, owners: list[Client]) -> None:
    text = "Plant,Cut on,No.,Rooted\nMint,2026-05-03,12,9\nBasil,2026-05-03,6,6"
    data = {"text": text, "keep": "1", "key": uuid4()}
    assert at_once(lambda i: owners[i].post(at("record-old-notes", garden), data).status_code) == [302] * TOGETHER
    assert Batch.objects.count() == 2


def test_a_link_lets_one_in_of_six(garden: Any, owners: list[Client]) -> None:
    said = owners[0].post(reverse("person-invite", args=[garden.pk]), {"role": "viewer"}).content.decode()
    link = "/come-in/" + said.split("/come-in/")[1].split('"')[0]

    def come(i: int) -> int:
        data = {"username": f"guest{i}", "password1": PASSWORD, "password2": PASSWORD}
        return Client().post(link, data).status_code

    assert sorted(at_once(come)) == [200] * (TOGETHER - 1) + [302]
    assert Membership.objects.filter(role="viewer").count() == 1
    assert Invitation.objects.exclude(used_on=None).count() == 1


def test_two_owners_do_not_both_leave(garden: Any) -> None:
    """Each sees the other, and both may go: one is told to stay."""
    people = [member(garden, "owner") for _ in range(2)] + [member(garden, "helper") for _ in range(TOGETHER - 2)]
    clients = [Client() for _ in people]
    for client, person in zip(clients, people, strict=True):
        client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    codes = at_once(lambda i: clients[i].post(reverse("garden-leave", args=[garden.pk])).status_code)
    assert codes == [302] * TOGETHER
    assert Membership.objects.filter(household=garden.household, role="owner").count() == 1


def test_readers_do_not_wait_for_a_writer(garden: Any, owners: list[Client]) -> None:
    """Where a garden's row is locked for a press, pages are read all the same."""
    if not connection.features.has_select_for_no_key_update:
        pytest.skip("SQLite locks no rows; that it is read while it is written is told in test_storage")
    with alone_in(garden.pk):
        page = at_once(lambda i: owners[i].get(reverse("season", args=[garden.pk])).status_code)
    assert page == [200] * TOGETHER


def test_of_two_that_wait_for_each_other_one_is_told_to_press_again(garden: Any) -> None:
    """Two presses, each in its own garden, that write to the other: a garden’s stamp goes with its rows."""
    if not connection.features.has_select_for_no_key_update:
        pytest.skip("SQLite lets one write at a time")
    gardens = (garden, GardenFactory())
    held = Barrier(2)

    def cross(number: int) -> Trouble | None:
        if number > 1:
            return None
        try:
            with alone_in(gardens[number].pk):
                held.wait(timeout=20)
                StockPlant.objects.create(
                    garden=gardens[1 - number], name=f"From {number}", plant="mint", gives=4, again_days=9
                )
        except OperationalError as error:
            return trouble_of(error) or Trouble.AWAY
        return None

    told = at_once(cross)
    assert sorted(one.name for one in told if one) == ["BUSY"]
    assert StockPlant.objects.count() == 1, "the other's was written"
