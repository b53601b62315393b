"""Cuttings that dry to a callus: whether a batch still lies, and how long it lay. Roots come only once it is stuck."""

from __future__ import annotations

from datetime import date
from typing import Final

from elder.engine.batch.state import BatchState
from elder.engine.handbook.model import Method

STICK: Final = "stick"
EITHER_WAY: Final = frozenset(("carry_in", "shade", "pests"))  # done to those that lie drying as well


def is_drying(state: BatchState, method: Method) -> bool:
    """Whether cuttings lie drying to a callus: until they are written down as stuck, or anything else is done to
    them that only stuck ones want."""
    if not method.dry_days or state.last_tended(STICK):
        return False
    stuck_by = set(state.tended) - EITHER_WAY
    return not stuck_by and not state.rooted_ever and state.last_look is None


def dried_days(state: BatchState, method: Method, today: date) -> int:
    """Days from the cut to the day they were stuck: as written down, else the way's own, or longer while they lie."""
    if not method.dry_days:
        return 0
    stuck = state.tended.get(STICK, ())
    if stuck:
        return max((min(stuck) - state.taken_on).days, 0)
    lain = (today - state.taken_on).days if is_drying(state, method) else 0
    return max(method.dry_days, lain)
