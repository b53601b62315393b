"""People, gardens and wants for the web tests. All invented."""

from __future__ import annotations

from datetime import date
from typing import Any

import factory

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Household, Membership, Person, Place
from elder.web.season.models import Want
from elder.web.season.taking import Taken, take_batch
from tests.engine.conftest import T_MAX, T_MIN

PASSWORD = "a-long-made-up-word"


class PersonFactory(factory.django.DjangoModelFactory):
    class Meta:
        model = Person
        skip_postgeneration_save = True

    username = factory.Sequence(lambda n: f"grower{n}")
    password = factory.django.Password(PASSWORD)


class HouseholdFactory(factory.django.DjangoModelFactory):
    class Meta:
        model = Household

    name = "Harrow Stair"


class GardenFactory(factory.django.DjangoModelFactory):
    class Meta:
        model = Garden

    household = factory.SubFactory(HouseholdFactory)
    name = "Harrow Stair"
    latitude = 52.6
    longitude = -4.1
    elevation_m = 60
    timezone = "Europe/London"
    t_min = list(T_MIN)
    t_max = list(T_MAX)
    last_frost_mean, last_frost_late, first_frost_mean, first_frost_early = 100, 121, 319, 299


class PlaceFactory(factory.django.DjangoModelFactory):
    class Meta:
        model = Place

    garden = factory.SubFactory(GardenFactory)
    name = factory.Sequence(lambda n: f"Sill {n}")
    day_c = 20
    night_c = 17


class WantFactory(factory.django.DjangoModelFactory):
    class Meta:
        model = Want

    garden = factory.SubFactory(GardenFactory)
    plant = "tomato"
    method = "jar"
    wanted = 8
    rooting_place = factory.SubFactory(PlaceFactory, garden=factory.SelfAttribute("..garden"))
    growing_place = factory.SelfAttribute("rooting_place")


def member(garden: Garden, role: str = "owner") -> Any:
    """A new person with a role in a garden's household."""
    person: Any = PersonFactory()
    Membership.objects.create(household=garden.household, person=person, role=role)
    return person


def take(want: Any, *, on: date, count: int = 11, today: date | None = None) -> Batch:
    """A batch taken for a want, through the action people use."""
    taken = Taken(on, count, "Ferry Lamp 1", want.rooting_place, want.growing_place)
    batch = take_batch(want, taken, garden=want.garden, person=None, today=today or on)  # type: ignore[arg-type]
    assert isinstance(batch, Batch)
    return batch
