"""A move as its pages show it: what becomes of each plant, the load, what is watered at the new place."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from elder.drawing.floor import FloorPlan
from elder.drawing.load import load_scene
from elder.engine.year.load import Stowed
from elder.engine.year.moving import MoveWay, people_for
from elder.web.moving.models import HouseMove, MovedPlant
from elder.web.read.moved_here import Watered
from elder.web.read.moves import Coming, MoveToday
from elder.web.say.moving import (
    DEEDS,
    DIGGING,
    LEFT_OUT,
    LOADING,
    MoveQuestion,
    how_words,
    load_headline,
    move_headline,
    move_title,
    questions,
    water_words,
    why_words,
)
from elder.web.say.numbers import Numbers
from elder.web.say.numbers_year import stowed_numbers
from elder.web.say.plants import plant_words
from elder.web.say.units import shown_weight
from elder.web.say.words import about, plural


@dataclass(frozen=True)
class ComingLine:
    """A plant of the move as it is shown."""

    key: str
    name: str
    kind: str
    deed: str
    why: str
    how: str
    done: bool
    can_do: str
    can_cut: bool
    want: int | None
    heavy: bool


@dataclass(frozen=True)
class AskedLine:
    """A question with its answer."""

    question: MoveQuestion
    said: str
    whom: str
    on: str


@dataclass(frozen=True)
class MovePage:
    """The move."""

    row: HouseMove
    title: str
    headline: tuple[str, str]
    along: list[tuple[str, list[ComingLine]]]
    asked: list[AskedLine]
    digging: tuple[str, ...]
    digs: bool
    load: tuple[str, str]
    left_out: str
    soon: bool


DONE_WORDS = {MoveWay.DIG: "It is dug and potted", MoveWay.SEED: "Its seed is gathered"}


def move_page(found: MoveToday, units: str) -> MovePage:
    """The page."""
    row, today = found.row, found.today
    groups = []
    for way in (MoveWay.CUTTINGS, MoveWay.DIG, MoveWay.POT, MoveWay.SEED, MoveWay.LEAVE):
        lines = [line_of(one, row, today, units) for one in found.coming if one.way is way]
        if lines:
            groups.append((DEEDS[way], lines))
    return MovePage(
        row=row,
        title=move_title(found),
        headline=move_headline(found),
        along=groups,
        asked=[_asked(one, row, today) for one in questions(found)],
        digging=DIGGING,
        digs=any(one.way is MoveWay.DIG for one in found.coming),
        load=load_headline(found.load, row.carries_kg, units),
        left_out=LEFT_OUT,
        soon=found.days_left <= 0,
    )


def line_of(one: Coming, row: HouseMove, today: date, units: str) -> ComingLine:
    """A plant in words."""
    open_ = row.moved_on is None and row.off_on is None
    standing = one.standing
    name = f"{standing.count} × {standing.name}" if standing.count > 1 else standing.name
    reckoning = one.reckoning
    wanted = one.row.want_id if one.row else None
    can_cut = one.way is MoveWay.CUTTINGS and wanted is None and reckoning is not None
    return ComingLine(
        key=one.key,
        name=name,
        kind=plant_words(standing.plant.name, standing.variety),
        deed=DEEDS[one.way],
        why=why_words(one),
        how=how_words(one, today, units),
        done=bool(one.row and one.row.done_on),
        can_do=DONE_WORDS.get(one.way, "") if open_ and not one.is_done else "",
        can_cut=bool(can_cut and open_ and reckoning and not reckoning.refusal),
        want=wanted if one.way is MoveWay.CUTTINGS else None,
        heavy=one.answer.people != 1 and one.way in (MoveWay.DIG, MoveWay.POT),
    )


def _asked(question: MoveQuestion, row: HouseMove, today: date) -> AskedLine:
    found = row.asks.get(question.key, {})
    on = about(date.fromisoformat(found["on"]), today) if found.get("on") else ""
    return AskedLine(question, found.get("said", ""), found.get("whom", ""), on)


@dataclass(frozen=True)
class TripPage:
    """One journey, drawn and listed."""

    title: str
    plan: FloorPlan
    lines: list[tuple[str, str]]
    numbers: Numbers


@dataclass(frozen=True)
class LoadPage:
    """The whole load."""

    row: HouseMove
    headline: tuple[str, str]
    trips: list[TripPage]
    rules: tuple[str, ...]


def load_page(found: MoveToday, units: str) -> LoadPage:
    """The page of the load."""
    plan, row = found.load, found.row
    trips = []
    for i, journey in enumerate(plan.journeys, start=1):
        signs = {one.thing.key: str(n) for n, one in enumerate(journey.stowed, start=1)}
        said = f"{plural(len(journey.stowed), 'thing', 'things')}, {shown_weight(journey.kg, units)}"
        lines = [(signs[one.thing.key], _stowed_words(one, units)) for one in journey.stowed]
        title = f"Journey {i}: {said}" if len(plan.journeys) > 1 else said.capitalize()
        words = f"The floor from above, the front to the left: {said}."
        drawn = load_scene(journey, found.vehicle, signs, words)
        trips.append(TripPage(title, drawn, lines, stowed_numbers(journey.stowed, units)))
    return LoadPage(row, load_headline(plan, row.carries_kg, units), trips, LOADING)


def _stowed_words(one: Stowed, units: str) -> str:
    how = f"{', emptied' if one.emptied else ''}{', laid' if one.lies else ''}"
    how += {1: "", 2: ", two people"}.get(people_for(one.kg), ", more than two people lift")
    return f"{one.thing.name}: {shown_weight(one.kg, units)}{how}"


@dataclass(frozen=True)
class WateredLine:
    """Something planted at the new place."""

    pk: int
    name: str
    said: str
    count: str
    due: bool


@dataclass(frozen=True)
class PottedLine:
    """Something that came along and stands in its pot yet."""

    pk: int
    name: str


def watered_lines(found: Iterable[Watered], today: date, units: str) -> list[WateredLine]:
    """What is watered, in words."""
    return [
        WateredLine(
            pk=one.row.pk,
            name=one.row.stock.name if one.row.stock else one.row.what,
            said=water_words(one, today, units),
            count=f"{one.done} of {one.all}",
            due=one.next_day is not None and one.next_day <= today,
        )
        for one in found
    ]


def potted_lines(rows: Iterable[MovedPlant]) -> list[PottedLine]:
    """What stands in its pot yet."""
    return [PottedLine(row.pk, row.stock.name if row.stock else row.what) for row in rows]
