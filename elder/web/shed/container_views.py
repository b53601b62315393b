"""Containers: what is shipped, what is one's own, which is used where; and one worked out as it is described."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.shed.containers import STEM
from elder.engine.shed.kit import Kit
from elder.engine.shed.vessels import Vessel
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.kit import kit_of
from elder.web.say.containers import vessel_words
from elder.web.say.mixes import poured
from elder.web.say.units import length_in, shown_fine_length, shown_volume
from elder.web.say.words import plural
from elder.web.shed import actions
from elder.web.shed.forms import ContainerForm, started_from
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment
from elder.web.ui.saved import saved

SLOTS = ("jar", "pot", "deep-pot", "tray", "bin", "half-litre", "litre", "litre-and-a-half", "gallon")
SLOT_WORDS = {
    "jar": "cuttings in water", "pot": "soft stems in mix", "deep-pot": "sticks and pups", "tray": "plugs",
    "bin": "many to one order", "half-litre": "herbs, potted", "litre": "vegetables, potted",
    "litre-and-a-half": "bushes, potted", "gallon": "trees and tropical fruit, potted",
}  # fmt: skip
MIX_SLOTS = ("light", "quarter-sand", "half-bark", "plain", "fifth-grit")
MIX_WORDS = {
    "light": "what has no roots yet", "quarter-sand": "what hates wet feet", "half-bark": "what climbs trees",
    "plain": "most, once potted", "fifth-grit": "bushes and trees, potted",
}  # fmt: skip


@dataclass(frozen=True)
class ContainerLine:
    """A container: its measures, what it holds, how many soft stems it takes."""

    key: str
    name: str
    size: str
    holds: str
    mix: str
    stems: str
    is_own: bool


@dataclass(frozen=True)
class Slot:
    """Where Elder would take one thing, and what this household takes."""

    key: str
    name: str
    choices: list[tuple[str, str, bool]]


@dataclass(frozen=True)
class ContainersPage:
    """Every container, and which is used where; recipes likewise."""

    own: list[ContainerLine]
    shipped: list[ContainerLine]
    slots: list[Slot]
    mixes: list[Slot]


@dataclass(frozen=True)
class ContainerPage:
    """One of one's own, and what it comes to as it is described."""

    form: ContainerForm
    answer: str
    key: str


def line_of(vessel: Vessel, units: str, *, is_own: bool = False) -> ContainerLine:
    """A container in words."""
    shape = vessel.shape
    foot = " × ".join(shown_fine_length(side, units) for side in vessel.foot_cm)
    return ContainerLine(
        key=vessel.key,
        name=vessel_words(vessel, 1, units),
        size=f"{foot}, {shown_fine_length(shape.height_cm, units)} high",
        holds=shown_volume(round(vessel.volume_l, 2), units),
        mix=poured(vessel.filled_l / 0.85, units),
        stems=plural(vessel.stems(STEM if vessel.kind != "jar" else "water stem"), "stem", "stems"),
        is_own=is_own,
    )


@require_GET
@in_garden("see")
def containers(request: GardenRequest) -> HttpResponse:
    """What there is to stick and pot in."""
    kit, units = kit_of(request.garden), request.user.units
    own = {one.key for one in kit.own}
    every = [line_of(one, units, is_own=one.key in own) for one in kit.every() if not one.spacing_cm]
    page = ContainersPage(
        own=[line for line in every if line.is_own],
        shipped=[line for line in every if not line.is_own],
        slots=[_slot(key, kit, units) for key in SLOTS],
        mixes=[_mix_slot(key, kit) for key in MIX_SLOTS],
    )
    return show(request, "shed/containers.html", page)


def _slot(key: str, kit: Kit, units: str) -> Slot:
    used = kit.used(key)
    fits = [one for one in kit.every() if one.kind == used.kind]
    return Slot(key, SLOT_WORDS[key], [(one.key, vessel_words(one, 1, units), one.key == used.key) for one in fits])


def _mix_slot(key: str, kit: Kit) -> Slot:
    used = kit.mixed(key)
    return Slot(key, MIX_WORDS[key], [(one.key, one.name, one.key == used.key) for one in kit.every_mix()])


@require_POST
@in_garden("keep")
def use(request: GardenRequest) -> HttpResponse:
    """Take others than Elder would, where the household said so."""
    kit = kit_of(request.garden)
    known = {one.key for one in kit.every()} | {one.key for one in kit.every_mix()}
    for slot in (*SLOTS, *MIX_SLOTS):
        mine = request.POST.get(f"use-{slot}", "")
        if mine in known:
            actions.use_instead(request.garden, slot, mine)
    saved(request, "", "Kept. Sheets, weights and the shed go by these from now on.")
    return redirect("shed-containers", request.garden.pk)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def container(request: GardenRequest, key: str = "") -> HttpResponse:
    """A container of one's own, new or put right; what it holds is said as it is described."""
    vessel = actions.own_vessel(request.garden, key) if key else None
    if key and vessel is None:
        raise Http404
    if request.method == "POST" and "gone" in request.POST and key:
        undo = actions.retire_container(request.garden, key)
        saved(request, "shed-container", "Had no more.", undo=undo.offered(request.garden))
        return redirect("shed-containers", request.garden.pk)
    units = request.user.units
    start: dict[str, object] = {"kind": "pot", "shape": "frustum"}
    if vessel:
        start = started_from(vessel, units, length_in(1.0, units))
    asked = request.POST if request.method == "POST" else request.GET if "top" in request.GET else None
    form = ContainerForm(asked, units=units, initial=start)
    answer = _answer(form.vessel, units) if asked is not None and form.is_valid() else ""
    if vessel and asked is None:
        answer = _answer(vessel, units)
    if request.method == "POST" and form.is_valid():
        actions.keep_container(request.garden, form.raw, key)
        saved(request, "shed-container", f"Kept. {answer}")
        return redirect("shed-containers", request.garden.pk)
    template = "shed/container_answer.html" if wants_fragment(request) else "shed/container.html"
    return show(request, template, ContainerPage(form, answer, key))


def _answer(vessel: Vessel, units: str) -> str:
    line = line_of(vessel, units)
    if vessel.kind == "jar":
        return f"It holds {line.holds} to the brim and takes {line.stems} in water."
    return f"It holds {line.holds} to the brim, takes {line.stems}, and {line.mix} of loose mix fills it."
