"""What a person does with mothers: one function a verb."""

from __future__ import annotations

from datetime import date

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.web.garden.models import Garden, Person
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.say.words import day_words
from elder.web.stock.models import StockLook, StockPhoto, StockPlant, VarietyAnswer
from elder.web.ui.photos import FitPhoto


@transaction.atomic
def look_at(mother: StockPlant, look: StockLook, photo: FitPhoto | None, *, person: Person) -> StockLook:
    """Write down how a mother was seen, with its photo; the same form twice writes it once."""
    again = StockLook.objects.filter(key=look.key, mother=mother).first() if look.key else None
    if again:
        return again
    look.mother, look.by = mother, person
    look.save()
    if photo:
        StockPhoto.objects.create(look=look, data=photo.data, width_px=photo.width_px, height_px=photo.height_px)
    return look


def unlooking(look: StockLook) -> Undo:
    """The way back from a look."""
    return Undo("mother-look", {"look": look.pk})


@takes_back("mother-look", verb="tend")
def unlook(asked: Asked) -> Undone:
    """Take a look back."""
    row = get_object_or_404(StockLook, pk=asked.number("look"), mother__garden=asked.garden)
    row.delete()
    return Undone(f"Taken back: the look of {day_words(row.on, asked.today)}.", "stock-plant", (row.mother_id,))


def end(mother: StockPlant, *, on: date, why: str) -> Undo:
    """Say that a mother is no more. Its line stays."""
    mother.ended_on, mother.ended_why = on, why
    mother.save(update_fields=["ended_on", "ended_why"])
    return Undo("mother-end", {"mother": mother.pk})


@takes_back("mother-end", verb="plan")
def not_ended(asked: Asked) -> Undone:
    """She stands again."""
    mother = get_object_or_404(StockPlant, pk=asked.number("mother"), garden=asked.garden)
    mother.ended_on, mother.ended_why = None, ""
    mother.save(update_fields=["ended_on", "ended_why"])
    return Undone(f"{mother.name} stands again.", "stock-plant", (mother.pk,))


def adopt_batches(mother: StockPlant) -> int:
    """Batches that bear its name as text are its own from now on. How many."""
    named = mother.garden.batches.filter(plant=mother.plant, stock_plant__iexact=mother.name, mother=None)
    return named.update(mother=mother)


def is_used(mother: StockPlant) -> bool:
    """Whether a mother was looked at, cut, or is wanted: then it has a line that is kept."""
    return mother.looks.exists() or mother.takes.exists() or mother.wants.exists()


def answer_for_variety(
    garden: Garden, plant: str, variety: str, *, protected: str, quarantine: str, on: date, person: Person
) -> VarietyAnswer:
    """Remember what was said of a variety; asked again it takes the place of what was said before."""
    answer, _ = VarietyAnswer.objects.update_or_create(
        garden=garden, plant=plant, variety=variety,
        defaults={"protected": protected, "quarantine": quarantine, "on": on, "by": person},
    )  # fmt: skip
    return answer
