"""Everything that reads what people send, fed what nobody would send: it answers or refuses, and never breaks. A few
hundred here; a hundred thousand by ``make attack``."""

from __future__ import annotations

import io
import random
from collections.abc import Callable
from datetime import date
from typing import Any, Final

import pytest

from elder.engine.cut.codes import code_of, number_of
from elder.engine.handbook.finding import find_plants
from elder.engine.refusal import Refusal
from elder.web.archive.opening import BadArchiveError, Opened
from elder.web.formats.daily import read_daily, text_of
from elder.web.formats.logger import read_log
from elder.web.formats.month_table import read_months
from elder.web.formats.old_notes import NotesAsked, read_notes, table_of
from elder.web.formats.own_words import read_own_words
from elder.web.formats.plant_file import read_plant
from elder.web.formats.year_days import read_year_day
from elder.web.garden.towns import towns_like

TODAY: Final = date(2027, 4, 6)
# What readers look for, to be put together wrongly.
BITS: Final = (
    "date", "tmin", "tmax", "2027-04-06", "6/4/27", "31.02.2027", "0000-00-00", "-9999", "1e308", "NaN", "inf", "°F",
    "−5", ",", ";", "\t", "\n", "\r\n", "|", '"', "'", " ", "{", "}", "[", "]", ":", "null", "\\u0000", "\x00",
    "\ufeff", "Jan", "mid June", "8 tomatoes", "by", "and", "Plant", "Cut on", "No.", "Rooted", "mint", "12",
    "\u0663", "½", "\U0001f331", "é", "e\u0301", "USC00305801", "TMAX", '{"form": "elder plant 1"', "PK\x03\x04",
    "elder garden 1", "9" * 40, "a" * 300, "%", "=1+1", "--",
)  # fmt: skip


def drawn_text(drawn: random.Random) -> str:
    """Some of those put together, or letters drawn blindly."""
    if drawn.random() < 0.2:
        return "".join(chr(drawn.choice((drawn.randrange(32, 127), drawn.randrange(0x2FFF)))) for _ in range(60))
    return "".join(drawn.choice(BITS) + drawn.choice(("", "", ",", "\n", " ")) for _ in range(drawn.randint(0, 60)))


def drawn_bytes(drawn: random.Random) -> bytes:
    """Text as bytes, sometimes with some of them put wrong."""
    data = bytearray(drawn_text(drawn).encode("utf-8", "surrogatepass"))
    for _ in range(drawn.choice((0, 0, 3)) if data else 0):
        data[drawn.randrange(len(data))] = drawn.randrange(256)
    return bytes(data)


def _notes(text: str) -> Any:
    table = table_of(text)
    if isinstance(table, Refusal):
        return table
    read = read_notes(table, NotesAsked(table.guesses))
    assert len(read.lines) == len(table.lines)
    return read


def _code(text: str) -> Any:
    number = number_of(text)
    assert number is None or number_of(code_of(number)) == number
    return number


def _archive(data: bytes) -> Any:
    try:
        return Opened(io.BytesIO(data))
    except BadArchiveError as error:
        return error.refusal


READERS: Final[dict[str, Callable[[random.Random], Any]]] = {
    "daily readings": lambda drawn: read_daily(text_of(drawn_bytes(drawn))),
    "a logger": lambda drawn: read_log(drawn_text(drawn), "Europe/London"),
    "a climate table": lambda drawn: read_months(drawn_text(drawn)),
    "old notes": lambda drawn: _notes(drawn_text(drawn)),
    "one's own words": lambda drawn: read_own_words(drawn_text(drawn), TODAY),
    "a day of the year": lambda drawn: read_year_day(drawn_text(drawn)[:40]),
    "a plant's file": lambda drawn: read_plant(drawn_bytes(drawn)),
    "a garden's archive": lambda drawn: _archive(drawn_bytes(drawn)),
    "a batch's code": lambda drawn: _code(drawn_text(drawn)[:30]),
    "a search": lambda drawn: find_plants(drawn_text(drawn)[:60]),
    "a town": lambda drawn: towns_like(drawn_text(drawn)[:60]),
}  # fmt: skip
SLOW: Final = ("a search", "a town")  # a few milliseconds each, so fewer of them


@pytest.mark.parametrize("what", READERS)
def test_whatever_is_sent_is_read_or_refused(what: str, attack: int) -> None:
    """Each from a seed of its own, so that a failure can be had again."""
    count = attack or 40
    for seed in range(count // 10 if what in SLOW else count):
        try:
            READERS[what](random.Random(f"{what} {seed}"))  # noqa: S311 - no secret
        except Exception as error:
            raise AssertionError(f"{what}, seed {seed}") from error
