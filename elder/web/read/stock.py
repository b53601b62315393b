"""What is in the shed now: its book replayed, less what batches have used since each thing was last counted.

What batches use follows from their histories, so that a batch taken draws it down, and one taken back gives it back,
without anybody writing it down twice. Mix that was made up is used before its parts.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date, datetime

from elder.engine.batch.state import BatchState
from elder.engine.handbook.model import Method, Plant
from elder.engine.round.potting import potting_of
from elder.engine.shed.kit import AsTreated, Kit
from elder.engine.shed.uses import MIX, VESSEL, is_kept, uses_at_potting, uses_at_sticking, with_parts
from elder.web.batches.models import Entry
from elder.web.garden.models import Garden
from elder.web.read.kit import kit_of, treated_as
from elder.web.read.there import has_any
from elder.web.read.ways import way_of
from elder.web.shed.models import ShedEntry

DRAWS = (Entry.Kind.TAKEN, Entry.Kind.POTTED, Entry.Kind.LIFTED, Entry.Kind.GIVEN)


@dataclass(frozen=True)
class InShed:
    """How much there is of each thing, and when it was last counted or first bought; things nobody spoke of are not
    there."""

    there: Mapping[str, float]
    since: Mapping[str, date]

    def of(self, what: str) -> float:
        """How much there is of a thing, nought at least."""
        return max(self.there.get(what, 0.0), 0.0)

    def to_pour(self, what: str, kit: Kit) -> float:
        """The same with what stands made up counted by its parts."""
        made = sum(with_parts({mix: self.of(mix)}, kit).get(what, 0.0) for mix in self.there if mix.startswith(MIX))
        return self.of(what) + made


def in_shed(garden: Garden) -> InShed:
    """The shed as it stands, in two queries."""
    if not has_any(garden, ShedEntry):
        return InShed({}, {})
    lines = _since_counted(list(ShedEntry.objects.filter(garden=garden).order_by("made_at", "pk")))
    if not lines:
        return InShed({}, {})
    book = _Book(kit_of(garden))
    draws = list(_draws(garden, lines[0].made_at))
    steps: list[tuple[datetime, int, ShedEntry | _Draw]] = [(line.made_at, 0, line) for line in lines]
    steps += [(draw.made_at, 1, draw) for draw in draws]
    for _, _, step in sorted(steps, key=lambda one: one[:2]):
        if isinstance(step, ShedEntry):
            book.write(step)
        else:
            book.draw(step)
    return InShed(dict(book.there), dict(book.since))


def _since_counted(lines: list[ShedEntry]) -> list[ShedEntry]:
    """The lines from each thing's last count on: what was before it says nothing any more, and need not be replayed."""
    last = {line.what: line.made_at for line in lines if line.kind == ShedEntry.Deed.COUNTED}
    return [line for line in lines if line.made_at >= last.get(line.what, line.made_at)]


@dataclass(frozen=True)
class _Draw:
    """What one line of a batch's history used."""

    made_at: datetime
    on: date
    uses: Mapping[str, float]


def _draws(garden: Garden, since: datetime) -> Iterator[_Draw]:
    """What batches have used since a moment; struck lines used nothing."""
    rows = Entry.objects.filter(batch__garden=garden, kind__in=DRAWS, made_at__gt=since, struck_by=None)
    for row in rows.select_related("batch__want"):
        plant, method = way_of(row.batch)
        treated = treated_as(row.batch, garden, row.batch.want)
        yield _Draw(row.made_at, row.on, used_by(row, plant, method, treated))


def used_by(row: Entry, plant: Plant, method: Method, treated: AsTreated) -> dict[str, float]:
    """What one line of a history took from the shed for good. Containers, covers and stakes come back, but for the pots
    of those that are given away."""
    if row.kind == Entry.Kind.TAKEN:
        uses = uses_at_sticking(plant, method, row.count, treated)
    elif row.kind == Entry.Kind.GIVEN:
        if row.stage not in ("potted", "hardening"):
            return {}
        pots = uses_at_potting(plant, method, row.count, treated)
        return {what: amount for what, amount in pots.items() if what.startswith(VESSEL)}
    else:
        uses = uses_at_potting(plant, method, row.count, treated)
    return {what: amount for what, amount in uses.items() if not is_kept(what)}


def is_staked(plant: Plant, method: Method) -> bool:
    """Whether its plants want a stake or something to climb once they are potted."""
    return bool(potting_of(plant, method).support)


class _Book:
    """The shed's book as it is replayed."""

    def __init__(self, kit: Kit) -> None:
        self.kit = kit
        self.there: defaultdict[str, float] = defaultdict(float)
        self.since: dict[str, date] = {}

    def write(self, line: ShedEntry) -> None:
        """One line of the book itself."""
        if line.kind == ShedEntry.Deed.COUNTED:
            self.there[line.what] = line.amount
            self.since[line.what] = line.on
            return
        self.since.setdefault(line.what, line.on)
        self.there[line.what] += -line.amount if line.kind == ShedEntry.Deed.USED else line.amount

    def draw(self, draw: _Draw) -> None:
        """What a batch used; nothing of what nobody had spoken of, or was counted after the day it was used."""
        left: dict[str, float] = {}
        for what, amount in draw.uses.items():
            made = min(amount, max(self.there.get(what, 0.0), 0.0)) if what.startswith(MIX) else 0.0
            if made:
                self.there[what] -= made
            left[what] = amount - made
        for what, amount in with_parts(left, self.kit).items():
            if what in self.since and draw.on >= self.since[what]:
                self.there[what] -= amount


def potted_now(state: BatchState) -> int:
    """How many stand potted, hardening ones too."""
    return state.count("potted") + state.count("hardening")
