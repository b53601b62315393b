"""A calendar as it was told last: reckoned anew only where something it is made of may have changed.

Phones ask each hour and hardly ever is there anything new. Whatever is written of a garden gives it another stamp; with
the day and the person's own choices that is what a calendar is known by. What the weather service tells is asked for
anew every six hours.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from datetime import date
from typing import Final

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.utils.cache import get_conditional_response
from django.utils.http import quote_etag

from elder.engine.keeping import STORE
from elder.web.garden.models import Garden, Person
from elder.web.logbook.shared_cache import answered, version
from elder.web.rounds.reminders_form import alarm_of

ICS: Final = "text/calendar; charset=utf-8"
WEATHER_HOURS: Final = 6


def known_by(person: Person, days: Sequence[tuple[Garden, date]], host: str) -> str:
    """What a person's calendar is known by, of gardens each on its day: as long as it is the same, so is the
    calendar."""
    hours = timezone.now().toordinal(), timezone.now().hour // WEATHER_HOURS
    stands = [(garden.pk, garden.name, str(garden.stamp), today) for garden, today in days]
    said = version(), person.units, alarm_of(person), host, hours, stands
    return hashlib.blake2b(repr(said).encode(), digest_size=16).hexdigest()


def calendar_answer(request: HttpRequest, name: str, make: Callable[[], bytes]) -> HttpResponse:
    """The calendar of that name: that nothing is new to whoever has it, else as it is kept, else made."""
    etag = f"W/{quote_etag(name)}"  # weak: it may be sent pressed or not
    unchanged = get_conditional_response(request, etag=etag)
    if isinstance(unchanged, HttpResponse) and unchanged.status_code == 304:
        return _told(unchanged, etag)
    is_shared = "PatientCache" in settings.CACHES["default"]["BACKEND"]
    data = STORE.ask(("calendar", name), lambda: answered(f"calendar:{name}", make) if is_shared else make())
    return _told(HttpResponse(data, content_type=ICS), etag)


def _told(answer: HttpResponse, etag: str) -> HttpResponse:
    answer["ETag"] = etag
    answer["Cache-Control"] = "private, no-cache"  # kept by whoever asked, and asked about each time
    return answer
