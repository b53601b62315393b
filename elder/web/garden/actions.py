"""What a person does to households and gardens: one function a verb."""

from __future__ import annotations

from datetime import timedelta

from django.db import transaction

from elder.web.garden.models import Garden, Household, Membership, Person, Place


@transaction.atomic
def open_house(person: Person, name: str) -> Household:
    """The first account's household, with that person as its owner."""
    household = Household.objects.create(name=name)
    Membership.objects.create(household=household, person=person, role=Membership.Role.OWNER)
    return household


@transaction.atomic
def add_garden(garden: Garden, household: Household) -> Garden:
    """A new garden with two places to begin with, so that a want can be answered at once."""
    garden.household = household
    garden.save()
    Place.objects.create(garden=garden, name="Kitchen sill", standing=Place.Standing.ROOM, day_c=20, night_c=17)
    Place.objects.create(garden=garden, name="Pots outdoors", standing=Place.Standing.AIR, lift_day_c=0, lift_night_c=0)
    return garden


@transaction.atomic
def welcome(person: Person, household: Household, role: str) -> Membership:
    """Let someone into a household."""
    return Membership.objects.create(household=household, person=person, role=role)


@transaction.atomic
def change_part(membership: Membership, role: str | None) -> bool:
    """Give someone another role, or (None) see them out. False where nobody would own the household then."""
    others = Membership.objects.filter(household=membership.household, role=Membership.Role.OWNER).exclude(
        pk=membership.pk
    )
    if role != Membership.Role.OWNER and not others.exists():
        return False
    if role is None:
        membership.delete()
    else:
        membership.role = role
        membership.save(update_fields=["role"])
    return True


def move_clock(household: Household, days: int) -> None:
    """Move the demo's day forward. Raises ValueError for a step back or a household with no clock."""
    if household.demo_day is None or days < 1:
        raise ValueError("the demo's clock only runs forward")
    household.demo_day += timedelta(days=days)
    household.save(update_fields=["demo_day"])
