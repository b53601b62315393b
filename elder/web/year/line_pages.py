"""A line as its page shows it: the answer, the family that widens, lot by lot, and what was cut."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.drawing.scene import Scene
from elder.drawing.widening import HEIGHT, Rise, Runner, Widening, widening_scene
from elder.engine.handbook.model import Caution
from elder.web.read.lines import LineToday
from elder.web.read.space import capacities
from elder.web.say.lines import line_headline, line_title, lot_words, more_lines, shut_lines, shut_spans
from elder.web.say.numbers import Numbers
from elder.web.say.numbers_year import rise_numbers
from elder.web.say.words import day_words
from elder.web.year.models import Multiplying


@dataclass(frozen=True)
class LotLine:
    """One lot to be cut: when, how many, from whom, and when it is plants."""

    day: str
    count: int
    whence: str
    plants: str
    comes: str
    is_now: bool


@dataclass(frozen=True)
class DoneLine:
    """One lot that was cut and what came of it so far."""

    said: str
    came: str
    batch: int


@dataclass(frozen=True)
class LineAnswer:
    """What a line comes to."""

    title: str
    headline: tuple[str, str]
    scene: Scene
    numbers: Numbers
    lots: list[LotLine]
    more: list[str]
    shut: list[str]
    room: list[str]
    left_out: str


@dataclass(frozen=True)
class LinePage:
    """One line that is kept."""

    row: Multiplying
    answer: LineAnswer
    done: list[DoneLine]
    cautions: list[Caution]


LEFT_OUT = (
    "Every plant is taken to give alike, in growth and well. Losses later than the pot, a mother that dies and days "
    "nobody has time are not in it."
)


def answer_of(found: LineToday) -> LineAnswer:
    """What a line comes to, in words and drawn."""
    return LineAnswer(
        title=line_title(found),
        headline=line_headline(found),
        scene=scene_of(found),
        numbers=rise_numbers(rises_of(found), found.wanted.today),
        lots=lot_lines(found),
        more=more_lines(found) if found.row.by > found.wanted.today else [],
        shut=shut_lines(found),
        room=room_lines(found),
        left_out=LEFT_OUT,
    )


def lot_lines(found: LineToday) -> list[LotLine]:
    """Lot by lot, as planned."""
    today, mothers = found.wanted.today, max(len(found.mothers), 1)
    return [
        LotLine(
            day="today" if lot.day == today else day_words(lot.day, today),
            count=max(lot.count, 1),
            whence=lot_words(lot, mothers, tuber=bool(found.row.mother_takes)),
            plants=day_words(lot.plant_on, today, weekday=False),
            comes=f"about {round(lot.cuttings * found.wanted.line.take.mean)}",
            is_now=lot.day <= today,
        )
        for lot in found.shown.lots
    ]


def room_lines(found: LineToday) -> list[str]:
    """How much room it takes where they root and where they grow on."""
    plan, room = found.shown, found.bench.room
    busiest = most_rooting(found)
    where = found.row.rooting_place.name
    said = []
    if busiest:
        holds = f", which holds {room}" if room else ""
        said.append(f"At most {busiest} root at one time, at {where}{holds}.")
    stands = round(plan.growth.expected(found.row.by))
    if stands and not found.method.direct:
        place = found.row.growing_place
        room_there = capacities([place]).get((place.pk, "pot"), 0)
        more = stands - room_there
        short = f", which holds {room_there}: find room for {more} more" if room_there and more > 0 else ""
        said.append(f"In the end about {stands} stand, at {place.name} until they go out{short}.")
    return said


def most_rooting(found: LineToday) -> int:
    """The most cuttings of the plan that root at one time."""
    lots = found.shown.lots
    busy = (sum(one.cuttings for one in lots if one.day <= lot.day < one.plant_on) for lot in lots)
    return round(max(busy, default=0))


def scene_of(found: LineToday, height: int = HEIGHT) -> Scene:
    """The family that widens."""
    row, today = found.row, found.wanted.today
    runners = [Runner(one.batch.state.taken_on, one.plant_on, one.batch.state.taken, one.row.generation, done=True)
               for one in found.lots]  # fmt: skip
    runners += [Runner(one.day, one.plant_on, max(one.count, 1), 1) for one in found.shown.lots]
    shown = Widening(
        today=today,
        by=max(row.by, today),
        wanted=row.wanted,
        rises=rises_of(found),
        runners=runners,
        shut=[(first, last) for first, last, _ in shut_spans(found)],
    )
    says = f"The line of {line_title(found)}: {' '.join(line_headline(found))}"
    return widening_scene(shown, says, height=height)


def rises_of(found: LineToday) -> list[Rise]:
    """How many stand from each day on on which more come."""
    growth, today, by = found.shown.growth, found.wanted.today, found.row.by
    days = sorted({today, *(one.on for one in growth.came if one.on <= by)})
    return [Rise(day, _by_generation(found, day), *_range(growth.plants(day))) for day in days]


def _range(plants: np.ndarray[tuple[int, ...], np.dtype[np.int64]]) -> tuple[float, float]:
    low, high = np.quantile(plants, (0.1, 0.9))
    return float(low), float(high)


def _by_generation(found: LineToday, day: date) -> tuple[float, ...]:
    """Those that stand on a day, by generation: the first mothers, those standing already, what roots, what is cut."""
    plan, take = found.shown, found.wanted.line.take.mean
    by: dict[int, float] = {0: 0.0}
    for group in found.standing:
        if group.generation or found.row.mothers_count:
            by[group.generation] = by.get(group.generation, 0.0) + group.count
    for lot, came in zip(found.rooting, plan.growth.under_way, strict=True):
        if came.on <= day:
            by[lot.generation] = by.get(lot.generation, 0.0) + came.mean
    for cut in plan.growth.lots:
        if cut.plant_on <= day:
            for generation, count in cut.by_generation:
                by[generation + 1] = by.get(generation + 1, 0.0) + count * take
    return tuple(by.get(generation, 0.0) for generation in range(max(by) + 1))


def done_lines(found: LineToday) -> list[DoneLine]:
    """Every lot that was cut, and what came of it."""
    today = found.wanted.today
    lines = []
    for lot in found.lots:
        state = lot.batch.state
        on = day_words(state.taken_on, today)
        came = [f"{lot.stands} in pots"] if lot.stands else []
        came += [f"{lot.coming} still coming"] if lot.coming else []
        came += [f"{state.lost} lost"] if state.lost else []
        whence = lot.batch.row.stock_plant
        lines.append(DoneLine(f"{state.taken} cut {on}, from {whence}", ", ".join(came), lot.batch.row.pk))
    return lines


def planned_from(found: LineToday) -> dict[str, int]:
    """How many the plan would cut today from each that may be: the first mothers first, then the eldest."""
    today, plan = found.wanted.today, found.shown
    left = sum(max(lot.count, 1) for lot in plan.lots if lot.day <= today)
    planned = {}
    for source in sorted(found.sources, key=lambda one: one.generation):
        if source.cut_from <= today and left:
            planned[source.key] = min(source.most, left)
            left -= planned[source.key]
    return planned


def page_of(found: LineToday) -> LinePage:
    """The page of one line."""
    cautions = [one for one in found.plant.cautions if one.at in ("cut", "share")]
    return LinePage(found.row, answer_of(found), done_lines(found), cautions)
