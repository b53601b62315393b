"""Batch rows to engine values, and nothing else."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Final
from uuid import UUID

from django.db.models import QuerySet

from elder.engine.batch.state import Entry as EngineEntry
from elder.web.batches.models import Entry


def entries_of(rows: Iterable[Entry]) -> list[EngineEntry]:
    """The engine's history for rows in the order they were written; what is not yet saved goes by its own key."""
    return [
        EngineEntry(
            key=str(row.pk or row.key),
            kind=row.kind,
            on=row.on,
            count=row.count,
            stage=row.stage,
            why=row.why,
            strikes=str(row.strikes_id or ""),
            deed=row.deed,
            signs=tuple(row.signs.split()),
            root_cm=row.root_cm,
            place=str(row.place_id or ""),
        )
        for row in rows
    ]


COLUMNS: Final = (
    "batch_id", "pk", "kind", "on", "count", "stage", "why", "strikes_id", "deed", "signs", "root_cm", "place_id",
)  # fmt: skip


@dataclass(frozen=True)
class History:
    """A batch's history as the engine has it, and its last entry's key: since a history only grows, that tells two
    states of one apart well enough to hash by."""

    entries: tuple[EngineEntry, ...]
    last: int

    def __hash__(self) -> int:
        return self.last


def living_histories(garden_id: int) -> dict[int, History]:
    """The histories of a garden's living batches, read again only when something was written since."""
    newest = Entry.objects.filter(batch__garden=garden_id).order_by("-pk").values_list("key", flat=True).first()
    return _living_as_of(garden_id, newest)


@lru_cache(maxsize=16)
def _living_as_of(garden_id: int, newest: UUID | None) -> dict[int, History]:
    """As of the newest entry of the garden, whichever batch it belongs to, by its own key, which no restored backup
    can give to another. A history only grows, and what is over, or no longer, says so by an entry; a batch whose
    taking was taken back is asked for no more."""
    return histories_of(Entry.objects.filter(batch__garden=garden_id, batch__over_on=None))


def histories_of(rows: QuerySet[Entry]) -> dict[int, History]:
    """Histories by batch, read as plain columns: whole rows of so many would cost more than all the rest of a page."""
    found: dict[int, list[EngineEntry]] = {}
    last: dict[int, int] = {}
    for batch, pk, kind, on, count, stage, why, strikes, deed, signs, cm, place in rows.values_list(*COLUMNS):
        entry = EngineEntry(
            str(pk), kind, on, count, stage, why, str(strikes or ""), deed, tuple(signs.split()), cm, str(place or "")
        )
        found.setdefault(batch, []).append(entry)
        last[batch] = max(pk, last.get(batch, 0))
    return {batch: History(tuple(entries), last[batch]) for batch, entries in found.items()}
