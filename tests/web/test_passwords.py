"""A forgotten password: the link an owner makes, which serves once."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth.tokens import default_token_generator
from django.test import Client
from django.urls import reverse

from elder.web.garden.models import Membership
from tests.factories import GardenFactory, member


def link_made(owner: Client, garden: Any, person: Any) -> str:
    """The address an owner is shown for somebody."""
    part = person.memberships.get(household=garden.household)
    page = owner.post(reverse("person-link", args=[garden.pk, part.pk])).content.decode()
    return re.search(r'value="http://testserver(/password/[^"]+)"', page)[1]  # type: ignore[index]


def test_an_owner_makes_a_link_to_choose_a_password_by_which_serves_once(sign_in: Any, garden: Any) -> None:
    owner, helper = sign_in("owner"), member(garden, "helper")
    link = link_made(owner, garden, helper)
    somebody = Client()
    chosen = {"new_password1": "three wet pots 9", "new_password2": "three wet pots 9"}
    form = somebody.get(link, follow=True)
    assert "A new password" in form.content.decode()
    poor = somebody.post(form.request["PATH_INFO"], {"new_password1": "short", "new_password2": "short"})
    assert "too short" in poor.content.decode()
    assert somebody.post(form.request["PATH_INFO"], chosen).url == reverse("sign-in")  # type: ignore[attr-defined]
    helper.refresh_from_db()
    assert helper.check_password("three wet pots 9")
    assert "This link serves no more" in Client().get(link, follow=True).content.decode()


def test_a_link_lapses_after_two_days(sign_in: Any, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    owner, helper = sign_in("owner"), member(garden, "helper")
    link = link_made(owner, garden, helper)
    made = default_token_generator._now()  # type: ignore[attr-defined]
    for hours, serves in ((47, True), (49, False)):
        monkeypatch.setattr(default_token_generator, "_now", lambda at=made + timedelta(hours=hours): at)
        assert ("serves no more" not in Client().get(link, follow=True).content.decode()) is serves


def test_no_link_is_made_for_oneself_or_into_another_household(sign_in: Any, garden: Any) -> None:
    owner, guest = sign_in("owner"), member(garden, "helper")
    own = garden.household.memberships.get(role="owner")
    part = guest.memberships.get(household=garden.household)  # type: ignore[attr-defined]
    Membership.objects.create(household=GardenFactory().household, person=guest, role="owner")
    for membership, why in ((own, "That is you"), (part, "belongs to another household as well")):
        page = owner.post(reverse("person-link", args=[garden.pk, membership.pk])).content.decode()
        assert why in page
        assert "/password/" not in page
