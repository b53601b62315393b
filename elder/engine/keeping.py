"""Answers kept between questions: of a whole process bounded in bytes, and reckoned once when asked twice at one time.

Functions of the engine are pure, so an answer holds as long as what it was asked with. What is kept longest is what was
asked for last. An answer may be lent from further away, too: ``Store.behind`` is asked before anything is reckoned,
and told what was, where several processes share what they know.
"""

from __future__ import annotations

import dataclasses
import functools
import sys
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, Final, Generic, ParamSpec, Protocol, Self, TypeVar, cast, overload

import numpy as np

P = ParamSpec("P")
T = TypeVar("T")

MOST_BYTES: Final = 112 * 1024 * 1024
EACH_BYTES: Final = 512  # of a key and its place among the others (assumed)
DEEPEST: Final = 8  # an answer is weighed so many levels down
LIGHT_BYTES: Final = 100_000  # answers lighter than this on the mean, a thousandth of all, are not each weighed
FIRST: Final = 8  # so many of a function are weighed before its mean is gone by
SAMPLED: Final = 24  # of what holds more parts so many are weighed, and the rest taken to weigh as much


class Behind(Protocol):
    """What lies behind a process's own answers: one that is found there need not be reckoned."""

    def answer(self, name: str, asked: Hashable, reckon: Callable[[], Any]) -> Any:
        """The answer lent from there, else reckoned, and lent to others from now on."""


class _Key:
    """A question: the function's name and what it was asked with, hashed once."""

    __slots__ = ("_hash", "asked")

    def __init__(self, asked: Hashable) -> None:
        self.asked, self._hash = asked, hash(asked)

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Key) and self._hash == other._hash and self.asked == other.asked


class _Flight:
    """An answer on its way: who else asks waits for it."""

    __slots__ = ("answer", "came", "landed")

    def __init__(self) -> None:
        self.landed, self.came = threading.Lock(), False  # held until then: an Event costs six times as much to make
        self.landed.acquire()
        self.answer: Any = None


class Scale:
    """What the answers of one function weigh. The first are weighed each; where they are light, of later ones one in so
    many, and the others are taken to weigh as much as those did: weighing would cost as much as answering."""

    def __init__(self) -> None:
        self._asked = self._weighed = self._sum = 0

    def weigh(self, answer: object, asked: object) -> int:
        """The bytes of an answer and its question."""
        self._asked += 1
        mean = self._sum // max(self._weighed, 1)
        if self._weighed >= FIRST and mean < LIGHT_BYTES and self._asked % SAMPLED:
            return mean
        weight = weight_of((answer, asked))
        self._weighed, self._sum = self._weighed + 1, self._sum + weight
        return weight


class Store:
    """What a process keeps. ``most_bytes``: held to, by what questions and answers weigh when they come."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self.most_bytes = most_bytes
        self.bytes = 0
        self.behind: Behind | None = None
        self._kept: OrderedDict[_Key, tuple[Any, int]] = OrderedDict()
        self._flights: dict[_Key, _Flight] = {}
        self._lock = threading.Lock()

    def __len__(self) -> int:
        return len(self._kept)

    def ask(self, asked: Hashable, reckon: Callable[[], T], grows: int = 0, weighs: int | Scale | None = None) -> T:
        """The answer kept for a question, else reckoned now, or waited for where it is being reckoned already.
        ``grows``: bytes it may put on later, as it is asked more; ``weighs``: what it does, where that is known, or on
        what to weigh it."""
        key = _Key(asked)
        with self._lock:
            found = self._kept.get(key)
            if found is not None:
                self._kept.move_to_end(key)
                return found[0]  # type: ignore[no-any-return]  # what this key's function answered
            flight = self._flights.get(key)
            mine = flight is None
            if flight is None:
                flight = self._flights[key] = _Flight()
        if not mine:
            with flight.landed:
                pass
            return flight.answer if flight.came else reckon()
        try:
            answer = reckon()
            flight.answer, flight.came = answer, True
            weight = weighs if isinstance(weighs, int) else (weighs or Scale()).weigh(answer, asked)
            self._put(key, answer, weight + grows + EACH_BYTES)
            return answer
        finally:
            with self._lock:
                del self._flights[key]
            flight.landed.release()

    def hold(self, asked: Hashable, answer: object, weight: int) -> None:
        """Keep what was read or made, to be made more of: it weighs what is said. What was held by that name goes."""
        self._put(_Key(asked), answer, weight + EACH_BYTES)

    def held(self, asked: Hashable) -> Any:
        """What is held by a name; ``None`` where nothing is any more."""
        key = _Key(asked)
        with self._lock:
            found = self._kept.get(key)
            if found is None:
                return None
            self._kept.move_to_end(key)
            return found[0]

    def _put(self, key: _Key, answer: object, weight: int) -> None:
        with self._lock:
            if weight > self.most_bytes:
                return
            _, before = self._kept.pop(key, (None, 0))
            self._kept[key] = (answer, weight)
            self.bytes += weight - before
            while self.bytes > self.most_bytes:
                _, (_, gone) = self._kept.popitem(last=False)
                self.bytes -= gone

    def forget(self) -> None:
        """Everything is let go."""
        with self._lock:
            self._kept.clear()
            self.bytes = 0


STORE: Final = Store()


class KeptFunction(Generic[P, T]):
    """A pure function whose answers are kept. Arguments are hashable."""

    def __init__(
        self, function: Callable[P, T], grows: int = 0, *, lent: bool = False, weighs: int | None = None
    ) -> None:
        self.function, self.grows, self.lent = function, grows, lent
        self.weighs = Scale() if weighs is None else weighs
        self.name = f"{function.__module__}.{function.__qualname__}"
        functools.update_wrapper(self, function)

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> T:
        asked = (self.name, args, tuple(sorted(kwargs.items()))) if kwargs else (self.name, args)

        def reckon() -> T:
            return self.function(*args, **kwargs)

        behind = STORE.behind if self.lent else None
        if behind is None:
            return STORE.ask(asked, reckon, self.grows, self.weighs)
        return STORE.ask(asked, lambda: cast("T", behind.answer(self.name, asked[1:], reckon)), self.grows, self.weighs)


def kept(function: Callable[P, T]) -> KeptFunction[P, T]:
    """Keep a function's answers."""
    return KeptFunction(function)


