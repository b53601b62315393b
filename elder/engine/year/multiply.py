"""Multiply: from these mothers to so many plants by a day, in generations."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Final

from elder.engine.chance.counting import TIE_SLACK, Take, cuttings_needed
from elder.engine.climate.day_of_year import add_days
from elder.engine.year.growth import Grown, grow
from elder.engine.year.line import FREE, Bench, CutGroup, CutLot, Line, Rooting, first_mothers

LONGEST_DAYS: Final = 3 * 366  # how far ahead a line is followed
MORE_DAYS: Final = 30  # a month more


@dataclass(frozen=True, eq=False)
class Multiplication:
    """What a line comes to. ``lots``: everything that can be cut, when, and how many from which generation;
    ``expected`` plants by the day and the ``chance`` of enough; ``latest_start``: the last day on which cutting may
    begin with the confidence asked (``None``: not even today); ``last_cut``: the last day on which a cut is still a
    plant in time (``None``: none is)."""

    lots: tuple[CutLot, ...]
    expected: float
    chance: float
    latest_start: date | None
    last_cut: date | None
    growth: Grown = field(repr=False)
    sure: int


def multiply(
    line: Line,
    mothers: int,
    wanted: int,
    by: date,
    today: date,
    *,
    confidence: float = 0.9,
    closed_days: Collection[date] = (),
    keep_uncut: float = 0,
    mothers_count: bool = True,
) -> Multiplication:
    """From so many mothers to ``wanted`` plants by a day. On a cut day (any that is not closed) every plant that can
    gives; lots follow one another as soon as plants are ready. ``keep_uncut``: see ``Bench``."""
    asked = LineWanted(line, wanted, by, today, confidence, mothers_count)
    return from_standing(asked, first_mothers(mothers, today), Bench(frozenset(closed_days), keep_uncut))


@dataclass(frozen=True)
class LineWanted:
    """So many plants of a line by a day, this sure; ``mothers_count``: whether the first mothers are among them."""

    line: Line
    wanted: int
    by: date
    today: date
    confidence: float = 0.9
    mothers_count: bool = True


def from_standing(
    asked: LineWanted, standing: Sequence[CutGroup], bench: Bench = FREE, rooting: Sequence[Rooting] = ()
) -> Multiplication:
    """The same from what stands and roots now: a line that is under way."""
    growth = _grown(asked, standing, bench, rooting)
    return Multiplication(
        lots=growth.lots,
        expected=growth.expected(asked.by),
        chance=growth.chance(asked.wanted, asked.by),
        latest_start=latest_start(asked, standing, bench, rooting),
        last_cut=last_cut(asked, bench),
        growth=growth,
        sure=growth.sure(asked.by, asked.confidence),
    )


def _grown(
    asked: LineWanted, standing: Sequence[CutGroup], bench: Bench, rooting: Sequence[Rooting], start: date | None = None
) -> Grown:
    begin = start or asked.today
    line = asked.line
    if line.slow_days and begin > asked.today:
        late = (begin - asked.today).days
        turned = late % len(line.slow_days)
        line = replace(line, slow_days=(*line.slow_days[turned:], *line.slow_days[:turned]))
    growth = grow(line, standing, start=begin, by=asked.by, bench=bench, rooting=rooting)
    if asked.mothers_count:
        return growth
    return replace(growth, first=sum(group.count for group in standing if group.generation))


def last_cut(asked: LineWanted, bench: Bench = FREE) -> date | None:
    """The last open day on which a cut is still a plant by the day."""
    for day in range((asked.by - asked.today).days, -1, -1):
        on = add_days(asked.today, day)
        if on not in bench.closed_days and add_days(asked.today, asked.line.plant_on(day)) <= asked.by:
            return on
    return None


def latest_start(
    asked: LineWanted, standing: Sequence[CutGroup], bench: Bench = FREE, rooting: Sequence[Rooting] = ()
) -> date | None:
    """The last day on which the first of its cuts may be made with the confidence asked; ``None``: not even today. By
    halving: what begins later never gives more."""
    same = _shifts(asked, standing, bench, rooting)
    growth = _grown(asked, standing, bench, rooting) if same else None

    def does(day: int) -> bool:
        # Where all days are alike, begun so much later is the same growth so much sooner in its life.
        late = growth or _grown(asked, standing, bench, rooting, add_days(asked.today, day))
        until = add_days(asked.by, -day) if same else asked.by
        return late.chance(asked.wanted, until) >= asked.confidence - TIE_SLACK

    low, high = 0, (asked.by - asked.today).days
    if high < 0 or not does(0):
        return None
    while low < high:
        middle = (low + high + 1) // 2
        low, high = (middle, high) if does(middle) else (low, middle - 1)
    return add_days(asked.today, low)


def _shifts(asked: LineWanted, standing: Sequence[CutGroup], bench: Bench, rooting: Sequence[Rooting]) -> bool:
    """Whether a line grows alike whenever it is begun: nothing in it hangs on a date."""
    dated = bench.closed_days or bench.keep_uncut or bench.last_on or asked.line.slow_days or rooting
    return not dated and all(group.cut_from <= asked.today for group in standing)


def enough(
    asked: LineWanted, standing: Sequence[CutGroup], bench: Bench = FREE, rooting: Sequence[Rooting] = ()
) -> Multiplication | None:
    """The fewest lots that do, from the first on, and the last of them no greater than it need be; ``None`` where
    everything that can be cut is not enough."""
    whole = from_standing(asked, standing, bench, rooting)
    if whole.chance < asked.confidence - TIE_SLACK:
        return None
    growth, sure = whole.growth, asked.confidence - TIE_SLACK
    lots = next(
        n for n in range(len(growth.cut) + 1) if (growth.plants(asked.by, lots=n) >= asked.wanted).mean() >= sure
    )
    if not lots:
        return _as_cut(whole, asked, standing, replace(bench, last_on=add_days(asked.today, -1)), rooting)
    before, last = growth.plants(asked.by, lots=lots - 1), growth.cut[lots - 1]
    fewest, most = 1, int(last.cuttings.max())
    while fewest < most:
        middle = (fewest + most) // 2
        done = (before + last.thinned(middle) >= asked.wanted).mean() >= sure
        fewest, most = (fewest, middle) if done else (middle + 1, most)
    bench = replace(bench, last_on=growth.lots[lots - 1].day, last_most=most)
    return _as_cut(whole, asked, standing, bench, rooting)


def _as_cut(
    whole: Multiplication, asked: LineWanted, standing: Sequence[CutGroup], bench: Bench, rooting: Sequence[Rooting]
) -> Multiplication:
    growth = _grown(asked, standing, bench, rooting)
    return replace(
        whole,
        lots=growth.lots,
        expected=growth.expected(asked.by),
        chance=growth.chance(asked.wanted, asked.by),
        growth=growth,
        sure=growth.sure(asked.by, asked.confidence),
    )


def sure_by(asked: LineWanted, growth: Grown) -> date | None:
    """The first day on which as many stand as are wanted, with the confidence asked; ``None`` within what was
    walked."""
    days = sorted({asked.today, *(one.on for one in growth.came)})
    enough_on = (day for day in days if growth.chance(asked.wanted, day) >= asked.confidence - TIE_SLACK)
    return next(enough_on, None)


def first_day_enough(
    asked: LineWanted, standing: Sequence[CutGroup], bench: Bench = FREE, rooting: Sequence[Rooting] = ()
) -> date | None:
    """By which day so many could be had instead, within three years; ``None``: not even then."""
    ahead = replace(asked, by=add_days(asked.today, LONGEST_DAYS))
    for days in (183, 366, LONGEST_DAYS):
        ahead = replace(asked, by=add_days(asked.today, days))
        found = sure_by(ahead, _grown(ahead, standing, bench, rooting))
        if found:
            return found
    return None


@dataclass(frozen=True)
class More:
    """What one more mother, or a month more, would give: plants with the confidence asked, and on average."""

    sure: int
    expected: float


def one_more_mother(
    asked: LineWanted, standing: Sequence[CutGroup], bench: Bench = FREE, rooting: Sequence[Rooting] = ()
) -> More:
    """With one more mother that may be cut today, everything cut that can be. She herself is one more plant."""
    return _more(asked, (*standing, CutGroup(1, asked.today)), bench, rooting)


def a_month_more(
    asked: LineWanted, standing: Sequence[CutGroup], bench: Bench = FREE, rooting: Sequence[Rooting] = ()
) -> More:
    """With thirty days more, everything cut that can be."""
    return _more(replace(asked, by=add_days(asked.by, MORE_DAYS)), standing, bench, rooting)


def _more(asked: LineWanted, standing: Sequence[CutGroup], bench: Bench, rooting: Sequence[Rooting]) -> More:
    growth = _grown(asked, standing, bench, rooting)
    return More(growth.sure(asked.by, asked.confidence), growth.expected(asked.by))


@dataclass(frozen=True)
class Overstick:
    """Struck where they are to stand: ``cuttings`` for so many ``stations``, ``each`` to a station at most; ``gaps``
    stations are left empty on average, which the doubles fill."""

    stations: int
    cuttings: int
    each: int
    gaps: float


def overstick(stations: int, take: Take, confidence: float = 0.9) -> Overstick | None:
    """How many to stick where they are to stand, so that there is one for every station, the doubles moved into the
    gaps; ``None`` past what is reckoned."""
    count = cuttings_needed(stations, chance_ready=1.0, take=take, confidence=confidence)
    if count is None:
        return None
    each, over = divmod(count, stations)
    empty = (stations - over) * _empty(take, each) + over * _empty(take, each + 1)
    return Overstick(stations, count, each + (1 if over else 0), empty)


def _empty(take: Take, each: int) -> float:
    """The chance that none of so many in one station takes: the mean of (1 − s)^each over the belief."""
    failing, weight = (1 - take.mean) * take.weight, take.weight
    chance = 1.0
    for i in range(each):
        chance *= (failing + i) / (weight + i)
    return chance
