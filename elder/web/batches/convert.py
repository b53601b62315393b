"""Batch rows to engine values, and nothing else."""

from __future__ import annotations

from collections.abc import Iterable

from elder.engine.history import Entry as EngineEntry
from elder.web.batches.models import Entry


def entries_of(rows: Iterable[Entry]) -> list[EngineEntry]:
    """The engine's history for rows in the order they were written."""
    rows = list(rows)
    keys = {row.pk: str(row.key) for row in rows}
    return [
        EngineEntry(
            key=str(row.key),
            kind=row.kind,
            on=row.on,
            count=row.count,
            stage=row.stage,
            why=row.why,
            strikes=keys.get(row.strikes_id, "") if row.strikes_id else "",
            deed=row.deed,
            signs=tuple(row.signs),
            root_cm=row.root_cm,
            place=str(row.place_id or ""),
        )
        for row in rows
    ]
