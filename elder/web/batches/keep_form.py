"""A plant of a batch kept as a mother: its name and where it stands."""

from __future__ import annotations

from typing import ClassVar, Unpack

from elder.web.garden.forms import NamedInGarden
from elder.web.garden.models import Garden
from elder.web.stock.models import StockPlant
from elder.web.ui.fields import FilledRow, Sent, choosing_row


class KeepForm(NamedInGarden):
    """A plant of a batch kept as a mother: its name and where it stands."""

    name_taken: ClassVar = "There is a mother plant of that name already."

    class Meta:
        model = StockPlant
        fields: ClassVar = ["name", "place"]
        labels: ClassVar = {"name": "What you call it", "place": "Where it stands"}
        error_messages: ClassVar = {
            "name": {"required": "Give it a name, so that its line can be told later."},
            "place": {"invalid_choice": "Choose a place of this garden."},
        }

    def __init__(self, data: Sent = None, *, garden: Garden, **rest: Unpack[FilledRow]) -> None:
        super().__init__(data, **rest)
        self.garden = garden
        place = choosing_row(self, "place")
        place.queryset, place.empty_label = garden.places.all(), "elsewhere in the garden"
