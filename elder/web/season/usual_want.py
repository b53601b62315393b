"""A want as it is begun where nothing but the plant is known: its usual way, at the best places of the garden."""

from __future__ import annotations

from datetime import date

from elder.engine.handbook.model import Method, Plant
from elder.engine.setting import Setting
from elder.web.garden.models import Garden
from elder.web.read.gardens import assumptions_of, climate_of, place_of
from elder.web.season.better_place import best_places


def places_for(plant: Plant, method: Method, garden: Garden, today: date) -> dict[str, int | str]:
    """The best places here for a way of a plant, as the sheet names them; the first there is, where none suits."""
    places = list(garden.places.all())
    if not places:
        return {"rooting_place": "", "growing_place": ""}
    spot = place_of(places[0])
    asked = Setting(plant, method, climate_of(garden), spot, spot, today, assumptions_of(garden))
    rooting, growing = best_places(asked.grown, places) or (places[0], places[0])
    return {"rooting_place": rooting.pk, "growing_place": growing.pk}
