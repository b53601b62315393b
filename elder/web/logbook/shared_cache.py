"""Answers lent from process to process, where several serve: in the cache that CACHE_URL names, by what was asked.

An answer's name is a digest of its question and of the code that answers it, so a new version asks anew. Where the
cache cannot be reached, everything is reckoned as if there were none.
"""

from __future__ import annotations

import hashlib
import logging
import time
from collections.abc import Callable, Hashable, Iterator, Mapping
from dataclasses import fields, is_dataclass
from datetime import date
from enum import Enum
from functools import lru_cache
from pathlib import Path
from typing import Final, TypeVar, cast

import numpy as np
from django.core.cache import cache
from django.core.cache.backends.redis import RedisCache

from elder.engine.keeping import STORE

log = logging.getLogger(__name__)
T = TypeVar("T")

HOLDS_S: Final = 26 * 60 * 60  # an answer is held so long: until tomorrow's is reckoned
WAITS_S: Final = 20.0  # another process is waited for so long, while it reckons the same
LOOKS_EVERY_S: Final = 0.05
NOTHING: Final = object()
CODE: Final = Path(__file__).resolve().parents[2]
TOLD_AFTER_S: Final = 60.0  # that the cache is away is said so often at the most


@lru_cache(maxsize=1)
def version() -> str:
    """A digest of all the code, handbook and templates that answers come from."""
    found = hashlib.blake2b(digest_size=8)
    for path in sorted(CODE.rglob("*")):
        if path.suffix in (".py", ".yaml", ".html", ".json"):
            found.update(path.read_bytes())
    return found.hexdigest()


def fingerprint(asked: object) -> str:
    """A digest by which a question is told from every other, the same in every process. Raises TypeError for what it
    cannot read."""
    found = hashlib.blake2b(version().encode(), digest_size=20)
    for part in _written(asked):
        found.update(part)
    return found.hexdigest()


PLAIN: Final = (type(None), bool, int, float, str, date, Enum)


def _written(value: object) -> Iterator[bytes]:
    """A value as bytes, part by part, each with its kind, what is long with its length."""
    kind = type(value).__name__
    if isinstance(value, PLAIN):
        said = f"{kind}:{value!r};".encode()
        yield b"%d:" % len(said) + said
    elif isinstance(value, (bytes, np.ndarray)):
        shape = value.shape if isinstance(value, np.ndarray) else len(value)
        yield f"{kind}{shape}{getattr(value, 'dtype', '')}:".encode()
        yield bytes(value) if isinstance(value, bytes) else value.tobytes()
    elif isinstance(digest := getattr(value, "digest", None), str):
        yield f"{kind}={digest};".encode()
    else:
        yield f"{kind}(".encode()
        yield from _parts(value, kind)
        yield b")"


def _parts(value: object, kind: str) -> Iterator[bytes]:
    if is_dataclass(value):
        for one in fields(value):
            yield from _written(getattr(value, one.name))
    elif isinstance(value, (tuple, list)):
        for part in value:
            yield from _written(part)
    elif isinstance(value, Mapping):
        yield from sorted(b"".join(_written(pair)) for pair in value.items())
    elif isinstance(value, (frozenset, set)):
        yield from sorted(b"".join(_written(part)) for part in value)
    else:
        raise TypeError(f"{kind} cannot be told from another of its kind")


def answered(name: str, reckon: Callable[[], T], *, holds_s: int = HOLDS_S) -> T:
    """The answer of that name, else reckoned: by one process while the others wait."""
    found = cache.get(name, NOTHING)
    if found is not NOTHING:
        return cast("T", found)
    busy = f"{name}:busy"
    if not cache.add(busy, 1, timeout=int(WAITS_S)):
        found = _waited(name, busy)
        if found is not NOTHING:
            return cast("T", found)
    try:
        answer = reckon()
        cache.set(name, answer, timeout=holds_s)
        return answer
    finally:
        cache.delete(busy)


def _waited(name: str, busy: str) -> object:
    """What another process reckons, when it is there; nothing where it gave up or takes too long."""
    until = time.monotonic() + WAITS_S
    while time.monotonic() < until:
        time.sleep(LOOKS_EVERY_S)
        found = cache.get(name, NOTHING)
        if found is not NOTHING or cache.get(busy) is None:
            return found if found is not NOTHING else cache.get(name, NOTHING)
    return NOTHING


class Lender:
    """What lies behind the engine's answers: the shared cache."""

    def answer(self, name: str, asked: Hashable, reckon: Callable[[], T]) -> T:
        """Lent from there, else reckoned."""
        try:
            digest = fingerprint((name, asked))
        except TypeError:
            return reckon()
        return answered(f"answer:{digest}", reckon)


def lend() -> None:
    """From now on answers are lent."""
    STORE.behind = Lender()


class PatientCache(RedisCache):
    """Valkey or Redis, without which everything works as well: what cannot be asked is not there."""

    _told_at = 0.0

    def _or(self, instead: T, ask: Callable[[], T]) -> T:
        from redis.exceptions import RedisError

        try:
            return ask()
        except (RedisError, OSError) as error:
            if time.monotonic() - PatientCache._told_at > TOLD_AFTER_S:
                PatientCache._told_at = time.monotonic()
                log.warning("the shared cache cannot be asked: %s", type(error).__name__)
            return instead

    def get(self, key: str, default: object = None, version: int | None = None) -> object:
        """As of any cache."""
        return self._or(default, lambda: super(PatientCache, self).get(key, default, version))

    def set(self, key: str, value: object, timeout: float | None = 300, version: int | None = None) -> None:
        """As of any cache."""
        self._or(None, lambda: super(PatientCache, self).set(key, value, timeout, version))

    def add(self, key: str, value: object, timeout: float | None = 300, version: int | None = None) -> bool:
        """As of any cache; where nobody can be asked, nobody else has it."""
        return self._or(True, lambda: bool(super(PatientCache, self).add(key, value, timeout, version)))

    def delete(self, key: str, version: int | None = None) -> bool:
        """As of any cache."""
        return self._or(False, lambda: bool(super(PatientCache, self).delete(key, version)))

    def incr(self, key: str, delta: int = 1, version: int | None = None) -> int:
        """As of any cache."""
        return self._or(delta, lambda: int(super(PatientCache, self).incr(key, delta, version)))
