"""Alarms, what was done, changes told as changes, and the morning letter: read back from the mail itself."""

from __future__ import annotations

import re
from datetime import UTC, date, datetime, timedelta
from io import StringIO
from smtplib import SMTPException
from typing import Any

import pytest
from django.contrib.staticfiles import finders
from django.core import mail
from django.core.cache import cache
from django.core.management import call_command
from django.test import Client
from django.urls import reverse
from icalendar import Calendar
from PIL import Image

from elder.web.batches.models import Batch, Entry
from elder.web.garden import access
from elder.web.garden.models import Garden, Person
from elder.web.rounds import calendar_views, letter
from elder.web.rounds.letter import is_due, stop_key
from elder.web.rounds.management.commands import send_letters
from elder.web.rounds.models import Reminders, ToldEvent
from tests.factories import WantFactory, take

TODAY = date(2027, 3, 20)
AT_SEVEN = datetime(2027, 3, 20, 7, 0, tzinfo=UTC)


@pytest.fixture(autouse=True)
def _same_day(monkeypatch: pytest.MonkeyPatch, today: date) -> None:
    for module in (calendar_views, letter):
        monkeypatch.setattr(module, "today_in", lambda garden: access.today_in(garden))


@pytest.fixture
def batch(garden: Garden) -> Batch:
    want = WantFactory(garden=garden, rooting_place=garden.places.get(), variety="Ferry Lamp")
    return take(want, on=date(2027, 3, 6))


def _me(garden: Garden) -> Person:
    return Person.objects.get(households__gardens=garden)


def _events(client: Client, garden: Garden) -> dict[str, Any]:
    data = client.get(reverse("calendar-download", args=[garden.pk])).content
    found: Any = Calendar.from_ical(data)
    assert found.errors == []
    return {str(event["summary"]): event for event in found.walk("VEVENT")}


def _keep(client: Client, **given: object) -> Any:
    return client.post(reverse("reminders"), _given(**given))


def _given(**given: object) -> dict[str, object]:
    return {"alarm_hours": "", "letter_from_hour": "6", "email": "", **given}


def test_what_was_done_stays_in_the_past(owner: Client, garden: Garden, batch: Batch) -> None:
    done = _events(owner, garden)["Tomato ‘Ferry Lamp’: 11 cut"]
    assert done["dtstart"].dt == date(2027, 3, 6)
    assert done["categories"].to_ical() == b"Done"
    assert not done.walk("VALARM")
    uid = str(done["uid"])
    assert str(_events(owner, garden)["Tomato ‘Ferry Lamp’: 11 cut"]["uid"]) == uid, "the same each time it is asked"


def test_what_was_struck_out_or_is_long_past_is_not_told(owner: Client, garden: Garden, batch: Batch) -> None:
    old = Entry.objects.create(batch=batch, kind=Entry.Kind.LOOKED, on=TODAY - timedelta(days=121))
    wrong = Entry.objects.create(batch=batch, kind=Entry.Kind.ROOTED, on=TODAY, count=4)
    Entry.objects.create(batch=batch, kind=Entry.Kind.STRUCK, on=TODAY, strikes=wrong)
    told = set(_events(owner, garden))
    assert "Tomato ‘Ferry Lamp’: 4 newly rooted" not in told
    assert old.pk
    assert not any("looked" in summary for summary in told)


def test_each_date_has_a_category_and_an_alarm_as_chosen(owner: Client, garden: Garden, batch: Batch) -> None:
    WantFactory(garden=garden, plant="mint", rooting_place=garden.places.get())
    events = _events(owner, garden)
    assert events["Cut Mint"]["categories"].to_ical() == b"Cuts"
    look = next(event for summary, event in events.items() if summary.startswith(("First look", "Look")))
    assert look["categories"].to_ical() == b"Looks"
    assert not events["Cut Mint"].walk("VALARM"), "none until somebody asks"
    _keep(owner, alarm_hours="-6")
    (alarm,) = _events(owner, garden)["Cut Mint"].walk("VALARM")
    assert (alarm["action"], alarm["trigger"].dt) == ("DISPLAY", timedelta(hours=-6))
    assert not _events(owner, garden)["Tomato ‘Ferry Lamp’: 11 cut"].walk("VALARM"), "nor for what is done"


