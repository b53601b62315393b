"""The calendar: iCalendar by RFC 5545, read back with the icalendar library; its secret, and its revocation."""

from __future__ import annotations

import re
from datetime import date, timedelta
from typing import Any
from uuid import UUID

import pytest
from django.test import Client
from django.urls import reverse
from icalendar import Calendar

from elder.web.garden import access
from elder.web.rounds import calendar_views
from elder.web.rounds.calendar_file import calendar_of
from elder.web.rounds.dates import CalendarDate
from elder.web.rounds.models import CalendarFeed
from tests.factories import WantFactory, take

TODAY = date(2027, 3, 20)


@pytest.fixture(autouse=True)
def _same_day(monkeypatch: pytest.MonkeyPatch, today: date) -> None:
    monkeypatch.setattr(calendar_views, "today_in", lambda garden: access.today_in(garden))


@pytest.fixture
def want(garden: Any) -> Any:
    return WantFactory(garden=garden, rooting_place=garden.places.get(), variety="Ferry Lamp")


def events(data: bytes) -> dict[str, Any]:
    found = Calendar.from_ical(data)
    assert found.errors == []
    return {str(event["summary"]): event for event in found.walk("VEVENT")}


def download(client: Client, garden: Any) -> bytes:
    answer = client.get(reverse("calendar-download", args=[garden.pk]))
    assert answer["Content-Type"] == "text/calendar; charset=utf-8"
    return bytes(answer.content)


def test_it_is_icalendar_as_rfc_5545_has_it(owner: Client, garden: Any, want: Any) -> None:
    take(want, on=date(2027, 3, 10))
    data = download(owner, garden)
    assert data.startswith(b"BEGIN:VCALENDAR\r\n")
    assert data.endswith(b"END:VCALENDAR\r\n")
    lines = data.split(b"\r\n")
    assert max(map(len, lines)) <= 75, "lines are folded at 75 octets (3.1)"
    assert b"\n" not in b"".join(lines)
    calendar: Any = Calendar.from_ical(data)
    assert calendar.errors == []
    assert (str(calendar["version"]), bool(calendar["prodid"])) == ("2.0", True)
    for event in calendar.walk("VEVENT"):
        assert {"UID", "DTSTAMP", "DTSTART", "SUMMARY"} <= set(event)
        begin, end = event["dtstart"], event["dtend"]
        assert begin.params["VALUE"] == end.params["VALUE"] == "DATE"
        assert end.dt - begin.dt == timedelta(days=1), "an all-day event ends on the next day (3.6.1)"
        assert (begin.dt >= TODAY) == (event["categories"].to_ical() != b"Done")


def test_an_all_day_event_of_the_rfc_reads_as_it_does_there() -> None:
    """RFC 5545, 3.6.1: 28 June 2007 to an exclusive 9 July is eleven days."""
    text = (
        "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:20070423T123432Z-541111@example.com\r\n"
        "DTSTAMP:20070423T123432Z\r\nDTSTART;VALUE=DATE:20070628\r\nDTEND;VALUE=DATE:20070709\r\n"
        "SUMMARY:Festival International de Jazz de Montreal\r\nTRANSP:TRANSPARENT\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
    )
    (event,) = events(text.encode()).values()
    assert (event["dtend"].dt - event["dtstart"].dt).days == 11


def test_it_holds_cuts_and_what_batches_want_on_their_days(owner: Client, garden: Any, want: Any) -> None:
    found = events(download(owner, garden))
    assert "Cut Tomato ‘Ferry Lamp’" in found
    assert "Cut 12 side shoots" in str(found["Cut Tomato ‘Ferry Lamp’"]["description"])
    take(want, on=date(2027, 3, 19))
    found = events(download(owner, garden))
    assert "Cut Tomato ‘Ferry Lamp’" not in found, "it is cut"
    # By the worked example of the model 1 in 10 are rooted on day 8; of batches quick and slow, on day 7.
    assert found["First look: Tomato ‘Ferry Lamp’"]["dtstart"].dt == date(2027, 3, 26)


def test_ids_stay_while_days_move(owner: Client, garden: Any, want: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    batch = take(want, on=date(2027, 3, 6))
    before = {str(event["uid"]): name for name, event in events(download(owner, garden)).items()}
    owner.post(reverse("round-look", args=[garden.pk, batch.pk]), {"on": "2027-03-20", "stage": "waiting", "well": 1})
    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 3, 21))
    after = {str(event["uid"]): name for name, event in events(download(owner, garden)).items()}
    moved = {uid for uid, name in before.items() if name.startswith("First look")}
    assert moved
    assert {after[uid] for uid in moved} == {"Look again: Tomato ‘Ferry Lamp’"}
    assert set(before) <= set(after)


