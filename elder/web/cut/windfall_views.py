"""Cut: the windfall. What is in the hand, and what can become of it."""

from __future__ import annotations

from dataclasses import dataclass, field
from uuid import uuid4

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_GET, require_POST

from elder.engine.handbook.loading import clonable, handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.plan.windfall import WindfallOption, Worth, cannot_be_struck, what_can_this_become
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting
from elder.web.batches.models import Batch
from elder.web.batches.undoing import untaking
from elder.web.cut import actions
from elder.web.cut.forms import HandForm, TakeHandForm
from elder.web.cut.hand_steps import HandStep, hand_steps
from elder.web.cut.wording import WORTH_WORDS, flags_words, option_words
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.read.gardens import assumptions_of, climate_of, place_of
from elder.web.say.refusals import lead_and_rest, refusal_words
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved

SHOWN = 5
ANYWHERE = EnginePlace("air")  # every place is tried, so the setting's own are not read
MOST_TAKEN, MOST_LIKELY = 500, 200  # the most a batch and a want hold
START = {"plant": "tomato", "piece": "broken stem", "pieces": 1, "length": 40, "state": "sound"}
SIGNS = {Worth.THIS_YEAR: "on-course", Worth.STANDS: "tight", Worth.KEPT: "tight", Worth.TOO_LATE: "refused"}
PURPOSE = {Worth.THIS_YEAR: "bed", Worth.STANDS: "spare", Worth.KEPT: "spare", Worth.TOO_LATE: "spare"}


@dataclass(frozen=True)
class Shown:
    """One way as the page shows it."""

    option: WindfallOption
    worth: str
    strong: str
    rest: str
    flags: str
    places: str
    steps: list[HandStep]
    cautions: list[str]
    take: dict[str, object]

    @property
    def sign(self) -> str:
        """The sign beside it: worth it, half worth it, or not."""
        return SIGNS[self.option.worth]

    @property
    def is_worth_it(self) -> bool:
        """Whether a batch of it is offered."""
        return self.option.worth is not Worth.TOO_LATE


@dataclass(frozen=True)
class WindfallPage:
    """What is in the hand; the ways of it, best first, or why there is none, as a lead and the rest."""

    form: HandForm
    plant: Plant | None = None
    refused: tuple[str, str] | None = None
    shown: list[Shown] = field(default_factory=list)
    not_offered: list[Method] = field(default_factory=list)
    may_take: bool = False


@require_GET
@in_garden("see")
def windfall(request: GardenRequest) -> HttpResponse:
    """What can this become if it is cut today, and is it still worth it this season?"""
    length = 16 if request.user.units == "us" else 40
    asked = {**START, "length": length, **request.GET.dict()}  # an address need not say all of it
    form = HandForm(asked, units=request.user.units)
    page = _answered(request, form) if form.is_valid() else WindfallPage(form)
    return show(request, "cut/windfall_answer.html" if wants_fragment(request) else "cut/windfall.html", page)


def _asked_under(request: GardenRequest, plant: Plant) -> Setting:
    """What a windfall is asked under: every way and every place is tried, so those given are not read."""
    garden = request.garden
    return Setting(
        plant, plant.methods[0], climate_of(garden), ANYWHERE, ANYWHERE, request.today, assumptions_of(garden)
    )


def _answered(request: GardenRequest, form: HandForm) -> WindfallPage:
    plant = handbook()[form.cleaned_data["plant"]]
    rows = {place.pk: place for place in request.garden.places.all()}
    spots = [(str(pk), place_of(place)) for pk, place in rows.items()]
    found = cannot_be_struck(plant) or what_can_this_become(
        form.material,
        _asked_under(request, plant),
        spots,
        accepted_risk=request.garden.accepted_risk,
    )
    if isinstance(found, Refusal):
        return WindfallPage(form, plant, refused=lead_and_rest(refusal_words(found, request.today)))
    names = {str(pk): place.name for pk, place in rows.items()}
    return WindfallPage(
        form,
        plant,
        shown=[_shown(option, plant, names, request) for option in found.options[:SHOWN]],
        not_offered=[item.method for item in found.not_offered],
        may_take=may(request.role, "tend"),
    )


def _shown(option: WindfallOption, plant: Plant, names: dict[str, str], request: GardenRequest) -> Shown:
    strong, rest = option_words(option, plant.grown_by(option.method), request.today)
    places = [names[key] for key in dict.fromkeys(option.places)]
    out = option.plant_out
    return Shown(
        option=option,
        worth=WORTH_WORDS[option.worth],
        strong=strong,
        rest=rest,
        flags=flags_words(option),
        places=", then ".join(places),
        steps=hand_steps(option, plant, places[0], request),
        cautions=[caution.text for caution in plant.cautions if caution.at in ("cut", "stick")],
        take={
            "key": uuid4(),
            "plant": plant.slug,
            "method": option.method.slug,
            "rooting": option.places[0],
            "growing": option.places[1],
            "count": min(option.cuttings, MOST_TAKEN),
            "likely": min(max(round(option.likely), 1), MOST_LIKELY),
            "by": out.isoformat() if out else "",
            "purpose": PURPOSE[option.worth],
            "seen": " ".join(option.flags),
        },
    )


@require_POST
@in_garden("tend")
def take_windfall(request: GardenRequest) -> HttpResponse:
    """One press: the batch is taken, and stands on the Season board."""
    form = TakeHandForm(request.POST)
    places = {place.pk: place for place in request.garden.places.all()}
    data = form.cleaned_data if form.is_valid() else {}
    plant = clonable().get(data.get("plant", ""))
    known = plant and data["method"] in {way.slug for way in plant.ways}
    if not known or data["rooting"] not in places or data["growing"] not in places:
        messages.error(request, "That answer had grown old. Here it is anew; press again.")
        return redirect("windfall", request.garden.pk)
    found = actions.ChosenWay(
        plant=data["plant"],
        method=data["method"],
        places=(places[data["rooting"]], places[data["growing"]]),
        count=data["count"],
        wanted=data["likely"],
        by=data["by"],
        purpose=data["purpose"],
        stock_plant=data["stock_plant"],
        key=data["key"],
        seen=tuple(data["seen"].split()),
    )
    made = actions.take_windfall(found, garden=request.garden, person=request.user, today=request.today)
    if isinstance(made, Batch):
        undo = untaking(made, request.garden, with_want=True)
        saved(request, "hand", f"Taken: {data['count']}. The line below is what to expect of them.", undo=undo)
        return redirect("batch", request.garden.pk, made.pk)
    messages.error(request, "That could not be written down. Here is the answer anew.")
    return redirect("windfall", request.garden.pk)
