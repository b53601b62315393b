"""The door (sign-in, first account), the garden's climate, its places and its people."""

from __future__ import annotations

from dataclasses import dataclass

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.forms import PasswordChangeForm
from django.contrib.auth.views import LoginView, PasswordChangeView
from django.db.models import F
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseBase
from django.shortcuts import get_object_or_404, redirect
from django.template.response import TemplateResponse
from django.urls import reverse_lazy
from django.utils import timezone
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.web.garden import actions
from elder.web.garden.access import GardenRequest, gardens_of, in_garden, may, signed_in
from elder.web.garden.account_forms import FirstAccountForm, HabitsForm, PersonForm
from elder.web.garden.almanac_views import almanac_of
from elder.web.garden.door import is_on_this_machine, say_first_code, tries_many_names
from elder.web.garden.forms import GardenForm
from elder.web.garden.guesses import guess_words
from elder.web.garden.models import Garden, Invitation, Membership, Person, Records
from elder.web.garden.possible_nights import fit_words
from elder.web.read.gardens import climate_of
from elder.web.say.glossary import WORDS, Word
from elder.web.say.words import looks_words, plural, sureness
from elder.web.ui.pages import FormPage, RowForm, show
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class WordsPage:
    """What the words on the screen mean."""

    words: tuple[Word, ...]


@dataclass(frozen=True)
class GardenPage:
    """The garden: its climate in short, and who gardens here."""

    headline: str
    people: list[Membership]
    roles: list[tuple[str, str]]
    recorded: Records | None
    risk: str
    looks: str
    guess: str
    fit: list[str]
    invited: str


class SignIn(LoginView):
    """Sign in; the demo offers its one press, an empty Elder asks for a first account."""

    template_name = "garden/sign_in.html"
    redirect_authenticated_user = True

    def dispatch(self, request: HttpRequest, *args: object, **kwargs: object) -> HttpResponseBase:
        """With nobody here yet, the first account comes first."""
        if not Person.objects.exists():
            return redirect("first-account")
        if request.method == "POST" and tries_many_names(request):
            return TemplateResponse(request, "garden/locked_out.html", status=429)
        return super().dispatch(request, *args, **kwargs)

    def get_context_data(self, **kwargs: object) -> dict[str, object]:
        """Whether the demo's door stands open."""
        return super().get_context_data(**kwargs, demo_open=demo_open(self.request))


def demo_open(request: HttpRequest) -> bool:
    """One press signs in, but only in demo mode and only on this machine."""
    return bool(settings.DEMO) and is_on_this_machine(request)


@require_POST
def enter_demo(request: HttpRequest) -> HttpResponse:
    """Sign in to the demo garden as its gardener."""
    if not demo_open(request):
        raise Http404
    person = get_object_or_404(Person, username="gardener", households__demo_day__isnull=False)
    login(request, person, backend="django.contrib.auth.backends.ModelBackend")
    return redirect("home")


@require_http_methods(["GET", "POST"])
def first_account(request: HttpRequest) -> HttpResponse:
    """The first account of an empty Elder. Gone once there is one."""
    if Person.objects.exists():
        raise Http404
    say_first_code()
    form = FirstAccountForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        person = form.save(commit=False)
        person.is_staff = True  # whoever sets Elder up keeps it
        person.save()
        actions.open_house(person, f"{person.username}’s household")
        login(request, person, backend="django.contrib.auth.backends.ModelBackend")
        saved(request, "first-account", "You are in. Now the garden: where it lies and what its year is like.")
        return redirect("garden-new")
    return show(request, "garden/first_account.html", FormPage(form))


@require_GET
@signed_in
def home(request: HttpRequest) -> HttpResponse:
    """The season of the first garden, or a new garden where there is none."""
    return _in_first_garden(request, "season")


@require_GET
@signed_in
def now(request: HttpRequest) -> HttpResponse:
    """The round of the first garden: where the sign on a phone's screen leads."""
    return _in_first_garden(request, "round")


