"""Plants: the handbook, searched; and one plant for this garden."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from itertools import groupby
from typing import Final

from django.http import Http404, HttpResponse
from django.views.decorators.http import require_GET

from elder.drawing.axis import TimeAxis
from elder.drawing.ground import ground_scene, ruler_scene
from elder.drawing.scene import Scene
from elder.drawing.soil_line import STRIP
from elder.engine.climate.climate import Climate
from elder.engine.handbook.finding import FoundPlant, find_plants
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.own import own_values, raw_of, relative_text
from elder.engine.plan.seed_rival import seed_rival
from elder.engine.setting import Setting
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.plants.models import OwnPlant
from elder.web.plants.ways import WayHere, cuttable_now, season_words, way_here
from elder.web.read.gardens import assumptions_of, climate_of, place_of
from elder.web.read.handbook import own_here, plant_here
from elder.web.say.finding import found_words, nearest_words
from elder.web.say.units import temperature
from elder.web.say.words import about, listed, stretch_words
from elder.web.ui.pages import show

GROUP_ORDER = (
    "vegetable", "leafy perennial", "herb", "soft fruit", "tree fruit", "tropical fruit", "flowering shrub", "unknown"
)  # fmt: skip
GROUP_NAMES = {
    "vegetable": "Vegetables",
    "leafy perennial": "Leafy perennials",
    "herb": "Herbs",
    "soft fruit": "Soft fruit",
    "tree fruit": "Tree fruit",
    "tropical fruit": "Tropical fruit",
    "flowering shrub": "Flowering, at the garden's edge",
    "unknown": "Not named yet",
}
WANTED, MOST_WANTED = 8, 200


@dataclass(frozen=True)
class ListedPlant:
    """A plant of the handbook in the list: whether it can be cut today, and of what it is cut, now or when."""

    plant: Plant
    now: bool
    said: str
    called: str


@dataclass(frozen=True)
class PlantsPage:
    """The plants looked for, by their group's name; what is said where there is none of that name, and the nearest
    relative to begin one's own from; how many can be cut today."""

    groups: list[tuple[str, list[ListedPlant]]]
    words: str
    said: str
    nearest: str
    now: int


@dataclass(frozen=True)
class OwnBeside:
    """A plant of the household's own beside its relative: each value changed, as theirs, the handbook's, and why."""

    row: OwnPlant
    relative: str
    values: list[tuple[str, str, str, str]]


@dataclass(frozen=True)
class PlantPage:
    """One plant for this garden. Schools: a question, and each school with what it says and whether Elder starts there.
    Facts: a name, and what is to be said."""

    plant: Plant
    wanted: int
    ways: list[WayHere]
    usual: WayHere | None
    others: list[Method]
    schools: list[tuple[str, list[tuple[str, str, bool]]]]
    facts: list[tuple[str, str]]
    seed: str
    ruler: Scene
    ground: Scene
    own: OwnBeside | None
    beside: list[tuple[str, str]]


@require_GET
@in_garden("see")
def plants(request: GardenRequest) -> HttpResponse:
    """The handbook: what can be cut today, what later, what is sown or grafted instead."""
    words = request.GET.get("q", "").strip()[:60]
    climate, today = climate_of(request.garden), request.today
    found = find_plants(words, own_here(request.garden).values())
    rows = [_listed(one, climate, today) for one in found]
    order = {group: i for i, group in enumerate(GROUP_ORDER)}
    rows.sort(key=lambda row: order[row.plant.group])
    shipped = [row for row in rows if not row.plant.relative]
    groups = [(GROUP_NAMES[name], list(items)) for name, items in groupby(shipped, lambda row: row.plant.group)]
    if yours := [row for row in rows if row.plant.relative]:
        groups.insert(0, ("Yours", yours))
    nearest = found[0].plant.slug if nearest_words(found, words) else ""
    page = PlantsPage(groups, words, nearest_words(found, words), nearest, sum(row.now for row in rows))
    return show(request, "plants/plants.html", page)


def _listed(found: FoundPlant, climate: Climate, today: date) -> ListedPlant:
    item, called = found.plant, found_words(found)
    now = cuttable_now(item, climate, today)
    if now:
        return ListedPlant(item, now=True, said=listed(dict.fromkeys(way.form for way in now)), called=called)
    later = next(iter(item.ways), None)
    said = f"{later.form} {season_words(item, later, climate, today)}" if later else ""
    return ListedPlant(item, now=False, said=said, called=called)


