"""The winter as its page shows it: how far the cold reaches, what to do before it, who stands where, how it is kept."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from django.core.paginator import Page

from elder.drawing.cold_reach import Limit, Reach, reach_scene
from elder.drawing.scene import Scene
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method
from elder.engine.place.weather import DayAhead
from elder.engine.plan.wintering import lowest_nights
from elder.engine.year.winter import LIST_OPENS_DAYS, Second, WinterWay, second_step
from elder.web.garden.models import Garden, Place
from elder.web.read.gardens import climate_of, places_of
from elder.web.read.services import days_ahead
from elder.web.read.winter import SURE, WinterLine, WinterList
from elder.web.read.winter_cares import CareToday, by_place, mild_today
from elder.web.read.winter_stands import BED
from elder.web.say.numbers import Numbers
from elder.web.say.numbers_year import reach_numbers
from elder.web.say.plants import plant_words
from elder.web.say.units import shown_temperature, shown_weight, temperature_sign
from elder.web.say.winter import (
    DEEDS,
    KEEPING,
    PAST,
    care_words,
    lift_line,
    list_headline,
    many_words,
    named,
    reason_words,
    second_words,
    tops_words,
    where_words,
    worth_words,
)
from elder.web.say.words import about, day_words, plural
from elder.web.year.models import Wintered
from elder.web.year.winter_alike import Alike, alike


@dataclass(frozen=True)
class WinterTodo:
    """One line of the list as it is shown."""

    key: str
    name: str
    whose: str
    deed: str
    by: str
    late: bool
    where: str
    why: str
    many: str
    tops: str
    worth: str
    done: str
    tops_done: str
    can_strike: bool
    can_do: bool
    caution: str


@dataclass(frozen=True)
class ShelterLine:
    """A place over winter: who comes to it, how many find room."""

    name: str
    said: str
    who: str


@dataclass(frozen=True)
class CareLine:
    """Something that winters, and what is next."""

    pk: int
    name: str
    said: str
    second: str
    counts: bool
    due: bool
    most: int
    done: bool
    want: str


@dataclass(frozen=True)
class WinterPage:
    """The winter."""

    headline: tuple[str, str]
    scene: Scene
    numbers: Numbers
    todo: list[WinterTodo]
    leaf: Page[WinterLine]
    stays: list[Alike]
    stays_words: str
    gone: list[Alike]
    shelters: list[ShelterLine]
    carrying: str
    cares: list[tuple[str, list[CareLine]]]
    keeping: tuple[str, ...]
    mild: str

    @property
    def leaf_query(self) -> str:
        """What an address asks for this leaf by."""
        return leaf_query(self.leaf.number)


def leaf_query(number: int) -> str:
    """What an address asks for a leaf by; nothing for the first."""
    return f"?page={number}" if number > 1 else ""


def todo_of(line: WinterLine, garden: Garden, today: date, units: str) -> WinterTodo:
    """A line in words."""
    places = places_of(garden)
    due = line.due
    many = many_words(line.many, line) if line.many and line.is_work else ""
    strikes = bool(line.answer.tops and line.many and line.answer.tops_until and line.answer.tops_until >= today)
    wanted = line.way is WinterWay.TOPS or line.answer.insured
    is_open = due is None or due - timedelta(days=LIST_OPENS_DAYS) <= today
    return WinterTodo(
        key=line.standing.key,
        name=named(line),
        whose=line.standing.name,
        deed=DEEDS[line.way],
        by=f"by {day_words(due, today)}" if due and line.is_work else "",
        late=bool(due and due < today and line.is_work and not line.is_done),
        where=where_words(line, places, units),
        why=reason_words(line, units),
        many=many,
        tops=tops_words(line, today) if wanted else "",
        worth=worth_words(line),
        done=_done(line.row, today),
        tops_done=_done(line.tops_row, today),
        can_strike=strikes and wanted and is_open and line.tops_row is None,
        can_do=line.is_work and is_open and line.way is not WinterWay.TOPS and line.row is None,
        caution=_caution(line),
    )


def _done(row: Wintered | None, today: date) -> str:
    return f"{PAST[row.way]} {about(row.on, today)}: {row.count}" if row else ""


def _caution(line: WinterLine) -> str:
    if line.way is WinterWay.DUG:
        return "A spade cuts away from your feet; bend your knees, and keep the ball small enough to lift."
    cuts = [one.text for one in line.standing.plant.cautions if one.at == "cut"]
    return cuts[0] if cuts and line.way is WinterWay.TOPS else ""


def reach_of(found: WinterList, climate: Climate, units: str) -> Reach:
    """How far the cold reaches, and the plants that stand in it."""
    lows = lowest_nights(BED, climate)
    out = [line for line in found.lines if _is_out(line)]
    kinds: dict[tuple[str, float], Limit] = {}
    for line in sorted(out, key=lambda one: one.answer.bears_c):
        at = line.answer.bears_c - line.standing.outside.place.lift_night_c
        saved = line.way is not WinterWay.LEFT
        name = plant_words(line.standing.plant.name, line.standing.variety)
        kinds.setdefault((name, round(at, 1)), Limit(at, name, saved))
    ends = Reach(lows, list(kinds.values()), ()).ends
    step = 5
    ticks = [
        (float(at), f"{shown_temperature(float(at), units):.0f} {temperature_sign(units)}".replace("-", "−"))
        for at in range(int(np.ceil(ends[0] / step)) * step, int(ends[1]) + 1, step)
    ]
    return Reach(lows, list(kinds.values()), ticks)


def winter_scene(shown: Reach, units: str) -> Scene:
    """The cold's reach, drawn."""
    tenth = shown_temperature(float(np.quantile(shown.lows, 0.1)), units)
    words = (
        f"How far the cold reaches: in one winter of ten the lowest night falls to {tenth:.0f} "
        f"{temperature_sign(units)}. {plural(sum(one.saved for one in shown.limits), 'kind', 'kinds')} want saving."
    )
    return reach_scene(shown, words)


