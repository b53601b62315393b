"""Wants: so many plants, by then, this sure."""

from __future__ import annotations

from typing import ClassVar

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.utils import timezone

from elder.web.garden.models import Garden, Person, Place
from elder.web.stock.models import StockPlant


class Want(models.Model):
    """One want. ``by`` empty means as soon as it is safe; ``cut_on`` is the day chosen on the curve,
    empty for the recommended one; ``closed_on`` the day it was put away. ``spares`` are grown besides;
    ``cuttings`` given turns the want round: as many plants as so many cuttings give. Wants of one ``series``
    are lots of one want, or the two steps of a plant carried through winter."""

    class Purpose(models.TextChoices):
        BED = "bed", "a bed"
        SPARE = "spare", "spares, kept apart"
        GIFT = "gift", "gifts"
        SALE = "sale", "sale"
        POT = "pot", "a pot, to stand there for good"
        WINTER = "winter", "carrying through winter"
        RESERVE = "reserve", "a reserve, always so many standing"
        # Asked for on the sheet only: kept as two wants, the plants carried over and the bed cut from them.
        OVER = "over", "next year’s bed, by way of winter"

    class HandedAs(models.TextChoices):
        PLANTS = "", "in pots, ready to plant"
        ROOTED = "rooted", "rooted, out of their vessel"
        UNROOTED = "unrooted", "unrooted, fresh from the cut"

    class Stock(models.TextChoices):
        USUAL = "usual", "as usual for the plant"
        INDOORS = "indoors", "indoors or under warm glass"
        OUTDOORS = "outdoors", "outdoors"

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="wants")
    plant = models.SlugField(max_length=40)
    variety = models.CharField(max_length=60, blank=True)
    method = models.SlugField(max_length=40)
    wanted = models.PositiveSmallIntegerField(validators=[MinValueValidator(1), MaxValueValidator(200)])
    by = models.DateField(null=True, blank=True)
    confidence = models.FloatField(default=0.9)
    purpose = models.CharField(max_length=8, choices=Purpose, default=Purpose.BED)
    stock = models.CharField(max_length=10, choices=Stock, default=Stock.USUAL)
    rooting_place = models.ForeignKey(Place, on_delete=models.RESTRICT, related_name="+")
    growing_place = models.ForeignKey(Place, on_delete=models.RESTRICT, related_name="+")
    mother = models.ForeignKey(StockPlant, null=True, blank=True, on_delete=models.SET_NULL, related_name="wants")
    cut_on = models.DateField(null=True, blank=True)
    prepared_on = models.DateField(null=True, blank=True)  # when the branch was got ready for the cut
    spares = models.PositiveSmallIntegerField(default=0, validators=[MaxValueValidator(50)])
    cuttings = models.PositiveSmallIntegerField(
        null=True, blank=True, validators=[MinValueValidator(1), MaxValueValidator(500)]
    )
    # Nights on which its pots will be carried in, where that was said of it; else what the garden says.
    carry_nights = models.PositiveSmallIntegerField(null=True, blank=True, validators=[MaxValueValidator(200)])
    series = models.UUIDField(null=True, blank=True)
    lot = models.PositiveSmallIntegerField(default=1)
    lots = models.PositiveSmallIntegerField(default=1)
    made_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    made_at = models.DateTimeField(default=timezone.now, editable=False)
    closed_on = models.DateField(null=True, blank=True)
    # What is promised to somebody may go as soon as it has roots, or unrooted; and so many of it have gone.
    handed_as = models.CharField(max_length=8, choices=HandedAs, blank=True, default=HandedAs.PLANTS)
    handed_over = models.PositiveSmallIntegerField(default=0)
    # Where a want ran short and its people settled for less: so many, or by then.
    settled_count = models.PositiveSmallIntegerField(null=True, blank=True)
    settled_by = models.DateField(null=True, blank=True)

    class Meta:
        ordering: ClassVar = ["pk"]

    def __str__(self) -> str:
        return f"{self.wanted} {self.plant}"

    @property
    def total(self) -> int:
        """How many are to be grown: those wanted and the spares, or what was settled for."""
        return self.settled_count or self.wanted + self.spares

    @property
    def claims(self) -> int:
        """How many plants of a batch are its own, before others are served: all it wants; once it is put away, what was
        handed over for it and what was kept of that."""
        if self.closed_on is None:
            return self.total
        return self.handed_over + self.spares if self.handed_over else 0
