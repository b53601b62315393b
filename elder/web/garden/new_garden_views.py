"""A new garden: asked for in a few words, its year drawn as they are typed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import cast

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_GET, require_http_methods

from elder.drawing.scene import Scene
from elder.engine.handbook.loading import clonable
from elder.web.garden import actions
from elder.web.garden.access import signed_in
from elder.web.garden.almanac import Almanac, Strip
from elder.web.garden.clock import today_nowhere
from elder.web.garden.guesses import frost_words_of, guess_words
from elder.web.garden.models import Household, Membership, Person
from elder.web.garden.new_garden import WAYS, NewGardenForm
from elder.web.garden.possible_nights import fit_words
from elder.web.garden.towns import Town
from elder.web.garden.where import Spot
from elder.web.read.gardens import climate_of
from elder.web.ui.pages import show
from elder.web.ui.saved import saved

SHOWN_STRIPS = ("Warmth", "Nights", "Frost risk")


@dataclass(frozen=True)
class GardenAnswer:
    """What Elder makes of a new garden so far: where it lies, its year in words and drawn, what of it is guessed, and
    what is still wanted."""

    spot: Spot | None
    towns: tuple[Town, ...]
    headline: str
    frosts: list[str]
    guesses: str
    fit: list[str]
    ruler: Scene | None
    strips: list[Strip]
    wanted: list[str]


@dataclass(frozen=True)
class NewGardenPage:
    """The form of a new garden and its answer so far. ``way``: the way its year is said by."""

    form: NewGardenForm
    way: str
    ways: tuple[tuple[str, str], ...]
    answer: GardenAnswer


@require_http_methods(["GET", "POST"])
@signed_in
def new_garden(request: HttpRequest) -> HttpResponse:
    """A new garden in a household one owns; in one of one's own where one is of none, having left."""
    person = cast(Person, request.user)
    owned = Household.objects.filter(memberships__person=person, memberships__role=Membership.Role.OWNER)
    household = owned.first()
    if household is None and person.memberships.exists():
        raise Http404
    today = today_nowhere()
    form = NewGardenForm(request.POST or None, request.FILES or None, units=person.units, today=today)
    if request.method == "POST" and "look" not in request.POST and form.is_valid():
        household = household or actions.open_house(person, f"{person.username}’s household")
        garden = actions.add_garden(form.save(commit=False), household)
        if form.sent_days:
            sent = request.FILES["file"]
            actions.keep_draft(garden, person, getattr(sent, "name", "") or "a file", form.sent_days)
            saved(request, "garden", "Kept. Now look whether the file was understood.")
            return redirect("records-preview", garden.pk)
        saved(request, "garden", "Kept, with two places to begin with. Now say what you want.")
        return redirect("season", garden.pk)
    return show(request, "garden/new_garden.html", _page(form, person.units, today))


@require_GET
@signed_in
def answer(request: HttpRequest) -> HttpResponse:
    """The answer alone, for what is typed so far. A file is not sent with it: its year is drawn once it is kept."""
    person, today = cast(Person, request.user), today_nowhere()
    form = NewGardenForm(request.GET, units=person.units, today=today)
    return show(request, "garden/new_garden_answer.html", _page(form, person.units, today))


def _page(form: NewGardenForm, units: str, today: date) -> NewGardenPage:
    form.is_valid()  # cleaned as far as it goes, right or not
    row = form.row()
    if row is None:
        empty = GardenAnswer(form.spot, form.found.towns, "", [], "", [], None, [], _still_wanted(form))
        return NewGardenPage(form, form.chosen_way, WAYS, empty)
    climate = climate_of(row)
    almanac = Almanac(climate, today, row.accepted_risk, units, None)
    strips = [strip for strip in almanac.strips(clonable()["tomato"]) if strip.name in SHOWN_STRIPS]
    found = GardenAnswer(
        spot=form.spot,
        towns=form.found.towns,
        headline=almanac.headline(),
        frosts=frost_words_of(row),
        guesses=guess_words(row),
        fit=fit_words(climate, units),
        ruler=almanac.ruler,
        strips=strips,
        wanted=[],
    )
    return NewGardenPage(form, form.chosen_way, WAYS, found)


def _still_wanted(form: NewGardenForm) -> list[str]:
    """What is still to be said before a year can be drawn."""
    wanted = [] if form.spot else ["where it lies"]
    return wanted if form.normals else [*wanted, "what its year is like"]
