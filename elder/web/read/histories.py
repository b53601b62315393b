"""Batch rows to engine values, and nothing else."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from sys import intern
from typing import Final
from uuid import UUID

from django.db.models import Max, Q, QuerySet, TextField
from django.db.models.functions import Cast

from elder.engine.batch.history import retold
from elder.engine.batch.state import BatchState
from elder.engine.batch.state import Entry as EngineEntry
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.routes import Route
from elder.engine.keeping import STORE, kept_at
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking


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
    "batch_id", "pk", "day", "count", "strikes_id", "root_cm", "place_id", "kind", "stage", "why", "deed", "signs",
)  # fmt: skip

CARE_COLUMNS: Final = ("batch_id", "pk", "day", "deed")
# A line of care with nothing else in it.
BARE_CARE: Final = {
    "kind": Entry.Kind.TENDED, "count": 0, "stage": "", "why": "", "signs": "", "root_cm": 0, "strikes": None,
    "place": None,
}  # fmt: skip


@dataclass(frozen=True)
class History:
    """A batch's history as the engine has it, and its last entry's key: since a history only grows, that tells two
    states of one apart well enough to hash by."""

    entries: tuple[EngineEntry, ...]
    last: int

    def __hash__(self) -> int:
        return self.last

    @property
    def is_begun(self) -> bool:
        """Whether its taking is among the entries."""
        return any(entry.kind == "taken" and entry.count for entry in self.entries)

    def until(self, day: date) -> History:
        """The history as it stood at the end of a day."""
        known = tuple(entry for entry in self.entries if entry.on <= day)
        return self if len(known) == len(self.entries) else History(known, self.last)


LINES_A_TIME: Final = 2000


@lru_cache(maxsize=4096)
def _day(written: str) -> date:
    """A day as a database writes it out: reading each by Django's rules would cost more than the rest of its line."""
    return date.fromisoformat(written)


@lru_cache(maxsize=4096)
def _words(kind: str, stage: str, why: str, deed: str, signs: str) -> tuple[str, str, str, str, tuple[str, ...]]:
    """The words of a line, the same few again and again: each kept once."""
    return intern(kind), intern(stage), intern(why), intern(deed), tuple(map(intern, signs.split()))


def _cared_for(garden_id: int) -> list[int]:
    """The batches whose plain care tells anything, by their keys: those not over, and those of cuttings that dry to a
    callus, of which it tells when they were stuck. Of the others it is of use on a batch's own page alone, and three
    lines in four of five years."""
    drying = {(plant.slug, way.slug) for plant in handbook().values() for way in plant.methods if way.dry_days}
    slugs = {way for _, way in drying}
    rows = Batch.objects.filter(Q(over_on=None) | Q(method__in=slugs), garden=garden_id)
    return [
        pk
        for pk, plant, way, over_on in rows.values_list("pk", "plant", "method", "over_on")
        if over_on is None or (plant, way) in drying
    ]


def histories_of(rows: QuerySet[Entry], *, cared_for: Collection[int] | None = None) -> dict[int, History]:
    """Histories by batch, read as plain columns: whole rows of so many would cost more than all the rest of a page.
    Three lines in four are care that tells no more than its day and what was done: these are read as that alone, and
    stand after the others of their batch. ``cared_for``: the batches of which they are read, where not of all."""
    found: dict[int, list[EngineEntry]] = {}
    last: dict[int, int] = {}
    dated = rows.annotate(day=Cast("on", TextField()))
    care, lines = dated.filter(**BARE_CARE), dated.exclude(**BARE_CARE).values_list(*COLUMNS)
    care = care if cared_for is None else care.filter(batch__in=cared_for)
    for batch, pk, day, count, strikes, cm, place, *words in lines.iterator(chunk_size=LINES_A_TIME):
        kind, stage, why, deed, seen = _words(*words)
        struck, to = str(strikes or ""), str(place or "")
        entry = EngineEntry(str(pk), kind, _day(day), count, stage, why, struck, deed, seen, cm, to)
        found.setdefault(batch, []).append(entry)
        last[batch] = pk
    tended: dict[int, int] = {}
    for batch, pk, day, deed in care.values_list(*CARE_COLUMNS).iterator(chunk_size=LINES_A_TIME):
        entry = EngineEntry(str(pk), "tended", _day(day), deed=intern(deed))
        found.setdefault(batch, []).append(entry)
        tended[batch] = pk
    newest = {batch: max(last.get(batch, 0), tended.get(batch, 0)) for batch in found}
    return {batch: History(tuple(entries), newest[batch]) for batch, entries in found.items()}


@dataclass(frozen=True)
class _Read:
    """All that was read of a garden's histories: up to which entry, by its own key, and batch by batch."""

    last: int
    key: UUID | None
    found: dict[int, History]


STATE_BYTES: Final = 3_000  # of a batch's state (measured, rounded)
ENTRY_BYTES: Final = 260  # of one entry of a history as it is kept (measured, rounded)


def all_histories(garden_id: int) -> dict[int, History]:
    """The histories of all a garden's batches, over or not; of those over without their plain care, which says nothing
    of them any more. Only of batches that were written to since the last time they are read again; where the last entry
    read is not there any more, by its own key, all are."""
    rows = Entry.objects.filter(batch__garden=garden_id)
    kept: _Read | None = STORE.held(("histories of", garden_id))
    since = list(rows.filter(pk__gte=kept.last).order_by("pk").values_list("pk", "key", "batch_id")) if kept else []
    key: UUID | None
    if kept and since and since[0][:2] == (kept.last, kept.key):
        if len(since) == 1:
            return kept.found
        last, key, _ = since[-1]
        found = kept.found | histories_of(rows.filter(pk__lte=last, batch__in={batch for *_, batch in since[1:]}))
    else:
        # Up to the last that is there now: of two questions the second might else see more than the first.
        last = rows.aggregate(last=Max("pk"))["last"] or 0
        key = rows.filter(pk=last).values_list("key", flat=True).first()
        found = histories_of(rows.filter(pk__lte=last), cared_for=_cared_for(garden_id))
    count = sum(len(history.entries) for history in found.values())
    STORE.hold(("histories of", garden_id), _Read(last, key, found), ENTRY_BYTES * count)
    return found


def histories_here(garden: Garden) -> dict[int, History]:
    """The histories of all a garden's batches, as it stands."""
    return once_looking(garden, "histories", lambda: all_histories(garden.pk), shares=("histories of", garden.pk))


@kept_at(STATE_BYTES)
def state_of(history: History, route: Route) -> BatchState:
    """A history's state; kept, since most batches are over."""
    return retold(history.entries, route)
