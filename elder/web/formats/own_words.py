"""What somebody wants, said in their own words: "6 tomatoes, some mint and 4 ‘Tarbrand’ chillies by mid June"."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from datetime import date
from typing import Final

from elder.web.formats.year_days import read_year_day

NUMBERS: Final = {
    "a": 1, "an": 1, "one": 1, "two": 2, "couple": 2, "three": 3, "few": 3, "four": 4, "five": 5, "six": 6, "some": 6,
    "several": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12, "dozen": 12, "fifteen": 15,
    "twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "hundred": 100,
}  # fmt: skip
USUAL: Final = 6  # where no number is said
MOST_PARTS: Final = 12
FILLERS: Final = frozenset({
    "i", "id", "we", "want", "would", "like", "please", "need", "about", "around", "of", "the", "good", "more", "new",
    "plant", "plants", "cutting", "cuttings", "for", "my", "our",
})  # fmt: skip
APART: Final = re.compile(r"[,;\n+&]|\band\b|\bplus\b", re.IGNORECASE)
BY: Final = re.compile(r"\b(?:by|before|in)\b\s*(.*)$", re.IGNORECASE)
QUOTED: Final = re.compile(r"(?<!\w)[‘'“\"](.+?)[’'”\"](?=\s|$)")


@dataclass(frozen=True)
class WantSaid:
    """One plant asked for: how many, the words of its name, a variety, a day or none, and the words as typed.
    ``unread``: what was said of a day and could not be understood."""

    count: int
    name: str
    variety: str
    by: date | None
    typed: str
    unread: str = ""


def read_own_words(text: str, today: date, *, month_first: bool = False) -> list[WantSaid]:
    """Each plant asked for, in order. A day said last on a line holds for those before it that have none; a day without
    a year is the next there is."""
    asked: list[WantSaid] = []
    for line in text.splitlines():
        parts = [part.strip() for part in APART.split(line) if part.strip()]
        found = [one for part in parts if (one := _part(part, today, month_first=month_first)) is not None]
        last = found[-1].by if found else None
        asked += [replace(one, by=one.by or (None if one.unread else last)) for one in found]
    return asked[:MOST_PARTS]


def _part(part: str, today: date, *, month_first: bool) -> WantSaid | None:
    words, by, unread = _day(part, today, month_first=month_first)
    quoted = QUOTED.search(words)
    variety = quoted[1].strip() if quoted else ""
    rest = QUOTED.sub(" ", words) if quoted else words
    count: int | None = None
    name: list[str] = []
    for word in re.findall(r"[^\W_]+(?:['’-][^\W_]+)*", rest):
        low = word.lower().replace("'", "").replace("’", "")
        if low.isdecimal() and len(low) < 5:
            count = int(low)
        elif low in NUMBERS and not name:
            count = NUMBERS[low] if count is None or low not in ("dozen", "hundred") else count * NUMBERS[low]
        elif low not in FILLERS:
            name.append(word)
    if not name:
        return None
    return WantSaid(max(count if count is not None else USUAL, 1), " ".join(name), variety, by, part, unread)


def _day(part: str, today: date, *, month_first: bool) -> tuple[str, date | None, str]:
    """The part without its day; the day, the next of that name (a month alone is its first day); and what was said of a
    day where it is none."""
    found = BY.search(part)
    if found is None:
        return part, None, ""
    said, before = found[1].strip(), part[: found.start()]
    day = read_year_day(said, month_first=month_first) or read_year_day(f"1 {said}")
    if day is None:
        return before, None, said
    for year in range(today.year, today.year + 9):
        try:
            at = date(year, day.month, day.day)
        except ValueError:  # 29 February in a year that has none
            continue
        if at > today:
            return before, at, ""
    return before, None, said
