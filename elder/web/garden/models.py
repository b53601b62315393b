"""People, the households they belong to, their gardens, and the places where cuttings stand."""

from __future__ import annotations

import uuid
from typing import ClassVar
from zoneinfo import available_timezones

from django.contrib.auth.models import AbstractUser
from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models


def known_timezone(name: str) -> None:
    """Refuse a time zone that this machine does not know."""
    if name not in available_timezones():
        raise ValidationError("Write a time zone such as Europe/London.")


def between(least: float, most: float) -> list[MinValueValidator | MaxValueValidator]:
    """Refuse a number outside these ends."""
    return [MinValueValidator(least), MaxValueValidator(most)]


class Person(AbstractUser):
    """Someone who signs in, and how they like to read: units and theme."""

    class Units(models.TextChoices):
        METRIC = "metric", "Metric (°C, cm, litres)"
        US = "us", "US customary (°F, inches, gallons)"

    class Theme(models.TextChoices):
        SYSTEM = "system", "As the device"
        LIGHT = "light", "Light"
        DARK = "dark", "Dark"

    units = models.CharField(max_length=8, choices=Units, default=Units.METRIC)
    theme = models.CharField(max_length=8, choices=Theme, default=Theme.SYSTEM)
    letter_keys = models.BooleanField(default=True)  # whether single letters go to rooms (WCAG 2.1.4)


class Household(models.Model):
    """People who garden together. ``demo_day`` is the demo's own day, where this is the demo."""

    name = models.CharField(max_length=80)
    people = models.ManyToManyField(Person, through="Membership", related_name="households")
    demo_day = models.DateField(null=True, blank=True)

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """What a person may do in a household."""

    class Role(models.TextChoices):
        OWNER = "owner", "owner: plans, places and people"
        HELPER = "helper", "helper: cuts and tends batches"
        VIEWER = "viewer", "viewer: looks on"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="memberships")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=8, choices=Role, default=Role.OWNER)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["household", "person"], name="one_role_each")]

    def __str__(self) -> str:
        return f"{self.person} ({self.role})"


class Garden(models.Model):
    """A garden and its climate: monthly means and frost dates, °C and days of the year from 0."""

    class PlanBy(models.TextChoices):
        HANDBOOK = "handbook", "the handbook"
        MINE = "mine", "our own batches"
        BOTH = "both", "both"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="gardens")
    name = models.CharField(max_length=80)
    latitude = models.FloatField(validators=[MinValueValidator(-90), MaxValueValidator(90)])
    longitude = models.FloatField(validators=[MinValueValidator(-180), MaxValueValidator(180)])
    elevation_m = models.FloatField(default=0)
    timezone = models.CharField(max_length=64, default="UTC", validators=[known_timezone])
    t_min = models.JSONField()
    t_max = models.JSONField()
    last_frost_mean = models.PositiveSmallIntegerField(null=True, blank=True)
    last_frost_late = models.PositiveSmallIntegerField(null=True, blank=True)
    first_frost_mean = models.PositiveSmallIntegerField(null=True, blank=True)
    first_frost_early = models.PositiveSmallIntegerField(null=True, blank=True)
    # Whether the frost dates are well known, so that they go before seven to nine years of records.
    dates_well_known = models.BooleanField(default=False)
    # What of the year is a first guess, to be bettered: its months drawn from four figures, its frost dates from its
    # months. See elder.engine.climate.first_guess.
    months_guessed = models.BooleanField(default=False)
    frost_guessed = models.BooleanField(default=False)
    accepted_risk = models.FloatField(default=0.10)
    # Which daily records stand behind the climate: their digest, empty for none. Kept here so that a page
    # knows without a query whether the records it has in memory are still the garden's.
    records_digest = models.CharField(max_length=64, blank=True, default="")
    # The weekdays on which jars are changed, Monday 0; none for every two or three days.
    water_days = models.JSONField(default=list, blank=True)
    # What is taken for granted when a chance is reckoned: see elder.engine.assumptions.
    look_every_days = models.PositiveSmallIntegerField(default=3, validators=between(1, 21))
    carry_nights = models.PositiveSmallIntegerField(default=7, validators=between(0, 200))
    slack_days = models.PositiveSmallIntegerField(default=7, validators=between(0, 60))
    dear_share = models.FloatField(default=0.2, validators=between(0, 1))
    speed_sd = models.FloatField(default=0.2, validators=between(0, 0.6))
    # What the shed has of its own, and uses where Elder would take another: see elder.web.read.kit.
    kit = models.JSONField(default=dict, blank=True)
    stand_share = models.FloatField(default=0.95, validators=between(0.3, 1))
    # By what plans are made: see elder.engine.record.knowing.
    plan_by = models.CharField(max_length=8, choices=PlanBy, default=PlanBy.BOTH)
    # The garden its people moved here from, whose record goes on teaching; and the day it was left itself.
    came_from = models.ForeignKey("self", null=True, blank=True, on_delete=models.SET_NULL, related_name="went_to")
    closed_on = models.DateField(null=True, blank=True)
    # Another one with whatever is written of it, which the database sees to: see elder.web.logbook.stamps.
    stamp = models.UUIDField(default=uuid.uuid4, editable=False)
    possible_years = models.PositiveSmallIntegerField(default=20, validators=between(10, 40))

    class Meta:
        ordering: ClassVar = ["pk"]

    def __str__(self) -> str:
        return self.name


