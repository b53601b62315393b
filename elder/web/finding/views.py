"""One box for everything: the page, and its answer alone while one types."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from django.views.decorators.http import require_GET

from elder.web.finding.finds import FoundHere, find
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.ui.pages import show

LONGEST = 80


@dataclass(frozen=True)
class FindPage:
    """What was typed, and what it finds."""

    typed: str
    answer: FoundHere


@require_GET
@in_garden("see")
def found(request: GardenRequest) -> HttpResponse:
    """Everything that goes by the words typed."""
    typed = " ".join(request.GET.get("q", "").split())[:LONGEST]
    template = "finding/answer.html" if "X-Alpine-Request" in request.headers else "finding/find.html"
    return show(request, template, FindPage(typed, find(request.garden, typed)))