@require_GET
@signed_in
def hand(request: HttpRequest) -> HttpResponse:
    """What is in one's hand, in the first garden."""
    return _in_first_garden(request, "windfall")


def _in_first_garden(request: HttpRequest, room: str) -> HttpResponse:
    """A room of the first garden that is still gardened, or a new garden where there is none."""
    garden = gardens_of(request.user).order_by(F("closed_on").asc(nulls_first=True), "pk").first()
    return redirect(room, garden.pk) if garden else redirect("garden-new")


@require_http_methods(["GET", "POST"])
@signed_in
def habits(request: HttpRequest) -> HttpResponse:
    """Units and theme."""
    form = HabitsForm(request.POST or None, instance=request.user)
    if request.method == "POST" and form.is_valid():
        form.save()
        saved(request, "habits", "Kept.")
        return redirect("habits")
    return show(request, "garden/habits.html", FormPage(form))


class NewPassword(PasswordChangeView):
    """Another password for oneself."""

    template_name = "garden/password.html"
    success_url = reverse_lazy("habits")

    def form_valid(self, form: PasswordChangeForm) -> HttpResponse:
        """Say so, and go back to one's habits."""
        saved(self.request, "password", "The new password holds from now on.")
        return super().form_valid(form)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def edit_garden(request: GardenRequest) -> HttpResponse:
    """Where the garden lies and what its year is like."""
    row = Garden.objects.get(pk=request.garden.pk)
    form = GardenForm(request.POST or None, instance=row, units=request.user.units)
    if request.method == "POST" and form.is_valid():
        form.save()
        saved(request, "garden", "Kept. Every plan is reckoned anew.")
        return redirect("garden", request.garden.pk)
    return show(request, "garden/garden_form.html", RowForm(form, row))


@require_GET
@in_garden("see")
def words(request: GardenRequest) -> HttpResponse:
    """What the words on the screen mean."""
    return show(request, "garden/words.html", WordsPage(WORDS))


@require_GET
@in_garden("see")
def garden(request: GardenRequest) -> HttpResponse:
    """The garden: its climate in short, and who gardens here."""
    people = Membership.objects.filter(household=request.garden.household).select_related("person")
    page = GardenPage(
        headline=almanac_of(request).headline(),
        people=list(people),
        roles=Membership.Role.choices,
        recorded=Records.objects.filter(garden=request.garden).first(),
        risk=sureness(request.garden.accepted_risk),
        looks=looks_words(request.garden.look_every_days),
        guess=guess_words(request.garden),
        fit=fit_words(climate_of(request.garden), request.user.units),
        invited=_invited_words(request.garden) if may(request.role, "keep") else "",
    )
    return show(request, "garden/garden.html", page)


def _invited_words(garden: Garden) -> str:
    """How many links would let somebody in."""
    count = Invitation.objects.filter(household=garden.household, used_on=None, until__gt=timezone.now()).count()
    return f"{plural(count, 'link is', 'links are')} out that nobody has used yet." if count else ""


@require_POST
@in_garden("keep")
def change_part(request: GardenRequest, membership_id: int) -> HttpResponse:
    """Another role for someone, or none."""
    membership = get_object_or_404(Membership, pk=membership_id, household=request.garden.household)
    role = None if "out" in request.POST else request.POST.get("role")
    if role is not None and role not in Membership.Role.values:
        raise Http404
    if actions.change_part(membership, role):
        saved(request, "part", "Kept.")
    else:
        messages.error(request, "Somebody must own the household: make another owner first.")
    return redirect("home") if membership.person_id == request.user.pk else redirect("garden", request.garden.pk)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def new_person(request: GardenRequest) -> HttpResponse:
    """Let someone into the household, with a role."""
    form = PersonForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        actions.welcome(form.save(), request.garden.household, form.cleaned_data["role"])
        saved(request, "person", f"{form.cleaned_data['username']} may sign in now.")
        return redirect("garden", request.garden.pk)
    return show(request, "garden/person_form.html", FormPage(form))
