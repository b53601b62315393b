"""A garden that is moved from, and one that is moved to."""

from __future__ import annotations

import pytest

from elder.web.garden.models import Garden
from tests.factories import GardenFactory, PlaceFactory


@pytest.fixture
def garden(garden: Garden) -> Garden:
    """With a bed and a back step."""
    PlaceFactory(garden=garden, name="Bed", standing="ground")
    PlaceFactory(garden=garden, name="Back step", standing="air")
    return garden


@pytest.fixture
def there(garden: Garden) -> Garden:
    """The garden of the household that is moved to."""
    row = GardenFactory(household=garden.household, name="Mere Lane")
    for name, standing in (("Sill there", "room"), ("Yard", "air"), ("Border", "ground")):
        PlaceFactory(garden=row, name=name, standing=standing)
    return row
