"""People: invited by a link that serves once, signed out elsewhere, leaving, deleting a garden or themselves."""

from __future__ import annotations

import re
from datetime import date, timedelta
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from elder.engine.refusal import Refusal
from elder.web.batches.models import Entry
from elder.web.garden import people_actions
from elder.web.garden.models import Garden, Household, Invitation, Membership, Person
from elder.web.garden.signed_in import device_words
from tests.factories import PASSWORD, GardenFactory, HouseholdFactory, PersonFactory, PlaceFactory, member, take
from tests.web.conftest import TODAY

NEW = {"username": "newcomer", "password1": PASSWORD, "password2": PASSWORD}


def page(answer: Any) -> str:
    return str(answer.content.decode())


def link_from(owner: Client, garden: Any, role: str = "helper") -> str:
    said = page(owner.post(reverse("person-invite", args=[garden.pk]), {"role": role}))
    return re.findall(r'value="http://testserver(/come-in/[^"]+)"', said)[0]


# Invitations.


def test_a_link_lets_one_person_in_once(garden: Any, owner: Client) -> None:
    link = link_from(owner, garden)
    assert "Into <b>Harrow Stair</b>: helper: cuts and tends batches." in page(Client().get(link))
    first = Client()
    said = first.post(link, NEW, follow=True)
    assert "You are in: Harrow Stair, as helper: cuts and tends batches." in page(said)
    assert Membership.objects.get(person__username="newcomer").role == "helper"
    assert "This link is over" in page(Client().get(link))
    second = Client().post(link, {**NEW, "username": "another"})
    assert "This link is over" in page(second)
    assert not Person.objects.filter(username="another").exists()


def test_only_its_digest_is_kept(garden: Any, owner: Client) -> None:
    link = link_from(owner, garden)
    secret = link.split("/")[2]
    row = Invitation.objects.get()
    assert secret not in str(vars(row))
    assert len(row.digest) == 64
    assert row.until - timezone.now() > timedelta(days=6, hours=23)
    assert "1 link is out that nobody has used yet." in page(owner.get(reverse("garden", args=[garden.pk])))


def test_it_lapses_and_can_be_taken_back(garden: Any, owner: Client) -> None:
    link = link_from(owner, garden)
    Invitation.objects.update(until=timezone.now() - timedelta(minutes=1))
    assert "This link is over" in page(Client().post(link, NEW))
    again = link_from(owner, garden)
    owner.post(reverse("person-uninvite", args=[garden.pk]))
    assert "This link is over" in page(Client().get(again))
    assert not Person.objects.filter(username="newcomer").exists()


def test_who_is_signed_in_comes_in_as_they_are(garden: Any, owner: Client) -> None:
    link = link_from(owner, garden, "viewer")
    person = PersonFactory()
    client = Client()
    client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    assert f"You are signed in as {person.username}." in page(client.get(link))
    client.post(link)
    assert Membership.objects.get(person=person).role == "viewer"


def test_who_is_of_the_household_stays_what_they_are_and_the_link_open(garden: Any, owner: Client) -> None:
    link = link_from(owner, garden, "viewer")
    owner.post(link)
    assert Membership.objects.get(household=garden.household).role == "owner"
    assert Invitation.objects.get().used_on is None


def test_a_name_that_is_taken_is_said_beside_it_and_the_link_serves_on(garden: Any, owner: Client) -> None:
    PersonFactory(username="newcomer")
    link = link_from(owner, garden)
    assert "already exists" in page(Client().post(link, NEW))
    assert Invitation.objects.get().used_on is None


def test_no_role_that_is_none_and_not_too_many(garden: Any, owner: Client) -> None:
    assert owner.post(reverse("person-invite", args=[garden.pk]), {"role": "king"}).status_code == 404
    person, now = PersonFactory(), timezone.now()
    rows = [people_actions.invite(garden.household, "helper", person, now + timedelta(seconds=i))[0] for i in range(23)]
    left = set(Invitation.objects.values_list("pk", flat=True))
    assert left == {row.pk for row in rows[3:]}, "the oldest lapse"


# Sessions.


def signed(person: Any, agent: str) -> Client:
    client = Client(HTTP_USER_AGENT=agent)
    client.post(reverse("sign-in"), {"username": person.username, "password": PASSWORD})
    return client


PHONE = "Mozilla/5.0 (Linux; Android 14) Chrome/120 Mobile Safari/537.36"
LAPTOP = "Mozilla/5.0 (X11; Linux x86_64; rv:120.0) Gecko/20100101 Firefox/120.0"


def test_where_one_is_signed_in_and_out_there(garden: Any) -> None:
    person = member(garden)
    other = member(garden)
    phone, laptop, hers = signed(person, PHONE), signed(person, LAPTOP), signed(other, PHONE)
    said = page(laptop.get(reverse("sessions")))
    assert said.index("Firefox on Linux") < said.index("this one") < said.index("Chrome on a phone or tablet")
    assert said.count('name="mark"') == 1
    assert laptop.session.session_key not in said
    assert phone.session.session_key not in said
    mark = re.findall(r'name="mark" value="(\w+)"', said)[0]
    assert "1 device is signed out." in page(laptop.post(reverse("sessions"), {"mark": mark}, follow=True))
    assert phone.get(reverse("habits")).status_code == 302
    assert laptop.get(reverse("habits")).status_code == 200
    assert hers.get(reverse("habits")).status_code == 200


