"""Can this be cut? A stem looked over before the blade: suitable, with care, or not, and what each answer costs.

A table (``handbook/bench/stems.yaml``): each rule speaks of some answers for some kinds of cutting. What several find
is multiplied: a stem in flower and yellow pays for both (assumed).
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, Final, Literal

from elder.engine.chance.counting import Take
from elder.engine.chance.rooting_time import DaysAt
from elder.engine.handbook.model import Method
from elder.engine.handbook.tables import HandbookError, read_bench

Grade = Literal["ok", "care", "no"]
GRADES: Final[tuple[Grade, ...]] = ("ok", "care", "no")
LEAST_TAKE: Final = 0.02  # of the take: next to nothing is still not nothing (assumed)


@dataclass(frozen=True)
class Question:
    """One question about the stem, and its answers as (key, words); the first is as it should be, or the usual."""

    key: str
    name: str
    ways: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Finding:
    """One thing found: how grave, what is left of the take, how much longer it roots, what to do and why."""

    code: str
    grade: Grade
    take: float
    days: float
    cause: str
    deed: str
    why: str


@dataclass(frozen=True)
class LookOver:
    """What all answers come to. ``take`` is the share left of the take, ``days`` the stretch of the rooting time."""

    grade: Grade
    found: tuple[Finding, ...]
    take: float
    days: float

    def changed(self, method: Method) -> Method:
        """The way as this stem would go it: its take and its days to root changed. Whole days, longest last."""
        rooting = DaysAt(
            max(round(method.rooting.early * self.days), 1),
            max(math.ceil(method.rooting.late * self.days), round(method.rooting.early * self.days) + 1),
            method.rooting.at_c,
        )
        return replace(method, take=Take(method.take.mean * self.take, method.take.weight), rooting=rooting)


@lru_cache(maxsize=1)
def _table() -> dict[str, Any]:
    raw, where = read_bench("stems")
    known = {ask["key"]: {way["key"] for way in ask["ways"]} for ask in raw["asks"]}
    for i, rule in enumerate(raw["rules"]):
        for key, wanted in rule["when"].items():
            if not set(_listed(wanted)) <= known.get(key, set()):
                raise HandbookError(f"{where(['rules', i, 'when', key])}: {key} has no {wanted}")
    return raw


def _listed(value: Any) -> list[str]:
    return value if isinstance(value, list) else [value]


@lru_cache(maxsize=1)
def asks() -> tuple[Question, ...]:
    """What is asked of a stem, in the order of the eye."""
    return tuple(
        Question(ask["key"], ask["name"], tuple((way["key"], way["name"]) for way in ask["ways"]))
        for ask in _table()["asks"]
    )


def kind_of(method: Method) -> str:
    """The class of a method's cutting: soft, ripe, bare, fleshy; nothing for what is taken whole."""
    return next((kind for kind, forms in _table()["classes"].items() if method.form in forms), "")


def look_over(answers: Mapping[str, str], method: Method) -> LookOver:
    """What the answers mean for a cutting of that method, graver first. Raises KeyError for a question or an answer
    that is not on the list; what was not answered is taken to be as it should."""
    known = {ask.key: dict(ask.ways) for ask in asks()}
    for key, answer in answers.items():
        known[key][answer]
    kind = kind_of(method)
    found = [
        Finding(rule["code"], rule["grade"], rule["take"], rule["days"], rule["cause"], rule["do"], rule["why"])
        for rule in _table()["rules"]
        if ("for" not in rule or kind in rule["for"])
        and all(answers.get(key) in _listed(wanted) for key, wanted in rule["when"].items())
    ]
    found.sort(key=lambda one: (-GRADES.index(one.grade), one.take))
    grade: Grade = max((one.grade for one in found), key=GRADES.index) if found else "ok"
    take = max(math.prod(one.take for one in found), LEAST_TAKE)
    return LookOver(grade, tuple(found), take, math.prod(one.days for one in found))
