"""Moves from one garden to another, what becomes of each plant, and the waterings at the new place."""

from __future__ import annotations

from typing import ClassVar

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Person, Place
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant

MOST_HEDGE_M = 60


class HouseMove(models.Model):
    """A garden is left on a day, for another (none yet: it is not described). ``asks``: by question of
    ``say/moving``, what was answered and whom one asked. The vehicle's floor and height in cm (no height: open)."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="moves")
    key = models.UUIDField(unique=True)
    to = models.ForeignKey(Garden, null=True, blank=True, on_delete=models.SET_NULL, related_name="moves_here")
    day = models.DateField()
    vehicle = models.CharField(max_length=60, blank=True)
    long_cm = models.FloatField(default=250, validators=[MinValueValidator(40), MaxValueValidator(1400)])
    wide_cm = models.FloatField(default=130, validators=[MinValueValidator(40), MaxValueValidator(300)])
    high_cm = models.FloatField(null=True, blank=True, validators=[MinValueValidator(30), MaxValueValidator(400)])
    carries_kg = models.FloatField(default=500, validators=[MinValueValidator(20), MaxValueValidator(20_000)])
    asks = models.JSONField(default=dict, blank=True)
    made_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    made_on = models.DateField()
    moved_on = models.DateField(null=True, blank=True)
    off_on = models.DateField(null=True, blank=True)  # called off

    class Meta:
        ordering: ClassVar = ["pk"]

    def __str__(self) -> str:
        return f"move on {self.day}"


class MovedPlant(models.Model):
    """What becomes of one plant of a move. ``what`` is its key on the list (a mother or a batch, in a pot or a bed);
    ``way`` the one chosen, empty for the one advised; how tall it stands and how thick its stem is, where that was
    measured; ``want`` what its cuttings are raised by. Then what was done: dug (or its seed gathered), arrived,
    planted, and as what it stands in the new garden."""

    move = models.ForeignKey(HouseMove, on_delete=models.CASCADE, related_name="plants")
    what = models.SlugField(max_length=40)
    way = models.CharField(max_length=10, blank=True)
    height_cm = models.FloatField(null=True, blank=True, validators=[MinValueValidator(3), MaxValueValidator(600)])
    stem_cm = models.FloatField(null=True, blank=True, validators=[MinValueValidator(0), MaxValueValidator(40)])
    hedge_m = models.FloatField(
        null=True, blank=True, validators=[MinValueValidator(0.5), MaxValueValidator(MOST_HEDGE_M)]
    )
    want = models.ForeignKey(Want, null=True, blank=True, on_delete=models.SET_NULL, related_name="moved_by")
    done_on = models.DateField(null=True, blank=True)
    arrived = models.BooleanField(default=False)
    stock = models.ForeignKey(StockPlant, null=True, blank=True, on_delete=models.SET_NULL, related_name="moved_as")
    batch = models.ForeignKey(Batch, null=True, blank=True, on_delete=models.SET_NULL, related_name="moved_as")
    planted_on = models.DateField(null=True, blank=True)
    planted_at = models.ForeignKey(Place, null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    water_l = models.FloatField(default=0)

    class Meta:
        ordering: ClassVar = ["pk"]
        constraints: ClassVar = [models.UniqueConstraint(fields=["move", "what"], name="moved_once")]

    def __str__(self) -> str:
        return self.what


class Watering(models.Model):
    """A deep watering of what was planted at the new place."""

    plant = models.ForeignKey(MovedPlant, on_delete=models.CASCADE, related_name="waterings")
    key = models.UUIDField(unique=True)
    on = models.DateField()
    by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering: ClassVar = ["on", "pk"]

    def __str__(self) -> str:
        return str(self.on)
