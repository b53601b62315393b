"""Plants of a household's own, each a text in the handbook's YAML. A change is another row under another slug."""

from __future__ import annotations

import secrets
from typing import ClassVar

from django.db import models
from django.utils import timezone

from elder.engine.handbook.loading import OWN
from elder.web.garden.models import Garden, Person


def new_slug() -> str:
    """A slug that nothing else has or had: what one names never changes."""
    return f"{OWN}{secrets.token_hex(6)}"


class OwnPlant(models.Model):
    """One state of a plant of a household's own; ``current`` for the one that holds."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="own_plants")
    slug = models.SlugField(max_length=40, unique=True, default=new_slug)
    name = models.CharField(max_length=60)
    relative = models.SlugField(max_length=40)
    text = models.TextField(max_length=60_000)
    current = models.BooleanField(default=True)
    by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    made_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering: ClassVar = ["name", "pk"]

    def __str__(self) -> str:
        return self.name
