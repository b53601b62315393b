"""Batches and their histories. A history is only ever added to."""

from __future__ import annotations

import uuid
from typing import ClassVar, NoReturn

from django.db import models
from django.utils import timezone

from elder.engine.cut.codes import code_of, number_of
from elder.web.garden.models import Garden, Person, Place
from elder.web.stock.models import StockPlant


class Batch(models.Model):
    """So many cuttings of one stock plant, struck one day by one method in one place.

    ``plan`` keeps what it was made under: the inputs, and the forecast of that day.
    """

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="batches")
    want = models.ForeignKey("season.Want", null=True, blank=True, on_delete=models.SET_NULL, related_name="batches")
    # Other wants it serves besides, each in the order it was made, after the first has had its number.
    also_for = models.ManyToManyField("season.Want", related_name="also_from", blank=True)
    plant = models.SlugField(max_length=40)
    variety = models.CharField(max_length=60, blank=True)
    method = models.SlugField(max_length=40)
    # The mother it was cut from, and what she was called that day; a name alone where she is not on the list.
    mother = models.ForeignKey(StockPlant, null=True, blank=True, on_delete=models.SET_NULL, related_name="takes")
    stock_plant = models.CharField(max_length=80)
    rooting_place = models.ForeignKey(Place, on_delete=models.RESTRICT, related_name="+")
    growing_place = models.ForeignKey(Place, on_delete=models.RESTRICT, related_name="+")
    plan = models.JSONField(default=dict)
    # What held its cuttings back when they were cut: names of elder.engine.plan.condition, which lower its take.
    condition = models.JSONField(default=list, blank=True)
    # How it was treated: the school chosen for each question of the cut sheet, so that the record can set them apart.
    treatment = models.JSONField(default=dict, blank=True)
    # The day after which nothing was left to be done, as its history says; kept here so that the daily round
    # need not read the histories of batches long over.
    over_on = models.DateField(null=True, blank=True, db_index=True)
    # What its label says, where it was written on another installation: a label in a pot is not written anew.
    label = models.CharField(max_length=16, blank=True)
    made_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering: ClassVar = ["pk"]
        verbose_name_plural = "batches"

    def __str__(self) -> str:
        return f"{self.plant} from {self.stock_plant}"

    @property
    def code(self) -> str:
        """What its label says: short, and said without being misheard."""
        return self.label or code_of(self.pk)


def coded(typed: str) -> models.Q | None:
    """How the batch of a code somebody typed is asked for; nothing where it is no code. What came from another
    installation is called what its label says, whatever number it has here."""
    number = number_of(typed)
    return models.Q(label=code_of(number)) | models.Q(label="", pk=number) if number else None


class AppendOnly(models.QuerySet["Entry"]):
    """Rows that may be added and read, not altered or removed one by one."""

    def update(self, **kwargs: object) -> NoReturn:
        raise TypeError("a history is only added to")

    def delete(self) -> NoReturn:
        raise TypeError("a history is only added to")


class Entry(models.Model):
    """One dated line of a batch's history; ``strikes`` an earlier one that this puts right."""

    class Kind(models.TextChoices):
        TAKEN = "taken", "taken"
        LOOKED = "looked", "looked at"
        ROOTED = "rooted", "newly rooted"
        LOST = "lost", "lost"
        NOTE = "note", "note"
        POTTED = "potted", "potted on"
        HARDENING = "hardening", "put out to harden"
        PLANTED = "planted", "planted out"
        LIFTED = "lifted", "lifted and potted"
        GIVEN = "given", "given away"
        HARVESTED = "harvested", "first harvest"
        TENDED = "tended", "tended"
        MOVED = "moved", "moved to another place"
        POTTED_UP = "potted_up", "potted up a size"
        TRIMMED = "trimmed", "trimmings"
        STRUCK = "struck", "struck out"

    class Why(models.TextChoices):
        ROT = "rot", "rotted at the base"
        DRY = "dry", "dried out"
        COLD = "cold", "cold or frost"
        PESTS = "pests", "pests or disease"
        GAVE_UP = "gave_up", "given up on"
        ACCIDENT = "accident", "an accident"
        UNKNOWN = "unknown", "cannot say"

    class How(models.TextChoices):
        GIFT = "gift", "a gift"
        SWAP = "swap", "swapped"
        ORDER = "order", "for an order"
        SALE = "sale", "sold"
        CARRIED = "carried", "carried to another garden"
        EATEN = "eaten", "eaten"

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="entries")
    key = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    kind = models.CharField(max_length=12, choices=Kind)
    on = models.DateField()
    count = models.PositiveSmallIntegerField(default=0)
    stage = models.CharField(max_length=12, blank=True)
    why = models.CharField(max_length=12, choices=Why, blank=True)
    note = models.TextField(max_length=2000, blank=True)
    # What was done (a care of the engine; of what was given, how it went), what was seen (its signs), how long the
    # longest root, and where to.
    deed = models.CharField(max_length=12, blank=True)
    signs = models.CharField(max_length=200, blank=True)  # by their keys, a space between
    root_cm = models.FloatField(default=0)
    place = models.ForeignKey(Place, null=True, blank=True, on_delete=models.RESTRICT, related_name="+")
    strikes = models.OneToOneField("self", null=True, blank=True, on_delete=models.RESTRICT, related_name="struck_by")
    by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    made_at = models.DateTimeField(default=timezone.now, editable=False)

    objects = AppendOnly.as_manager()

    class Meta:
        ordering: ClassVar = ["pk"]
        verbose_name_plural = "entries"
        # Every page asks whether a line is dated after today: without it, of every line there is.
        indexes: ClassVar = [models.Index(fields=["batch", "on"], name="entry_batch_on")]

    def __str__(self) -> str:
        return f"{self.on} {self.kind} {self.count or ''}".strip()

    def save(self, *args: object, **kwargs: object) -> None:
        """Add the entry. Raises TypeError when it is already written."""
        if self.pk is not None:
            raise TypeError("a history is only added to")
        super().save(*args, **kwargs)


class Photo(models.Model):
    """A photo taken at a look: a JPEG, made smaller and without anything the camera wrote into it."""

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="photos")
    entry = models.OneToOneField(Entry, on_delete=models.CASCADE, related_name="photo")
    data = models.BinaryField()
    width_px = models.PositiveSmallIntegerField()
    height_px = models.PositiveSmallIntegerField()

    def __str__(self) -> str:
        return f"{self.width_px}×{self.height_px}"


class WithdrawnPress(models.Model):
    """A press that was taken back on the phone while it was on its way: should it still come, it is not written."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="withdrawn_presses")
    key = models.UUIDField()
    on = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["garden", "key"], name="withdrawn_once")]

    def __str__(self) -> str:
        return str(self.key)
