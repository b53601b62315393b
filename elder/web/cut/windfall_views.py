"""Cut: the windfall. What is in the hand, and what can become of it."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from uuid import uuid4

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_GET, require_POST

from elder.drawing.scene import Scene
from elder.engine.climate.day_of_year import add_days
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.keeping import lent
from elder.engine.place.light import PlaceLight
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.plan.material import Material
from elder.engine.plan.windfall import Windfall, WindfallOption, cannot_be_struck, what_can_this_become
from elder.engine.plan.windfall_worth import Worth
from elder.engine.record.knowing import with_after_roots
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting
from elder.web.batches.models import Batch
from elder.web.batches.undoing import untaking
from elder.web.cut import actions
from elder.web.cut.forms import HandForm, TakeHandForm
from elder.web.cut.hand_steps import UNCUT, hand_steps, treatment_of
from elder.web.cut.sheet import SheetLine, cutting_picture
from elder.web.cut.wording import WORTH_WORDS, flags_words, light_reason, option_words
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.read.gardens import assumptions_of, climate_of, place_of
from elder.web.read.handbook import own_here, plant_here
from elder.web.read.light import light_of
from elder.web.read.records import record_of
from elder.web.say.pieces import HABITS
from elder.web.say.record import BY_WORDS
from elder.web.say.refusals import lead_and_rest, refusal_words
from elder.web.say.routes import onward_words
from elder.web.say.words import listed
from elder.web.stock.models import StockPlant
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved

SHOWN = 5
ANYWHERE = EnginePlace("air")  # every place is tried, so the setting's own are not read
MOST_TAKEN, MOST_LIKELY = 500, 200  # the most a batch and a want hold
START = {
    "plant": "tomato", "piece": "broken stem", "pieces": 1, "length": 40, "state": "sound", "cut_days": 0,
    "kept": "bag",
}  # fmt: skip
SIGNS = {Worth.THIS_YEAR: "on-course", Worth.STANDS: "tight", Worth.KEPT: "tight", Worth.TOO_LATE: "refused"}
PURPOSE = {Worth.THIS_YEAR: "bed", Worth.STANDS: "spare", Worth.KEPT: "spare", Worth.TOO_LATE: "spare"}


@dataclass(frozen=True)
class Whole:
    """The same kept whole, beside cutting it up: what comes of it, and what its button sends."""

    said: str
    cut_up: int
    take: dict[str, object]


@dataclass(frozen=True)
class Shown:
    """One way as the page shows it."""

    option: WindfallOption
    worth: str
    strong: str
    rest: str
    flags: str
    light: str
    places: str
    steps: list[SheetLine]
    cutting: Scene | None
    cautions: list[str]
    take: dict[str, object]
    whole: Whole | None
    onward: str

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
    habit: str = ""
    record: str = ""


@require_GET
@in_garden("see")
def windfall(request: GardenRequest) -> HttpResponse:
    """What can this become if it is cut today, and is it still worth it this season?"""
    length = 16 if request.user.units == "us" else 40
    asked = {**START, "length": length, **request.GET.dict()}  # an address need not say all of it
    mothers = StockPlant.objects.filter(garden=request.garden, ended_on=None).values_list("name", flat=True)
    own = own_here(request.garden).values()
    form = HandForm(asked, units=request.user.units, mothers=mothers, own=own)
    page = _answered(request, form) if form.is_valid() else WindfallPage(form)
    return show(request, "cut/windfall_answer.html" if wants_fragment(request) else "cut/windfall.html", page)


def _asked_under(request: GardenRequest, plant: Plant) -> Setting:
    """What a windfall is asked under: every way and every place is tried, so those given are not read."""
    garden, record = request.garden, record_of(request.garden, request.today)
    assumed = with_after_roots(assumptions_of(garden), record.after_roots(plant.slug))
    return Setting(plant, plant.methods[0], climate_of(garden), ANYWHERE, ANYWHERE, request.today, assumed)


def _answered(request: GardenRequest, form: HandForm) -> WindfallPage:
    plant = record_of(request.garden, request.today).plant_here(handbook()[form.cleaned_data["plant"]])
    rows = {place.pk: place for place in request.garden.places.all()}
    spots = [(str(pk), place_of(place)) for pk, place in rows.items()]
    lights = tuple((str(pk), light_of(place)) for pk, place in rows.items())
    found = cannot_be_struck(plant) or _becomes(
        form.material, _asked_under(request, plant), tuple(spots), lights, request.garden.accepted_risk
    )
    if isinstance(found, Refusal):
        return WindfallPage(form, plant, refused=lead_and_rest(refusal_words(found, request.today)))
    names = {str(pk): place.name for pk, place in rows.items()}
    return WindfallPage(
        form,
        plant,
        shown=[_shown(option, plant, form, names, request) for option in found.options[:SHOWN]],
        not_offered=[item.method for item in found.not_offered],
        may_take=may(request.role, "tend"),
        habit=HABITS.get(plant.slug, ""),
        record=_record_words(request, plant),
    )


@lent
def _becomes(
    material: Material,
    setting: Setting,
    spots: tuple[tuple[str, EnginePlace], ...],
    lights: tuple[tuple[str, PlaceLight | None], ...],
    risk: float,
) -> Windfall | Refusal:
    return what_can_this_become(material, setting, spots, accepted_risk=risk, lights=dict(lights))


def _record_words(request: GardenRequest, plant: Plant) -> str:
    """By what takes and days are reckoned, where one's own batches of the plant have told."""
    record = record_of(request.garden, request.today)
    ways = [
        method for method in plant.methods if record.planned_with(plant, handbook()[plant.slug].method(method.slug))
    ]
    if not ways:
        return ""
    return f"Takes and days go {BY_WORDS[record.plan_by]} for {listed(method.name for method in ways)}."


