"""The morning letter: what is due today and what must come in tonight, by mail, to whoever asked for it.

It goes through Django's mail. The stand-in that ships is a tray: a folder of letters, one file each (EMAIL_URL names a
real post). Whoever gets one can stop it in one press, from the letter itself and without signing in.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, datetime
from typing import Final
from zoneinfo import ZoneInfo

from django.core import signing
from django.core.mail import EmailMessage
from django.urls import reverse

from elder.web.garden.access import gardens_of
from elder.web.garden.clock import today_in
from elder.web.garden.models import Garden, Person
from elder.web.rounds.models import Reminders
from elder.web.rounds.pages import carry_lines, headline_of
from elder.web.rounds.round import Round, round_of
from elder.web.rounds.wording import job_words, shared_title, when_words
from elder.web.say.batches import name_of
from elder.web.say.words import day_words, plural
from elder.web.say.year import year_task_words

SALT: Final = "elder.letter.stop"
MOST_LINES: Final = 30  # of one garden; the round has them all


def stop_key(person: Person) -> str:
    """What stops a person's letters: signed, so that nobody can stop another's."""
    return signing.dumps(person.pk, salt=SALT)


def whose_key(key: str) -> Person | None:
    """The person a key stops letters for; nothing for one that was not signed here."""
    try:
        pk = signing.loads(key, salt=SALT)
    except signing.BadSignature:
        return None
    return Person.objects.filter(pk=pk).first()


def letter_for(person: Person, origin: str) -> EmailMessage:
    """Today's letter for all gardens of a person. ``origin``: where its links lead, such as "https://elder.example"."""
    parts, dues, nights = [], 0, False
    gardens = [garden for garden in gardens_of(person) if garden.closed_on is None]
    for garden in gardens:
        today = today_in(garden)
        found = round_of(garden, today)
        dues += found.presses
        nights = nights or any(carry.is_tonight and not carry.is_done for carry in found.carries)
        parts.append("\n".join(_garden_lines(garden, found, today, person.units, origin)))
    stop = f"{origin}{reverse('letter-stop', args=[stop_key(person)])}"
    day = day_words(today_in(gardens[0])) if gardens else ""
    subject = f"{day}: {plural(dues, 'thing', 'things')} to do" if dues else f"{day}: nothing to do"
    if nights:
        subject += ", and carry in tonight"
    body = "\n\n\n".join(parts) + f"\n\n\nNo more of these letters: {stop}\n"
    headers = {"List-Unsubscribe": f"<{stop}>", "List-Unsubscribe-Post": "List-Unsubscribe=One-Click"}
    return EmailMessage(subject, body, to=[person.email], headers=headers)


def _garden_lines(garden: Garden, found: Round, today: date, units: str, origin: str) -> Iterator[str]:
    head, rest = headline_of(found)
    yield f"{garden.name}, {day_words(today)}"
    yield f"{head} {rest}" if head.endswith(".") else f"{head}, {rest}."
    carries = [line for line in carry_lines(found, units) if not line.done]
    if carries:
        yield ""
        yield "Carry in tonight:" if carries[0].tonight else "Cold nights are coming; carry in:"
        for carry in carries:
            yield f"  {carry.name}, {carry.what}. {carry.cold}."
    lines = list(_due_lines(found, units))
    yield from lines[:MOST_LINES]
    if len(lines) > MOST_LINES:
        yield f"… and {len(lines) - MOST_LINES} lines more."
    yield ""
    yield f"{origin}{reverse('round', args=[garden.pk])}"


def _due_lines(found: Round, units: str) -> Iterator[str]:
    for stop in found.now:
        yield ""
        yield f"{stop.place.name if stop.place else 'In the beds'}:"
        for shared in stop.shared:
            yield f"  {shared_title(shared)}"
        for job in stop.jobs:
            late = when_words(job)
            yield f"  {job_words(job, units).deed} {name_of(job.batch)}{f', {late}' if late else ''}"
    if found.year:
        yield ""
        yield "For the year:"
        for task in found.year:
            yield f"  {': '.join(year_task_words(task, task.due, units))}"


def is_due(row: Reminders, now: datetime) -> bool:
    """Whether a letter goes out now: asked for, somewhere to go, the hour has come where its first garden lies, and
    none went today. Sent once a day however often it is asked."""
    garden = gardens_of(row.person).filter(closed_on=None).first()
    if not row.letter or not row.person.email or not row.person.is_active or garden is None:
        return False
    here = now.astimezone(ZoneInfo(garden.timezone))
    return here.hour >= row.letter_from_hour and row.sent_for != today_in(garden)


def send_letter(row: Reminders) -> None:
    """Send today's letter, and write down for which day it went."""
    letter_for(row.person, row.origin).send()
    garden = gardens_of(row.person).filter(closed_on=None).first()
    row.sent_for = today_in(garden) if garden else None
    row.save(update_fields=["sent_for"])
