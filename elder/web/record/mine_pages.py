"""What is mine: for each plant and way the handbook's take and days beside one's own, and what stands behind them."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import partial
from typing import Final

from elder.drawing.record import ShareBar, share_scene
from elder.drawing.scene import Scene
from elder.engine.chance.rooting_time import units_to_stage
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import response, units_per_day
from elder.engine.record.knowing import ENOUGH, OwnWay, learned_of, prior_of
from elder.engine.record.learning import Learned, Prior
from elder.engine.record.looks import tally_of
from elder.web.garden.models import Garden, Place
from elder.web.read.gardens import climate_of, place_of, places_of
from elder.web.read.mine import GardenRecord
from elder.web.read.told import Told
from elder.web.say.plants import way_words
from elder.web.say.record import days_words_of, left_words, take_words, tally_words, tenths
from elder.web.say.words import MONTHS, in_ten, plural

MOST_SPECIAL: Final = 12  # lines of one kind on a way's page


@dataclass(frozen=True)
class WayLine:
    """A plant and a way: the handbook's and one's own, in words, and on the shared axis."""

    plant: str
    method: str
    name: str
    way: str
    book: str
    tally: str
    said: str
    days: str
    scene: Scene
    few: bool
    batches: int


@dataclass(frozen=True)
class SpecialLine:
    """One mother, place, school or month of a way, beside the rest of it."""

    name: str
    tally: str
    said: str
    days: str
    scene: Scene


@dataclass(frozen=True)
class SpecialKind:
    """What a way's batches are told apart by, and its lines."""

    name: str
    lines: list[SpecialLine]


def way_lines(record: GardenRecord, garden: Garden) -> list[WayLine]:
    """Every way something is known of, most cuttings first."""
    found = []
    for (slug, way), told in record.by_way.items():
        plant = handbook()[slug]
        method = plant.method(way)
        own = record.own(plant, method)
        if own is not None:
            found.append(_way_line(plant, method, own, told, garden))
    return sorted(found, key=lambda line: (line.few, -line.batches, line.name))


def _way_line(plant: Plant, method: Method, own: OwnWay, told: tuple[Told, ...], garden: Garden) -> WayLine:
    few = not own.tells
    low, high = own.learned.take_interval
    mean = own.learned.mean_take.mean
    said = take_words(own)
    bar = ShareBar(mean, low, high, method.take.mean, few)
    return WayLine(
        plant=plant.slug,
        method=method.slug,
        name=plant.name,
        way=way_words(method.form, method.name),
        book=in_ten(method.take.mean),
        tally=tally_words(own.tally),
        said=said,
        days="" if few else days_here(plant, method, own.learned.median, told, garden),
        scene=share_scene(bar, f"{plant.name}: handbook {in_ten(method.take.mean)}. {said}."),
        few=few,
        batches=own.tally.batches,
    )


def days_here(plant: Plant, method: Method, median: float, told: tuple[Told, ...], garden: Garden) -> str:
    """Days to root in the place where most of them stood, beside the handbook's there; at the handbook's own warmth
    where that place's days differ through the year."""
    book = units_to_stage(method.rooting, plant.cardinals).median
    place = _usual_place(told, garden)
    if place is not None and place.standing == Place.Standing.ROOM:
        a_day = float(units_per_day(place_of(place), climate_of(garden), plant.cardinals)[0])
        if a_day > 0:
            return days_words_of(median / a_day, book / a_day, f"on {place.name}")
    a_day = float(response(method.rooting.at_c, plant.cardinals))
    return days_words_of(median / a_day, book / a_day, f"at a steady {method.rooting.at_c:g} °C")


def _usual_place(told: tuple[Told, ...], garden: Garden) -> Place | None:
    counts = Counter(one.row.rooting_place_id for one in told)
    return places_of(garden).get(counts.most_common(1)[0][0]) if counts else None


Key = Callable[[Told], str]


def _kinds(garden: Garden, told: tuple[Told, ...]) -> Iterator[tuple[str, Key]]:
    """By what batches of a way may be told apart."""
    places = places_of(garden)
    yield "Mother", lambda one: one.row.stock_plant
    yield "Place", lambda one: places[one.row.rooting_place_id].name
    for question in sorted({name for one in told for name in one.row.treatment}):
        yield question.capitalize(), partial(_school, question)
    yield "Month", lambda one: MONTHS[one.state.taken_on.month - 1]


