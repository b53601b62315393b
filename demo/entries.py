"""What the demo writes down of its batches, day by day."""

from __future__ import annotations

from datetime import date
from typing import Any

from elder.engine.refusal import Refusal
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Person


def written(batch: Batch, days: list[list[Any]], person: Person) -> None:
    """What was written down of a batch."""
    lines = sorted(days, key=lambda line: line[0])
    entries = [_entry(day, kind, rest) for day, kind, *rest in lines]
    done = actions.add_entries(batch, entries, today=lines[-1][0], person=person) if lines else None
    if isinstance(done, Refusal):
        raise ValueError(f"the demo's {batch} does not add up: {done}")


def _entry(day: date, kind: str, rest: list[Any]) -> Entry:
    """One line: [day, kind, count, stage, why, note] (of what was given, how it went in the place of why), or
    [day, note, words], or [day, tended, deed]."""
    if kind == "tended":
        return Entry(kind=kind, on=day, deed=rest[0])
    if kind == "note":
        return Entry(kind=kind, on=day, note=rest[0])
    blank: list[Any] = [None, "", "", ""]
    count, stage, why, note = [*rest, *blank[len(rest) :]]
    deed, why = (why, "") if kind == "given" else ("", why)
    return Entry(kind=kind, on=day, count=count or 0, stage=stage, why=why, note=note, deed=deed)
