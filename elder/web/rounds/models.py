"""The calendar each person may subscribe to, and how they are reminded."""

from __future__ import annotations

from typing import ClassVar

from django.db import models

from elder.web.garden.models import Garden, Person


class CalendarFeed(models.Model):
    """A person's calendar at a secret address. Only the digest of the secret is kept: the address is shown once."""

    person = models.OneToOneField(Person, on_delete=models.CASCADE, related_name="calendar_feed")
    digest = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"of {self.person}"


class Reminders(models.Model):
    """How a person is reminded: an alarm on each date of the calendar, and a letter in the morning. Nothing until they
    ask for it. ``origin`` is where Elder was reached when the letter was asked for, so that its links lead back."""

    class Alarm(models.IntegerChoices):
        EVENING_BEFORE = -6, "at six the evening before"
        MORNING = 7, "at seven that morning"
        FORENOON = 9, "at nine that morning"

    person = models.OneToOneField(Person, on_delete=models.CASCADE, related_name="reminders")
    alarm_hours = models.SmallIntegerField(choices=Alarm, null=True, blank=True)  # from midnight of the day
    letter = models.BooleanField(default=False)
    letter_from_hour = models.PositiveSmallIntegerField(default=6)
    origin = models.CharField(max_length=200, blank=True, default="")
    sent_for = models.DateField(null=True, blank=True)  # the day of the last letter

    def __str__(self) -> str:
        return f"of {self.person}"


class ToldEvent(models.Model):
    """What a garden's calendar last said of an event, so that a change is told as one (RFC 5545, SEQUENCE)."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="+")
    uid = models.UUIDField()
    said = models.CharField(max_length=200)
    sequence = models.PositiveIntegerField(default=0)
    changed_at = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["garden", "uid"], name="told_once")]

    def __str__(self) -> str:
        return f"{self.uid} {self.sequence}"
