"""What is done with people: invited, come in, leave, delete a garden or themselves."""

from __future__ import annotations

import hashlib
import secrets
from datetime import datetime, timedelta
from typing import Final

from django.db import transaction

from elder.engine.refusal import Refusal
from elder.web.garden.models import Garden, Household, Invitation, Membership, Person

LASTS: Final = timedelta(days=7)  # how long an invitation serves (assumed)
MOST_OPEN: Final = 20  # invitations of a household that wait at once (assumed)


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


@transaction.atomic
def invite(household: Household, role: str, person: Person, now: datetime) -> tuple[Invitation, str]:
    """An invitation, and the secret of its link, which is kept nowhere. Of very many that wait, the oldest lapse."""
    Household.objects.select_for_update().get(pk=household.pk)
    open_ones = list(Invitation.objects.filter(household=household, used_on=None).order_by("-until", "-pk"))
    for old in open_ones[MOST_OPEN - 1 :]:
        old.delete()
    secret = secrets.token_urlsafe(24)
    row = Invitation.objects.create(
        household=household, role=role, digest=_digest(secret), made_by=person, until=now + LASTS
    )
    return row, secret


def invitation_of(secret: str, now: datetime) -> Invitation | None:
    """The invitation a link stands for, while it serves."""
    return (
        Invitation.objects.select_related("household")
        .filter(digest=_digest(secret), used_on=None, until__gt=now)
        .first()
    )


@transaction.atomic
def come_in(secret: str, person: Person, now: datetime) -> Membership | Refusal:
    """Let a person in by a link; the link serves nobody else. Who is of the household already stays what they are, and
    the link stays open."""
    found = Invitation.objects.select_for_update().filter(digest=_digest(secret), used_on=None, until__gt=now).first()
    if found is None:
        return Refusal("invitation_over", "")
    already = Membership.objects.filter(household=found.household_id, person=person).first()
    if already:
        return already
    Invitation.objects.filter(pk=found.pk).update(used_on=now)
    return Membership.objects.create(household_id=found.household_id, person=person, role=found.role)


def alone_with(person: Person) -> list[Household]:
    """The households that nobody but this person belongs to."""
    mine = Household.objects.filter(memberships__person=person).prefetch_related("memberships", "gardens")
    return [one for one in mine if len(one.memberships.all()) == 1]


def owner_alone_of(person: Person) -> list[Household]:
    """The households with others in them that would have no owner without this person."""
    mine = Household.objects.filter(
        memberships__person=person, memberships__role=Membership.Role.OWNER
    ).prefetch_related("memberships")
    return [
        one
        for one in mine
        if len(one.memberships.all()) > 1
        and not any(m.role == Membership.Role.OWNER and m.person_id != person.pk for m in one.memberships.all())
    ]


@transaction.atomic
def leave(household: Household, person: Person) -> Refusal | None:
    """Leave a household; refused to its only owner, and to whoever is alone in it."""
    Household.objects.select_for_update().get(pk=household.pk)
    membership = Membership.objects.filter(household=household, person=person).first()
    if membership is None:
        return None
    others = Membership.objects.filter(household=household).exclude(pk=membership.pk)
    if not others.exists():
        return Refusal("alone_in_it", "")
    if membership.role == Membership.Role.OWNER and not others.filter(role=Membership.Role.OWNER).exists():
        return Refusal("only_owner", "")
    membership.delete()
    return None


@transaction.atomic
def delete_garden(garden: Garden) -> None:
    """A garden and everything in it is gone."""
    Garden.objects.select_for_update().get(pk=garden.pk).delete()


@transaction.atomic
def delete_account(person: Person) -> Refusal | None:
    """A person is gone, and with them the households they were alone in. What they wrote in others stays, without their
    name. Refused while a household with others in it would have no owner."""
    Person.objects.select_for_update().get(pk=person.pk)
    if owner_alone_of(person):
        return Refusal("only_owner", "")
    for household in alone_with(person):
        household.delete()
    person.delete()
    return None
