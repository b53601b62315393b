"""Recipes by parts, and what their parts weigh and are sold in."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from elder.engine.handbook.tables import read_bench


@dataclass(frozen=True)
class Part:
    """What mixes are made of: a litre's weight as it comes, kg, the packs it is sold in, litres; whether its dust, or
    what lives in it, wants a word."""

    key: str
    name: str
    short: str
    dry_kg: float
    packs: tuple[float, ...]
    dusty: bool = False
    compost: bool = False


@dataclass(frozen=True)
class Recipe:
    """A mix by parts, in any scale; ``wet_kg`` of a litre that stands watered."""

    key: str
    name: str
    parts: tuple[tuple[str, float], ...]
    wet_kg: float
    text: str = ""

    @property
    def shares(self) -> dict[str, float]:
        """The parts as a mapping."""
        return dict(self.parts)


@lru_cache(maxsize=1)
def mixes_book() -> dict[str, Any]:
    """The table as it was read."""
    return read_bench("mixes")[0]


@lru_cache(maxsize=1)
def mix_parts() -> dict[str, Part]:
    """The parts of mixes by key."""
    return {
        key: Part(key, row["name"], row["short"], row["dry_kg"], tuple(row["packs"]), row["dusty"], "compost" in row)
        for key, row in mixes_book()["parts"].items()
    }


@lru_cache(maxsize=1)
def recipes() -> dict[str, Recipe]:
    """The handbook's recipes by key."""
    return {
        row["key"]: Recipe(row["key"], row["name"], tuple(row["parts"].items()), row["wet_kg"], row["text"])
        for row in mixes_book()["recipes"]
    }
