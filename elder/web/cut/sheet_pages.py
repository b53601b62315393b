"""The cut sheet and what follows the cut, as their pages show them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from elder.drawing.scene import Scene
from elder.engine.climate.day_of_year import add_days, doy0
from elder.engine.cut.standing import cut_spec
from elder.engine.cut.steps import is_quarantined, prepare_days, schools_of
from elder.engine.handbook.model import Plant, School
from elder.engine.plan.condition import size_reasons
from elder.engine.shed.containers import fitting as fitting_vessels
from elder.web.cut.room_views import fitting
from elder.web.cut.sheet import Facts, SheetPart, cutting_picture, pot_picture, sheet_of
from elder.web.garden.access import GardenRequest
from elder.web.garden.models import Place
from elder.web.read.gardens import climate_of, place_of
from elder.web.read.mothers import Known, known
from elder.web.read.wants import Reckoning
from elder.web.say.cautions import variety_cautions
from elder.web.say.containers import vessel_words
from elder.web.say.plants import plant_words
from elder.web.say.routes import onward_words
from elder.web.say.units import temperature
from elder.web.say.wants import condition_words
from elder.web.say.words import about, day_words, days_away
from elder.web.season.models import Want
from elder.web.season.take_form import TakeForm
from elder.web.season.taking import advised, cut_condition
from elder.web.stock.models import StockLook, VarietyAnswer
from elder.web.ui.fields import MOST_TAKEN
from elder.web.ui.parsing import whole

UNMOTHERED = frozenset(("a windfall",))  # of what came from no mother none is chosen on her


@dataclass(frozen=True)
class MotherLine:
    """A mother that could be cut from, and what it gives today."""

    name: str
    gives: str
    pk: int


@dataclass(frozen=True)
class Prepare:
    """A branch to be got ready: the day it was, or when it is to be."""

    done: str
    day: str


@dataclass(frozen=True)
class VarietyAsked:
    """What was said of a variety, or nothing yet; whether its plant is restricted anywhere; what to be told of it."""

    answer: VarietyAnswer | None
    quarantined: bool
    name: str
    plant: Plant
    cautions: list[str]


@dataclass(frozen=True)
class SheetPage:
    """The cut sheet of a want."""

    item: Reckoning
    row: Want
    title: str
    parts: list[SheetPart]
    chosen: dict[str, str]
    stem_schools: tuple[School, ...]
    count: int
    cuttings: str
    mother: str
    when: str
    form: TakeForm
    cutting: Scene | None
    costs: str
    pot: Scene
    has_layout: bool
    containers: list[tuple[str, str, bool]]
    mothers: list[MotherLine]
    prepare: Prepare | None
    cautions: list[str]
    onward: str
    variety: VarietyAsked | None


def sheet_page(request: GardenRequest, item: Reckoning, chosen: dict[str, str], form: TakeForm) -> SheetPage:
    """The sheet with the schools chosen and the form as it stands."""
    plant, method, units = item.plant, item.method, request.user.units
    asked = whole(form["count"].value())
    count = asked if 0 < asked <= MOST_TAKEN else max(advised(item), 1)
    mother = str(form["stock_plant"].value() or "")
    facts = _facts(request, item, count, mother)
    pot, stick = pot_picture(plant, method, count, units, chosen, item.kit)
    return SheetPage(
        item=item,
        row=item.row,
        title=plant_words(plant.name, item.row.variety),
        parts=sheet_of(plant, method, chosen, facts),
        chosen=chosen,
        stem_schools=schools_of(plant, method).get("stem", ()),
        count=count,
        cuttings=plant.cutting_one if count == 1 else plant.cutting_many,
        mother=mother,
        when=_when(item, request.today),
        form=form,
        cutting=cutting_picture(plant, method, units, chosen),
        costs=condition_words(
            cut_condition(
                item.row,
                request.garden,
                request.today,
                mother=item.row.mother,
                seen=(*item.want.condition.reasons, *size_reasons(chosen)),
            ),
            method.plant_take,
            count,
        ),
        pot=pot,
        has_layout=cut_spec(plant, method) is not None,
        containers=[
            (one.key, vessel_words(one, 1, units), one.key == stick.filled.vessel.key)
            for one in fitting_vessels(method, item.kit)
        ],
        mothers=mother_lines(request, item),
        prepare=_prepare(item, request.today),
        cautions=[one.text for one in plant.cautions if one.at in ("cut", "stick", "share")],
        onward=f"{onward_words(method)} {method.risk}".strip(),
        variety=variety_asked(request, plant, item.row.variety),
    )


def _facts(request: GardenRequest, item: Reckoning, count: int, mother: str) -> Facts:
    """What the sheet's words are filled with."""
    first = item.option.rooted[0] if item.option else None
    return Facts(
        count=count,
        wanted=item.needed,
        mother=mother,
        place=item.row.rooting_place.name,
        warmth=warmth_words(item.row.rooting_place, request, request.today),
        first_look=first if first and first > request.today else None,
        today=request.today,
        cut_on=max(request.today, item.option.day) if item.option else request.today,
        units=request.user.units,
        kit=item.kit,
    )


