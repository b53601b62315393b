"""Containers: jars, pots, trays, bins and rows with their shape and size, as shipped or as a household wrote them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from elder.engine.handbook.tables import read_bench
from elder.engine.shed.shapes import SHAPES, Shape


@dataclass(frozen=True)
class Vessel:
    """A container. ``volume_l`` to the brim, of all its cells, as stated or by its shape; ``takes``: so many stems by
    class, where that is known; ``foot_cm``: the floor it takes; ``spacing_cm`` between stems in a row or bed;
    ``gone``: a household has it no more, but batches stood in it."""

    key: str
    kind: str
    one: str
    many: str
    shape: Shape
    said: str = ""
    litres: float = 0.0
    cells: int = 0
    fill: float = 1.0
    takes: Mapping[str, int] = field(default_factory=dict, hash=False)
    empty_kg: float = 0.0
    foot: tuple[float, float] | None = None
    spacing_cm: float = 0.0
    gone: bool = False

    @property
    def volume_l(self) -> float:
        """Litres to the brim."""
        return self.litres or self.shape.volume_l * max(self.cells, 1)

    @property
    def filled_l(self) -> float:
        """Litres that stand in it once it is filled, a finger below the rim."""
        return self.volume_l * self.fill

    @property
    def foot_cm(self) -> tuple[float, float]:
        """The floor it takes, cm by cm."""
        return self.foot or self.shape.foot_cm

    @property
    def is_round(self) -> bool:
        """Whether it stands on a round foot, so that neighbours may stand in each other's gaps."""
        return self.shape.is_round and not self.foot

    def stems(self, kind: str) -> int:
        """How many stems of a class it takes: one to a cell, else what practice says, else what its surface gives room
        to."""
        if self.cells:
            return self.cells
        known = self.takes.get(kind)
        return known if known else max(int(self.shape.surface_cm2 / containers_book()["room_cm2"][kind] + 1e-9), 1)


@lru_cache(maxsize=1)
def containers_book() -> dict[str, Any]:
    """The table as it was read."""
    return read_bench("containers")[0]


@lru_cache(maxsize=1)
def shipped() -> dict[str, Vessel]:
    """The containers of the handbook by key."""
    return {row["key"]: vessel_of(row) for row in containers_book()["containers"]}


def vessel_of(raw: Mapping[str, Any]) -> Vessel:
    """A container as the handbook or a household writes it. Raises ValueError for a shape that cannot be."""
    (name, sizes), = raw["shape"].items()  # fmt: skip
    foot = raw.get("foot")
    return Vessel(
        key=raw["key"], kind=raw["kind"], one=raw["one"], many=raw["many"], shape=SHAPES[name](*sizes),
        said=raw.get("said", ""), litres=raw.get("litres", 0.0), cells=raw.get("cells", 0), fill=raw.get("fill", 1.0),
        takes=raw.get("takes", {}), empty_kg=raw.get("empty_kg", 0.0), foot=tuple(foot) if foot else None,
        spacing_cm=raw.get("spacing", 0.0), gone=raw.get("gone", False),
    )  # fmt: skip
