"""A forgotten password: an owner makes a link by which one of the household chooses another, once."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

from django.conf import settings
from django.contrib.auth.tokens import default_token_generator
from django.contrib.auth.views import PasswordResetConfirmView
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.urls import reverse, reverse_lazy
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_encode
from django.views.decorators.http import require_POST

from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.clock import moment_in
from elder.web.garden.models import Membership, Person
from elder.web.say.words import day_words
from elder.web.ui.pages import show


@dataclass(frozen=True)
class LinkPage:
    """A link for somebody, and until when it serves; or why there is none."""

    name: str
    link: str
    until: str
    refused: str = ""


def why_no_link(membership: Membership, asking: Person) -> str:
    """Why an owner may make no link for somebody: whoever holds it could enter every household that person is of."""
    if membership.person_id == asking.pk:
        return "That is you: change your own password under your name in the rail."
    if membership.person.memberships.exclude(household=membership.household_id).exists():
        return (
            f"{membership.person.username} belongs to another household as well, so whoever keeps this Elder must do"
            f" it: `manage.py changepassword {membership.person.username}`."
        )
    return ""


def link_for(person: Person, request: GardenRequest) -> str:
    """A link to choose a password by. It holds until a password was chosen or the person signed in: Django's token
    stands for both."""
    who = urlsafe_base64_encode(force_bytes(person.pk))
    return request.build_absolute_uri(
        reverse("password-choose", args=[who, default_token_generator.make_token(person)])
    )


@require_POST
@in_garden("keep")
def offer_link(request: GardenRequest, membership_id: int) -> HttpResponse:
    """Make the link and show it, this once. It is kept nowhere."""
    found = Membership.objects.select_related("person")
    membership = get_object_or_404(found, pk=membership_id, household=request.garden.household)
    person, refused = membership.person, why_no_link(membership, request.user)
    ends = moment_in(request.garden) + timedelta(seconds=settings.PASSWORD_RESET_TIMEOUT)
    page = LinkPage(
        name=person.username,
        link="" if refused else link_for(person, request),
        until=f"{day_words(ends.date())}, {ends:%H:%M}",
        refused=refused,
    )
    return show(request, "garden/password_link.html", page)


class ChoosePassword(PasswordResetConfirmView):
    """Choose a password by a link. Whoever opens it without one that serves is told so."""

    template_name = "garden/password_choose.html"
    success_url = reverse_lazy("sign-in")
