"""Numbers and days as people say them."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import date, timedelta
from typing import Final

WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
ORDINARY_YEAR = 2027  # any year of 365 days
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def day_words(day: date, today: date | None = None, *, weekday: bool = True) -> str:
    """A day, short and local: "Tue 9 Mar"; its year where that is not this year's."""
    said = f"{day.day} {MONTHS[day.month - 1]}"
    if weekday:
        said = f"{WEEKDAYS[day.weekday()]} {said}"
    return said if today is None or day.year == today.year else f"{said} {day.year}"


def about(day: date, today: date | None) -> str:
    """A day further off, without its weekday: "9 Mar"; its year where that is not this year's."""
    return day_words(day, today, weekday=False)


def month_words(day: date) -> str:
    """A month and its year: "Jul 2029"."""
    return f"{MONTHS[day.month - 1]} {day.year}"


def doy_words(doy: float) -> str:
    """A day of the year (0 = 1 January) without its year: "9 Mar"."""
    return about(date(ORDINARY_YEAR, 1, 1) + timedelta(days=round(doy) % 365), None)


def span_words(first: date, last: date, today: date) -> str:
    """Two days as a span: "3–9 May", "28 Apr – 9 May"."""
    if first == last:
        return about(first, today)
    if (first.year, first.month) == (last.year, last.month):
        return f"{first.day}–{about(last, today)}"
    if first.year == last.year:
        return f"{day_words(first, weekday=False)} – {about(last, today)}"
    return f"{first.day} {MONTHS[first.month - 1]} {first.year} – {last.day} {MONTHS[last.month - 1]} {last.year}"


# Odds are said in tenths; above nine of them in twentieths, and beyond those in words.
NEARLY: Final = 0.975
ABOVE_NINE: Final = 0.925
LEAST_TENTH: Final = 0.075


def odds(chance: float) -> str:
    """A chance in words people use, never a bare decimal; reads on with "that …"."""
    if chance >= NEARLY:
        return "nearly certain"
    if chance >= ABOVE_NINE:
        return "about 19 in 20"
    if chance < 0.015:
        return "next to no chance"
    if chance < LEAST_TENTH:
        return "about 1 in 20"
    tenths = max(1, min(9, math.floor(chance * 10 + 0.5)))
    return "an even chance" if tenths == 5 else f"about {tenths} in 10"


def share_words(share: float) -> str:
    """A share of many in the same words; reads on with "of them …" or "take …"."""
    said = odds(share).replace("an even chance", "about half").replace("next to no chance", "next to none")
    return said.replace("nearly certain", "nearly all")


FEW: Final = 8  # of fewer cuttings a share in tenths means nothing: it is said how many


def of_them(count: int, share: float) -> str:
    """How many of so many, two or more: in tenths; of a few in words, as one or the two whole numbers it lies between:
    "five or six", "about one", "all", "hardly any"."""
    if count >= FEW:
        return share_words(share)
    likely = count * share
    low, high = math.floor(likely + 0.25), math.ceil(likely - 0.25)
    if share >= NEARLY:
        return "all"
    if low >= count:  # of two at 9 in 10 each, both root eight times in ten: that is not all of them
        low = count - 1
    if high < 1:
        return "hardly any"
    if low < 1:
        return "perhaps one"
    return f"about {counted(low)}" if low == high else f"{counted(low)} or {counted(high)}"


def of_one(chance: float) -> str:
    """What will become of the only one; reads on after its name, before "root"."""
    said = ((NEARLY, "will nearly certainly"), (0.6, "will likely"), (0.4, "is as likely as not to"),
            (0.15, "may still"))  # fmt: skip
    return next((words for least, words in said if chance >= least), "will hardly")


def in_ten(share: float) -> str:
    """A share in a table, in tenths and above nine of them in twentieths: "9 in 10", "19 in 20", "nearly all"."""
    if share >= NEARLY:
        return "nearly all"
    if share >= ABOVE_NINE:
        return "19 in 20"
    if share < LEAST_TENTH:
        return "1 in 20"
    return f"{max(1, min(9, math.floor(10 * share + 0.5)))} in 10"


def sureness(confidence: float) -> str:
    """How sure someone wants to be: "9 in 10"."""
    for base in (2, 4, 10, 20, *((50,) if confidence < LEAST_TENTH else ())):
        top = confidence * base
        if abs(top - round(top)) < 1e-6:
            return f"{round(top)} in {base}"
    return in_ten(confidence)


def years_words(share: float) -> str:
    """In what share of years: "in 3 years of 10", "nearly every year"."""
    tenths = round(10 * share)
    if tenths >= 10:
        return "nearly every year"
    return f"in {tenths} {'year' if tenths == 1 else 'years'} of 10" if tenths else "in fewer than 1 year of 10"


def plural(count: int, one: str, many: str) -> str:
    """A count with its word."""
    return f"{count} {one if count == 1 else many}"


def looks_words(days: int) -> str:
    """How often somebody looks: "every three days", "once a week"."""
    return {1: "every day", 7: "once a week"}.get(days) or f"every {counted(days)} days"


NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def so_many_are(count: int) -> str:
    """So many as a sentence's subject, with its verb: "it is", "8 are"."""
    return "it is" if count == 1 else f"{count} are"


def counted(count: int) -> str:
    """A small count as a word, a larger one in figures."""
    return NUMBERS[count] if count < len(NUMBERS) else str(count)


def listed(items: Iterable[str]) -> str:
    """Items as a sentence lists them: "a, b and c"."""
    words = list(items)
    return " and ".join([", ".join(words[:-1]), words[-1]]) if len(words) > 1 else "".join(words)


def days_away(day: date, today: date) -> str:
    """How far off a day is: "today", "tomorrow", "in 5 days", "3 days ago"."""
    gap = (day - today).days
    near = {0: "today", 1: "tomorrow", -1: "yesterday"}
    return near.get(gap) or (f"in {gap} days" if gap > 0 else f"{-gap} days ago")


def days_words(days: int) -> str:
    """A stretch of days as people say it: "9 days", "5 weeks", "7 months", "2 years"."""
    if days < 28:
        return plural(days, "day", "days")
    if days < 100:
        return plural(round(days / 7), "week", "weeks")
    if days < 640:
        return plural(round(days / 30.44), "month", "months")
    years = round(days / 182.62) / 2
    return f"{years:g} years"


def stretch_words(early: int, late: int) -> str:
    """Two stretches as a span, in the larger's unit: "8–14 months"."""
    size, unit = next(
        (size, unit)
        for least, size, unit in ((640, 365.25, "years"), (100, 30.44, "months"), (28, 7, "weeks"), (0, 1, "days"))
        if late >= least
    )
    first, last = round(early / size, 1 if unit == "years" else 0), round(late / size, 1 if unit == "years" else 0)
    return f"{first:g} {unit}" if first == last else f"{first:g}–{last:g} {unit}"


def minutes_words(minutes: float) -> str:
    """A span of hands' work: "25 minutes", "1½ hours"."""
    if minutes < 55:
        return f"{max(5 * round(minutes / 5), 5)} minutes"
    halves = max(round(minutes / 30), 2)
    whole, half = divmod(halves, 2)
    return f"{whole}{'½' if half else ''} hour{'' if halves == 2 else 's'}"
