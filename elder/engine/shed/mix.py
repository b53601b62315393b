"""Mix by parts: so many litres of each, in whole packs, dry and wet weight; and which recipe a plant's stage wants."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Final

from elder.engine.handbook.bench import bench_facts, first_that_fits
from elder.engine.handbook.model import Method, Plant
from elder.engine.shed.kit import PLAIN, Kit
from elder.engine.shed.recipes import Recipe, mix_parts, mixes_book

SETTLE: Final = 0.15  # loose mix settles by so much (common practice): poured V / (1 − 0.15) stands at V
MIX_MEDIA: Final = ("mix", "stick", "bark", "pot")  # media that are mixed; the others are bought as they are
WHOLE_SLACK: Final = 1e-9  # litres: what is exactly a pack is one pack


@dataclass(frozen=True)
class Packs:
    """Whole packs of one size that hold what is wanted: how many, how many litres each, what is over."""

    count: int
    size_l: float
    over_l: float


def usual_recipe(
    plant: Plant, method: Method, stage: str, chosen: Mapping[str, str] | None = None, kit: Kit = PLAIN
) -> Recipe | None:
    """The mix of a stage (``root`` or ``pot``): of the school chosen, else the usual one; nothing where it stands in
    none."""
    if stage == "root":
        if method.medium not in MIX_MEDIA:
            return None
        if school := mixes_book()["schools"].get((chosen or {}).get("mix", "")):
            return kit.mixed(school)
    row = first_that_fits(mixes_book()[stage], bench_facts(plant, method))
    return kit.mixed(row["recipe"]) if row else None


def ph_range(plant: Plant) -> tuple[float, float] | None:
    """The lowest and highest pH a plant wants of its mix, where that matters."""
    found = mixes_book()["ph"].get(plant.kin)
    return (found[0], found[1]) if found else None


def mix_for(recipe: Mapping[str, float], litres: float, settle: float = SETTLE) -> dict[str, float]:
    """Litres of each part to pour so that ``litres`` stand once they have settled; they sum to litres / (1 − settle).

    Raises ValueError for a recipe without a part, a share below nought, litres below nought, or a settling that leaves
    nothing.
    """
    total = math.fsum(recipe.values())
    if not total > 0 or not math.isfinite(total) or any(share < 0 for share in recipe.values()):
        raise ValueError("a recipe has parts, none of them below nought")
    if not (litres >= 0 and math.isfinite(litres)) or not 0 <= settle < 1:
        raise ValueError("litres are nought or more, and some is left once it has settled")
    poured = litres / (1 - settle)
    return {part: poured * share / total for part, share in recipe.items()}


def whole_packs(litres: float, size_l: float) -> Packs:
    """The least whole packs of a size that hold so many litres. Raises ValueError for a pack of nought."""
    if not size_l > 0:
        raise ValueError("a pack holds something")
    count = math.ceil(litres / size_l - WHOLE_SLACK) if litres > 0 else 0
    return Packs(count, size_l, max(count * size_l - max(litres, 0.0), 0.0))


def cheapest_packs(litres: float, sizes: Iterable[tuple[float, float]]) -> Packs:
    """Of packs by size and price the one that costs least, then leaves least over. Raises ValueError for none."""
    offered = [(whole_packs(litres, size), price) for size, price in sizes]
    if not offered:
        raise ValueError("at least one pack is offered")
    return min(offered, key=lambda one: (one[0].count * one[1], one[0].over_l, one[0].count))[0]


def dry_weight_kg(poured: Mapping[str, float]) -> float:
    """What poured litres by part weigh as they come. Parts nobody knows count as potting mix."""
    known = mix_parts()
    return math.fsum(litres * known.get(part, known["potting"]).dry_kg for part, litres in poured.items())
