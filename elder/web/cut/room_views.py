"""The Cut room: what is to be cut these two weeks, from whom, what stands ready for it, and what lies drying."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date, timedelta

from django.http import HttpResponse
from django.urls import reverse
from django.views.decorators.http import require_GET

from elder.engine.batch.drying import is_drying
from elder.engine.climate.day_of_year import add_days
from elder.engine.cut.standing import Sticking, sticking
from elder.engine.cut.steps import prepare_days
from elder.web.cut.trimming import fates_so_far
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.logbook.standing import once_looking
from elder.web.read.batches import BatchToday, living
from elder.web.read.mothers import Known, known
from elder.web.read.wants import Reckoning, reckon_all
from elder.web.say.batches import title_of
from elder.web.say.containers import CONTAINER_WORDS
from elder.web.say.plants import plant_words, way_words
from elder.web.say.words import day_words, days_away, listed, minutes_words, plural
from elder.web.ui.pages import show

AHEAD_DAYS = 14
BENCH_MINUTES = 4.0  # for blade, mix and labels of one lot (assumed)


@dataclass(frozen=True)
class ToCut:
    """A want to be cut from: how many and when, from whom and what she gives, what stands ready for it."""

    day: date
    when: str
    count: int
    cuttings: str
    title: str
    way: str
    mother: str
    short: str
    place: str
    url: str
    minutes: float
    stick: Sticking
    prepare: str


@dataclass(frozen=True)
class DryingBatch:
    """A batch that lies drying, and when it is to be stuck."""

    batch: BatchToday
    title: str
    when: str
    is_due: bool


@dataclass(frozen=True)
class CutRoomPage:
    """What is to be cut now and soon, what lies drying, and what became of trimmings so far."""

    now: list[ToCut]
    ready: str
    minutes: str
    soon: list[ToCut]
    drying: list[DryingBatch]
    trimmings: list[tuple[str, int]]


@require_GET
@in_garden("see")
def cut_room(request: GardenRequest) -> HttpResponse:
    """What is to be cut these two weeks, what lies drying, and the bench's tools."""
    mothers = known(request.garden, request.today)
    lines = [line for item in reckon_all(request.garden, request.today) if (line := _to_cut(item, request, mothers))]
    lines.sort(key=lambda line: (line.day, line.title))
    due = [line for line in lines if line.day <= request.today]
    drying = [item for item in living(request.garden, request.today) if is_drying(item.state, item.method)]
    page = CutRoomPage(
        now=due,
        ready=_ready_words(due),
        minutes=minutes_words(sum(line.minutes for line in due)) if due else "",
        soon=[line for line in lines if line.day > request.today],
        drying=[_drying(item) for item in drying],
        trimmings=once_looking(request.garden, "trimmings", lambda: fates_so_far(request.garden.batches.all())),
    )
    return show(request, "cut/room.html", page)


def _to_cut(item: Reckoning, request: GardenRequest, mothers: list[Known]) -> ToCut | None:
    """A want whose cut, or whose top-up, comes within two weeks."""
    today = request.today
    more = item.shortfall if item.batches else None
    if more:
        day, count = max(more.day, today), more.count
    elif not item.batches and item.option and item.to_cut:
        day, count = item.option.day, item.to_cut
    else:
        return None
    if day > today + timedelta(days=AHEAD_DAYS):
        return None
    prepare = prepare_days(item.plant, item.method)
    due = add_days(day, -prepare) if prepare and not item.row.prepared_on else None
    mother, short = _from_whom(item, count, mothers)
    return ToCut(
        day=day,
        when=days_away(day, today) if (day - today).days < 2 else day_words(day, today),
        count=count,
        cuttings=item.plant.cutting_one if count == 1 else item.plant.cutting_many,
        title=plant_words(item.plant.name, item.row.variety),
        way=way_words(item.method.form, item.method.name),
        mother=mother,
        short=short,
        place=item.row.rooting_place.name,
        url=reverse("cut-sheet", args=[request.garden.pk, item.row.pk]),
        minutes=item.method.minutes_each * count + BENCH_MINUTES,
        stick=sticking(item.plant, item.method, count, kit=item.kit),
        prepare=f"get the branch ready {days_away(due, today) if due > today else 'today'}" if due else "",
    )


def _from_whom(item: Reckoning, count: int, mothers: list[Known]) -> tuple[str, str]:
    """The mother it is planned from, else the best there is, and whether that has as many today."""
    found = fitting(mothers, item.row.plant, item.row.variety, item.row.mother_id)
    if not found or item.method.form == "crown top":  # a top comes with its fruit, whatever the mother has
        return "", ""
    best = found[0]
    short = f"gives {best.now} today, {count - best.now} too few" if best.now < count else f"gives {best.now} today"
    return best.row.name, short


def fitting(mothers: list[Known], plant: str, variety: str, chosen: int | None = None) -> list[Known]:
    """The living mothers of a plant: the one chosen, those of the variety, then those whose variety nobody wrote down,
    each by what they give. Another variety is another plant."""
    living = [one for one in mothers if one.row.plant == plant and not one.row.ended_on]
    found = [one for one in living if not variety or one.row.variety in (variety, "") or one.row.pk == chosen]
    return sorted(found, key=lambda one: (one.row.pk != chosen, one.row.variety != variety, -one.now))


def _ready_words(lines: list[ToCut]) -> str:
    """What stands ready before the first cut, for all of today's: "2 jars, 3 pots and 5 labels"."""
    found: Counter[str] = Counter()
    for line in lines:
        stick = line.stick
        found[stick.container] += stick.containers
        found["label"] += stick.containers
    words = {**CONTAINER_WORDS, "label": ("label", "labels")}
    return listed(plural(found[kind], *words[kind]) for kind in words if found[kind])


def _drying(item: BatchToday) -> DryingBatch:
    until = add_days(item.state.taken_on, item.method.dry_days)
    when = days_away(until, item.today) if until > item.today else "now"
    return DryingBatch(item, title_of(item), when, is_due=until <= item.today)
