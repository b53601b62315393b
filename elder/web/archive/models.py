"""An archive that somebody sent in and has not yet accepted."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models
from django.utils import timezone

from elder.web.garden.models import Household, Person


class ArchiveDraft(models.Model):
    """A file as it was sent, kept in the folder for what comes in under its key until it is accepted or thrown away;
    one for each person. ``into``: the household it would be read into."""

    person = models.OneToOneField(Person, on_delete=models.CASCADE, related_name="archive_draft")
    into = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="+")
    key = models.UUIDField(default=uuid.uuid4, unique=True)
    name = models.CharField(max_length=120)
    made_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering: ClassVar = ["pk"]

    def __str__(self) -> str:
        return self.name