def test_a_date_that_moves_is_told_as_changed(
    owner: Client, garden: Garden, batch: Batch, monkeypatch: pytest.MonkeyPatch
) -> None:
    def cut() -> Any:
        return _events(owner, garden)["Cut Mint"]

    want = WantFactory(garden=garden, plant="mint", rooting_place=garden.places.get())
    first = cut()
    assert first["sequence"] == 0
    assert cut()["sequence"] == 0, "asking changes nothing"
    ToldEvent.objects.update(changed_at=datetime(2027, 3, 1, tzinfo=UTC))
    want.cut_on = first["dtstart"].dt + timedelta(days=3)
    want.save()
    moved = cut()
    assert moved["dtstart"].dt == want.cut_on
    assert (moved["sequence"], str(moved["uid"])) == (1, str(first["uid"]))
    assert moved["last-modified"].dt > datetime(2026, 11, 1, tzinfo=UTC)
    assert str(moved["last-modified"].to_ical()) != str(first["last-modified"].to_ical()) or moved["sequence"] == 1
    assert ToldEvent.objects.get(garden=garden, uid=str(first["uid"])).sequence == 1


def test_the_letter_says_what_is_due_and_can_be_stopped(owner: Client, garden: Garden, batch: Batch) -> None:
    _keep(owner, letter="on", email="marrow@example.org", now="1")
    (sent,) = mail.outbox
    assert sent.to == ["marrow@example.org"]
    assert sent.subject == "Sat 20 Mar: 2 things to do"
    assert "Harrow Stair, Sat 20 Mar" in sent.body
    assert "Kitchen sill:" in sent.body
    assert "Tomato ‘Ferry Lamp’" in sent.body
    assert f"http://testserver{reverse('round', args=[garden.pk])}" in sent.body
    stop = re.search(r"No more of these letters: http://testserver(\S+)", sent.body)
    assert stop
    assert sent.extra_headers["List-Unsubscribe"] == f"<http://testserver{stop[1]}>"
    stranger = Client(enforce_csrf_checks=True)
    assert "No more letters to marrow@example.org" in stranger.get(stop[1]).content.decode()
    assert Reminders.objects.get().letter, "looking is not pressing"
    assert "No more letters" in stranger.post(stop[1]).content.decode()
    assert not Reminders.objects.get().letter


def test_a_key_that_was_not_signed_here_stops_nothing(owner: Client, garden: Garden) -> None:
    _keep(owner, letter="on", email="marrow@example.org")
    key = stop_key(_me(garden))
    wrong = key[:-2] + ("aa" if not key.endswith("aa") else "bb")
    assert Client().post(reverse("letter-stop", args=[wrong])).status_code == 404
    assert Reminders.objects.get().letter


def test_a_letter_goes_once_a_day_and_not_before_its_hour(
    owner: Client, garden: Garden, batch: Batch, monkeypatch: pytest.MonkeyPatch
) -> None:
    _keep(owner, letter="on", email="marrow@example.org", letter_from_hour="7")
    row = Reminders.objects.get()
    assert not is_due(row, AT_SEVEN - timedelta(minutes=1))
    assert is_due(row, AT_SEVEN)
    monkeypatch.setattr(send_letters.timezone, "now", lambda: AT_SEVEN)
    call_command("send_letters", stdout=StringIO())
    call_command("send_letters", stdout=StringIO())
    assert len(mail.outbox) == 1
    row.refresh_from_db()
    assert row.sent_for == TODAY
    assert not is_due(row, AT_SEVEN)
    row.sent_for = TODAY - timedelta(days=1)
    assert is_due(row, AT_SEVEN)


