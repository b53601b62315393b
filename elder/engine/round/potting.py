"""Ready to pot, by the plant's own sign; then how: steps by medium, depth, mix, feed, and the ladder of pots."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Any, Final

from elder.engine.climate.day_of_year import add_days
from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.tables import read_bench

SIGNS: Final = (
    # (kind, pattern in the handbook's words)
    ("length", re.compile(r"roots of ([\d.]+) cm")),
    ("shoot", re.compile(r"shoots of ([\d.]+) cm")),
    ("tug", re.compile(r"tugged")),
    ("holes", re.compile(r"side|holes")),
    ("net", re.compile(r"net of roots")),
    ("growth", re.compile(r"new leaves|new shoot")),
)
LOOKS: Final = {
    "length": "Measure the longest root.",
    "shoot": "Measure the shoot.",
    "tug": "Tug each lightly: one that holds has roots.",
    "holes": "Look at the sides and holes for white tips.",
    "net": "Look for roots all round, not one or two.",
    "growth": "Look for growth that goes on.",
}


@dataclass(frozen=True)
class ReadySign:
    """By what a plant shows that it is ready to pot: the kind, and a length of roots or shoots, cm."""

    kind: str
    words: str
    root_cm: float = 0.0
    shoot_cm: float = 0.0

    @property
    def cm(self) -> float:
        """The length it wants, of roots or of shoots; 0 where it is not a length."""
        return self.root_cm or self.shoot_cm

    @property
    def look(self) -> str:
        """What to do to see it."""
        return LOOKS[self.kind]


@lru_cache(maxsize=256)
def _read_sign(words: str) -> ReadySign:
    for kind, pattern in SIGNS:
        if found := pattern.search(words):
            size = float(found.group(1)) if found.groups() else 0.0
            return ReadySign(kind, words, size if kind == "length" else 0.0, size if kind == "shoot" else 0.0)
    raise ValueError(f"no such sign of being ready: {words}")


def ready_sign(method: Method) -> ReadySign:
    """A method's sign. Raises ValueError for words of the handbook that are none (a test reads them all)."""
    return _read_sign(method.ready_sign)


@dataclass(frozen=True)
class PotRung:
    """One pot of the ladder: its litres, and the day it falls due."""

    litres: float
    due: date


@dataclass(frozen=True)
class Potting:
    """How to pot a plant on. ``litres`` of its first pot; ``kg_per_litre`` of wet mix."""

    steps: tuple[str, ...]
    depth: str
    mix: str
    feed: str
    feed_strength: str
    litres: float
    kg_per_litre: float
    support: str
    support_kind: str
    repot: tuple[str, ...]
    fill_up: str
    fill_up_after: int


@lru_cache(maxsize=1)
def _book() -> dict[str, Any]:
    return read_bench("potting")[0]


def potting_of(plant: Plant, method: Method) -> Potting:
    """The potting of a plant that was rooted by a method."""
    book = _book()
    mix = book["mix"][_mix_kind(plant, method)]
    kind = next((kind for kind, item in book["support"].items() if plant.kin in item["plants"]), "")
    return Potting(
        steps=tuple(book["by_medium"][method.medium]),
        depth=_own(book["depth"], plant),
        mix=mix["text"],
        feed=_own(book["feed"], plant),
        feed_strength=_own(book["feed"], plant, "strength"),
        litres=book["first_pot_litres"][plant.group],
        kg_per_litre=mix["kg_per_litre"],
        support=book["support"][kind]["text"] if kind else "",
        support_kind=kind,
        repot=tuple(book["repot"]),
        fill_up=book["fill_up"]["text"] if plant.kin in book["fill_up"]["plants"] else "",
        fill_up_after=book["fill_up"]["after_days"],
    )


def _own(section: dict[str, Any], plant: Plant, key: str = "text") -> str:
    """The plant's own words, else those for all others."""
    return str(section["by_plant"].get(plant.kin, section["other"])[key])


def _mix_kind(plant: Plant, method: Method) -> str:
    if method.medium == "bark":
        return "epiphyte"
    if method.form in ("stem joint", "crown top"):
        return "fleshy"
    return "woody" if plant.group in ("tree fruit", "soft fruit") else "other"


def ladder(plant: Plant, potted_on: date) -> tuple[PotRung, ...]:
    """The pots of a long crop from its first, with their days; only the first where it is no long crop."""
    book = _book()
    if plant.group not in book["ladder"]["groups"]:
        return (PotRung(book["first_pot_litres"][plant.group], potted_on),)
    return tuple(PotRung(step["litres"], add_days(potted_on, step["after_days"])) for step in book["ladder"]["steps"])
