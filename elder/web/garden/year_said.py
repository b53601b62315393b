"""What a garden's year is like, in whichever way it was said: four figures, a table, a file. Each gives twelve months,
or the field that wants another look and why."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING, Final

from django.core.exceptions import ValidationError

from elder.engine.climate.first_guess import FourFigures, months_of
from elder.engine.climate.normals import Normals
from elder.engine.climate.records import monthly_means
from elder.engine.refusal import Refusal
from elder.web.formats.daily import read_daily, text_of
from elder.web.formats.month_table import read_months
from elder.web.formats.reading import ReadOptions
from elder.web.garden.actions import counted_from
from elder.web.garden.records_forms import bytes_of
from elder.web.say.refusals import refusal_words

if TYPE_CHECKING:
    from django.core.files.uploadedfile import UploadedFile

FOUR: Final = ("cold_night", "cold_day", "warm_night", "warm_day")

Wrong = list[tuple[str, str]]  # field, sentence


def from_four(values: tuple[float | None, ...], *, coldest: int, warmest: int) -> Normals | Wrong:
    """Twelve months from night and day of the coldest and of the warmest month, °C."""
    said = [value for value in values if value is not None]
    if len(said) < len(FOUR):
        return [(name, "Needed.") for name, value in zip(FOUR, values, strict=True) if value is None]
    if wrong := _crossed(said, same=coldest == warmest):
        return [wrong]
    cold_night, cold_day, warm_night, warm_day = said
    return months_of(FourFigures(cold_night, cold_day, warm_night, warm_day, coldest, warmest))


def _crossed(values: list[float], *, same: bool) -> tuple[str, str] | None:
    """The field a mistake among the four figures belongs to, and what is wrong."""
    cold_night, cold_day, warm_night, warm_day = values
    if same:
        return "warmest", "The coldest and the warmest are one month."
    if cold_night > cold_day:
        return "cold_day", "Its days are colder than its nights."
    if warm_night > warm_day:
        return "warm_day", "Its days are colder than its nights."
    if cold_night > warm_night:
        return "warm_night", "Its nights are colder than the coldest month’s."
    return ("warm_day", "Its days are colder than the coldest month’s.") if cold_day > warm_day else None


def from_table(text: str, *, fahrenheit: bool, today: date) -> Normals | Wrong:
    """Twelve months from a pasted table."""
    if not text.strip():
        return [("table", "Paste a table here.")]
    read = read_months(text, fahrenheit=fahrenheit)
    return [("table", refusal_words(read, today))] if isinstance(read, Refusal) else read


def from_file(sent: UploadedFile[bytes] | None, today: date) -> tuple[Normals | Wrong, bytes]:
    """Twelve months from a file of daily readings, and its bytes, to be kept for a closer look."""
    if sent is None:
        return [("file", "Choose a file.")], b""
    try:
        data = bytes_of(sent)
    except ValidationError as error:
        return [("file", error.messages[0])], b""
    read = read_daily(text_of(data), ReadOptions())
    if isinstance(read, Refusal):
        return [("file", refusal_words(read, today))], b""
    means = monthly_means(read.records.since(counted_from(read.records, whole=False)))
    if means is None:
        few = Refusal("too_few", "file", {"days": len(read.records), "years": read.records.years})
        return [("file", refusal_words(few, today))], b""
    return Normals(*means), data
