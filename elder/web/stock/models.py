"""Stock plants: the mothers that cuttings are taken from, what was seen of them, and what was asked of a variety."""

from __future__ import annotations

from typing import ClassVar

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.utils import timezone

from elder.web.garden.models import Garden, Person, Place


class StockPlant(models.Model):
    """A mother plant: what it is called, what it is, where it came from, how many cuttings it gives at a time and how
    long until it gives as many again. ``raised_from`` is the batch it was kept from, if it is a clone of ours."""

    class Origin(models.TextChoices):
        SEED = "seed", "own seed"
        GIFT = "gift", "a gift, with permission"
        BOUGHT = "bought", "bought"
        OURS = "ours", "a batch of ours"
        THERE = "there", "it was here before us"

    class Ended(models.TextChoices):
        DIED = "died", "died"
        FRUITED = "fruited", "fruited and finished"
        DISEASED = "diseased", "diseased, and destroyed"
        DUG = "dug", "dug out"
        GIVEN = "given", "given away"
        LEFT = "left", "stands in another garden"

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="stock_plants")
    name = models.CharField(max_length=80)
    plant = models.SlugField(max_length=40)
    variety = models.CharField(max_length=60, blank=True)
    gives = models.PositiveSmallIntegerField(validators=[MinValueValidator(1), MaxValueValidator(500)])
    again_days = models.PositiveSmallIntegerField(validators=[MinValueValidator(1), MaxValueValidator(1500)])
    origin = models.CharField(max_length=8, choices=Origin, default=Origin.THERE)
    raised_from = models.ForeignKey(
        "batches.Batch", null=True, blank=True, on_delete=models.SET_NULL, related_name="kept_plants"
    )
    place = models.ForeignKey(Place, null=True, blank=True, on_delete=models.SET_NULL, related_name="stock_plants")
    since = models.DateField(null=True, blank=True)
    ended_on = models.DateField(null=True, blank=True)
    ended_why = models.CharField(max_length=8, choices=Ended, blank=True)
    note = models.TextField(max_length=2000, blank=True)

    class Meta:
        ordering: ClassVar = ["name"]
        constraints: ClassVar = [models.UniqueConstraint(fields=["garden", "name"], name="stock_names_differ")]

    def __str__(self) -> str:
        return self.name


class Heritage(models.Model):
    """The family a mother brought with her from another garden: ``line``, from what she was cut from back to the first,
    each with its name, its days and how it was made (see ``formats/plant_file``); ``told`` what else came with her."""

    stock = models.OneToOneField(StockPlant, on_delete=models.CASCADE, related_name="heritage")
    key = models.UUIDField(unique=True)
    line = models.JSONField(default=list)
    told = models.JSONField(default=dict)
    on = models.DateField()

    class Meta:
        verbose_name_plural = "heritages"

    def __str__(self) -> str:
        return f"{self.stock}, {len(self.line)} before"


class StockLook(models.Model):
    """A mother as it was seen on a day: its growth, wood and health, and what was counted on it."""

    class Growth(models.TextChoices):
        GROWING = "growing", "growing"
        RESTING = "resting", "at rest"
        FLOWERING = "flowering", "in flower"
        FRUITING = "fruiting", "in fruit"
        FRUITED = "fruited", "fruited, at its end"

    class Wood(models.TextChoices):
        SOFT = "soft", "soft"
        HALF = "half", "half ripe"
        RIPE = "ripe", "ripe"
        BARE = "bare", "bare"

    class Health(models.TextChoices):
        WELL = "well", "well"
        HUNGRY = "hungry", "yellow or hungry"
        PESTS = "pests", "has pests"
        DISEASED = "diseased", "diseased"

    mother = models.ForeignKey(StockPlant, on_delete=models.CASCADE, related_name="looks")
    key = models.UUIDField(null=True, blank=True, unique=True)
    on = models.DateField()
    growth = models.CharField(max_length=10, choices=Growth, default=Growth.GROWING)
    wood = models.CharField(max_length=6, choices=Wood, blank=True)
    health = models.CharField(max_length=10, choices=Health, default=Health.WELL)
    shoots = models.PositiveSmallIntegerField(null=True, blank=True)
    pups = models.PositiveSmallIntegerField(null=True, blank=True)
    stalks = models.PositiveSmallIntegerField(null=True, blank=True)
    note = models.TextField(max_length=2000, blank=True)
    by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    made_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering: ClassVar = ["on", "pk"]

    def __str__(self) -> str:
        return f"{self.on} {self.growth} {self.health}"


class StockPhoto(models.Model):
    """A photo of a mother: a JPEG, made smaller and without anything the camera wrote into it."""

    look = models.OneToOneField(StockLook, on_delete=models.CASCADE, related_name="photo")
    data = models.BinaryField()
    width_px = models.PositiveSmallIntegerField()
    height_px = models.PositiveSmallIntegerField()

    def __str__(self) -> str:
        return f"{self.width_px}×{self.height_px}"


class VarietyAnswer(models.Model):
    """What a household said of a variety when asked, once: whether it is protected, and whether moving it is
    restricted where they live."""

    class Said(models.TextChoices):
        NO = "no", "no"
        LICENCE = "licence", "yes, and I may"
        YES = "yes", "yes"
        UNKNOWN = "unknown", "I do not know"

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="variety_answers")
    plant = models.SlugField(max_length=40)
    variety = models.CharField(max_length=60, blank=True)
    protected = models.CharField(max_length=8, choices=Said, default=Said.UNKNOWN)
    quarantine = models.CharField(max_length=8, choices=Said, default=Said.UNKNOWN)
    on = models.DateField()
    by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["garden", "plant", "variety"], name="asked_once_of_a_variety")
        ]

    def __str__(self) -> str:
        return f"{self.plant} {self.variety}".strip()
