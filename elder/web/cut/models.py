"""Labels that a printer has made."""

from __future__ import annotations

from typing import ClassVar

from django.db import models

from elder.web.garden.models import Garden, Person


class TrayLabel(models.Model):
    """A label in the tray of the simulated printer: a PNG, as the device would have printed it."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="tray")
    batch = models.ForeignKey("batches.Batch", on_delete=models.CASCADE, related_name="+")
    job = models.UUIDField()
    png = models.BinaryField()
    by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering: ClassVar = ["-pk"]

    def __str__(self) -> str:
        return f"a label of {self.batch}"
