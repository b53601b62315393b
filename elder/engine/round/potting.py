"""Ready to pot, by the plant's own sign; then how: steps by medium, depth, mix, feed, and the ladder of pots."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Any, Final

from elder.engine.climate.day_of_year import add_days
from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.tables import read_bench
from elder.engine.shed.containers import final_pot, vessel_for
from elder.engine.shed.kit import PLAIN, Kit
from elder.engine.shed.mix import usual_recipe
from elder.engine.shed.recipes import Recipe
from elder.engine.shed.vessels import Vessel

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
    """One pot of the ladder, and the day it falls due."""

    vessel: Vessel
    due: date

    @property
    def litres(self) -> float:
        """How many it holds."""
        return self.vessel.volume_l


@dataclass(frozen=True)
class Potting:
    """How to pot a plant on: ``vessel`` is its first pot, ``recipe`` the mix in it."""

    steps: tuple[str, ...]
    depth: str
    vessel: Vessel
    recipe: Recipe
    feed: str
    feed_strength: str
    support: str
    support_kind: str
    repot: tuple[str, ...]
    fill_up: str
    fill_up_after: int

    @property
    def litres(self) -> float:
        """Of the first pot."""
        return self.vessel.volume_l

    @property
    def kg_per_litre(self) -> float:
        """Of its mix, watered."""
        return self.recipe.wet_kg


@lru_cache(maxsize=1)
def _book() -> dict[str, Any]:
    return read_bench("potting")[0]


def potting_of(plant: Plant, method: Method, chosen: Mapping[str, str] | None = None, kit: Kit = PLAIN) -> Potting:
    """The potting of a plant that was rooted by a method, in what was chosen for it and what a household has."""
    book = _book()
    in_bin = method.medium in ("mix", "stick") and vessel_for(plant, method, chosen, kit).kind == "bin"
    kind = next((kind for kind, item in book["support"].items() if plant.kin in item["plants"]), "")
    return Potting(
        steps=tuple(book["from_bin"] if in_bin else book["by_medium"][method.medium]),
        depth=_own(book["depth"], plant),
        vessel=final_pot(plant, method, chosen, kit),
        recipe=usual_recipe(plant, method, "pot", chosen, kit) or kit.mixed("plain"),
        feed=_own(book["feed"], plant),
        feed_strength=_own(book["feed"], plant, "strength"),
        support=book["support"][kind]["text"] if kind else "",
        support_kind=kind,
        repot=tuple(book["repot"]),
        fill_up=book["fill_up"]["text"] if plant.kin in book["fill_up"]["plants"] else "",
        fill_up_after=book["fill_up"]["after_days"],
    )


def _own(section: dict[str, Any], plant: Plant, key: str = "text") -> str:
    """The plant's own words, else those for all others."""
    return str(section["by_plant"].get(plant.kin, section["other"])[key])


def ladder(
    plant: Plant, method: Method, potted_on: date, chosen: Mapping[str, str] | None = None, kit: Kit = PLAIN
) -> tuple[PotRung, ...]:
    """The pots of a long crop from its first, with their days; only the first where it is no long crop."""
    book = _book()["ladder"]
    first = PotRung(final_pot(plant, method, chosen, kit), potted_on)
    if plant.group not in book["groups"]:
        return (first,)
    later = (
        PotRung(kit.used(step["container"]), add_days(potted_on, step["after_days"])) for step in book["steps"][1:]
    )
    return (first, *later)
