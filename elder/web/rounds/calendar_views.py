"""The calendar: a download of one garden, and a feed of all a person's gardens at a secret address."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import cast

from django.core.cache import cache
from django.core.mail import EmailMessage
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.web.garden.access import GardenRequest, gardens_of, in_garden, signed_in
from elder.web.garden.clock import today_in
from elder.web.garden.models import Garden, Person
from elder.web.logbook.standing import as_it_stands, keep
from elder.web.rounds import actions
from elder.web.rounds.calendar import dates_of
from elder.web.rounds.dates import CalendarDate
from elder.web.rounds.kept_calendar import calendar_answer, known_by
from elder.web.rounds.letter import letter_for, whose_key
from elder.web.rounds.models import CalendarFeed, Reminders
from elder.web.rounds.reminders_form import RemindersForm, alarm_of, reminders_of
from elder.web.ui.pages import show
from elder.web.ui.saved import saved

FRESH = "fresh-calendar-secret"
LETTERS_AT_ONCE = 5  # at a press, in a day
A_DAY_S = 24 * 60 * 60


@dataclass(frozen=True)
class CalendarPage:
    """A feed's address, shown this once; whether there is one; the gardens it is of; how one is reminded, and today's
    letter as it would go out."""

    address: str
    row: CalendarFeed | None
    gardens: list[Garden]
    form: RemindersForm
    letter: EmailMessage | None


@dataclass(frozen=True)
class StopPage:
    """To whom letters went, and whether they have stopped."""

    email: str
    stopped: bool


def _url(request: HttpRequest, item: CalendarDate) -> str:
    return request.build_absolute_uri(reverse(item.path[0], args=[part for part in item.path[1:] if part]))


@require_GET
@in_garden("see")
def download(request: GardenRequest) -> HttpResponse:
    """One garden's dates as a file."""
    days = [(request.garden, request.today)]
    name = known_by(request.user, days, request.build_absolute_uri("/"))
    answer = calendar_answer(request, name, lambda: _calendar(request, request.user, days))
    answer["Content-Disposition"] = 'attachment; filename="elder.ics"'
    return answer


@require_GET
def feed(request: HttpRequest, secret: str) -> HttpResponse:
    """All of a person's gardens, for a calendar that subscribes. The secret is the only key."""
    row = CalendarFeed.objects.select_related("person").filter(digest=actions.digest_of(secret)).first()
    if row is None or not row.person.is_active:
        raise Http404
    person, days = row.person, [(garden, today_in(garden)) for garden in gardens_of(row.person)]
    if not days:
        raise Http404
    name = known_by(person, days, request.build_absolute_uri("/"))
    answer = calendar_answer(request, name, lambda: _calendar(request, person, days))
    answer["X-Robots-Tag"] = "noindex"
    return answer


def _calendar(request: HttpRequest, person: Person, days: list[tuple[Garden, date]]) -> bytes:
    """The dates of some gardens, each on its day, as they are sent."""
    stand = [(as_it_stands(garden, today), today) for garden, today in days]
    dates = [item for garden, today in stand for item in dates_of(garden, today, person.units)]
    for garden, today in stand:
        keep(garden, today)
    name, stamp = days[0][0].name if len(days) == 1 else "Elder", max(today for _, today in days)
    from elder.web.rounds.calendar_file import calendar_of  # what writes it out is loaded where one is asked for

    return calendar_of(name, dates, stamp=stamp, url=lambda item: _url(request, item), alarm_hours=alarm_of(person))


@require_http_methods(["GET", "POST"])
@signed_in
def calendar(request: HttpRequest) -> HttpResponse:
    """Make a calendar address, make another, or revoke it."""
    person = cast(Person, request.user)
    if request.method == "POST":
        if "revoke" in request.POST:
            actions.close_feed(person)
            saved(request, "calendar", "That address gives nothing any more.")
        else:
            request.session[FRESH] = actions.open_feed(person)
        return redirect("calendar")
    secret = request.session.pop(FRESH, None)
    address = request.build_absolute_uri(reverse("calendar-feed", args=[secret])) if secret else ""
    form = RemindersForm(instance=reminders_of(person), person=person)
    return show(request, "rounds/calendar.html", _calendar_page(request, form, address))


def _calendar_page(request: HttpRequest, form: RemindersForm, address: str = "") -> CalendarPage:
    person = form.person
    gardens = list(gardens_of(person))
    letter = letter_for(person, request.build_absolute_uri("/").rstrip("/")) if gardens else None
    return CalendarPage(address, CalendarFeed.objects.filter(person=person).first(), gardens, form, letter)


def _sent_now(person: Person, origin: str) -> str:
    """Send today's letter at once, so often a day and no oftener: the address may be anybody's."""
    key = f"letters-now:{person.pk}:{timezone.now():%j}"
    cache.add(key, 0, timeout=A_DAY_S)
    if cache.incr(key) > LETTERS_AT_ONCE:
        return f". {LETTERS_AT_ONCE} letters went at a press today; the next one goes in the morning."
    try:
        letter_for(person, origin).send()
    except OSError:  # every fault of a post office is one (smtplib.SMTPException)
        return ", but the letter did not go: the post cannot be reached just now."
    return f", and today’s letter is on its way to {person.email}."


@require_POST
@signed_in
def reminders(request: HttpRequest) -> HttpResponse:
    """Keep how one is reminded; or send oneself today's letter at once."""
    person = cast(Person, request.user)
    form = RemindersForm(request.POST, instance=reminders_of(person), person=person)
    if not form.is_valid():
        return show(request, "rounds/calendar.html", _calendar_page(request, form))
    row = form.keep(origin=request.build_absolute_uri("/").rstrip("/"))
    if "now" in request.POST and person.email and gardens_of(person):
        saved(request, "reminders", f"Kept{_sent_now(person, row.origin)}")
    else:
        saved(request, "reminders", "Kept.")
    return redirect("calendar")


@csrf_exempt  # the key is the right to stop; mail programs press without a page of ours (RFC 8058)
@require_http_methods(["GET", "POST"])
def stop_letters(request: HttpRequest, key: str) -> HttpResponse:
    """Stop a person's letters in one press, signed in or not."""
    person = whose_key(key)
    if person is None:
        raise Http404
    if request.method == "POST":
        Reminders.objects.filter(person=person).update(letter=False)
    stopped = not Reminders.objects.filter(person=person, letter=True).exists()
    return show(request, "rounds/letter_stop.html", StopPage(person.email, stopped))
