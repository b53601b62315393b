"""The door (sign-in, first account), the garden's climate, its places and its people."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_required
from django.contrib.auth.views import LoginView, PasswordChangeView
from django.db.models import RestrictedError
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse_lazy
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.chance.ready_by import course_of, first_day_at
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import doy0
from elder.engine.climate.normals import daily_normals
from elder.engine.handbook.loading import clonable
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import GROUND_DEPTH_M, hourly_temperatures, soil_mean
from elder.engine.setting import Setting
from elder.engine.space.occupancy import Stay
from elder.web.garden import actions
from elder.web.garden.access import GardenRequest, gardens_of, in_garden
from elder.web.garden.climate_views import almanac_of
from elder.web.garden.clock import today_in
from elder.web.garden.forms import CONTAINERS, AccountForm, GardenForm, HabitsForm, PersonForm, PlaceForm
from elder.web.garden.models import Garden, Household, Membership, Person, Place, Records
from elder.web.places.readings import read_sensors
from elder.web.read.gardens import climate_of, place_of
from elder.web.read.wants import reckon_all
from elder.web.say.units import shown_depth, temperature
from elder.web.say.words import sureness
from elder.web.season.board import all_stays
from elder.web.ui.saved import saved

LOOPBACK = ("127.0.0.1", "::1")


class SignIn(LoginView):
    """Sign in; the demo offers its one press, an empty Elder asks for a first account."""

    template_name = "garden/sign_in.html"
    redirect_authenticated_user = True

    def dispatch(self, request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
        """With nobody here yet, the first account comes first."""
        if not Person.objects.exists():
            return redirect("first-account")
        return super().dispatch(request, *args, **kwargs)

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Whether the demo's door stands open."""
        return super().get_context_data(**kwargs, demo_open=demo_open(self.request))


def demo_open(request: HttpRequest) -> bool:
    """One press signs in, but only in demo mode and only on this machine."""
    return bool(settings.DEMO) and request.META.get("REMOTE_ADDR") in LOOPBACK


@require_POST
def enter_demo(request: HttpRequest) -> HttpResponse:
    """Sign in to the demo garden as its gardener."""
    if not demo_open(request):
        raise Http404
    person = get_object_or_404(Person, username="gardener", households__demo_day__isnull=False)
    login(request, person, backend="django.contrib.auth.backends.ModelBackend")
    return redirect("home")


@require_POST
@login_required
def move_clock(request: HttpRequest) -> HttpResponse:
    """Move the demo's day on by a day, a week or a month."""
    household = Household.objects.filter(people=request.user, demo_day__isnull=False).first()  # type: ignore[misc]
    step = {"day": 1, "week": 7, "month": 30}.get(request.POST.get("step", ""))
    if not settings.DEMO or household is None or step is None:
        raise Http404
    actions.move_clock(household, step)
    for one in household.gardens.all():
        read_sensors(one, today=today_in(one))
    garden = gardens_of(request.user).filter(pk=request.POST.get("garden") or 0).first()
    return redirect("season", garden.pk) if garden else redirect("home")


@require_http_methods(["GET", "POST"])
def first_account(request: HttpRequest) -> HttpResponse:
    """The first account of an empty Elder. Gone once there is one."""
    if Person.objects.exists():
        raise Http404
    form = AccountForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        person = form.save()
        actions.open_house(person, f"{person.username}’s household")
        login(request, person, backend="django.contrib.auth.backends.ModelBackend")
        saved(request, "first-account", "You are in. Now the garden: where it lies and what its year is like.")
        return redirect("garden-new")
    return render(request, "garden/first_account.html", {"form": form})


@require_GET
@login_required
def home(request: HttpRequest) -> HttpResponse:
    """The season of the first garden, or a new garden where there is none."""
    garden = gardens_of(request.user).first()
    return redirect("season", garden.pk) if garden else redirect("garden-new")


@require_http_methods(["GET", "POST"])
@login_required
def habits(request: HttpRequest) -> HttpResponse:
    """Units and theme."""
    form = HabitsForm(request.POST or None, instance=request.user)
    if request.method == "POST" and form.is_valid():
        form.save()
        saved(request, "habits", "Kept.")
        return redirect("habits")
    return render(request, "garden/habits.html", {"form": form})


class NewPassword(PasswordChangeView):
    """Another password for oneself."""

    template_name = "garden/password.html"
    success_url = reverse_lazy("habits")

    def form_valid(self, form: Any) -> Any:
        """Say so, and go back to one's habits."""
        saved(self.request, "password", "The new password holds from now on.")
        return super().form_valid(form)


@require_http_methods(["GET", "POST"])
@login_required
def new_garden(request: HttpRequest) -> HttpResponse:
    """A new garden in a household one owns."""
    person: Any = request.user
    owned = Household.objects.filter(memberships__person=person, memberships__role=Membership.Role.OWNER)
    household = owned.first()
    if household is None:
        raise Http404
    form = GardenForm(request.POST or None, units=person.units)
    if request.method == "POST" and form.is_valid():
        garden = actions.add_garden(form.save(commit=False), household)
        saved(request, "garden", "Kept, with two places to begin with. Now say what you want.")
        return redirect("season", garden.pk)
    return render(request, "garden/garden_form.html", {"form": form, "new": True})


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
    return render(request, "garden/garden_form.html", {"form": form, "new": False})


