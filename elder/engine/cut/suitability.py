"""Can this be cut? A stem looked over before the blade: suitable, with care, or not, and what each answer costs.

A table (``handbook/bench/stems.yaml``): each rule speaks of some answers for some kinds of cutting. What they come to
is the condition of what is cut, planned and forecast with like any other.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final, Literal

from elder.engine.handbook.model import Method
from elder.engine.handbook.stems import listed, stem_table
from elder.engine.plan.condition import Condition

Grade = Literal["ok", "care", "no"]
GRADES: Final[tuple[Grade, ...]] = ("ok", "care", "no")


@dataclass(frozen=True)
class Question:
    """One question about what is cut, and its answers as (key, words); the first is as it should be, or the usual;
    ``kinds``: of which kinds of cutting it is asked, of all where none is named."""

    key: str
    name: str
    ways: tuple[tuple[str, str], ...]
    kinds: tuple[str, ...] = ()


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

    @property
    def condition(self) -> Condition:
        """What it means for a cutting: the one rule of takes and days."""
        return Condition.of(one.code for one in self.found)

    @property
    def take(self) -> float:
        """Of the ordinary take, what is left."""
        return self.condition.share

    @property
    def days(self) -> float:
        """How many times as long it roots."""
        return self.condition.days

    def changed(self, method: Method) -> Method:
        """The way as this stem would go it: its take and its days to root changed."""
        return replace(self.condition.slowed(method), take=self.condition.lowers(method.take))


@lru_cache(maxsize=1)
def asks() -> tuple[Question, ...]:
    """All that is asked, in the order of the eye."""
    return tuple(
        Question(
            ask["key"], ask["name"], tuple((way["key"], way["name"]) for way in ask["ways"]), tuple(ask.get("for", ()))
        )
        for ask in stem_table()["asks"]
    )


def asked_of(method: Method) -> tuple[Question, ...]:
    """What is asked of a method's cutting: a stem is bent and scratched, a pup is looked at for roots of its own."""
    kind = kind_of(method)
    return tuple(ask for ask in asks() if not ask.kinds or kind in ask.kinds)


def kind_of(method: Method) -> str:
    """The class of a method's cutting: soft, ripe, bare, fleshy, top, pup; nothing for a leaf."""
    return next((kind for kind, forms in stem_table()["classes"].items() if method.form in forms), "")


def look_over(answers: Mapping[str, str], method: Method) -> LookOver:
    """What the answers mean for a cutting of that method, graver first. Raises KeyError for a question or an answer
    that is not on the list; what was not answered is taken to be as it should."""
    known = {ask.key: dict(ask.ways) for ask in asks()}
    for key, answer in answers.items():
        known[key][answer]
    kind = kind_of(method)
    found = [
        Finding(rule["code"], rule["grade"], rule["take"], rule["days"], rule["cause"], rule["do"], rule["why"])
        for rule in stem_table()["rules"]
        if ("for" not in rule or kind in rule["for"])
        and all(answers.get(key) in listed(wanted) for key, wanted in rule["when"].items())
    ]
    found.sort(key=lambda one: (-GRADES.index(one.grade), one.take))
    grade: Grade = max((one.grade for one in found), key=GRADES.index) if found else "ok"
    return LookOver(grade, tuple(found))