def _is_out(line: WinterLine) -> bool:
    """Whether the cold reaches it where it stands: neither in a room nor on a mat."""
    place = line.standing.outside.place
    return place.standing != "room" and place.floor_c is None


def shelter_lines(found: WinterList, garden: Garden) -> list[ShelterLine]:
    """Who would stand where."""
    places = places_of(garden)
    who: dict[int, list[WinterLine]] = {}
    for line in found.work:
        if line.shelter and line.way in (WinterWay.POT_IN, WinterWay.DUG):
            who.setdefault(int(str(line.shelter.key)), []).append(line)
    lines = []
    for pk, coming in who.items():
        count = sum(line.standing.count for line in coming)
        holds = places[pk].capacity.get("pot")  # a floor that is packed holds so many of each kind
        crowded = sum(line.crowded for line in coming)
        said = f"{plural(count, 'pot', 'pots')} come" if count > 1 else "one pot comes"
        said += f"; it holds {holds}" if holds else ""
        said += f", {crowded} too many" if crowded else ""
        lines.append(ShelterLine(places[pk].name, said, ", ".join(named(line) for line in coming)))
    return sorted(lines, key=lambda one: one.name)


def carrying_words(found: WinterList, units: str) -> str:
    """The order of carrying, and what it weighs in all."""
    pots = [line for line in found.work if line.way is WinterWay.POT_IN and not line.is_done and line.standing.kg]
    if not pots:
        return ""
    total = sum(line.standing.kg * line.standing.count for line in pots)
    heavy = max(pots, key=lambda line: line.standing.kg)
    heaviest = f"; {named(heavy)} the heaviest, {lift_line(heavy.standing.kg, 1, units)}" if len(pots) > 1 else ""
    count = sum(line.standing.count for line in pots)
    carried = f"{plural(count, 'pot', 'pots')} to carry, {shown_weight(total, units)} in all"
    return f"{carried}{heaviest}. The most tender first."


def care_line(one: CareToday, today: date, units: str) -> CareLine:
    """Something that winters, in words."""
    row = one.row
    second = second_of(one) if row.lived is not None else None
    said = second_words(one, second, today) if second else ""
    want = ""
    if second and second.cut and row.lived:
        want = f"?plant={row.plant}&wanted={max(row.wanted, 1)}"
    return CareLine(
        pk=row.pk,
        name=plant_words(one.plant.name, row.variety),
        said=f"{PAST[row.way].lower()} {about(row.on, today)}; {care_words(one, today)}" if second is None else "",
        second=said,
        counts=one.counts,
        due=one.next_check <= today,
        most=max(one.alive, 0),
        done=row.lived is not None,
        want=want,
    )


def second_of(one: CareToday) -> Second:
    """The second step of what lived."""
    way: Method | None = next((way for way in one.plant.ways if not way.direct), None)
    return second_step(one.plant, way, one.row.lived or 0, one.row.wanted, SURE)


def mild_words(cares: list[CareToday], ahead: tuple[DayAhead, ...]) -> str:
    """Which may go out for the day: the nights about it stay well above what they bear."""
    out = mild_today(cares, ahead)
    if not out:
        return ""
    names = ", ".join(plant_words(one.plant.name, one.row.variety) for one in out)
    return f"Mild today: out for the day with {names}, and in again before dusk."


def page_of(
    found: WinterList, cares: list[CareToday], garden: Garden, leaf: Page[WinterLine], units: str
) -> WinterPage:
    """The page; of what is to be done the lines of a leaf."""
    today = found.today
    stays = [line for line in found.lines if line.way is WinterWay.LEFT]
    ahead = tuple(days_ahead(garden, today))
    reach = reach_of(found, climate_of(garden), units)
    return WinterPage(
        headline=list_headline(found),
        scene=winter_scene(reach, units),
        numbers=reach_numbers(reach, units),
        todo=[todo_of(line, garden, today, units) for line in leaf],
        leaf=leaf,
        stays=alike(stays, units),
        stays_words="One stays where it stands" if len(stays) == 1 else f"{len(stays)} stay where they stand",
        gone=alike((line for line in found.lines if line.way in (WinterWay.SOWN, WinterWay.LOST)), units),
        shelters=shelter_lines(found, garden),
        carrying=carrying_words(found, units),
        cares=[(name, [care_line(one, today, units) for one in several]) for name, several in by_place(cares).items()],
        keeping=KEEPING,
        mild=mild_words(cares, ahead),
    )


def places_for(garden: Garden) -> list[Place]:
    """Where pots can be kept."""
    return [place for place in places_of(garden).values() if place.standing != Place.Standing.GROUND]
