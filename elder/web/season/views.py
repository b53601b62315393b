"""Season: the board, what if, fitting everything in, and the wants put away."""

from __future__ import annotations

from dataclasses import dataclass

from django.contrib import messages
from django.core.paginator import Page, Paginator
from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.models import Garden
from elder.web.read.handbook import plant_here
from elder.web.read.wants import reckon_all
from elder.web.say.plants import plant_words
from elder.web.say.words import sureness
from elder.web.season import actions
from elder.web.season.fitting import Proposal, is_near, propose
from elder.web.season.models import Want
from elder.web.season.season_page import risk_asked, season_page
from elder.web.ui.pages import A_LEAF, show
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class FitPage:
    """Days and places by which everything has room."""

    proposal: Proposal


@dataclass(frozen=True)
class AwayPage:
    """Wants that were put away, by the leaf; each with its plant's name."""

    rows: list[tuple[Want, str]]
    leaf: Page[Want]


@require_GET
@in_garden("see")
def season(request: GardenRequest) -> HttpResponse:
    """The board: every open want on one time axis, what is due, and where room lacks."""
    template = "season/live.html" if wants_fragment(request) else "season/season.html"
    return show(request, template, season_page(request))


@require_POST
@in_garden("keep")
def keep_risk(request: GardenRequest) -> HttpResponse:
    """Keep the frost risk that was tried, for the whole garden."""
    risk = risk_asked(request.POST.get("risk"))
    if risk is None:
        messages.error(request, "Choose a risk on the slider first.")
        return redirect("season", request.garden.pk)
    undo = actions.accept_risk(request.garden, risk).offered(request.garden)
    saved(request, "risk", f"From now on you accept a frost risk of {sureness(risk)}.", undo=undo)
    return redirect("season", request.garden.pk)


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def fit(request: GardenRequest) -> HttpResponse:
    """Propose days and places so that everything has room; change only what is accepted."""
    if request.method == "POST":
        return _accept(request)
    proposal = propose(reckon_all(request.garden, request.today), request.garden, request.today)
    return show(request, "season/fit.html", FitPage(proposal))


def _accept(request: GardenRequest) -> HttpResponse:
    """Change the wants whose boxes are ticked."""
    changes = [
        change
        for change in actions.named_changes(request.garden, request.POST.getlist("change"))
        if change.day and is_near(change.day, request.today)
    ]
    if not changes:
        messages.info(request, "Nothing was ticked, so nothing was changed.")
        return redirect("season-fit", request.garden.pk)
    count, undo = actions.place_wants(changes, request.garden, request.today)
    said = f"{count} {'want has its' if count == 1 else 'wants have their'} new days and places."
    saved(request, "fit", said, undo=undo.offered(request.garden))
    return redirect("season", request.garden.pk)


@require_GET
@in_garden("see")
def wants_away(request: GardenRequest) -> HttpResponse:
    """Wants that were put away."""
    rows = Want.objects.filter(garden=request.garden).exclude(closed_on=None).order_by("-closed_on", "-pk")
    leaf = Paginator(rows, A_LEAF).get_page(request.GET.get("page"))
    return show(request, "season/away.html", AwayPage([(row, _plant_of(row, request.garden)) for row in leaf], leaf))


def _plant_of(row: Want, garden: Garden) -> str:
    plant = plant_here(garden, row.plant)
    return plant_words(plant.name if plant else row.plant.capitalize(), row.variety)
