"""A plant of the handbook, here and now: what can be cut today, and each way reckoned for this garden."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from elder.drawing.axis import TimeAxis
from elder.drawing.scene import Scene
from elder.drawing.soil_line import STRIP, RowPicture, soil_line
from elder.engine.chance.ready_by import first_day_at, ready_from_cut
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import doy0
from elder.engine.handbook.model import Method, Plant
from elder.engine.plan.light_needs import Suited, fit_on, need_of
from elder.engine.plan.planting_windows import planting_windows
from elder.engine.plan.wood import wood_in_season
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting
from elder.engine.shed.containers import final_pot, stuck_in
from elder.engine.shed.kit import Kit
from elder.engine.shed.mix import ph_range, usual_recipe
from elder.web.garden.models import Garden, Place
from elder.web.read.gardens import climate_of, place_of
from elder.web.read.kit import kit_of
from elder.web.read.light import light_of
from elder.web.read.wants import Reckoning, reckon
from elder.web.say.containers import vessel_words
from elder.web.say.pictures import want_scene
from elder.web.say.refusals import refusal_words
from elder.web.say.wants import headline
from elder.web.say.words import about, minutes_words, plural
from elder.web.season.models import Want

REACH_DAYS = 300
WOOD_WORDS = {
    "growing": "growing stems",
    "softwood": "soft wood",
    "semi-ripe": "half-ripe wood",
    "dormant": "dormant wood",
    "any": "all year",
}
COVER_WORDS = {"none": "uncovered", "loose": "covered loosely", "closed": "under a closed dome"}


@dataclass(frozen=True)
class Ready:
    """How soon a way roots here: days for half, at the place that is quickest today."""

    days: int
    place: str


@dataclass(frozen=True, eq=False)
class WayHere:
    """One way, reckoned for this garden: the want's answer at the quickest place, and its year drawn."""

    method: Method
    ready: Ready | None
    count: str
    strong: str
    said: str
    effort: str
    needs: str
    season: str
    scene: Scene
    place: Place | None
    refused: bool


def season_words(plant: Plant, method: Method, climate: Climate, today: date) -> str:
    """When there is wood for a way: "now, until 4 Jul" or "from 14 Nov"."""
    days = wood_in_season(climate, method.wood, stock_indoors=plant.stock_indoors)
    if days.all():
        return "all year"
    if not days.any():
        return "never here"
    now = bool(days[doy0(today)])
    turn = today + timedelta(days=int(np.argmax(np.roll(days != now, -doy0(today)))))
    return f"now, until {about(turn, today)}" if now else f"from {about(turn, today)}"


def cuttable_now(plant: Plant, climate: Climate, today: date) -> list[Method]:
    """The ways whose wood is in season today."""
    return [
        way for way in plant.ways if wood_in_season(climate, way.wood, stock_indoors=plant.stock_indoors)[doy0(today)]
    ]


def quickest(
    plant: Plant, method: Method, garden: Garden, climate: Climate, today: date
) -> tuple[Ready | None, Place | None]:
    """The place where a way roots soonest if struck today, of those that have its light where any has; the first
    suitable one where none does in time."""
    standing = [place for place in garden.places.all() if (place.standing == Place.Standing.GROUND) == method.direct]
    need = need_of(plant, method, "unrooted")
    suited = [one for one in standing if fit_on(light_of(one), climate, need, today).standing < Suited.NOT] or standing
    best: tuple[Ready | None, Place | None] = (None, suited[0] if suited else None)
    for place in suited:
        spot = place_of(place)
        raising = Setting(plant, method, climate, spot, spot, today).raising().usual
        half = int(first_day_at(ready_from_cut(raising, today, REACH_DAYS).mean_rooted, 0.5))
        if half >= 0 and (best[0] is None or half < best[0].days):
            best = (Ready(half, place.name), place)
    return best


def way_here(plant: Plant, method: Method, garden: Garden, today: date, *, wanted: int, units: str) -> WayHere:
    """A way reckoned for ``wanted`` plants as soon as it is safe."""
    climate = climate_of(garden)
    ready, place = quickest(plant, method, garden, climate, today)
    season = season_words(plant, method, climate, today)
    needs = [COVER_WORDS[method.cover]]
    needs += [f"callused {plural(method.dry_days, 'day', 'days')}"] if method.dry_days else []
    needs += ["hormone if you use it"] if method.hormone == "optional" else []
    needs += stands_words(plant, method, kit_of(garden), units)
    plain = {"method": method, "ready": ready, "season": season, "needs": ", ".join(needs), "place": place}
    axis = TimeAxis(today.replace(day=1), today.replace(day=1) + timedelta(days=365))
    if place is None:
        said = "no bed in the ground here" if method.direct else "no place here for it"
        empty = soil_line(RowPicture(0, said), axis, today, STRIP)
        return WayHere(**plain, count="", strong="", said=said, effort="", scene=empty, refused=True)  # type: ignore[arg-type]
    row = Want(
        garden=garden, plant=plant.slug, method=method.slug, wanted=wanted, rooting_place=place, growing_place=place
    )
    found = reckon(row, garden, today)
    lead = ""
    if isinstance(found.plan, Refusal) and found.plan.code == "no_window":
        row.purpose, lead = Want.Purpose.POT, "No season in open ground here; in a pot for good: "
        found = reckon(row, garden, today)
    scene = _year(found, axis, today)
    if isinstance(found.plan, Refusal) or found.option is None:
        said = refusal_words(found.plan, today, plant) if isinstance(found.plan, Refusal) else ""
        return WayHere(**plain, count="", strong="", said=said, effort="", scene=scene, refused=True)  # type: ignore[arg-type]
    days = (found.option.rooted[1] - found.option.day).days if found.option.rooted[1] else 30
    effort = minutes_words(method.effort_minutes(found.to_cut, days))
    answer = headline(found)
    strong = f"{lead}{answer.strong[0].lower()}{answer.strong[1:]}" if lead else answer.strong
    words = {"count": str(found.to_cut), "strong": strong, "said": answer.rest, "effort": effort}
    return WayHere(**plain, **words, scene=scene, refused=False)  # type: ignore[arg-type]


def stands_words(plant: Plant, method: Method, kit: Kit, units: str) -> list[str]:
    """What it is stuck in, and in what mix; then into which pot, in what, at what pH where that matters."""
    filled, root = stuck_in(plant, method, 1, kit=kit), usual_recipe(plant, method, "root", kit=kit)
    if method.direct:
        return []
    each = f"{filled.each} to a {vessel_words(filled.vessel, 1, units)}"
    said = [f"{each}, {root.name}" if root else each]
    if method.route.establishes and method.grows_in == "pot":
        pot, mix = final_pot(plant, method, {}, kit), usual_recipe(plant, method, "pot", kit=kit)
        bounds = ph_range(plant)
        acid = f" at pH {bounds[0]:g} to {bounds[1]:g}" if bounds else ""
        said.append(f"then a {vessel_words(pot, 1, units)} of {mix.name if mix else 'mix'}{acid}")
    return said


def _year(found: Reckoning, axis: TimeAxis, today: date) -> Scene:
    """A year of one way: the days to cut, and the gate."""
    windows = planting_windows(
        found.plant, found.climate, accepted_risk=found.want.accepted_risk, start=axis.start, days=axis.days
    )
    gates = tuple((window.opens, window.shuts) for window in windows)
    if isinstance(found.plan, Refusal):
        return soil_line(RowPicture(0, f"A year of {found.method.name}", gates=gates), axis, today, STRIP)
    return want_scene(found, axis, STRIP)
