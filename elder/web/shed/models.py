"""What is in the shed: things with their packs and prices, and what was counted, bought and used of them."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models
from django.utils import timezone

from elder.web.garden.models import Garden, Person, between

MOST: float = 100_000  # of anything in a shed


class Supply(models.Model):
    """How a garden buys a thing: the pack it comes in, what that costs, and the dates on its jar. ``what`` is the
    engine's key: a part of a mix in litres, a container or a label by the piece, hormone in grams or millilitres."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="supplies")
    what = models.CharField(max_length=60)
    pack = models.FloatField(default=1, validators=between(0.01, MOST))
    price = models.DecimalField(max_digits=9, decimal_places=2, null=True, blank=True)
    opened_on = models.DateField(null=True, blank=True)
    use_by = models.DateField(null=True, blank=True)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["garden", "what"], name="one_supply_each")]
        verbose_name_plural = "supplies"

    def __str__(self) -> str:
        return self.what


class ShedEntry(models.Model):
    """One line of the shed's book. What batches use is not written here: it follows from their histories."""

    class Deed(models.TextChoices):
        COUNTED = "counted", "counted"
        BOUGHT = "bought", "bought"
        USED = "used", "used"
        MADE = "made", "mixed"

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="shed_entries")
    key = models.UUIDField(default=uuid.uuid4, editable=False)
    what = models.CharField(max_length=60)
    kind = models.CharField(max_length=8, choices=Deed)
    amount = models.FloatField(validators=between(0, MOST))
    on = models.DateField()
    by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    made_at = models.DateTimeField(default=timezone.now, editable=False, db_index=True)

    class Meta:
        ordering: ClassVar = ["pk"]
        verbose_name_plural = "shed entries"
        constraints: ClassVar = [models.UniqueConstraint(fields=["garden", "key", "what"], name="written_once")]

    def __str__(self) -> str:
        return f"{self.on} {self.kind} {self.amount:g} {self.what}"


class MixOrder(models.Model):
    """Mix that is to be made by a day for so many containers, besides what wants and batches ask."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="mix_orders")
    key = models.UUIDField(default=uuid.uuid4, editable=False)
    recipe = models.SlugField(max_length=40)
    vessel = models.CharField(max_length=40)
    count = models.PositiveSmallIntegerField()
    by = models.DateField()
    mixed_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering: ClassVar = ["by", "pk"]
        constraints: ClassVar = [models.UniqueConstraint(fields=["garden", "key"], name="ordered_once")]

    def __str__(self) -> str:
        return f"{self.count} {self.vessel} of {self.recipe}"