class Records(models.Model):
    """A garden's daily minima and maxima, in one piece, since they are only ever read whole.

    ``data``: zlib over three little-endian arrays (int32 ordinals, int16 minima and maxima in tenths of a
    degree Celsius, −32768 for none). ``counted_from`` is the year from which frosts and normals are counted.
    """

    garden = models.OneToOneField(Garden, on_delete=models.CASCADE, related_name="records")
    data = models.BinaryField()
    days = models.PositiveIntegerField()
    first_day = models.DateField()
    last_day = models.DateField()
    counted_from = models.PositiveSmallIntegerField()
    source = models.CharField(max_length=120)
    added_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    added_at = models.DateTimeField(auto_now=True)

    class Meta:
        verbose_name_plural = "records"

    def __str__(self) -> str:
        return f"{self.days} days from {self.first_day}"


class RecordsDraft(models.Model):
    """A file somebody has sent and not yet accepted: kept as sent (zlib), one for each person and garden."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="+")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    name = models.CharField(max_length=120)
    data = models.BinaryField()
    options = models.JSONField(default=dict)
    made_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["garden", "person"], name="one_draft_each")]

    def __str__(self) -> str:
        return self.name


class Place(models.Model):
    """Where cuttings stand. ``standing`` says what warms them; the lifts and floor are in °C."""

    class Standing(models.TextChoices):
        ROOM = "room", "indoors, in a room"
        AIR = "air", "in pots, outdoors or under cover"
        GROUND = "ground", "in the ground"

    class Sensor(models.TextChoices):
        NONE = "", "none"
        SIMULATED = "simulated", "a simulated one"

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="places")
    name = models.CharField(max_length=60)
    standing = models.CharField(max_length=8, choices=Standing, default=Standing.ROOM)
    day_c = models.FloatField(default=20)
    night_c = models.FloatField(default=17)
    lift_day_c = models.FloatField(default=0)
    lift_night_c = models.FloatField(default=0)
    floor_c = models.FloatField(null=True, blank=True)
    depth_m = models.FloatField(default=0.10)
    # How many cuttings it holds, by kind of container; a kind left out holds any number.
    capacity = models.JSONField(default=dict, blank=True)
    # Or its floor, cm by cm, where it is measured; then what stands there is packed on it.
    long_cm = models.FloatField(null=True, blank=True, validators=between(5, 5000))
    wide_cm = models.FloatField(null=True, blank=True, validators=between(5, 5000))
    # What light it gets, in words or by what is seen of the sky: see elder.web.read.light. Empty for not said.
    light = models.JSONField(default=dict, blank=True)
    # Out of the wind; and whether its cover is kept shut, so that it warms by the sun it gets.
    sheltered = models.BooleanField(default=True)
    vents_shut = models.BooleanField(default=False)
    # Where it comes in the round, from 1; places not yet put in order come last.
    walk = models.PositiveSmallIntegerField(default=1000)
    sensor = models.CharField(max_length=12, choices=Sensor, blank=True, default=Sensor.NONE)
    readings_digest = models.CharField(max_length=64, blank=True, default="")

    class Meta:
        ordering: ClassVar = ["walk", "pk"]
        constraints: ClassVar = [models.UniqueConstraint(fields=["garden", "name"], name="place_names_differ")]

    def __str__(self) -> str:
        return self.name


class PlaceReadings(models.Model):
    """What a sensor or a logger read at a place, by day and hour, in one piece, since it is only ever read whole.

    ``data``: zlib over three little-endian arrays (int32 ordinals; int16 tenths of °C and int16 tenths of a percent
    of humidity, 24 a day, −32768 for none).
    """

    place = models.OneToOneField(Place, on_delete=models.CASCADE, related_name="logged")
    data = models.BinaryField()
    days = models.PositiveIntegerField()
    first_day = models.DateField()
    last_day = models.DateField()
    source = models.CharField(max_length=120)
    added_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    added_at = models.DateTimeField(auto_now=True)

    class Meta:
        verbose_name_plural = "place readings"

    def __str__(self) -> str:
        return f"{self.days} days from {self.first_day}"


class Invitation(models.Model):
    """A way into a household for whoever holds its link: once, and for a while. Only the digest of the link's secret is
    kept: the link is shown once."""

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=8, choices=Membership.Role, default=Membership.Role.HELPER)
    digest = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    until = models.DateTimeField()
    used_on = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering: ClassVar = ["until", "pk"]

    def __str__(self) -> str:
        return f"to {self.household} as {self.role}"
