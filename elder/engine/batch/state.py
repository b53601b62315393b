"""A batch's history as written, line by line, and where its cuttings stand: values alone. See ``history`` for how the
one follows from the other."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields
from datetime import date
from typing import Final, NamedTuple

from elder.engine.keeping import cached_property

STAGES: Final = ("waiting", "rooted", "potted", "hardening", "planted")


class Entry(NamedTuple):
    """One dated line of a history. ``key`` tells entries apart; ``strikes`` names one this puts right;
    ``deed`` says what was done where the kind is ``tended``; ``place`` where it was moved to. A tuple, for five years
    are tens of thousands of them, and each is made at a fifth of what a frozen dataclass takes."""

    key: str
    kind: str
    on: date
    count: int = 0  # type: ignore[assignment]  # a tuple counts, too; a line of a history is asked for this
    stage: str = ""
    why: str = ""
    strikes: str = ""
    deed: str = ""
    signs: tuple[str, ...] = ()
    root_cm: float = 0.0
    place: str = ""


class Seen(NamedTuple):
    """The signs one look found, and the length of the longest roots, cm (0 for not measured)."""

    on: date
    signs: tuple[str, ...]
    root_cm: float = 0.0


class Moved(NamedTuple):
    """From a day on, those of a stage (``waiting`` to root, or ``potted``) stand at another place."""

    on: date
    place: str
    stage: str


class Lot(NamedTuple):
    """Some that came to a stage on the same day; ``grown``: plants already when they came to it, as those lifted from
    their row are, and of those given away all but the unrooted."""

    since: date
    count: int  # type: ignore[assignment]  # as of an entry
    grown: bool = False


UNTOLD: Final = ("accident", "gave_up")  # an accident says nothing, and what was given up on might have rooted yet


class Gone(NamedTuple):
    """Some that were lost on a day, at which stage and to what."""

    on: date
    count: int  # type: ignore[assignment]
    stage: str
    why: str = ""

    @property
    def tells(self) -> bool:
        """Whether it says that those would not have come to anything."""
        return self.why not in UNTOLD


class Hardened(NamedTuple):
    """Some that were put out to harden on a day, of those potted on another."""

    on: date
    count: int  # type: ignore[assignment]
    potted_on: date


@dataclass(frozen=True)
class BatchState:
    """Where the cuttings of a batch stand. Lots by stage are oldest first. ``looks``: the days on which what waits was
    looked at, each once; ``passed_over``: the keys of written lines that do not add up; ``moved_on``: how many
    have left what they were stuck in, alive."""

    taken: int
    taken_on: date
    lots: dict[str, tuple[Lot, ...]]
    given_seen: tuple[Lot, ...] = ()
    lost: int = 0
    lost_by_accident: int = 0
    lost_waiting: int = 0
    looks: tuple[date, ...] = ()
    first_harvest: date | None = None
    rooted_seen: tuple[Lot, ...] = ()
    lost_seen: tuple[Lot, ...] = ()
    hardened: tuple[Hardened, ...] = ()
    tended: Mapping[str, tuple[date, ...]] = field(default_factory=dict)
    seen: tuple[Seen, ...] = ()
    moves: tuple[Moved, ...] = ()
    potted_up: tuple[date, ...] = ()
    passed_over: tuple[str, ...] = ()
    moved_on: int = 0
    losses: tuple[Gone, ...] = ()

    def but(self, **changes: object) -> BatchState:
        """The same with other values: ``dataclasses.replace`` at a tenth of its price, for the states of five years'
        histories are sixteen thousand, each but for a value or two the one before."""
        found = object.__new__(BatchState)
        known = vars(self)
        vars(found).update({name: known[name] for name in FIELDS} | changes)
        return found

    def count(self, stage: str) -> int:
        """How many stand at a stage."""
        return self._counts.get(stage, 0)

    @cached_property
    def _counts(self) -> dict[str, int]:
        """How many stand at each stage that any stand at; asked for thousands of times a page."""
        return {stage: sum(lot.count for lot in lots) for stage, lots in self.lots.items()}

    def last_tended(self, deed: str) -> date | None:
        """The last day on which something was done to it."""
        days = self.tended.get(deed, ())
        return max(days) if days else None

    def since(self, stage: str) -> date | None:
        """The day on which the oldest lot of a stage came to it."""
        lots = self.lots.get(stage, ())
        return lots[0].since if lots else None

    @property
    def last_look(self) -> date | None:
        """The last day on which what waits was looked at."""
        return self.looks[-1] if self.looks else None

    @property
    def signs_now(self) -> tuple[str, ...]:
        """What the last look found; nothing where a later one found none, or what it found was cut away since."""
        last, recut = self.seen[-1] if self.seen else None, self.last_tended("recut")
        if last and recut and recut >= last.on:
            return ()
        return last.signs if last and self.last_look and last.on >= self.last_look else ()

    @property
    def given(self) -> int:
        """How many were given away."""
        return sum(lot.count for lot in self.given_seen)

    @property
    def last_entry_on(self) -> date:
        """The last day on which something happened to it."""
        seen = [lot.since for lots in self.lots.values() for lot in lots]
        seen += [lot.since for lot in (*self.rooted_seen, *self.lost_seen, *self.given_seen)]
        seen += [day for days in self.tended.values() for day in days] + [move.on for move in self.moves]
        return max(day for day in (*seen, self.taken_on, self.last_look, self.first_harvest) if day)

    @property
    def rooted_ever(self) -> int:
        """How many have shown roots."""
        return sum(lot.count for lot in self.rooted_seen)

    @property
    def living(self) -> int:
        """All that are not lost or given away."""
        return sum(self.count(stage) for stage in STAGES)

    @cached_property
    def over(self) -> bool:
        """Nothing is left to be done: all lost, given away or planted and harvested from."""
        indoors = sum(self.count(stage) for stage in STAGES if stage != "planted")
        return indoors == 0 and (self.count("planted") == 0 or self.first_harvest is not None)


# All that a state is made of; what it was asked is kept beside them.
FIELDS: Final = tuple(one.name for one in fields(BatchState))


class Telling(BatchState):
    """A state that follows a written history from line to line. It is changed where it stands, since nobody has it but
    whoever reads the history; ``told`` is the value that others are given."""

    def but(self, **changes: object) -> BatchState:
        """The same state, with other values."""
        known = vars(self)
        known.update(changes)
        if "lots" in changes:
            known.pop("_counts", None)
        return self

    def told(self) -> BatchState:
        """What it has come to."""
        return BatchState.but(self)
