"""A calendar that is asked each hour: nothing is reckoned where nothing can have changed."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse

from elder.web.garden import access
from elder.web.garden.models import Garden
from elder.web.places.readings import forget_readings
from elder.web.rounds import calendar_views, kept_calendar
from elder.web.rounds.models import ToldEvent
from tests.factories import WantFactory, take
from tests.web.presses import look

TODAY = date(2027, 3, 20)


@pytest.fixture
def made(monkeypatch: pytest.MonkeyPatch, today: date) -> list[int]:
    """How many calendars were made."""
    monkeypatch.setattr(calendar_views, "today_in", lambda garden: access.today_in(garden))
    counted: list[int] = []
    make = calendar_views._calendar

    def counting(*args: Any) -> bytes:
        counted.append(1)
        return make(*args)

    monkeypatch.setattr(calendar_views, "_calendar", counting)
    return counted


@pytest.fixture
def feed(owner: Client, garden: Any, client: Client) -> Any:
    """What asks a subscribed address, as a phone does."""
    owner.post(reverse("calendar"))
    secret = owner.get(reverse("calendar")).context["address"].rstrip("/").rsplit("/", 1)[-1]
    secret = secret.removesuffix(".ics")
    address = reverse("calendar-feed", args=[secret])

    def asked(etag: str = "") -> Any:
        return client.get(address, headers={"If-None-Match": etag} if etag else {})

    return asked


def test_a_phone_that_has_it_is_told_that_nothing_is_new(
    feed: Any, garden: Any, made: list[int], django_assert_max_num_queries: Any
) -> None:
    take(WantFactory(garden=garden, rooting_place=garden.places.get()), on=date(2027, 3, 10))
    first = feed()
    assert (first.status_code, first["Cache-Control"], len(made)) == (200, "private, no-cache", 1)
    told = ToldEvent.objects.count()
    assert told
    with django_assert_max_num_queries(4):
        again = feed(first["ETag"])
    assert (again.status_code, again.content, again["ETag"]) == (304, b"", first["ETag"])
    other = feed('W/"another"')
    assert (other.status_code, other.content) == (200, first.content)
    assert len(made) == 1, "kept, for whoever does not have it"


def test_a_press_a_line_and_readings_make_it_new(feed: Any, owner: Client, garden: Any, made: list[int]) -> None:
    batch = take(WantFactory(garden=garden, rooting_place=garden.places.get()), on=date(2027, 3, 10))
    etags = [feed()["ETag"]]
    look(owner, batch, rooted=4)  # through the door
    etags.append(feed()["ETag"])
    batch.entries.create(kind="tended", on=TODAY, deed="water")  # by a command, past it
    etags.append(feed()["ETag"])
    forget_readings(garden.places.get())
    etags.append(feed()["ETag"])
    assert len(set(etags)) == 4
    assert len(made) == 4
    assert feed()["ETag"] == etags[-1]


def test_looking_changes_no_stamp_and_a_press_changes_its_own_alone(owner: Client, garden: Any, today: date) -> None:
    other = Garden.objects.create(
        household=garden.household, name="Other", latitude=50, longitude=0, timezone="Europe/London",
        t_min=garden.t_min, t_max=garden.t_max,
    )  # fmt: skip
    before = dict(Garden.objects.values_list("pk", "stamp"))
    assert before[garden.pk] != before[other.pk]
    owner.get(reverse("round", args=[garden.pk]))
    assert dict(Garden.objects.values_list("pk", "stamp")) == before
    batch = take(WantFactory(garden=garden, rooting_place=garden.places.get()), on=date(2027, 3, 10))
    look(owner, batch, rooted=1)
    after = dict(Garden.objects.values_list("pk", "stamp"))
    assert after[other.pk] == before[other.pk]
    assert after[garden.pk] != before[garden.pk]


def test_what_is_chosen_for_oneself_is_part_of_it(feed: Any, owner: Client, garden: Any, made: list[int]) -> None:
    first = feed()["ETag"]
    owner.post(reverse("reminders"), {"alarm_hours": "7", "letter_from_hour": "6", "email": ""})
    second = feed()["ETag"]
    person = kept_calendar.Person.objects.get(households__gardens=garden)
    person.units = "us"
    person.save()
    assert len({first, second, feed()["ETag"]}) == 3