def test_everywhere_else_but_not_here(garden: Any) -> None:
    person = member(garden)
    here, there, far = (signed(person, agent) for agent in (LAPTOP, PHONE, PHONE))
    hers = signed(member(garden), PHONE)
    assert "2 devices are signed out." in page(here.post(reverse("sessions"), follow=True))
    assert [one.get(reverse("habits")).status_code for one in (here, there, far, hers)] == [200, 302, 302, 200]


def test_anothers_session_cannot_be_ended(garden: Any) -> None:
    person, other = member(garden), member(garden)
    here, hers = signed(person, LAPTOP), signed(other, PHONE)
    signed(other, LAPTOP)
    mark = re.findall(r'name="mark" value="(\w+)"', page(hers.get(reverse("sessions"))))[0]
    here.post(reverse("sessions"), {"mark": mark})
    assert page(hers.get(reverse("sessions"))).count('name="mark"') == 1


@pytest.mark.parametrize(
    ("agent", "words"),
    [
        (PHONE, "Chrome on a phone or tablet"), (LAPTOP, "Firefox on Linux"), ("", "a browser on an unknown device"),
        ("Mozilla/5.0 (iPhone; CPU iPhone OS 17_0 like Mac OS X) Version/17.0 Safari/604.1", "Safari on a phone"),
        ("Mozilla/5.0 (Windows NT 10.0) Chrome/120 Safari/537.36 Edg/120", "Edge on Windows"),
    ],
)  # fmt: skip
def test_devices_in_words(agent: str, words: str) -> None:
    assert device_words(agent) == words


# Leaving.


def test_a_helper_leaves(garden: Any, sign_in: Any) -> None:
    sign_in("owner")
    helper = sign_in("helper")
    said = helper.post(reverse("garden-leave", args=[garden.pk]), follow=True)
    assert "You have left Harrow Stair." in page(said)
    assert not Membership.objects.filter(role="helper").exists()
    assert helper.get(reverse("season", args=[garden.pk])).status_code == 404


def test_the_only_owner_stays_and_so_does_who_is_alone(garden: Any, sign_in: Any) -> None:
    owner = sign_in("owner")
    alone = owner.post(reverse("garden-leave", args=[garden.pk]), follow=True)
    assert "Nobody else is in this household" in page(alone)
    sign_in("helper")
    only = owner.post(reverse("garden-leave", args=[garden.pk]), follow=True)
    assert "Somebody must own the household: make another owner first." in page(only)
    assert Membership.objects.filter(role="owner").count() == 1
    sign_in("owner")
    owner.post(reverse("garden-leave", args=[garden.pk]))
    assert Membership.objects.filter(role="owner").count() == 1


def test_who_is_of_no_household_begins_their_own(garden: Any, sign_in: Any) -> None:
    sign_in("owner")
    helper = sign_in("helper")
    assert helper.get(reverse("garden-new")).status_code == 404
    helper.post(reverse("garden-leave", args=[garden.pk]))
    assert helper.get(reverse("garden-new")).status_code == 200
    assert Household.objects.count() == 1, "looking begins nothing"


# Deleting.


def test_a_garden_goes_with_everything_once_its_name_is_typed(garden: Any, owner: Client, want: Any) -> None:
    take(want, on=date(2027, 3, 6))
    other = GardenFactory(household=garden.household, name="The other")
    PlaceFactory(garden=other)
    address = reverse("garden-delete", args=[garden.pk])
    said = page(owner.get(address))
    assert reverse("garden-archive-file", args=[garden.pk]) in said
    assert "That is not its name. It is called Harrow Stair." in page(owner.post(address, {"name": "Harrow"}))
    assert Garden.objects.count() == 2
    assert "Harrow Stair is deleted." in page(owner.post(address, {"name": " harrow stair "}, follow=True))
    assert list(Garden.objects.all()) == [other]
    assert not Entry.objects.exists()


def test_an_account_goes_with_the_gardens_that_are_its_alone(garden: Any, sign_in: Any, want: Any) -> None:
    owner = sign_in("owner")
    helper = member(garden, "helper")
    batch = take(want, on=TODAY)
    Entry.objects.create(batch=batch, kind="looked", on=TODAY, by=helper)
    own = GardenFactory(household=HouseholdFactory(name="Hers"), name="Hers alone")
    Membership.objects.create(household=own.household, person=helper)
    client = Client()
    client.force_login(helper, backend="django.contrib.auth.backends.ModelBackend")
    said = page(client.get(reverse("account-delete")))
    assert "<b>Hers alone</b>" in said
    assert "<b>Harrow Stair</b>" not in said
    assert "That is not your password." in page(client.post(reverse("account-delete"), {"password": "no"}))
    assert client.post(reverse("account-delete"), {"password": PASSWORD}).url == reverse("sign-in")
    assert not Person.objects.filter(pk=helper.pk).exists()
    assert list(Household.objects.all()) == [garden.household]
    assert Entry.objects.get(kind="looked").by is None
    assert client.get(reverse("habits")).status_code == 302
    assert owner.get(reverse("batch", args=[garden.pk, batch.pk])).status_code == 200


def test_the_only_owner_of_others_cannot_go(garden: Any, sign_in: Any) -> None:
    owner = sign_in("owner")
    sign_in("helper")
    said = page(owner.get(reverse("account-delete")))
    assert "<strong>Not yet.</strong> Harrow Stair would have no owner" in said
    person = Membership.objects.get(role="owner").person
    found = people_actions.delete_account(person)
    assert isinstance(found, Refusal)
    assert found.code == "only_owner"
    assert Person.objects.filter(pk=person.pk).exists()
