"""A day that steps back: a zone moved west, a clock set right. What was written stays, and every page works."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client
from django.urls import reverse

from elder.web.batches.models import Batch, Entry
from elder.web.garden import access
from elder.web.stock.models import StockLook, StockPlant
from tests.factories import WantFactory, take
from tests.web.test_walls import GARDEN_NAMES, POST_ONLY

TODAY = date(2027, 3, 20)


@pytest.fixture
def written(garden: Any, today: date) -> Batch:
    """A batch with a line of every kind, the last of them today; a mother seen today; a want for more."""
    place = garden.places.first()
    mother = StockPlant.objects.create(garden=garden, name="Ferry Lamp 1", plant="tomato", gives=9, again_days=9)
    StockLook.objects.create(mother=mother, on=today, growth="flowering", shoots=12)
    row = WantFactory(garden=garden, rooting_place=place, mother=mother)
    batch = take(row, on=today - timedelta(days=20), count=12, today=today)
    late = [("rooted", 7), ("potted", 5), ("hardening", 3), ("planted", 2), ("given", 1), ("lost", 1)]
    for kind, count in late:
        Entry(batch=batch, kind=kind, on=today, count=count).save()
    for kind, more in (("looked", {}), ("note", {"note": "Wet."}), ("harvested", {}), ("tended", {"deed": "water"}),
                       ("moved", {"place": place, "stage": "waiting"}), ("potted_up", {}),
                       ("trimmed", {"deed": "compost"})):  # fmt: skip
        Entry(batch=batch, kind=kind, on=today, **more).save()
    fresh = take(WantFactory(garden=garden, rooting_place=place), on=today)
    Entry(batch=fresh, kind="looked", on=today, signs="wilted").save()
    return batch


@pytest.mark.parametrize("back", [1, 800])
@pytest.mark.parametrize("name", [name for name in GARDEN_NAMES if name not in POST_ONLY])
def test_every_page_works_on_a_day_before_the_last_line(
    written: Batch,
    address: Any,
    owner: Client,
    monkeypatch: pytest.MonkeyPatch,
    name: str,
    back: int,
) -> None:
    before = TODAY - timedelta(days=back)
    monkeypatch.setattr(access, "today_in", lambda garden: before)
    answer = owner.get(address(name))
    assert answer.status_code < 500
    if answer["Content-Type"].startswith("text/html") and answer.status_code == 200:
        assert "is dated Sat 20 Mar" in answer.content.decode(), "and says so"


def test_what_is_done_on_a_day_that_stepped_back_comes_after_the_last_line(
    garden: Any, owner: Client, today: date, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Two rooted today, the zone moved west, and one of them potted: by the batch's own day, not before it rooted."""
    batch = take(WantFactory(garden=garden, rooting_place=garden.places.first()), on=today - timedelta(days=20))
    Entry(batch=batch, kind="rooted", on=today, count=2).save()
    before = today - timedelta(days=1)
    monkeypatch.setattr(access, "today_in", lambda garden: before)
    sent = {"pot-on-count": 1, "pot-on-on": before.isoformat(), "pot-on-key": uuid4()}
    assert owner.post(reverse("move", args=[garden.pk, batch.pk, "pot-on"]), sent).status_code == 302
    potted = Entry.objects.get(kind="potted")
    assert (potted.on, potted.count) == (today, 1)
    # A day chosen by hand stays what was chosen.
    note = {"on": (today - timedelta(days=3)).isoformat(), "note": "Wet.", "key": uuid4()}
    owner.post(reverse("note", args=[garden.pk, batch.pk]), note)
    assert Entry.objects.get(kind="note").on == today - timedelta(days=3)


def test_a_line_that_never_should_have_been_takes_no_page_down(garden: Any, owner: Client, today: date) -> None:
    batch = take(WantFactory(garden=garden, rooting_place=garden.places.first()), on=today - timedelta(days=20))
    Entry(batch=batch, kind="potted", on=today, count=3).save()  # none of them had rooted
    page = owner.get(reverse("batch", args=[garden.pk, batch.pk]))
    assert page.status_code == 200
    assert "One line of its history does not add up and is not counted." in page.content.decode()
    for name in ("season", "round", "batches", "stock", "places"):
        assert owner.get(reverse(name, args=[garden.pk])).status_code == 200
