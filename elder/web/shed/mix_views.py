"""Mix worked out: so many litres of each, in whole packs, wet and dry weight; put on the list, and mixed."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import timedelta
from typing import Final
from uuid import UUID, uuid4

from django.core.exceptions import PermissionDenied
from django.http import HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST

from elder.drawing.scene import percent
from elder.engine.round.lifting import at_a_time, weight_limit_kg
from elder.engine.round.loads import weight_kg
from elder.engine.shed.kit import Kit
from elder.engine.shed.mix import cheapest_packs, dry_weight_kg, mix_for
from elder.engine.shed.recipes import Recipe
from elder.engine.shed.uses import PART
from elder.engine.shed.vessels import Vessel
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.read.kit import kit_of
from elder.web.read.shed import supplies_of, usual_pack
from elder.web.read.stock import InShed, in_shed
from elder.web.say.containers import vessel_words
from elder.web.say.mixes import mix_cautions, part_name, poured
from elder.web.say.shed import packs_words
from elder.web.say.units import shown_weight
from elder.web.say.words import plural
from elder.web.shed import actions
from elder.web.shed.forms import WET_KG, MixForm, RecipeForm
from elder.web.shed.models import Supply
from elder.web.shed.views import press
from elder.web.ui.pages import FormPage, show
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved

START: Final = {"recipe": "light", "vessel": "bag", "count": "9", "settle": "15"}
SOON_DAYS: Final = 7  # by when it is to be mixed, unless said otherwise (assumed)


@dataclass(frozen=True)
class PartLine:
    """One part: how much to pour, what is in the shed, what to buy of it and what is over then."""

    name: str
    share: str
    litres: str
    there: str
    packs: str
    over: str
    part: str


@dataclass(frozen=True)
class MixAnswer:
    """What a recipe comes to."""

    said: str
    lines: list[PartLine]
    weights: str
    lifting: str
    settles: str
    cautions: list[str]
    text: str


@dataclass(frozen=True)
class MixPage:
    """The question, and its answer once it can be given."""

    form: MixForm
    answer: MixAnswer | None
    key: UUID = field(default_factory=uuid4)


@require_http_methods(["GET", "POST"])
@in_garden("see")
def mix(request: GardenRequest) -> HttpResponse:
    """So many litres of each for these containers. A GET with answers in it is a sum; a POST puts it on the list."""
    kit, units = kit_of(request.garden), request.user.units
    by = (request.today + timedelta(days=SOON_DAYS)).isoformat()
    given = {**START, "by": by, **(request.POST if request.method == "POST" else request.GET).dict()}
    form = MixForm(given, kit=kit, units=units, today=request.today)
    answer = None
    if form.is_valid():
        if request.method == "POST" and "ask" not in request.POST:
            return _order(request, form)
        answer = answer_of(form, kit, request)
    template = "shed/mix_answer.html" if wants_fragment(request) else "shed/mix.html"
    return show(request, template, MixPage(form, answer))


def _order(request: GardenRequest, form: MixForm) -> HttpResponse:
    if not may(request.role, "tend"):
        raise PermissionDenied(f"a {request.role} may not put mix on the list")
    data = form.cleaned_data
    by = data["by"] or request.today
    row, undo = actions.order_mix(press(request), data["recipe"], data["vessel"], count=data["count"], by=by)
    said = "On the list: what it takes is asked of the shed from now on."
    saved(request, "shed-mix", said, undo=undo.offered(request.garden))
    return redirect("shed", row.garden_id)


def answer_of(form: MixForm, kit: Kit, request: GardenRequest) -> MixAnswer:
    """What a recipe comes to, for the containers asked."""
    data, units = form.cleaned_data, request.user.units
    recipe, vessel = kit.mix(data["recipe"]), kit.vessel(data["vessel"])
    if recipe is None or vessel is None:
        raise ValueError("the form offers only what there is")
    litres = vessel.filled_l * data["count"]
    parts = mix_for(recipe.shares, litres, data["settle"] / 100)
    held, supplies = in_shed(request.garden), supplies_of(request.garden)
    into = f"{data['count']} {vessel_words(vessel, data['count'], units)}"
    most = sum(parts.values())
    return MixAnswer(
        said=f"For {into}: {poured(litres, units)} as it stands, {poured(most, units)} poured.",
        lines=[_line(part, parts, recipe, held, supplies, units) for part in parts],
        weights=_weights(recipe, vessel, parts, data["count"], units),
        lifting=_lifting(recipe, vessel, data["count"]),
        settles=f"Loose mix settles by {data['settle']:g}%, so more is poured than will stand.",
        cautions=mix_cautions(parts),
        text=recipe.text,
    )


def _line(
    part: str, parts: dict[str, float], recipe: Recipe, held: InShed, supplies: dict[str, Supply], units: str
) -> PartLine:
    what, litres = PART + part, parts[part]
    row = supplies.get(what)
    size = row.pack if row else usual_pack(what)
    price = float(row.price) if row and row.price is not None else 1.0
    there = held.of(what)
    packs = cheapest_packs(max(litres - there, 0.0), [(size, price)])
    share = recipe.shares[part]
    return PartLine(
        name=part_name(part),
        share=f"{share:g} {'part' if share == 1 else 'parts'}",
        litres=poured(litres, units),
        there=poured(there, units) if what in held.since else "not counted",
        packs=packs_words(what, packs.count, size, units) if packs.count else "none: enough is there",
        over=poured(packs.over_l, units) if packs.count else "",
        part=percent(litres / sum(parts.values())),
    )


def _weights(recipe: Recipe, vessel: Vessel, parts: dict[str, float], count: int, units: str) -> str:
    dry = dry_weight_kg(parts)
    wet = weight_kg(vessel, recipe.wet_kg)
    return (
        f"Dry, all of it weighs about {shown_weight(dry, units)}; watered, each {vessel.one} with its plant "
        f"{shown_weight(wet, units)}, and all {count} together {shown_weight(wet * count, units)}."
    )


def _lifting(recipe: Recipe, vessel: Vessel, count: int) -> str:
    """How many to lift at a time, by the revised NIOSH equation; nothing where all may be."""
    many = at_a_time(weight_kg(vessel, recipe.wet_kg), weight_limit_kg())
    if many == 0:
        return "Fill it where it is to stand: it is more than one should lift from the floor."
    return f"Carry at most {many} at a time." if many < count else ""


@require_POST
@in_garden("tend")
def mixed(request: GardenRequest, order_id: int) -> HttpResponse:
    """It is mixed."""
    undo = actions.mixed(press(request), actions.order_of(request.garden, order_id))
    saved(request, "", "Mixed: its parts are used, and it stands made up.", undo=undo.offered(request.garden))
    return redirect("shed", request.garden.pk)


@require_POST
@in_garden("tend")
def drop(request: GardenRequest, order_id: int) -> HttpResponse:
    """It is not to be mixed after all."""
    undo = actions.drop_order(actions.order_of(request.garden, order_id))
    saved(request, "", "Off the list.", undo=undo.offered(request.garden))
    return redirect("shed", request.garden.pk)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def new_recipe(request: GardenRequest) -> HttpResponse:
    """A recipe of one's own."""
    form = RecipeForm(request.POST if request.method == "POST" else None)
    if request.method == "POST" and form.is_valid():
        key = actions.keep_recipe(request.garden, form.cleaned_data["name"], form.parts, wet_kg=WET_KG)
        saved(request, "shed-recipe", f"Kept, of {plural(len(form.parts), 'part', 'parts')}.")
        return redirect(f"{reverse('shed-mix', args=[request.garden.pk])}?recipe={key}")
    return show(request, "shed/recipe.html", FormPage(form))