def warmth_words(place: Place, request: GardenRequest, today: date) -> str:
    """How warm a place is: a room by day and night, elsewhere what the climate gives it this day."""
    units = request.user.units
    if place.standing == "room":
        day, night = temperature(place.day_c, units), temperature(place.night_c, units)
        return day if day == night else f"{day} by day, {night} by night"
    engine, climate = place_of(place), climate_of(request.garden)
    low, high = climate.normals.t_min[today.month - 1], climate.normals.t_max[today.month - 1]
    low, high = low + engine.lift_night_c, high + engine.lift_on(doy0(today))
    if engine.floor_c is not None:
        low, high = max(low, engine.floor_c), max(high, engine.floor_c)
    return f"{temperature(high, units)} by day, {temperature(low, units)} by night"


def _when(item: Reckoning, today: date) -> str:
    if item.batches:
        return "to make up what is short" if item.shortfall else "enough is cut already"
    if item.option is None:
        return "not to be had as asked"
    return f"{days_away(item.option.day, today)}, {about(item.option.day, today)}"


def mother_lines(request: GardenRequest, item: Reckoning) -> list[MotherLine]:
    """The garden's own mothers of that plant, with what each gives today."""
    found = fitting(known(request.garden, request.today), item.row.plant, item.row.variety, item.row.mother_id)
    return [MotherLine(one.row.name, _gives(one), one.row.pk) for one in found]


def _gives(mother: Known) -> str:
    if mother.rests and mother.seen.pups is None:
        return f"at rest until {about(mother.opens, mother.today)}" if mother.opens else "at rest"
    again, growth, health = mother.giving.again_on, mother.seen.growth, mother.seen.health
    said = [f"{mother.now} today"]
    said += [f"more from {about(again, mother.today)}"] if again else []
    said += [StockLook.Growth(growth).label] if growth in ("flowering", "fruiting") else []
    said += [StockLook.Health(health).label] if health != "well" else []
    return ", ".join(said)


def _prepare(item: Reckoning, today: date) -> Prepare | None:
    """The branch got ready days ahead, where that is worth it."""
    days = prepare_days(item.plant, item.method)
    if not days or item.option is None or not item.to_cut or item.batches:
        return None
    day = add_days(item.option.day, -days)
    done = item.row.prepared_on
    return Prepare(day_words(done, today) if done else "", days_away(day, today) if day > today else "today")


def variety_asked(request: GardenRequest, plant: Plant, variety: str) -> VarietyAsked | None:
    """What was said of a variety, or that it is still to be asked: once, and then remembered."""
    restricted, named = is_quarantined(plant), bool(variety)
    if not named and not restricted:
        return None
    said = VarietyAnswer.objects.filter(garden=request.garden, plant=plant.slug, variety=variety).first()
    warned = variety_cautions(said.protected, said.quarantine, named=named, quarantined=restricted) if said else []
    return VarietyAsked(said, restricted, variety, plant, warned)
