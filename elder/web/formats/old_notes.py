"""Notes of past batches from somebody's spreadsheet: a line a batch, under whatever headings people use."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Final

from elder.engine.refusal import Refusal
from elder.web.formats.dates import DateOrder, read_dates
from elder.web.formats.tables import delimiter_of, rows_of

MOST_LINES: Final = 500
MOST_COLUMNS: Final = 40
LONGEST: Final = 2000  # signs of a cell
CM_PER_INCH: Final = 2.54
# What a column may be, with what people call it; the first that fits is taken, and none twice.
HEADS: Final[Mapping[str, re.Pattern[str]]] = {
    name: re.compile(pattern)
    for name, pattern in {
        "rooted_on": r"^(rooted|roots?)( on| date| day| seen)|date.*root|when.*root",
        "potted_on": r"^pott?(ed)?( on| date| day)|date.*pot|when.*pot",
        "planted_on": r"^plant(ed)?( out)?( on| date| day)|planted out date|date.*plant|when.*plant",
        "cut_on": r"^(cut|taken|struck|stuck|started|date|day|when)( on| date| day)?$|date.*(cut|taken|struck|start)",
        "method": r"method|\bway\b|^how$|how rooted|medium|rooted in|technique",
        "root_cm": r"root.*(length|cm|inch|long)|longest",
        "rooted": r"root|took|struck ok|success|survived|made it",
        "lost": r"lost|died|dead|fail|rotted",
        "potted": r"pott?ed",
        "planted": r"planted|out in bed|in the ground",
        "variety": r"variet|cultivar|sort|kind",
        "plant": r"plant|crop|species|name|what",
        "mother": r"mother|from|parent|stock|source|donor",
        "place": r"place|where|location|spot|stood",
        "count": r"^(no|nr|n|number|count|qty|quantity|how many|cuttings|pieces)\b|number of|cuttings|taken$|cut$",
        "note": r"note|remark|comment",
    }.items()
}
DATES: Final = ("cut_on", "rooted_on", "potted_on", "planted_on")
COUNTS: Final = ("count", "rooted", "lost", "potted", "planted")
IGNORED: Final = ""
NO_WORD: Final = {"", "-", "--", "–", "?", "na", "n/a", "none", "null", "x"}
WHOLE: Final = re.compile(r"^(?:ca\.?|about|~)?\s*(\d{1,4})(?:\.0+)?$")


@dataclass(frozen=True)
class NotesTable:
    """A table as it was sent: its headings, its lines with their numbers from 1, and what each column is taken for."""

    heads: tuple[str, ...]
    lines: tuple[tuple[int, tuple[str, ...]], ...]
    guesses: tuple[str, ...]


@dataclass(frozen=True)
class NotesAsked:
    """What the person says where the table does not: what each column is, the order of dates, the unit of lengths."""

    columns: tuple[str, ...]
    order: DateOrder = ""
    inches: bool = False


@dataclass
class NoteLine:
    """A line as it was understood: its words, days and counts; ``wrong``: what in it could not be read."""

    number: int
    words: dict[str, str] = field(default_factory=dict)
    days: dict[str, date] = field(default_factory=dict)
    counts: dict[str, int] = field(default_factory=dict)
    root_cm: float = 0.0
    wrong: str = ""


@dataclass(frozen=True)
class ReadNotes:
    """Every line as understood; the order its dates were read in, and whether day and month could be the other way."""

    lines: tuple[NoteLine, ...]
    order: DateOrder
    unsure: bool


def table_of(text: str) -> NotesTable | Refusal:
    """A pasted table or a file's text, split. The first line that says anything is its headings."""
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    rows = rows_of(lines, _delimiter(lines))
    if len(rows) < 2:
        return Refusal("notes_no_lines", "text")
    if len(rows) - 1 > MOST_LINES:
        return Refusal("notes_too_many", "text", {"lines": len(rows) - 1, "most": MOST_LINES})
    heads = tuple(cell.strip()[:60] for cell in rows[0][1])[:MOST_COLUMNS]
    body = tuple(
        (number, tuple(cell.strip()[:LONGEST] for cell in (*row, *[""] * len(heads)))[: len(heads)])
        for number, row in rows[1:]
        if any(cell.strip() for cell in row)
    )
    return NotesTable(heads, body, _guesses(heads))


def _delimiter(lines: Sequence[str]) -> str:
    """Tabs as a spreadsheet pastes them; else the sign that splits most lines alike. Never spaces: names have them."""
    found = "\t" if any("\t" in line for line in lines[:5]) else delimiter_of(lines)
    return "," if found == " " else found


def _guesses(heads: Sequence[str]) -> tuple[str, ...]:
    """What each column is by its heading: the patterns in their order, the most telling first."""
    found = [IGNORED] * len(heads)
    plain = [re.sub(r"[^a-z0-9 ]+", " ", head.lower()).strip() for head in heads]
    for name, pattern in HEADS.items():
        at = next((i for i, head in enumerate(plain) if not found[i] and pattern.search(head)), None)
        if at is not None:
            found[at] = name
    return tuple(found)


def names_inches(table: NotesTable, columns: Sequence[str]) -> bool | None:
    """Whether lengths of roots are said in inches by their heading; ``None`` where it does not say."""
    for head, name in zip(table.heads, columns, strict=True):
        if name == "root_cm":
            plain = head.lower()
            return True if re.search(r"inch|\bin\b|″|\"", plain) else False if re.search(r"cm|mm", plain) else None
    return None


def read_notes(table: NotesTable, asked: NotesAsked) -> ReadNotes:
    """Every line of a table, under what is said of its columns. Days of all columns are read in one order."""
    at = {name: i for i, name in reversed(list(enumerate(asked.columns))) if name}
    cells = [row[at[name]] for _, row in table.lines for name in DATES if name in at]
    read = read_dates([cell for cell in cells if cell], asked.order)
    found = [_line(number, row, at, asked, read.order) for number, row in table.lines]
    return ReadNotes(tuple(found), read.order, read.unsure and not asked.order)


def _line(number: int, row: Sequence[str], at: Mapping[str, int], asked: NotesAsked, order: DateOrder) -> NoteLine:
    line = NoteLine(number)
    for name, i in at.items():
        cell = row[i]
        if cell.lower() in NO_WORD:
            continue
        if name in DATES:
            _put_day(line, name, cell, order)
        elif name in COUNTS:
            _put_count(line, name, cell)
        elif name == "root_cm":
            line.root_cm = _length(cell) * (CM_PER_INCH if asked.inches else 1)
        else:
            line.words[name] = cell
    return line


def _put_day(line: NoteLine, name: str, cell: str, order: DateOrder) -> None:
    ordinal = read_dates([cell], order).ordinals[0]
    if ordinal is None:
        line.wrong = line.wrong or f"“{cell[:30]}” is no date with its year"
    else:
        line.days[name] = date.fromordinal(ordinal)


def _put_count(line: NoteLine, name: str, cell: str) -> None:
    match = WHOLE.match(cell.lower())
    if match:
        line.counts[name] = int(match[1])
    else:
        line.wrong = line.wrong or f"“{cell[:30]}” is no number"


def _length(cell: str) -> float:
    match = re.search(r"\d+(?:[.,]\d+)?", cell)
    return min(float(match[0].replace(",", ".")), 100.0) if match else 0.0