@require_GET
@in_garden("see")
def garden(request: GardenRequest) -> HttpResponse:
    """The garden: its climate in short, and who gardens here."""
    people = Membership.objects.filter(household=request.garden.household).select_related("person")
    context = {
        "headline": almanac_of(request).headline(),
        "people": people,
        "roles": Membership.Role.choices,
        "recorded": Records.objects.filter(garden=request.garden).first(),
        "risk": sureness(request.garden.accepted_risk),
    }
    return render(request, "garden/garden.html", context)


@require_GET
@in_garden("see")
def places(request: GardenRequest) -> HttpResponse:
    """Where cuttings stand, how warm it is there today, what that is worth to each plant, and the room left."""
    climate, doy, units = climate_of(request.garden), doy0(request.today), request.user.units
    found, ways = list(request.garden.places.all()), _ways_in_use(request.garden)
    days = [[_root_days(place, climate, *way, request.today) for way in ways] for place in found]
    quickest = [min((row[i] for row in days if row[i] >= 0), default=-1) for i in range(len(ways))]
    every = all_stays(reckon_all(request.garden, request.today), request.garden, request.today)
    stays = [stay for several in every.values() for stay in several]
    rows = []
    for place, paces in zip(found, days, strict=True):
        hours = hourly_temperatures(place_of(place), climate)[doy]
        warmth = f"{temperature(float(hours.min()), units)} to {temperature(float(hours.max()), units)}"
        marked = [(pace, pace == best >= 0) for pace, best in zip(paces, quickest, strict=True)]
        rows.append(
            {"place": place, "warmth": warmth, "paces": marked, "room": room_words(place, stays, request.today)}
        )
    low, high = (float(curve[doy]) for curve in daily_normals(climate.normals))
    context = {
        "rows": rows,
        "air": f"{temperature(low, units)} to {temperature(high, units)}",
        "ground": temperature(float(soil_mean(climate)[doy]), units),
        "depth": shown_depth(GROUND_DEPTH_M, units),
        "plants": [plant.name for plant, _ in ways],
    }
    return render(request, "garden/places.html", context)


MOST_COLUMNS = 6
USUAL = (("tomato", "jar"), ("basil", "jar"), ("mint", "jar"))


def _ways_in_use(garden: Garden) -> list[tuple[Plant, Method]]:
    """The plants wanted now, each by its way, as many as a table holds; three usual ones where there are none."""
    wanted = list(garden.wants.filter(closed_on=None).values_list("plant", "method").distinct())
    seen = dict(reversed([(plant, way) for plant, way in wanted if plant in clonable()]))
    pairs = list(seen.items())[-MOST_COLUMNS:][::-1] or list(USUAL)
    return [(clonable()[plant], clonable()[plant].method(way)) for plant, way in pairs]


def room_words(place: Place, stays: list[Stay], today: date) -> list[tuple[str, bool]]:
    """How much of each container is taken today, and whether that is too much."""
    found = []
    for kind, holds in place.room.items():
        here = [stay for stay in stays if (stay.place, stay.container) == (place.pk, kind)]
        taken = sum(stay.count for stay in here if stay.first <= today <= stay.last)
        found.append((f"{CONTAINERS[kind]} {taken} of {holds}", taken > holds))
    return found


def _root_days(place: Place, climate: Climate, plant: Plant, method: Method, today: date) -> int:
    """Days until half of those struck today would be ready to pot there; −1 for not within 240 days, −2 where
    that way has no business in that place."""
    if method.direct != (place.standing == Place.Standing.GROUND):
        return -2
    spot = place_of(place)
    course = course_of(Setting(plant, method, climate, spot, spot, today).raising(), today, 1, 240)
    return int(first_day_at(course.rooted[0], 0.5))


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def new_place(request: GardenRequest) -> HttpResponse:
    """A new place."""
    return _place_form(request, None)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def edit_place(request: GardenRequest, place_id: int) -> HttpResponse:
    """Put a place right, or take it away while nothing stands there."""
    return _place_form(request, get_object_or_404(Place, pk=place_id, garden=request.garden))


def _place_form(request: GardenRequest, row: Place | None) -> HttpResponse:
    if row and "remove" in request.POST:
        return _remove_place(request, row)
    form = PlaceForm(request.POST or None, instance=row, units=request.user.units, garden=request.garden)
    if request.method == "POST" and form.is_valid():
        form.save()
        saved(request, "place", "Kept.")
        return redirect("places", request.garden.pk)
    return render(request, "garden/place_form.html", {"form": form, "row": row})


def _remove_place(request: GardenRequest, row: Place) -> HttpResponse:
    try:
        row.delete()
    except RestrictedError:
        form = PlaceForm(instance=row, units=request.user.units, garden=request.garden)
        said = "Wants or batches name this place, so it stays; give it another name instead."
        return render(request, "garden/place_form.html", {"form": form, "row": row, "said": said})
    saved(request, "place", "Taken away.")
    return redirect("places", request.garden.pk)


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
    return render(request, "garden/person_form.html", {"form": form})
