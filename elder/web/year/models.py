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
    ``source`` is the lot whose plants were cut; none: the first mothers. ``plant_on``: the day its plants count from,
    as it was reckoned at the cut."""

    line = models.ForeignKey(Multiplying, on_delete=models.CASCADE, related_name="lots")
    batch = models.OneToOneField(Batch, on_delete=models.CASCADE, related_name="line_lot")
    source = models.ForeignKey("self", null=True, blank=True, on_delete=models.SET_NULL, related_name="cut_for")
    generation = models.PositiveSmallIntegerField(default=1)
    plants_cut = models.PositiveSmallIntegerField(default=1)
    plant_on = models.DateField()

    class Meta:
        ordering: ClassVar = ["batch_id"]

    def __str__(self) -> str:
        return f"lot of generation {self.generation}"


class Wintered(models.Model):
    """Plants of one kind taken through a winter: what was done with them, how many, where they stand since, how many
    are wanted of them in spring, how many lived. ``winter`` is the year of the midsummer before. ``stock`` or ``batch``
    is where they came from; ``tops`` the batch their tops became. ``airs``: they are carried out on mild days."""

    class DoneBy(models.TextChoices):
        POT_IN = "in", "carried in, pot and all"
        DUG = "dug", "dug and potted"
        COVERED = "covered", "covered where it stands"
        TOPS = "tops", "tops struck"

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="wintered")
    winter = models.PositiveSmallIntegerField()
    key = models.UUIDField(unique=True)
    plant = models.SlugField(max_length=40)
    variety = models.CharField(max_length=60, blank=True)
    way = models.CharField(max_length=8, choices=DoneBy)
    stock = models.ForeignKey(StockPlant, null=True, blank=True, on_delete=models.SET_NULL, related_name="wintered")
    batch = models.ForeignKey(Batch, null=True, blank=True, on_delete=models.SET_NULL, related_name="wintered")
    tops = models.OneToOneField(Batch, null=True, blank=True, on_delete=models.SET_NULL, related_name="winter_tops")
    place = models.ForeignKey(Place, null=True, blank=True, on_delete=models.RESTRICT, related_name="+")
    stood_at = models.ForeignKey(Place, null=True, blank=True, on_delete=models.RESTRICT, related_name="+")
    count = models.PositiveSmallIntegerField(validators=[MinValueValidator(1)])
    wanted = models.PositiveSmallIntegerField(validators=[MinValueValidator(1)])
    on = models.DateField()
    out_on = models.DateField(null=True, blank=True)
    airs = models.BooleanField(default=False)
    lived = models.PositiveSmallIntegerField(null=True, blank=True)
    lived_on = models.DateField(null=True, blank=True)
    done_on = models.DateField(null=True, blank=True)
    made_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering: ClassVar = ["pk"]
        verbose_name_plural = "wintered"

    def __str__(self) -> str:
        return f"{self.count} {self.plant}, winter {self.winter}"


class WinterCheck(models.Model):
    """A look at what winters: how many had died since the look before, and whether there were pests."""

    wintered = models.ForeignKey(Wintered, on_delete=models.CASCADE, related_name="checks")
    key = models.UUIDField(unique=True)
    on = models.DateField()
    lost = models.PositiveSmallIntegerField(default=0)
    pests = models.BooleanField(default=False)
    by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering: ClassVar = ["on", "pk"]

    def __str__(self) -> str:
        return f"{self.on}: {self.lost} lost"


class PotUp(models.Model):
    """A mother that stands in a pot, put into one: of which kind, on a day."""

    stock = models.ForeignKey(StockPlant, on_delete=models.CASCADE, related_name="pots")
    key = models.UUIDField(unique=True)
    container = models.CharField(max_length=60)
    on = models.DateField()
    by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering: ClassVar = ["on", "pk"]

    def __str__(self) -> str:
        return f"{self.container} {self.on}"
