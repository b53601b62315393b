"""Stock plants: the mothers that cuttings are taken from."""

from __future__ import annotations

from typing import ClassVar

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from elder.web.garden.models import Garden


class StockPlant(models.Model):
    """One mother plant: what it is called, what it is, how many cuttings it gives at a time and how long until
    it gives as many again."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="stock_plants")
    name = models.CharField(max_length=80)
    plant = models.SlugField(max_length=40)
    variety = models.CharField(max_length=60, blank=True)
    gives = models.PositiveSmallIntegerField(validators=[MinValueValidator(1), MaxValueValidator(500)])
    again_days = models.PositiveSmallIntegerField(validators=[MinValueValidator(1), MaxValueValidator(1500)])

    class Meta:
        ordering: ClassVar = ["name"]
        constraints: ClassVar = [models.UniqueConstraint(fields=["garden", "name"], name="stock_names_differ")]

    def __str__(self) -> str:
        return self.name
