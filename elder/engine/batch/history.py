"""A batch's history: an append-only list of dated entries, and the state that follows from them.

Nothing is ever altered. A correction is a new entry that strikes an old one, alone or putting another
in its place. Counts always add up: taken = waiting + rooted + potted + hardening + planted + given + lost.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import Final

from elder.engine.batch.state import STAGES, BatchState, Entry, Gone, Hardened, Lot, Moved, Seen, Telling
from elder.engine.handbook.routes import POTTED, Route
from elder.engine.refusal import Refusal

# What each verb takes from, the first that has them, and gives to. Lost says its own stage; any other may, where it
# was not the first. Those rooted come to the stage of their route; what stands in a row is potted by lifting it.
MOVES: Final[dict[str, tuple[tuple[str, ...], str]]] = {
    "rooted": (("waiting",), "rooted"),
    "potted": (("rooted",), "potted"),
    "hardening": (("potted", "rooted"), "hardening"),
    "planted": (("hardening", "potted", "rooted"), "planted"),
    "lifted": (("planted",), "potted"),
    "given": (("hardening", "potted", "rooted", "planted", "waiting"), "given"),
}
COUNTLESS: Final = ("looked", "note", "harvested", "struck", "tended", "moved", "potted_up", "trimmed")
ACCIDENTS: Final = ("accident",)  # says nothing of the take


def moves_of(verb: str, route: Route) -> tuple[tuple[str, ...], str]:
    """The stages a verb takes from on a route, and that which it gives to."""
    if verb == "rooted":
        return MOVES[verb][0], route.roots_as
    if verb == "potted" and route.in_ground:
        return MOVES["lifted"]
    if verb == "potted" and route.roots_as == "potted":  # into another pot: it has stood in one from the first
        return ("potted",), "potted"
    return MOVES[verb]


def stage_on(route: Route, stage: str) -> str:
    """A stage as it is called on a route: what is said to be rooted stands where its route has it stand."""
    return route.roots_as if stage == "rooted" else stage


def replay(entries: Sequence[Entry], *, today: date, route: Route = POTTED) -> BatchState | Refusal:
    """The state a history leads to, or why it cannot be: the first entry that does not add up. For what is about to be
    written; what stands written is ``retold``."""
    standing = _standing(entries)
    taken = [entry for entry in standing if entry.kind == "taken"]
    if len(taken) != 1:
        return Refusal("not_taken" if not taken else "taken_twice", "kind")
    first = taken[0]
    if first.count < 1:
        return Refusal("count_not_positive", "count")
    state = BatchState(first.count, first.on, _all_waiting(first))
    for entry in standing:
        if entry.on > today:
            return Refusal("future", "on", {"on": entry.on, "today": today})
        if entry is first:
            continue
        result = _apply(state, entry, route)
        if isinstance(result, Refusal):
            return result
        state = result
    return state


def retold(entries: Sequence[Entry], route: Route = POTTED) -> BatchState:
    """The state a written history leads to, whatever day it is now: what was checked when it was written is not refused
    again, and a line that does not add up is passed over and named. Raises ValueError where none was ever taken."""
    standing = _not_struck(entries)
    takings = (entry for entry in standing if entry.kind == "taken" and entry.count >= 1)
    first = min(takings, key=lambda entry: entry.on, default=None)
    if first is None:
        raise ValueError("a history without its taking")
    telling = Telling(first.count, first.on, _all_waiting(first))
    tended, followed = _care_apart(standing, first)
    for entry in _in_order(followed):
        if entry.kind == "tended" and entry.on >= first.on:
            _noticing(telling, entry)
        elif isinstance(_apply(telling, entry, route), Refusal):
            telling.but(passed_over=(*telling.passed_over, entry.key))
    if tended:
        telling.but(tended={deed: tuple(sorted(days)) for deed, days in tended.items()})
    return telling.told()


def _care_apart(standing: Iterable[Entry], first: Entry) -> tuple[dict[str, list[date]], list[Entry]]:
    """The days of each care, and the lines there are to follow after the first: most of a history is daily care, which
    changes nothing else, and is not put in order with the rest unless it found signs."""
    tended: dict[str, list[date]] = {}
    followed = []
    for entry in standing:
        if entry.kind == "tended" and entry.on >= first.on:
            tended.setdefault(entry.deed, []).append(entry.on)
            if _is_bare(entry):
                continue
        if entry is not first:
            followed.append(entry)
    return tended, followed


def newest_day(entries: Iterable[Entry]) -> date:
    """The latest day any line of a history is dated."""
    return max(entry.on for entry in entries)


def _standing(entries: Sequence[Entry]) -> list[Entry]:
    """The lines that no other strikes, in the order of what happened."""
    return _in_order(_not_struck(entries))


def _not_struck(entries: Sequence[Entry]) -> list[Entry]:
    struck = {entry.strikes for entry in entries if entry.strikes}
    return [entry for entry in entries if entry.key not in struck and entry.kind != "struck"]


def _in_order(entries: Iterable[Entry]) -> list[Entry]:
    return sorted(entries, key=lambda entry: (entry.on, STAGE_ORDER.get(entry.kind, len(STAGE_ORDER))))


def _is_bare(entry: Entry) -> bool:
    """Whether a line found no signs."""
    return not entry.signs and not entry.root_cm


def _all_waiting(first: Entry) -> dict[str, tuple[Lot, ...]]:
    """Those taken, all of them waiting."""
    return {"waiting": (Lot(first.on, first.count),)}


# On one day things happen in the order of the work, whatever order they were written down in.
STAGE_ORDER: Final = {kind: i for i, kind in enumerate(("taken", "rooted", "potted", "hardening", "planted"))}
STAGE_ORDER["lifted"] = STAGE_ORDER["planted"]  # lifted and set out again, or the other way about: as it was written


def _apply(state: BatchState, entry: Entry, route: Route) -> BatchState | Refusal:
    """The state after one more line, with the signs it found."""
    if entry.on < state.taken_on:
        return Refusal("before_taken", "on", {"on": entry.on, "taken_on": state.taken_on})
    if entry.kind not in (*COUNTLESS, *MOVES, "lost"):
        return Refusal("taken_twice", "kind")
    result = _followed(state, entry, route)
    return _noticing(result, entry) if isinstance(result, BatchState) else result


def _noticing(state: BatchState, entry: Entry) -> BatchState:
    """The state with the signs a line found, where it found any."""
    if _is_bare(entry):
        return state
    return state.but(seen=(*state.seen, Seen(entry.on, entry.signs, entry.root_cm)))


def _followed(state: BatchState, entry: Entry, route: Route) -> BatchState | Refusal:
    if entry.kind in COUNTLESS:
        return _countless(state, entry)
    if entry.count < 1:
        return Refusal("count_not_positive", "count")
    if entry.kind == "lost":
        return _lose(state, entry, stage_on(route, entry.stage or "waiting"))
    sources, target = moves_of(entry.kind, route)
    said = stage_on(route, entry.stage)
    if said in sources and entry.kind != "rooted":
        sources = (said,)
    return _move(state, entry, sources, target)


def _countless(state: BatchState, entry: Entry) -> BatchState | Refusal:
    match entry.kind:
        case "harvested":
            if not state.count("planted"):
                return Refusal("nothing_planted", "on")
            return state.but(first_harvest=state.first_harvest or entry.on)
        case "looked":
            return state.but(looks=_looked(state, entry.on))
        case "tended":
            days = (*state.tended.get(entry.deed, ()), entry.on)
            return state.but(tended={**state.tended, entry.deed: days})
        case "moved":
            return state.but(moves=(*state.moves, Moved(entry.on, entry.place, entry.stage)))
        case "potted_up":
            if not state.count("potted"):
                return Refusal("nothing_potted", "on")
            return state.but(potted_up=(*state.potted_up, entry.on))
    return state


def _lose(state: BatchState, entry: Entry, stage: str) -> BatchState | Refusal:
    moved = _move(state, entry, (stage,), "lost")
    if isinstance(moved, Refusal):
        return moved
    accident = entry.why in ACCIDENTS
    return moved.but(
        lost=state.lost + entry.count,
        lost_by_accident=state.lost_by_accident + (entry.count if accident else 0),
        lost_waiting=state.lost_waiting + (entry.count if stage == "waiting" and not accident else 0),
        lost_seen=(*state.lost_seen, Lot(entry.on, entry.count)),
        losses=(*state.losses, Gone(entry.on, entry.count, stage, entry.why)),
        looks=_looked(state, entry.on),
    )


def _looked(state: BatchState, day: date) -> tuple[date, ...]:
    return state.looks if state.last_look == day else (*state.looks, day)


def _move(state: BatchState, entry: Entry, sources: Sequence[str], target: str) -> BatchState | Refusal:
    """Take ``entry.count`` from the first stages that have them, oldest first, and set them down."""
    lots, left, gone = dict(state.lots), entry.count, {}
    for stage in sources:
        if stage in lots:
            lots[stage], gone[stage], left = _take_from(lots[stage], left)
    if left:
        stage, there = sources[0], entry.count - left
        said = {"kind": entry.kind, "count": entry.count, "there": there, "stage": stage, "on": entry.on}
        return Refusal("more_than_there", "count", said)
    came = _set_down(entry, gone)
    if target in STAGES:
        lots[target] = (*lots.get(target, ()), *came)
    return state.but(lots=lots, **_noticed(state, entry, target, gone))


def _set_down(entry: Entry, gone: Mapping[str, list[Lot]]) -> list[Lot]:
    """What a move sets down: those that are plants already, and those that are not."""
    plants = sum([lot.count for stage, lots in gone.items() for lot in lots if lot.grown or stage == "planted"])
    counts = ((plants, True), (entry.count - plants, False))
    return [Lot(entry.on, count, grown=grown) for count, grown in counts if count]


def _noticed(state: BatchState, entry: Entry, target: str, gone: Mapping[str, list[Lot]]) -> dict[str, object]:
    """What else of a state a move changes: that some were seen rooted, put out to harden from their pots, or given
    away; and that they have left what they were stuck in."""
    found: dict[str, object] = {}
    if target not in ("rooted", "lost"):
        left = sum([lot.count for stage in ("waiting", "rooted") for lot in gone.get(stage, ())])
        found["moved_on"] = state.moved_on + left
    if entry.kind == "rooted":
        found["rooted_seen"] = (*state.rooted_seen, Lot(entry.on, entry.count))
        found["looks"] = _looked(state, entry.on)
    elif target == "hardening":
        hardened = (Hardened(entry.on, lot.count, lot.since) for lot in gone.get("potted", ()) if not lot.grown)
        found["hardened"] = (*state.hardened, *hardened)
    elif target == "given":
        unrooted = sum(lot.count for lot in gone.get("waiting", ()))
        counts = ((entry.count - unrooted, True), (unrooted, False))
        given = (Lot(entry.on, count, grown=grown) for count, grown in counts if count)
        found["given_seen"] = (*state.given_seen, *given)
    return found


def _take_from(lots: tuple[Lot, ...], count: int) -> tuple[tuple[Lot, ...], list[Lot], int]:
    """What is left of some lots when so many are taken, the oldest first; what was taken, by lot; and how many more
    were to be taken than there were."""
    kept: list[Lot] = []
    gone: list[Lot] = []
    for lot in lots:
        took = min(lot.count, count)
        count -= took
        if took:
            gone.append(lot if took == lot.count else Lot(lot.since, took, lot.grown))
        if took < lot.count:
            kept.append(Lot(lot.since, lot.count - took, lot.grown) if took else lot)
    return tuple(kept), gone, count
