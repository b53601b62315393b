"""Several wants at once in one's own words: the page, its answers while one types, and keeping them."""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import urlencode

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_http_methods

from elder.web.garden.access import GardenRequest, in_garden
from elder.web.say.words import plural
from elder.web.season.first import FirstAnswer, first_answers, keep_first
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved

LONGEST = 1000


@dataclass(frozen=True)
class FirstPage:
    """What was said, an answer for each plant of it, and how many can be kept."""

    said: str
    answers: list[FirstAnswer]
    kept: int


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def first(request: GardenRequest) -> HttpResponse:
    """Say what you want in your own words; each plant is answered, and what can be had is kept in one press."""
    garden, today = request.garden, request.today
    if not garden.places.exists():
        messages.info(request, "First say where cuttings can stand: a sill, a shelf, a glasshouse.")
        return redirect("place-new", garden.pk)
    sent = request.POST if request.method == "POST" else request.GET
    said = sent.get("said", "")[:LONGEST]
    answers = first_answers(garden, said, today, request.user.units)
    if request.method == "POST":
        kept, left = keep_first(garden, request.user, answers, today)
        if kept:
            saved(request, "wants", f"Kept: {plural(kept, 'want', 'wants')}.")
        if kept and not left:
            return redirect("season", garden.pk)
        if kept:
            return redirect(f"{reverse('want-first', args=[garden.pk])}?{urlencode({'said': chr(10).join(left)})}")
    can = sum(answer.row is not None and not answer.near for answer in answers)
    template = "season/first_answers.html" if wants_fragment(request) else "season/first.html"
    return show(request, template, FirstPage(said, answers, can))
