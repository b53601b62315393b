"""Where a person is signed in: their sessions, told by the device and the day, each of which can be ended."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime
from typing import Final

from django.contrib.auth import SESSION_KEY
from django.contrib.auth.signals import user_logged_in
from django.contrib.sessions.models import Session
from django.dispatch import receiver
from django.http import HttpRequest
from django.utils import timezone

from elder.web.garden.models import Person

BROWSERS: Final = (("Edg", "Edge"), ("Firefox", "Firefox"), ("Chrom", "Chrome"), ("Safari", "Safari"))
DEVICES: Final = (
    ("iPhone", "a phone"), ("Android", "a phone or tablet"), ("iPad", "a tablet"), ("Windows", "Windows"),
    ("Mac OS", "a Mac"), ("Linux", "Linux"),
)  # fmt: skip


@dataclass(frozen=True)
class SignedInHere:
    """A session: a mark to end it by, which opens nothing; the device in words; since when; whether it is this one."""

    mark: str
    device: str
    since: date | None
    is_this: bool


def device_words(agent: str) -> str:
    """A browser and its device as far as it says: enough to know one's own again."""
    browser = next((name for sign, name in BROWSERS if sign in agent), "a browser")
    device = next((name for sign, name in DEVICES if re.search(sign, agent)), "an unknown device")
    return f"{browser} on {device}"


@receiver(user_logged_in)
def note_device(sender: object, request: HttpRequest, user: Person, **kwargs: object) -> None:
    """Keep with a session what it is told by."""
    request.session["device"] = device_words(request.headers.get("User-Agent", ""))
    request.session["since"] = timezone.localdate().isoformat()


def _mark(key: str) -> str:
    return hashlib.sha256(f"elder.session:{key}".encode()).hexdigest()[:20]


def _rows_of(person: Person, now: datetime) -> Iterator[tuple[Session, dict[str, object]]]:
    """The sessions of a person that serve yet. Each session has to be opened for that: Django keeps no list."""
    for row in Session.objects.filter(expire_date__gt=now).iterator():
        told = row.get_decoded()
        if told.get(SESSION_KEY) == str(person.pk):
            yield row, told


def sessions_of(person: Person, this: str, now: datetime) -> list[SignedInHere]:
    """Where a person is signed in, this session first, then the newest."""
    found = [
        SignedInHere(
            _mark(row.session_key),
            str(told.get("device") or "an unknown device"),
            date.fromisoformat(str(told["since"])) if told.get("since") else None,
            row.session_key == this,
        )
        for row, told in _rows_of(person, now)
    ]
    return sorted(found, key=lambda one: (not one.is_this, -(one.since or date.min).toordinal()))


def end_sessions(person: Person, this: str, now: datetime, *, mark: str = "") -> int:
    """End the session of a mark, or every one but this; how many were ended."""
    keys = [row.session_key for row, _ in _rows_of(person, now)]
    ended = [key for key in keys if (_mark(key) == mark if mark else key != this)]
    Session.objects.filter(session_key__in=ended).delete()
    return len(ended)