def lent(function: Callable[P, T]) -> KeptFunction[P, T]:
    """Keep a function's answers, and lend them to other processes: for what takes longer to reckon than to fetch."""
    return KeptFunction(function, lent=True)


def kept_growing(grows: int) -> Callable[[Callable[P, T]], KeptFunction[P, T]]:
    """Keep a function's answers, each of which may put on so many bytes later."""
    return lambda function: KeptFunction(function, grows)


def kept_at(weighs: int) -> Callable[[Callable[P, T]], KeptFunction[P, T]]:
    """Keep a function's answers, each taken to weigh so many bytes."""
    return lambda function: KeptFunction(function, weighs=weighs)


class cached_property(Generic[T]):  # noqa: N801 - it stands where functools' own stood
    """A value that an object is asked for once, and kept on it. As ``functools.cached_property``, but for the lock that
    Python 3.11 puts round it: one for all objects of a class. Of eight threads seven waited for whichever was asking
    its database, and one that waited for another's flight while it held the lock might have waited for ever. Two that
    ask at once both reckon it; what they reckon is the same."""

    def __init__(self, reckon: Callable[[Any], T]) -> None:
        self.reckon, self.name = reckon, reckon.__name__
        self.__doc__ = reckon.__doc__

    @overload
    def __get__(self, thing: None, kind: type) -> Self: ...
    @overload
    def __get__(self, thing: object, kind: type) -> T: ...
    def __get__(self, thing: object | None, kind: type) -> Self | T:
        if thing is None:
            return self
        found: T = self.reckon(thing)
        vars(thing)[self.name] = found  # from now on Python finds it there, and does not ask here
        return found


def weight_of(answer: object, depth: int = DEEPEST, seen: set[int] | None = None) -> int:
    """About how many bytes an answer takes: its arrays, and what it holds, each thing once; what it only refers
    to, and says that it is ``shared``, belongs to no one answer."""
    known = seen if seen is not None else set()
    if answer is None or id(answer) in known or isinstance(answer, (bool, type)):
        return 0
    known.add(id(answer))
    if isinstance(answer, np.ndarray):
        return int(answer.nbytes) + 112 if answer.base is None else weight_of(answer.base, depth, known) + 112
    weight = sys.getsizeof(answer, 64)
    if not depth or isinstance(answer, (str, bytes, int, float)):
        return weight
    if depth < DEEPEST and getattr(type(answer), "shared", False):
        return weight
    parts = _parts(answer)
    if len(parts) <= SAMPLED:
        return weight + sum(weight_of(part, depth - 1, known) for part in parts)
    some = parts[:: len(parts) // SAMPLED][:SAMPLED]
    return weight + len(parts) * sum(weight_of(part, depth - 1, known) for part in some) // SAMPLED


def _parts(answer: object) -> list[object]:
    if isinstance(answer, dict):
        return [*answer.keys(), *answer.values()]
    if isinstance(answer, (list, tuple, set, frozenset)):
        return list(answer)
    if dataclasses.is_dataclass(answer):
        return list(vars(answer).values()) if hasattr(answer, "__dict__") else []
    return []
