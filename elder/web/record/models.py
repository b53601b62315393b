"""What plants cost to buy, and trials: a question, its arms, and the batches they became."""

from __future__ import annotations

from typing import ClassVar

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Person, Place

MOST_EACH = 100  # of a trial's arm
ARM_LETTERS = "ABCD"


class PlantPrice(models.Model):
    """What one plant costs to buy where this garden would buy it."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="plant_prices")
    plant = models.SlugField(max_length=40)
    price = models.DecimalField(max_digits=7, decimal_places=2, validators=[MinValueValidator(0)])

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["garden", "plant"], name="one_price_each")]

    def __str__(self) -> str:
        return f"{self.plant} {self.price}"


class Trial(models.Model):
    """A question asked of cuttings. ``differs`` is the one thing the arms differ in, ``alike`` what must not;
    ``difference`` the one that would matter, as a share; ``draw`` the letter of the arm each stem fell to, in the order
    they are cut; ``of`` the trial whose rooted are split anew, and ``stage`` what is judged."""

    class Stage(models.TextChoices):
        ROOTED = "rooted", "rooted"
        GROWN = "grown", "grown into a plant"

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="trials")
    question = models.CharField(max_length=120)
    plant = models.SlugField(max_length=40)
    variety = models.CharField(max_length=60, blank=True)
    method = models.SlugField(max_length=40)
    stock_plant = models.CharField(max_length=80)
    differs = models.CharField(max_length=80)
    alike = models.CharField(max_length=240, blank=True)
    each = models.PositiveSmallIntegerField(validators=[MinValueValidator(2), MaxValueValidator(MOST_EACH)])
    difference = models.FloatField(default=0.3)
    judged_on = models.DateField()
    stage = models.CharField(max_length=8, choices=Stage, default=Stage.ROOTED)
    of = models.ForeignKey("self", null=True, blank=True, on_delete=models.SET_NULL, related_name="split_into")
    draw = models.CharField(max_length=4 * MOST_EACH, blank=True)
    made_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    made_on = models.DateField()

    class Meta:
        ordering: ClassVar = ["pk"]

    def __str__(self) -> str:
        return self.question


class TrialArm(models.Model):
    """One arm: what is done to it, where it roots, on which day it is cut, and the batch it became. An arm of what had
    rooted before has no batch of its own: so many were begun with, and so many grew."""

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="arms")
    letter = models.CharField(max_length=1)
    name = models.CharField(max_length=60)
    place = models.ForeignKey(Place, on_delete=models.RESTRICT, related_name="+")
    cut_on = models.DateField(null=True, blank=True)
    batch = models.OneToOneField(Batch, null=True, blank=True, on_delete=models.SET_NULL, related_name="trial_arm")
    begun = models.PositiveSmallIntegerField(default=0)
    grown = models.PositiveSmallIntegerField(default=0)
    failed = models.PositiveSmallIntegerField(default=0)

    class Meta:
        ordering: ClassVar = ["letter"]
        constraints: ClassVar = [models.UniqueConstraint(fields=["trial", "letter"], name="one_arm_a_letter")]

    def __str__(self) -> str:
        return f"{self.letter}: {self.name}"
