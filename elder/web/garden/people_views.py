"""People come in by a link, see where they are signed in, leave, and delete a garden or their account."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from django import forms
from django.contrib import messages
from django.contrib.auth import login, logout
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from elder.engine.refusal import Refusal
from elder.web.garden import people_actions
from elder.web.garden.access import GardenRequest, in_garden, signed_in
from elder.web.garden.account_forms import AccountForm, DeleteAccountForm, DeleteGardenForm
from elder.web.garden.clock import today_nowhere
from elder.web.garden.models import Garden, Household, Invitation, Membership, Person
from elder.web.garden.signed_in import SignedInHere, end_sessions, sessions_of
from elder.web.say.refusals import refusal_words
from elder.web.say.words import day_words, plural
from elder.web.ui.pages import show
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class InvitedPage:
    """A link that lets somebody in, shown once."""

    link: str
    what: str
    until: str


@dataclass(frozen=True)
class InvitationPage:
    """What a link offers: into which household, as what; a form for whoever has no account here."""

    household: str
    what: str
    form: forms.BaseForm
    secret: str


@dataclass(frozen=True)
class SessionsPage:
    """Where a person is signed in."""

    sessions: list[SignedInHere]


@dataclass(frozen=True)
class DeletePage:
    """What would be gone, and what stands in the way."""

    form: forms.BaseForm
    gone: list[Garden]
    owned: list[Household]


@require_POST
@in_garden("keep")
def invite(request: GardenRequest) -> HttpResponse:
    """Make an invitation and show its link, this once."""
    role = request.POST.get("role", "")
    if role not in Membership.Role.values:
        raise Http404
    row, secret = people_actions.invite(request.garden.household, role, request.user, timezone.now())
    link = request.build_absolute_uri(reverse("invitation", args=[secret]))
    until = day_words(timezone.localdate(row.until), request.today)
    return show(request, "garden/invited.html", InvitedPage(link, row.get_role_display(), until))


@require_POST
@in_garden("keep")
def uninvite(request: GardenRequest) -> HttpResponse:
    """Every invitation of the household that nobody has used yet lapses."""
    Invitation.objects.filter(household=request.garden.household, used_on=None).delete()
    saved(request, "", "No link lets anybody in any more.")
    return redirect("garden", request.garden.pk)


@require_http_methods(["GET", "POST"])
def invitation(request: HttpRequest, secret: str) -> HttpResponse:
    """Come in by a link: with the account one is signed in with, or with a new one."""
    found = people_actions.invitation_of(secret, timezone.now())
    if found is None:
        return show(request, "garden/invitation_over.html", InvitationPage("", "", forms.Form(), ""))
    is_known = isinstance(request.user, Person)
    form: forms.BaseForm = forms.Form(request.POST or None) if is_known else AccountForm(request.POST or None)
    if request.method == "POST" and (is_known or form.is_valid()):
        return _come_in(request, secret, form)
    page = InvitationPage(found.household.name, found.get_role_display(), form, secret)
    return show(request, "garden/invitation.html", page)


def _come_in(request: HttpRequest, secret: str, form: forms.BaseForm) -> HttpResponse:
    person = request.user if isinstance(request.user, Person) else cast(AccountForm, form).save()
    made = people_actions.come_in(secret, person, timezone.now())
    if isinstance(made, Refusal):  # somebody else was a moment sooner
        if person != request.user:
            person.delete()
        return show(request, "garden/invitation_over.html", InvitationPage("", "", forms.Form(), ""))
    if person != request.user:
        login(request, person, backend="django.contrib.auth.backends.ModelBackend")
    saved(request, "invitation", f"You are in: {made.household.name}, as {made.get_role_display()}.")
    return redirect("home")


@require_http_methods(["GET", "POST"])
@signed_in
def sessions(request: HttpRequest) -> HttpResponse:
    """Where one is signed in; POST ends one, or all but this."""
    person, this = cast(Person, request.user), request.session.session_key or ""
    if request.method == "POST":
        ended = end_sessions(person, this, timezone.now(), mark=request.POST.get("mark", ""))
        saved(request, "", f"{plural(ended, 'device is', 'devices are')} signed out.")
        return redirect("sessions")
    return show(request, "garden/sessions.html", SessionsPage(sessions_of(person, this, timezone.now())))


@require_POST
@in_garden("see")
def leave(request: GardenRequest) -> HttpResponse:
    """Leave this garden's household."""
    refused = people_actions.leave(request.garden.household, request.user)
    if refused:
        messages.error(request, refusal_words(refused, request.today))
        return redirect("garden", request.garden.pk)
    saved(request, "", f"You have left {request.garden.household.name}.")
    return redirect("home")


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def delete_garden(request: GardenRequest) -> HttpResponse:
    """Delete a garden, after its archive was offered and its name typed."""
    garden = get_object_or_404(Garden, pk=request.garden.pk)
    form = DeleteGardenForm(request.POST or None, garden=garden)
    if request.method == "POST" and form.is_valid():
        people_actions.delete_garden(garden)
        saved(request, "garden-delete", f"{garden.name} is deleted.")
        return redirect("home")
    return show(request, "garden/garden_delete.html", DeletePage(form, [garden], []))


@require_http_methods(["GET", "POST"])
@signed_in
def delete_account(request: HttpRequest) -> HttpResponse:
    """Delete oneself, after the archives were offered and the password typed."""
    person = cast(Person, request.user)
    form = DeleteAccountForm(request.POST or None, person=person)
    if request.method == "POST" and form.is_valid():
        refused = people_actions.delete_account(Person.objects.get(pk=person.pk))
        if refused is None:
            logout(request)
            return redirect("sign-in")
        form.add_error(None, refusal_words(refused, today_nowhere()))
    gone = [garden for household in people_actions.alone_with(person) for garden in household.gardens.all()]
    return show(request, "garden/account_delete.html", DeletePage(form, gone, people_actions.owner_alone_of(person)))
