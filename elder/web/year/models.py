"""Lines that are multiplied, and the lots cut for them."""

from __future__ import annotations

from typing import ClassVar

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Person, Place
from elder.web.stock.models import StockPlant

MOST_MULTIPLIED = 1000


class Multiplying(models.Model):
    """A line multiplied to so many plants by a day. ``gives``: what one young plant gives at a time (0: it is not cut
    itself), ``again_days`` until it gives as many again, ``first_take_days`` from the day it is a plant until it is
    first cut; ``keep_uncut`` the share left uncut at the end; ``weekday`` (Monday 0) the only one cut on, if any;
    ``mother_takes`` how often a tuber still gives."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="multiplying")
    plant = models.SlugField(max_length=40)
    variety = models.CharField(max_length=60, blank=True)
    method = models.SlugField(max_length=40)
    mothers = models.ManyToManyField(StockPlant, related_name="multiplying")
    wanted = models.PositiveSmallIntegerField(validators=[MinValueValidator(1), MaxValueValidator(MOST_MULTIPLIED)])
    by = models.DateField()
    confidence = models.FloatField(default=0.9)
    rooting_place = models.ForeignKey(Place, on_delete=models.RESTRICT, related_name="+")
    growing_place = models.ForeignKey(Place, on_delete=models.RESTRICT, related_name="+")
    gives = models.PositiveSmallIntegerField(validators=[MaxValueValidator(200)])
    again_days = models.PositiveSmallIntegerField(validators=[MinValueValidator(1), MaxValueValidator(1500)])
    first_take_days = models.PositiveSmallIntegerField(validators=[MaxValueValidator(1500)])
    keep_uncut = models.FloatField(default=0.0)
    mothers_count = models.BooleanField(default=True)
    mother_takes = models.PositiveSmallIntegerField(null=True, blank=True, validators=[MinValueValidator(1)])
    weekday = models.PositiveSmallIntegerField(null=True, blank=True, validators=[MaxValueValidator(6)])
    made_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    made_on = models.DateField()
    closed_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering: ClassVar = ["pk"]

    def __str__(self) -> str:
        return f"{self.wanted} {self.plant}"


class LineLot(models.Model):
    """What was cut for a line in one go from one generation: the batch it became, and how many plants were cut for it.
    ``source`` is the lot whose plants were cut; none: the first mothers."""

    line = models.ForeignKey(Multiplying, on_delete=models.CASCADE, related_name="lots")
    batch = models.OneToOneField(Batch, on_delete=models.CASCADE, related_name="line_lot")
    source = models.ForeignKey("self", null=True, blank=True, on_delete=models.SET_NULL, related_name="cut_for")
    generation = models.PositiveSmallIntegerField(default=1)
    plants_cut = models.PositiveSmallIntegerField(default=1)

    class Meta:
        ordering: ClassVar = ["batch_id"]

    def __str__(self) -> str:
        return f"lot of generation {self.generation}"
