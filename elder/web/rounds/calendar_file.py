"""Dates as iCalendar (RFC 5545): all-day events whose ids stay the same while their days move."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime, time, timedelta
from typing import Final

from icalendar import Alarm, Calendar, Event

from elder.engine.keeping import kept_at
from elder.web.rounds.dates import CalendarDate

BY_DAY = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")
REFRESH = timedelta(hours=6)
END: Final = b"END:VCALENDAR\r\n"
EVENT_BYTES: Final = 1_500  # of a date's lines, and of the date (measured, rounded)


def calendar_of(
    name: str,
    dates: list[CalendarDate],
    *,
    stamp: date,
    url: Callable[[CalendarDate], str],
    alarm_hours: int | None = None,
) -> bytes:
    """The calendar as it is sent: UTF-8, lines folded at 75 octets, CRLF. ``alarm_hours``: an alarm on each date to
    come, so many hours after its midnight (before it where negative)."""
    calendar = Calendar()
    for key, value in (("prodid", "-//Elder//Rounds//EN"), ("version", "2.0"), ("method", "PUBLISH"), ("name", name)):
        calendar.add(key, value)
    calendar.add("x-wr-calname", name)
    calendar.add("refresh-interval", REFRESH, parameters={"VALUE": "DURATION"})
    begun = calendar.to_ical().removesuffix(END)
    return b"".join((begun, *(_written(item, stamp, url(item), alarm_hours) for item in dates), END))


@kept_at(EVENT_BYTES)
def _written(item: CalendarDate, stamp: date, url: str, alarm_hours: int | None) -> bytes:
    """A date's own lines; kept, since of hundreds of dates a press changes one or two."""
    event = _event(item, stamp, url)
    if alarm_hours is not None and not item.is_past:
        event.add_component(_alarm(item, alarm_hours))
    data: bytes = event.to_ical()
    return data


def _event(item: CalendarDate, stamp: date, url: str) -> Event:
    event = Event()
    event.add("uid", str(item.uid))
    event.add("dtstamp", datetime.combine(stamp, time(), tzinfo=UTC))
    event.add("dtstart", item.day)
    event.add("dtend", item.day + timedelta(days=1))  # a day's end is the next day, not its own (RFC 5545, 3.6.1)
    event.add("summary", item.summary)
    event.add("description", item.about)
    event.add("transp", "TRANSPARENT")
    event.add("url", url)
    event.add("categories", [item.category])
    if item.version:
        event.add("sequence", item.version.sequence)
        event.add("last-modified", item.version.changed_at)
    if item.weekdays:
        event.add("rrule", {"freq": "weekly", "wkst": "MO", "byday": [BY_DAY[day] for day in item.weekdays]})
    return event


def _alarm(item: CalendarDate, hours: int) -> Alarm:
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", item.summary)
    alarm.add("trigger", timedelta(hours=hours))
    return alarm
