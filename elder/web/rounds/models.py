"""The calendar each person may subscribe to."""

from __future__ import annotations

from django.db import models

from elder.web.garden.models import Person


class CalendarFeed(models.Model):
    """A person's calendar at a secret address. Only the digest of the secret is kept: the address is shown once."""

    person = models.OneToOneField(Person, on_delete=models.CASCADE, related_name="calendar_feed")
    digest = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"of {self.person}"
