"""What a person does to the record: choose by what plans are made, say what a plant costs."""

from __future__ import annotations

from decimal import Decimal
from typing import Final

from elder.web.garden.models import Garden
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.record.models import PlantPrice

PLAN_BY_WORDS: Final = {
    "handbook": "by the handbook alone",
    "mine": "by your own batches alone, where enough have told",
    "both": "by your own batches and the handbook",
}


def choose_plan_by(garden: Garden, by: str) -> Undo:
    """Plan by the handbook, by one's own batches or by both. The way back chooses what was chosen before."""
    before = garden.plan_by
    Garden.objects.filter(pk=garden.pk).update(plan_by=by)
    garden.plan_by = by
    return Undo("plan-by", {"by": before})


@takes_back("plan-by", verb="plan")
def plan_by_again(asked: Asked) -> Undone:
    """Choose what was chosen before."""
    by = asked.text("by")
    if by not in Garden.PlanBy.values:
        return Undone("It cannot be undone any more.", "record", held=True)
    Garden.objects.filter(pk=asked.garden.pk).update(plan_by=by)
    return Undone(f"Undone: plans are made {PLAN_BY_WORDS[by]}.", "record")


def say_price(garden: Garden, plant: str, price: Decimal | None) -> Undo:
    """Say what a plant costs to buy; nothing forgets it."""
    row = PlantPrice.objects.filter(garden=garden, plant=plant).first()
    before = str(row.price) if row else ""
    if price is None:
        PlantPrice.objects.filter(garden=garden, plant=plant).delete()
    else:
        PlantPrice.objects.update_or_create(garden=garden, plant=plant, defaults={"price": price})
    return Undo("plant-price", {"plant": plant, "price": before})


@takes_back("plant-price", verb="tend")
def price_again(asked: Asked) -> Undone:
    """The price as it was."""
    price = asked.text("price")
    say_price(asked.garden, asked.text("plant"), Decimal(price) if price else None)
    return Undone("Undone.", "record-became")
