"""A batch's history: an append-only list of dated entries, and the state that follows from them.

Nothing is ever altered. A correction is a new entry that strikes an old one, alone or putting another
in its place. Counts always add up: taken = waiting + rooted + potted + hardening + planted + given + lost.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Final

from elder.engine.refusal import Refusal

STAGES: Final = ("waiting", "rooted", "potted", "hardening", "planted")
# What each verb takes from and gives to. Lost says its own stage.
MOVES: Final[dict[str, tuple[tuple[str, ...], str]]] = {
    "rooted": (("waiting",), "rooted"),
    "potted": (("rooted",), "potted"),
    "hardening": (("potted",), "hardening"),
    "planted": (("hardening", "potted"), "planted"),
    "given": (("hardening", "potted", "rooted"), "given"),
}
COUNTLESS: Final = ("looked", "note", "harvested", "struck", "tended", "moved", "potted_up", "trimmed")
ACCIDENTS: Final = ("accident",)  # says nothing of the take


@dataclass(frozen=True)
class Entry:
    """One dated line of a history. ``key`` tells entries apart; ``strikes`` names one this puts right;
    ``deed`` says what was done where the kind is ``tended``; ``place`` where it was moved to."""

    key: str
    kind: str
    on: date
    count: int = 0
    stage: str = ""
    why: str = ""
    strikes: str = ""
    deed: str = ""
    signs: tuple[str, ...] = ()
    root_cm: float = 0.0
    place: str = ""


@dataclass(frozen=True)
class Seen:
    """The signs one look found, and the length of the longest roots, cm (0 for not measured)."""

    on: date
    signs: tuple[str, ...]
    root_cm: float = 0.0


@dataclass(frozen=True)
class Moved:
    """From a day on, those of a stage (``waiting`` to root, or ``potted``) stand at another place."""

    on: date
    place: str
    stage: str


@dataclass(frozen=True)
class Lot:
    """Some that came to a stage on the same day."""

    since: date
    count: int


@dataclass(frozen=True)
class Hardened:
    """Some that were put out to harden on a day, of those potted on another."""

    on: date
    count: int
    potted_on: date


@dataclass(frozen=True)
class BatchState:
    """Where the cuttings of a batch stand. Lots by stage are oldest first. ``looks``: the days on which what waits was
    looked at, each once."""

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

    def count(self, stage: str) -> int:
        """How many stand at a stage."""
        return sum(lot.count for lot in self.lots.get(stage, ()))

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
        """What the last look found; nothing where a later one found none."""
        last = self.seen[-1] if self.seen else None
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

    @property
    def over(self) -> bool:
        """Nothing is left to be done: all lost, given away or planted and harvested from."""
        indoors = sum(self.count(stage) for stage in STAGES if stage != "planted")
        return indoors == 0 and (self.count("planted") == 0 or self.first_harvest is not None)


def replay(entries: Sequence[Entry], *, today: date) -> BatchState | Refusal:
    """The state a history leads to, or why it cannot be: the first entry that does not add up."""
    struck = {entry.strikes for entry in entries if entry.strikes}
    standing = [entry for entry in entries if entry.key not in struck and entry.kind != "struck"]
    standing.sort(key=lambda entry: (entry.on, STAGE_ORDER.get(entry.kind, len(STAGE_ORDER))))
    taken = [entry for entry in standing if entry.kind == "taken"]
    if len(taken) != 1:
        return Refusal("not_taken" if not taken else "taken_twice", "kind")
    first = taken[0]
    if first.count < 1:
        return Refusal("count_not_positive", "count")
    if first.on > today:
        return Refusal("future", "on", {"on": first.on, "today": today})
    state = BatchState(first.count, first.on, {"waiting": (Lot(first.on, first.count),)})
    for entry in standing:
        if entry is first:
            continue
        result = _apply(state, entry, today)
        if isinstance(result, Refusal):
            return result
        state = result
        if entry.signs or entry.root_cm:
            seen = Seen(entry.on, entry.signs, entry.root_cm)
            state = dataclasses.replace(state, seen=(*state.seen, seen))
    return state


# On one day things happen in the order of the work, whatever order they were written down in.
STAGE_ORDER: Final = {kind: i for i, kind in enumerate(("taken", "rooted", "potted", "hardening", "planted"))}


def _apply(state: BatchState, entry: Entry, today: date) -> BatchState | Refusal:
    if entry.on > today:
        return Refusal("future", "on", {"on": entry.on, "today": today})
    if entry.on < state.taken_on:
        return Refusal("before_taken", "on", {"on": entry.on, "taken_on": state.taken_on})
    if entry.kind in COUNTLESS:
        return _countless(state, entry)
    if entry.count < 1:
        return Refusal("count_not_positive", "count")
    if entry.kind == "lost":
        return _lose(state, entry)
    sources, target = MOVES[entry.kind]
    return _move(state, entry, sources, target)


def _countless(state: BatchState, entry: Entry) -> BatchState | Refusal:
    match entry.kind:
        case "harvested":
            if not state.count("planted"):
                return Refusal("nothing_planted", "on")
            return dataclasses.replace(state, first_harvest=state.first_harvest or entry.on)
        case "looked":
            return dataclasses.replace(state, looks=_looked(state, entry.on))
        case "tended":
            days = (*state.tended.get(entry.deed, ()), entry.on)
            return dataclasses.replace(state, tended={**state.tended, entry.deed: days})
        case "moved":
            return dataclasses.replace(state, moves=(*state.moves, Moved(entry.on, entry.place, entry.stage)))
        case "potted_up":
            if not state.count("potted"):
                return Refusal("nothing_potted", "on")
            return dataclasses.replace(state, potted_up=(*state.potted_up, entry.on))
    return state


def _lose(state: BatchState, entry: Entry) -> BatchState | Refusal:
    stage = entry.stage or "waiting"
    moved = _move(state, entry, (stage,), "lost")
    if isinstance(moved, Refusal):
        return moved
    accident = entry.why in ACCIDENTS
    return dataclasses.replace(
        moved,
        lost=state.lost + entry.count,
        lost_by_accident=state.lost_by_accident + (entry.count if accident else 0),
        lost_waiting=state.lost_waiting + (entry.count if stage == "waiting" and not accident else 0),
        lost_seen=(*state.lost_seen, Lot(entry.on, entry.count)),
        looks=_looked(state, entry.on),
    )


def _looked(state: BatchState, day: date) -> tuple[date, ...]:
    return state.looks if state.last_look == day else (*state.looks, day)


def _move(state: BatchState, entry: Entry, sources: Iterable[str], target: str) -> BatchState | Refusal:
    """Take ``entry.count`` from the first stages that have them, oldest first, and set them down."""
    sources = tuple(sources)
    there = sum(state.count(stage) for stage in sources)
    if entry.count > there:
        said = {"kind": entry.kind, "count": entry.count, "there": there, "stage": sources[0], "on": entry.on}
        return Refusal("more_than_there", "count", said)
    lots, left, gone = dict(state.lots), entry.count, []
    for stage in sources:
        before = lots.get(stage, ())
        lots[stage], left = _take_from(before, left)
        gone += _gone(before, lots[stage])
    if target in STAGES:
        lots[target] = (*lots.get(target, ()), Lot(entry.on, entry.count))
    changed = dataclasses.replace(state, lots=lots)
    if target == "rooted":
        seen = (*state.rooted_seen, Lot(entry.on, entry.count))
        return dataclasses.replace(changed, rooted_seen=seen, looks=_looked(changed, entry.on))
    if target == "hardening":
        hardened = (Hardened(entry.on, lot.count, lot.since) for lot in gone)
        return dataclasses.replace(changed, hardened=(*state.hardened, *hardened))
    if target == "given":
        return dataclasses.replace(changed, given_seen=(*state.given_seen, Lot(entry.on, entry.count)))
    return changed


def _take_from(lots: tuple[Lot, ...], count: int) -> tuple[tuple[Lot, ...], int]:
    kept: list[Lot] = []
    for lot in lots:
        gone = min(lot.count, count)
        count -= gone
        if lot.count > gone:
            kept.append(Lot(lot.since, lot.count - gone))
    return tuple(kept), count


def _gone(before: tuple[Lot, ...], after: tuple[Lot, ...]) -> list[Lot]:
    """What was taken of some lots, by lot: the oldest first."""
    left = {lot.since: 0 for lot in before}
    for lot in after:
        left[lot.since] += lot.count
    found = []
    for lot in reversed(before):  # what is left is left of the newest
        kept = min(left[lot.since], lot.count)
        left[lot.since] -= kept
        if lot.count > kept:
            found.append(Lot(lot.since, lot.count - kept))
    return found[::-1]
