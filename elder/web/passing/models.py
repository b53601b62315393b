"""What is promised to others, and what was handed over."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Person
from elder.web.season.models import Want

MOST_KEPT = 50


class Promise(models.Model):
    """So many plants for somebody by a day. How many, of what and by when stand on its want, so that the season counts
    them in; what is kept for oneself are that want's spares. ``who``: a word of one's own. ``far_c``: the other end is
    so many °C warmer. ``soil`` and ``border`` are what was answered: whether soil may travel, and whether it
    crosses a border."""

    class PassedAs(models.TextChoices):
        GIFT = "gift", "a gift"
        SWAP = "swap", "a swap"
        ORDER = "order", "an order"
        SALE = "sale", "a sale"

    class Goes(models.TextChoices):
        HAND = "hand", "from hand to hand"
        PARCEL = "parcel", "in a parcel"

    class Answered(models.TextChoices):
        UNKNOWN = "unknown", "I do not know yet"
        NO = "no", "no"
        YES = "yes", "yes"

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="promises")
    key = models.UUIDField(unique=True)
    want = models.OneToOneField(Want, on_delete=models.CASCADE, related_name="promise")
    who = models.CharField(max_length=60)
    how = models.CharField(max_length=8, choices=PassedAs, default=PassedAs.GIFT)
    price = models.DecimalField(
        max_digits=8, decimal_places=2, null=True, blank=True, validators=[MinValueValidator(0)]
    )
    swap = models.CharField(max_length=120, blank=True)
    goes = models.CharField(max_length=8, choices=Goes, default=Goes.HAND)
    road_days = models.PositiveSmallIntegerField(default=2, validators=[MinValueValidator(1), MaxValueValidator(21)])
    inner_cm = models.FloatField(default=35, validators=[MinValueValidator(8), MaxValueValidator(200)])
    far_c = models.FloatField(default=0, validators=[MinValueValidator(-20), MaxValueValidator(20)])
    border = models.CharField(max_length=8, choices=Answered, default=Answered.UNKNOWN)
    soil = models.CharField(max_length=8, choices=Answered, default=Answered.UNKNOWN)
    answered_on = models.DateField(null=True, blank=True)
    # What its slip is found under by whoever has it in hand: nothing else leads there.
    slip_key = models.UUIDField(unique=True, default=uuid.uuid4, editable=False)
    made_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    made_on = models.DateField()
    over_on = models.DateField(null=True, blank=True)  # all handed over, or called off

    class Meta:
        ordering: ClassVar = ["pk"]

    def __str__(self) -> str:
        return f"{self.want} for {self.who}"

    @property
    def handed(self) -> int:
        """How many have gone."""
        return self.want.handed_over

    @property
    def left(self) -> int:
        """How many are still to go."""
        return max(self.want.wanted - self.want.handed_over, 0)


class Handing(models.Model):
    """So many handed over on a day, and what was had for them. ``batch``: of an unrooted cut, the batch it is."""

    promise = models.ForeignKey(Promise, on_delete=models.CASCADE, related_name="handings")
    key = models.UUIDField(unique=True)
    on = models.DateField()
    count = models.PositiveSmallIntegerField(validators=[MinValueValidator(1)])
    money = models.DecimalField(
        max_digits=8, decimal_places=2, null=True, blank=True, validators=[MinValueValidator(0)]
    )
    swap = models.CharField(max_length=120, blank=True)
    batch = models.ForeignKey(Batch, null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering: ClassVar = ["on", "pk"]

    def __str__(self) -> str:
        return f"{self.count} on {self.on}"
