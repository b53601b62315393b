"""A day of the year as people write it: "30 Apr", "April 30th", "30.4.", "end of April", "second week of May", and with
"about" or its like before it. A year is let go."""

from __future__ import annotations

import re
from calendar import monthrange
from datetime import date
from typing import Final

from elder.web.formats.dates import MONTH_NAMES

LEAP: Final = 2000  # a leap year, so that 29 Feb can be read
# The middle of what people mean by the parts of a month; its end is its last day.
PARTS: Final = {
    "beginning": 1,
    "start": 1,
    "early": 5,
    "mid": 15,
    "middle": 15,
    "late": 25,
    "end": 31,
    "mid to late": 20,
    "early to mid": 10,
}
WEEKS: Final = {
    "first": 4,
    "1st": 4,
    "second": 11,
    "2nd": 11,
    "third": 18,
    "3rd": 18,
    "fourth": 25,
    "4th": 25,
    "last": 27,
}
# Said before a day by people who are not sure of it; the day is what they mean.
ABOUT: Final = re.compile(r"^(?:about|around|roughly|usually|by|on|ca\.?|c\.?|circa|approx\.?|~)\s*(?:the )?")

MONTH = r"(?P<month>[a-z]{3,9})\.?"
DAY = r"(?P<day>\d{1,2})(?:st|nd|rd|th|\.)?"
YEAR = r"(?:[ ,]+(?:\d{4}))?"
SPELLINGS: Final = tuple(
    re.compile(form)
    for form in (
        rf"(?:the )?{DAY} ?(?:of )?{MONTH}{YEAR}",
        rf"{MONTH} ?(?:the )?{DAY}{YEAR}",
        rf"(?:the )?(?P<part>{'|'.join(sorted(PARTS, key=len, reverse=True))})[ -]?(?:of )?{MONTH}{YEAR}",
        rf"(?:the )?(?P<week>{'|'.join(WEEKS)}) week (?:of|in) {MONTH}{YEAR}",
        r"\d{4}-(?P<number>\d{1,2})-(?P<day>\d{1,2})",
    )
)
NUMBERS: Final = re.compile(r"(\d{1,2}) ?[./-] ?(\d{1,2})(?: ?[./-](?: ?\d{2,4})?)?")


def read_year_day(text: str, *, month_first: bool = False) -> date | None:
    """The day, in the leap year 2000; nothing where it cannot be read. ``month_first``: how "4/5" is meant."""
    plain = ABOUT.sub("", " ".join(text.lower().replace("-to-", " to ").split()))
    if numbers := NUMBERS.fullmatch(plain):
        first, second = int(numbers[1]), int(numbers[2])
        month, day = (first, second) if month_first else (second, first)
        return _day(month, day) or _day(day, month)  # 4/25 can be meant one way only
    for spelling in SPELLINGS:
        if found := spelling.fullmatch(plain):
            said = found.groupdict()
            month = int(said["number"]) if said.get("number") else _month(said["month"])
            if part := said.get("part") or said.get("week"):
                day = PARTS.get(part) or WEEKS[part]
                return _day(month, min(day, monthrange(LEAP, month)[1])) if month else None
            return _day(month, int(said["day"]))
    return None


def _month(word: str) -> int:
    """The number of a month by its name or as much of it as tells; 0 for none."""
    number = MONTH_NAMES.get(word[:3], 0)
    if not number:
        return 0
    whole = date(LEAP, number, 1).strftime("%B").lower()
    return number if whole.startswith(word) or word == "sept" else 0


def _day(month: int, day: int) -> date | None:
    try:
        return date(LEAP, month, day)
    except ValueError:
        return None