def _school(question: str, one: Told) -> str:
    return one.row.treatment.get(question) or "as usual"


def specials(plant: Plant, method: Method, record: GardenRecord, garden: Garden) -> list[SpecialKind]:
    """Every mother, place, school and month of a way; the rest of the way is its prior, worth ten cuttings."""
    told = record.by_way.get((plant.slug, method.slug), ())
    found = []
    for name, key in _kinds(garden, told):
        groups: dict[str, list[Told]] = defaultdict(list)
        for one in told:
            groups[key(one)].append(one)
        if len(groups) < 2:
            continue
        lines = [_special(word, group, (plant, method), told, record) for word, group in groups.items()]
        lines.sort(key=lambda line: line[0], reverse=True)
        found.append(SpecialKind(name, [line for _, line in lines[:MOST_SPECIAL]]))
    return found


def _special(
    name: str, group: list[Told], way: tuple[Plant, Method], told: tuple[Told, ...], record: GardenRecord
) -> tuple[int, SpecialLine]:
    plant, method = way
    mine = {one.row.pk for one in group}
    rest = [one for one in told if one.row.pk not in mine]
    prior = prior_of(method, plant.cardinals, record.assumed.speed_sd)
    general = _learned(prior, rest, record)
    found = _learned(general.as_prior(), group, record)
    tally = tally_of([one.state for one in group])
    few = tally.settled < ENOUGH
    low, high = found.take_interval
    pace = found.median / general.median
    days = "" if few else _pace_words(pace)
    said = tally_words(tally) if few else f"{tally_words(tally)}: {tenths(found.mean_take.mean)}"
    bar = ShareBar(found.mean_take.mean, low, high, general.mean_take.mean, few)
    return tally.settled, SpecialLine(name, tally_words(tally), said, days, share_scene(bar, f"{name}: {said}."))


def _learned(prior: Prior, told: list[Told], record: GardenRecord) -> Learned:
    return learned_of(prior, [one.looks for one in told], [record.luck[one.row.pk] for one in told])


def _pace_words(pace: float) -> str:
    if pace < 0.93:
        return f"Roots in {round(100 * pace)} days where the rest takes 100"
    if pace > 1.07:
        return f"Takes {round(100 * pace)} days where the rest takes 100"
    return "As quick as the rest"


@dataclass(frozen=True)
class WayPage:
    """One way in full."""

    plant: Plant
    method: Method
    title: str
    said: str
    more: list[str]
    scene: Scene
    kinds: list[SpecialKind]
    batches: list[Told]


def way_page(plant: Plant, method: Method, record: GardenRecord, garden: Garden) -> WayPage | None:
    """What a way's page shows; nothing of a way no batch was ever cut by."""
    every = [one for one in record.told if one.way == (plant.slug, method.slug)]
    if not every:
        return None
    own = record.own(plant, method)
    told = record.by_way.get((plant.slug, method.slug), ())
    more, bar = [], ShareBar(0.5, 0.5, 0.5, method.take.mean, few=True)
    said = f"The handbook has {in_ten(method.take.mean)}."
    if own is not None:
        said = f"{take_words(own)}."
        if own.tells:
            low, high = own.learned.take_interval
            bar = replace(bar, share=own.learned.mean_take.mean, low=low, high=high, few=False)
            more.append(f"{days_here(plant, method, own.learned.median, told, garden)}.")
        if left := left_words(own.tally):
            more.append(f"{left[0].upper()}{left[1:]}.")
    if out := len(every) - len(told):
        more.append(
            f"{plural(out, 'batch was', 'batches were')} cut in a poor state (in flower, out of season, wilted), "
            "and not counted in."
        )
    kinds = specials(plant, method, record, garden)
    scene = share_scene(bar, said)
    title = f"{plant.name}, {way_words(method.form, method.name)}"
    return WayPage(plant, method, title, said, more, scene, kinds, sorted(every, key=lambda one: one.state.taken_on))
