"""A garden as it stands on a day, with all that was read and reckoned of it: kept from one look to the next.

Whoever only looks is given the garden's row as it was kept, as long as its stamp is the same: the database changes the
stamp with whatever is written of the garden (``stamps``). What hangs on the row is known then, without a question. Who
writes has a row of their own, on which only little hangs (``once``, not ``once_looking``). What is hung on a row is
looked at by several at one time, and is never written to.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sized
from dataclasses import dataclass, field
from datetime import date
from typing import Final, TypeVar

from elder.engine.handbook.loading import Book, handbook
from elder.engine.keeping import STORE, weight_of
from elder.web.garden.models import Garden

T = TypeVar("T")

ROW_BYTES: Final = 12_000  # of a garden's row with its places (measured, rounded)
HUNG: Final = "_hung"


@dataclass
class _Hung:
    """What hangs on a garden's row: answers by name, what they weigh, and the names of what they share with the store:
    were that let go there while this is kept, nobody would know what it weighs."""

    is_looked_at: bool = False  # and no more: nothing is written by whoever has this row
    answers: dict[Hashable, object] = field(default_factory=dict)
    weight: int = ROW_BYTES
    shared: dict[Hashable, None] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class _Stood:
    """A garden's row as it stood under a stamp, and the handbook it was reckoned with."""

    stamp: str
    handbook: Book
    garden: Garden
    weight: int


def _hung(garden: Garden) -> _Hung:
    found: _Hung = vars(garden).setdefault(HUNG, _Hung())
    return found


def once(garden: Garden, name: Hashable, make: Callable[[], T], *, each: int = 0, shares: Hashable = None) -> T:
    """What was made of a garden under a name, else made now. ``each``: the bytes of each of the things it is made of,
    where they are rows, which cannot be weighed; ``shares``: the name under which the store has it, and its weight."""
    hung = _hung(garden)
    if name not in hung.answers:
        made = make()
        if name not in hung.answers:
            hung.answers[name] = made
            if shares is not None:
                hung.shared[shares] = None
            else:
                hung.weight += each * len(made) if each and isinstance(made, Sized) else weight_of(made)
    return hung.answers[name]  # type: ignore[return-value]  # what this name's function made


def once_looking(garden: Garden, name: Hashable, make: Callable[[], T], *, each: int = 0, shares: Hashable = None) -> T:
    """The same on a row that is only looked at. Who writes may ask again after, and is told what is so by then."""
    return once(garden, name, make, each=each, shares=shares) if _hung(garden).is_looked_at else make()


def hangs(garden: Garden, name: Hashable, thing: object) -> bool:
    """Whether it is just this that was made of a garden under a name."""
    return _hung(garden).answers.get(name) is thing


def as_it_stands(garden: Garden, today: date) -> Garden:
    """The garden for whoever only looks at it: as it was kept, if nothing was written of it since; else the row that
    was just read."""
    _hung(garden).is_looked_at = True
    vars(garden).pop("role", None)  # of one person in it; others are shown it as well
    stood: _Stood | None = STORE.held(("garden", garden.pk, today))
    if stood is None or stood.stamp != str(garden.stamp) or stood.handbook is not handbook():
        return garden
    if any(STORE.held(name) is None for name in _hung(stood.garden).shared):
        return garden
    return stood.garden


def keep(garden: Garden, today: date) -> None:
    """Keep a garden that was looked at, with what hangs on it by now."""
    name, weight = ("garden", garden.pk, today), _hung(garden).weight
    stood: _Stood | None = STORE.held(name)
    if stood is None or stood.garden is not garden or stood.weight != weight:
        STORE.hold(name, _Stood(str(garden.stamp), handbook(), garden, weight), weight)
