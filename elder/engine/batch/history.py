"""A batch's history: an append-only list of dated entries, and the state that follows from them.

Nothing is ever altered. A correction is a new entry that strikes an old one, alone or putting another
in its place. Counts always add up: taken = waiting + rooted + potted + hardening + planted + given + lost.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Sequence
from datetime import date
from typing import Final

from elder.engine.batch.state import STAGES, BatchState, Entry, Hardened, Lot, Moved, Seen
from elder.engine.refusal import Refusal

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


def replay(entries: Sequence[Entry], *, today: date) -> BatchState | Refusal:
    """The state a history leads to, or why it cannot be: the first entry that does not add up. For what is about to be
    written; what stands written is ``retold``."""
    standing = _standing(entries)
    taken = [entry for entry in standing if entry.kind == "taken"]
    if len(taken) != 1:
        return Refusal("not_taken" if not taken else "taken_twice", "kind")
    first = taken[0]
    if first.count < 1:
        return Refusal("count_not_positive", "count")
    state = _begun(first)
    for entry in standing:
        if entry.on > today:
            return Refusal("future", "on", {"on": entry.on, "today": today})
        if entry is first:
            continue
        result = _apply(state, entry)
        if isinstance(result, Refusal):
            return result
        state = result
    return state


def retold(entries: Sequence[Entry]) -> BatchState:
    """The state a written history leads to, whatever day it is now: what was checked when it was written is not refused
    again, and a line that does not add up is passed over and named. Raises ValueError where none was ever taken."""
    standing = _standing(entries)
    first = next((entry for entry in standing if entry.kind == "taken" and entry.count >= 1), None)
    if first is None:
        raise ValueError("a history without its taking")
    state = _begun(first)
    for entry in standing:
        if entry is first:
            continue
        result = _apply(state, entry)
        if isinstance(result, Refusal):
            state = dataclasses.replace(state, passed_over=(*state.passed_over, entry.key))
        else:
            state = result
    return state


def newest_day(entries: Iterable[Entry]) -> date:
    """The latest day any line of a history is dated."""
    return max(entry.on for entry in entries)


def _standing(entries: Sequence[Entry]) -> list[Entry]:
    """The lines that no other strikes, in the order of what happened."""
    struck = {entry.strikes for entry in entries if entry.strikes}
    standing = [entry for entry in entries if entry.key not in struck and entry.kind != "struck"]
    return sorted(standing, key=lambda entry: (entry.on, STAGE_ORDER.get(entry.kind, len(STAGE_ORDER))))


def _begun(first: Entry) -> BatchState:
    return BatchState(first.count, first.on, {"waiting": (Lot(first.on, first.count),)})


# On one day things happen in the order of the work, whatever order they were written down in.
STAGE_ORDER: Final = {kind: i for i, kind in enumerate(("taken", "rooted", "potted", "hardening", "planted"))}


def _apply(state: BatchState, entry: Entry) -> BatchState | Refusal:
    """The state after one more line, with the signs it found."""
    if entry.on < state.taken_on:
        return Refusal("before_taken", "on", {"on": entry.on, "taken_on": state.taken_on})
    if entry.kind not in (*COUNTLESS, *MOVES, "lost"):
        return Refusal("taken_twice", "kind")
    result = _followed(state, entry)
    if isinstance(result, BatchState) and (entry.signs or entry.root_cm):
        seen = Seen(entry.on, entry.signs, entry.root_cm)
        return dataclasses.replace(result, seen=(*result.seen, seen))
    return result


def _followed(state: BatchState, entry: Entry) -> BatchState | Refusal:
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