def _shown(
    option: WindfallOption, plant: Plant, form: HandForm, names: dict[str, str], request: GardenRequest
) -> Shown:
    material = form.material
    strong, rest = option_words(option, plant.grown_by(option.method), request.today)
    places = [names[key] for key in dict.fromkeys(option.places)]
    return Shown(
        option=option,
        worth=WORTH_WORDS[option.worth],
        strong=strong,
        rest=rest,
        flags=flags_words(option),
        light=light_reason(option),
        places=", then ".join(places),
        steps=hand_steps(option, plant, material, places[0], request),
        cutting=cutting_picture(plant, option.method, request.user.units),
        cautions=[caution.text for caution in plant.cautions if caution.at in ("cut", "stick")],
        take=_take(option, plant, form, request.today),
        whole=_whole(option, plant, form, request.today),
        onward=f"{onward_words(option.method)} {option.method.risk}".strip(),
    )


def _whole(option: WindfallOption, plant: Plant, form: HandForm, today: date) -> Whole | None:
    """What keeping it whole comes to, where it could be cut up instead."""
    if option.whole is None or option.whole.worth is Worth.TOO_LATE:
        return None
    strong, _ = option_words(option.whole, plant.grown_by(option.method), today)
    return Whole(strong, option.cuttings, {**_take(option.whole, plant, form, today), **UNCUT})


def _take(option: WindfallOption, plant: Plant, form: HandForm, today: date) -> dict[str, object]:
    """What the button of a way sends."""
    material, data = form.material, form.cleaned_data
    out = option.plant_out
    lain = material.cut_days if option.method.dry_days and material.kept == "dry" else 0
    return {
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
        "stem": treatment_of(material).get("stem", ""),
        "variety": data["variety"],
        "stock_plant": data["mother"],
        "cut_on": add_days(today, -lain).isoformat() if lain else "",
    }


@require_POST
@in_garden("tend")
def take_windfall(request: GardenRequest) -> HttpResponse:
    """One press: the batch is taken, and stands on the Season board."""
    form = TakeHandForm(request.POST)
    places = {place.pk: place for place in request.garden.places.all()}
    data = form.cleaned_data if form.is_valid() else {}
    plant = plant_here(request.garden, data.get("plant", ""))
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
        variety=data["variety"],
        cut_on=data["cut_on"],
        treatment={name: data[name] for name in ("stem", "size") if data[name]},
    )
    made = actions.take_windfall(found, garden=request.garden, person=request.user, today=request.today)
    if isinstance(made, Batch):
        undo = untaking(made, request.garden, with_want=True)
        saved(request, "hand", f"Taken: {data['count']}. The line below is what to expect of them.", undo=undo)
        return redirect("batch", request.garden.pk, made.pk)
    messages.error(request, "That could not be written down. Here is the answer anew.")
    return redirect("windfall", request.garden.pk)