@require_GET
@in_garden("see")
def plant(request: GardenRequest, slug: str) -> HttpResponse:
    """One plant: its ways side by side for this garden, its year, its hazards, its facts and their sources."""
    item = plant_here(request.garden, slug)
    if item is None:
        raise Http404
    today, climate = request.today, climate_of(request.garden)
    asked = request.GET.get("wanted", "")
    usual = min(WANTED, max(item.gives, 1))  # nobody has eight pineapple tops at once
    wanted = min(max(int(asked), 1), MOST_WANTED) if asked.isdecimal() and len(asked) < 5 else usual
    axis = TimeAxis(today.replace(day=1), today.replace(day=1).replace(year=today.year + 1))
    units = request.user.units
    ways = [way_here(item, method, request.garden, today, wanted=wanted, units=units) for method in item.ways]
    ways.sort(key=lambda way: way.refused)
    page = PlantPage(
        plant=item,
        wanted=wanted,
        ways=ways,
        usual=next((way for way in ways if not way.refused), None),
        others=[method for method in item.methods if not method.is_offered],
        schools=_schools(item),
        facts=_facts(item, request.user.units),
        seed=_seed_words(request, item),
        ruler=ruler_scene(axis, today, day_words=lambda day: about(day, today)),
        ground=ground_scene(axis, today, climate, height=STRIP.height),
        own=_own(request, item),
        beside=[(one.slug, one.name) for one in own_here(request.garden).values() if one.relative == item.slug],
    )
    return show(request, "plants/plant.html", page)


def _own(request: GardenRequest, plant: Plant) -> OwnBeside | None:
    """A household's own values beside its relative's; nothing for a plant of the handbook."""
    row = OwnPlant.objects.filter(garden=request.garden, slug=plant.slug).first() if plant.relative else None
    if row is None:
        return None
    raw, base = raw_of(row.text), raw_of(relative_text(row.relative))
    values = []
    for one, mine, theirs, why in own_values(raw, base):
        way = raw["methods"][one.path[1]]["name"] if one.path[0] == "methods" else ""
        name = f"{one.name}, {way}" if way else one.name
        values.append((name, f"{mine} {one.unit}".strip(), "none" if theirs is None else str(theirs), why))
    return OwnBeside(row, handbook()[row.relative].name, values)


def _schools(plant: Plant) -> list[tuple[str, list[tuple[str, str, bool]]]]:
    """Questions on which people differ, each with what the schools say; where Elder starts comes first."""
    asked: dict[str, dict[str, tuple[str, bool]]] = {}
    for method in plant.ways:
        for said in method.schools:
            known = asked.setdefault(said.question, {})
            known[said.school] = (said.text, said.start or known.get(said.school, ("", False))[1])
    return [
        (question, sorted(((school, *rest) for school, rest in said.items()), key=lambda row: not row[2]))
        for question, said in asked.items()
    ]


LIGHT_WORDS: Final = {
    "full sun": "six hours of sun",
    "part sun": "about three hours of sun",
    "bright shade": "no strong sun: it bleaches",
}


def _facts(plant: Plant, units: str) -> list[tuple[str, str]]:
    """What a gardener asks of a plant, in short."""
    warm = plant.cardinals
    least, best, most = (temperature(value, units) for value in (warm.t_min, warm.t_opt, warm.t_max))
    facts = [
        ("Roots", f"from {least}, best at {best}, none over {most}"),
        ("Light", f"bright and out of strong sun; once rooted {LIGHT_WORDS[plant.light]}"),
        ("Frost", f"a young plant is hurt at {temperature(plant.frost_limit_c, units)}"),
        ("Ground", f"from {temperature(plant.least_soil_c, units)}"),
        *(
            [("Waits", f"{stretch_words(plant.patience_days, plant.patience_days)} in its pot")]
            if plant.patience_days
            else []
        ),
        ("Crops", f"{plant.harvest_word} after {stretch_words(plant.harvest_early_days, plant.harvest_late_days)}"),
        ("Gives", f"about {plant.gives} cuttings, again after {stretch_words(plant.again_days, plant.again_days)}"),
    ]
    if plant.keep_above_c is not None:
        facts.append(("Kept over", f"above {temperature(plant.keep_above_c, units)} in leaf"))
    if plant.rest_limit_c is not None:
        facts.append(("At rest", f"bears {temperature(plant.rest_limit_c, units)}"))
    if plant.spreads:
        facts.append(("Spreads", plant.spreads_note or "yes"))
    return [fact for fact in facts if plant.ways or fact[0] != "Gives"]


def _seed_words(request: GardenRequest, plant: Plant) -> str:
    """What seed would do instead, sown today at the first place."""
    if plant.seed is None:
        return ""
    if not plant.seed.comes_true:
        return f"Does not come true from seed: {plant.seed.note or 'seedlings differ from the mother'}."
    note = f" ({plant.seed.note})" if plant.seed.note else ""
    place = request.garden.places.exclude(standing="ground").first()
    if place is None or not plant.ways:
        return f"Comes true from seed{note}."
    today = request.today
    rival = seed_rival(
        Setting(
            plant,
            plant.ways[0],
            climate_of(request.garden),
            place_of(place),
            place_of(place),
            today,
            assumptions_of(request.garden),
        ),
        cut_on=today,
        target=today,
    )
    if rival is None or rival.ready is None:
        return f"Comes true from seed{note}."
    return f"Comes true from seed{note}: sown today at {place.name}, ready about {about(rival.ready, today)}."