def test_fixed_weekdays_come_back_each_week(owner: Client, garden: Any, want: Any) -> None:
    take(want, on=date(2027, 3, 10))
    garden.water_days = [1, 4]
    garden.save()
    event = events(download(owner, garden))["Change the water in the jars"]
    assert event["rrule"]["byday"] == ["TU", "FR"]
    assert event["rrule"]["freq"] == ["WEEKLY"]
    assert event["dtstart"].dt == date(2027, 3, 23), "20 March 2027 is a Saturday; Tuesday comes first"


def address(client: Client) -> str:
    client.post(reverse("calendar"))
    found = re.search(
        r'value="http://testserver(/calendar/[\w-]+\.ics)"', client.get(reverse("calendar")).content.decode()
    )
    assert found
    return found[1]


def test_the_feed_wants_no_sign_in_but_its_secret(owner: Client, client: Client, garden: Any, want: Any) -> None:
    url = address(owner)
    answer = client.get(url)
    assert answer.status_code == 200
    assert "Cut Tomato ‘Ferry Lamp’" in events(answer.content)
    assert answer["Cache-Control"] == "private, no-cache"
    assert client.get("/calendar/guessed.ics").status_code == 404
    secret = url.removeprefix("/calendar/").removesuffix(".ics")
    assert len(secret) >= 43
    assert secret not in CalendarFeed.objects.get().digest
    assert secret not in owner.get(reverse("calendar")).content.decode(), "it is shown once"


def test_another_address_ends_the_first_and_revoking_ends_all(owner: Client, client: Client, want: Any) -> None:
    first = address(owner)
    second = address(owner)
    assert client.get(first).status_code == 404
    assert client.get(second).status_code == 200
    owner.post(reverse("calendar"), {"revoke": "1"})
    assert client.get(second).status_code == 404


def test_who_leaves_the_household_or_is_shut_out_reads_nothing(owner: Client, client: Client, garden: Any) -> None:
    url = address(owner)
    person = CalendarFeed.objects.get().person
    person.is_active = False
    person.save()
    assert client.get(url).status_code == 404
    person.is_active = True
    person.save()
    garden.household.memberships.filter(person=person).delete()
    assert client.get(url).status_code == 404


def test_the_branch_and_the_stick_have_their_days(owner: Client, garden: Any) -> None:
    place = garden.places.get()
    tree = WantFactory(
        garden=garden,
        rooting_place=place,
        plant="elder",
        method="mix",
        cut_on=date(2027, 3, 25),
        wanted=2,
        stock="indoors",
    )
    cactus = WantFactory(garden=garden, rooting_place=place, plant="dragon-fruit", method="gritty", wanted=2)
    take(cactus, on=TODAY, count=3)
    found = events(download(owner, garden))
    assert found["Ready the branch: Elder"]["dtstart"].dt == date(2027, 3, 23), "two days before the cut"
    assert found["Stick 3: Dragon fruit"]["dtstart"].dt == date(2027, 3, 23), "three days after it"
    tree.prepared_on = TODAY
    tree.save()
    assert "Ready the branch: Elder" not in events(download(owner, garden))


def test_what_is_written_date_by_date_is_what_a_whole_calendar_writes() -> None:
    """As icalendar itself writes it from a calendar of events; each with its own address, and another alarm anew."""
    dates = [
        CalendarDate(UUID(int=i), date(2027, 4, 6 + i), f"Cut {i}; 3, more", "so\nthat", ("season", 1, None), "Cuts")
        for i in range(3)
    ]
    for hours in (7, None, -4):
        sent = calendar_of("A", dates, stamp=TODAY, url=lambda one: f"http://x/{one.uid}", alarm_hours=hours)
        whole = Calendar.from_ical(sent)
        again = Calendar()
        for name, value in whole.property_items(recursive=False)[1:-1]:
            again.add(name, value)
        for event in whole.subcomponents:
            again.add_component(event)
        assert sent == again.to_ical()
        assert [str(event["url"]) for event in whole.walk("VEVENT")] == [f"http://x/{one.uid}" for one in dates]
        triggers = [alarm["trigger"].dt for alarm in whole.walk("VALARM")]
        assert triggers == ([timedelta(hours=hours)] * 3 if hours is not None else [])
        assert sent.endswith(b"END:VEVENT\r\nEND:VCALENDAR\r\n")
        bare = calendar_of("A", [], stamp=TODAY, url=str, alarm_hours=hours)
        assert sent.startswith(bare.removesuffix(b"END:VCALENDAR\r\n") + b"BEGIN:VEVENT\r\n")
