"""Feed at part strength, as millilitres for this can or jar."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from django.http import HttpResponse
from django.views.decorators.http import require_GET

from elder.engine.cut.feed import SHARES, feed_ml
from elder.engine.refusal import Refusal
from elder.web.cut.forms import FeedForm
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.say.cautions import FEEDING
from elder.web.say.refusals import refusal_words
from elder.web.say.units import US, shown_small_volume
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment

START: Final = {"dose": "5", "per": "1", "share": "half", "litres": "5"}


@dataclass(frozen=True)
class FeedPage:
    """A dose and a can; the answer once it can be given."""

    form: FeedForm
    answer: str
    caution: str = FEEDING


@require_GET
@in_garden("see")
def feed(request: GardenRequest) -> HttpResponse:
    """So many millilitres for this can, at a share of the label's dose."""
    form = FeedForm({**START, **request.GET.dict()})
    answer = _answer(form, request) if form.is_valid() else ""
    template = "cut/feed_answer.html" if wants_fragment(request) else "cut/feed.html"
    return show(request, template, FeedPage(form, answer))


def _answer(form: FeedForm, request: GardenRequest) -> str:
    data = form.cleaned_data
    found = feed_ml(data["dose"], data["per"], SHARES[data["share"]], data["litres"])
    if isinstance(found, Refusal):
        form.add_error(found.field, refusal_words(found, request.today))
        return ""
    us = f" ({shown_small_volume(found, US)})" if request.user.units == US else ""
    return f"{found:.3g} ml{us} to {data['litres']:g} litres of water."