def test_nobody_gets_letters_who_did_not_ask(owner: Client, garden: Garden, batch: Batch) -> None:
    assert not _keep(owner, email="marrow@example.org").context
    row = Reminders.objects.get()
    assert not is_due(row, AT_SEVEN), "off unless asked for"
    row.letter = True
    person = row.person
    person.is_active = False
    assert not is_due(row, AT_SEVEN), "nor who may not sign in"
    person.is_active, person.email = True, ""
    assert not is_due(row, AT_SEVEN)
    garden.closed_on = TODAY
    garden.save()
    person.email = "marrow@example.org"
    assert not is_due(row, AT_SEVEN), "nor of a garden that was left"


def test_a_letter_wants_an_address(owner: Client, garden: Garden) -> None:
    page = _keep(owner, letter="on").content.decode()
    assert "Where to? Give an address." in page
    assert "An address such as name@example.org." in _keep(owner, letter="on", email="marrow").content.decode()
    assert not Reminders.objects.exists()


def test_the_manifest_leads_to_the_round(owner: Client, garden: Garden) -> None:
    """W3C, Web Application Manifest: name, start_url, display and icons of 192 and 512 px make it installable."""
    answer = Client().get(reverse("manifest"))
    assert answer["Content-Type"] == "application/manifest+json"
    told = answer.json()
    assert (told["name"], told["display"], told["scope"]) == ("Elder", "standalone", "/")
    assert {(one["sizes"], one["purpose"]) for one in told["icons"]} == {
        (size, purpose) for size in ("192x192", "512x512") for purpose in ("any", "maskable")
    }
    assert [one["name"] for one in told["shortcuts"]] == ["Rounds", "I have this in my hand"]
    for to, room in ((told["start_url"], "round"), (told["shortcuts"][1]["url"], "windfall")):
        assert owner.get(to).url == reverse(room, args=[garden.pk])  # type: ignore[attr-defined]


def test_the_icons_are_as_large_as_they_say() -> None:
    for size in (180, 192, 512):
        path = finders.find(f"elder/icons/elder-{size}.png")
        assert path
        with Image.open(path) as icon:
            assert (icon.size, icon.format) == ((size, size), "PNG")


def test_letters_go_at_a_press_five_times_a_day_and_a_shut_post_is_told(
    owner: Client, garden: Garden, batch: Batch, monkeypatch: pytest.MonkeyPatch
) -> None:
    cache.clear()
    for _ in range(5):
        _keep(owner, letter="on", email="marrow@example.org", now="1")
    assert len(mail.outbox) == 5
    said = owner.post(reverse("reminders"), _given(letter="on", email="marrow@example.org", now="1"), follow=True)
    assert "5 letters went at a press today" in said.content.decode()
    assert len(mail.outbox) == 5
    cache.clear()

    def shut(self: object) -> None:
        raise SMTPException

    monkeypatch.setattr("django.core.mail.EmailMessage.send", shut)
    said = owner.post(reverse("reminders"), _given(letter="on", email="marrow@example.org", now="1"), follow=True)
    assert "the letter did not go" in said.content.decode()


def test_a_letter_that_cannot_go_is_tried_again(
    owner: Client, garden: Garden, batch: Batch, monkeypatch: pytest.MonkeyPatch
) -> None:
    def shut(row: Reminders) -> None:
        raise OSError("the post is shut")

    _keep(owner, letter="on", email="marrow@example.org")
    monkeypatch.setattr(send_letters.timezone, "now", lambda: AT_SEVEN)
    monkeypatch.setattr(send_letters, "send_letter", shut)
    said, wrong = StringIO(), StringIO()
    call_command("send_letters", stdout=said, stderr=wrong)
    assert said.getvalue() == "0 letters sent.\n"
    assert "did not go: the post is shut" in wrong.getvalue()
    assert Reminders.objects.get().sent_for is None
