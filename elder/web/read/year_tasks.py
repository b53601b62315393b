"""What the year asks for now and soon: lots of lines, the winter's list and its looks, pots of long crops, what is
promised. For round, season and calendar alike."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final

from elder.engine.climate.day_of_year import add_days
from elder.engine.handbook.model import Plant
from elder.engine.year.moving import MoveWay
from elder.engine.year.winter import WinterWay
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking
from elder.web.read.lines import line_today
from elder.web.read.long_crops import long_crops
from elder.web.read.mothers import Known, known
from elder.web.read.moved_here import in_pots_yet, watered_today
from elder.web.read.moves import move_today, open_move
from elder.web.read.promises import open_promises
from elder.web.read.services import days_ahead
from elder.web.read.there import has_any
from elder.web.read.winter import WinterLine, winter_list
from elder.web.read.winter_cares import cares_today, mild_today
from elder.web.year.models import Multiplying

BEFORE_FROST: Final = timedelta(days=14)  # so long before its last day a line of the winter list is due (assumed)
TASK_BYTES: Final = 700  # of a task (measured, rounded)
POT_AHEAD: Final = timedelta(days=30)  # a pot for years is told so long ahead


@dataclass(frozen=True)
class YearTask:
    """One thing to do of the year: ``kind`` lot, winter, look, count, mild, pot, hand, short, settle, dig, move,
    water or daily; when, of which plant and how many; the address it is done at, and a name that stays. ``lines``: how
    many of a list it stands for."""

    kind: str
    due: date
    plant: str
    variety: str
    count: int
    detail: str
    path: tuple[str, int, int | str | None]
    uid: str
    last: date | None = None
    lines: int = 1


def year_tasks(garden: Garden, today: date, *, ahead: int = 21, every: list[Known] | None = None) -> list[YearTask]:
    """Everything the year asks for up to so many days ahead, soonest first. ``every``: the garden's mothers, where they
    are known already."""
    if garden.closed_on:  # it was left
        return []
    every = every if every is not None else known(garden, today)
    written = once_looking(
        garden, ("year", today, ahead), lambda: _written(garden, today, every, ahead), each=TASK_BYTES
    )
    found = [*written, *_cares(garden, today), *_moving(garden, today, every), *_moved(garden, today)]
    return sorted((task for task in found if task.due <= add_days(today, ahead)), key=lambda task: (task.due, task.uid))


def _written(garden: Garden, today: date, every: list[Known], ahead: int) -> list[YearTask]:
    """What follows from what is written of the garden alone; what the weather service tells has no part in it."""
    found = [*_lots(garden, today, every), *_winter(garden, today, every, ahead)]
    return [*found, *_pots(garden, today, every), *_promised(garden, today, every)]


def _lots(garden: Garden, today: date, every: list[Known]) -> Iterator[YearTask]:
    if not has_any(garden, Multiplying):
        return
    rows = Multiplying.objects.filter(garden=garden, closed_on=None, by__gt=today)
    for row in rows.select_related("rooting_place", "growing_place"):
        found = line_today(row, garden, today, every)
        if found.next_day is None:
            continue
        count = max(found.shown.lots[0].count, 1)
        path = ("year-line", garden.pk, row.pk)
        words = found.plant.cutting_one if count == 1 else found.plant.cutting_many
        start = found.whole.latest_start
        yield YearTask(
            "lot", found.next_day, found.plant.name, row.variety, count, words, path, f"line:{row.pk}:lot", start
        )


def _winter(garden: Garden, today: date, every: list[Known], ahead: int) -> Iterator[YearTask]:
    """The winter's list, alike with alike: thirty tomatoes whose tops are struck by one day are one thing to know of,
    and thirty lines of the list that it leads to."""
    until = add_days(today, ahead) + BEFORE_FROST
    alike: dict[tuple[Plant, str, WinterWay, date], list[WinterLine]] = {}
    for line in winter_list(garden, today, every, until=until).work:
        if line.due is not None and not line.is_done:
            alike.setdefault((line.standing.plant, line.standing.variety, line.way, line.due), []).append(line)
    for (plant, variety, way, due), lines in alike.items():
        one = f"{plant.slug}:{variety}:{way.value}:{due.isoformat()}" if len(lines) > 1 else lines[0].standing.key
        yield YearTask(
            "winter",
            max(due - BEFORE_FROST, today) if due >= today else due,
            plant.name,
            variety,
            sum(line.standing.count for line in lines),
            way.value,
            ("year-winter", garden.pk, None),
            f"winter:{one}",
            due,
            len(lines),
        )


def _cares(garden: Garden, today: date) -> Iterator[YearTask]:
    cares = cares_today(garden, today)
    for one in mild_today(cares, days_ahead(garden, today)) if cares else []:
        path: tuple[str, int, int | str | None] = ("year-winter", garden.pk, None)
        uid = f"winter:{one.row.pk}:mild"
        yield YearTask("mild", today, one.plant.name, one.row.variety, one.alive, "", path, uid)
    for one in cares:
        row, path = one.row, ("year-winter", garden.pk, None)
        if row.lived is not None:
            continue
        if one.counts and row.out_on:
            yield YearTask(
                "count", row.out_on, one.plant.name, row.variety, one.alive, "", path, f"winter:{row.pk}:count"
            )
        else:
            where = row.place.name if row.place else ""
            yield YearTask(
                "look", one.next_check, one.plant.name, row.variety, one.alive, where, path, f"winter:{row.pk}:look"
            )


def _pots(garden: Garden, today: date, every: list[Known]) -> Iterator[YearTask]:
    """Pots of mothers; of batches the round asks already. Nothing where nobody has said what they stand in."""
    for crop in long_crops(garden, today, every):
        if crop.stock is None or crop.guessed or crop.has_ended:
            continue
        step = crop.next_pot
        if step is None:
            continue
        path = ("year-crop", garden.pk, crop.key)
        litres = f"{step.vessel.volume_l:g}"
        yield YearTask("pot", step.on, crop.plant.name, crop.variety, 1, litres, path, f"crop:{crop.key}:pot")


def _promised(garden: Garden, today: date, every: list[Known]) -> Iterator[YearTask]:
    """What is to be handed over, or sent so that it arrives; and what runs short, told as soon as it does."""
    for one in open_promises(garden, today, every):
        row, want = one.row, one.want
        path = ("passing-one", garden.pk, row.pk)
        leaves = one.by - timedelta(days=row.road_days if row.goes == row.Goes.PARCEL else 0)
        named = one.plant.name, want.variety
        if one.short:
            yield YearTask("short", today, *named, one.short, row.who, path, f"promise:{row.pk}:short", one.by)
        if one.word != "refused":
            yield YearTask("hand", leaves, *named, row.left, row.who, path, f"promise:{row.pk}:hand", one.by)


def _moving(garden: Garden, today: date, every: list[Known]) -> Iterator[YearTask]:
    """What a planned move asks for: the sale settled, what is dug, the day itself. Its cuttings stand in the season."""
    row = open_move(garden)
    if row is None:
        return
    path = ("moving-one", garden.pk, row.pk)
    if row.asks.get("sale", {}).get("said") != "yes":
        yield YearTask("settle", today, "", "", 0, "", path, f"move:{row.pk}:sale", row.day)
    dug = row.plants.filter(way=MoveWay.DIG.value, done_on__isnull=False).count()
    if dug:
        yield YearTask("daily", today, "", "", dug, "", path, f"move:{row.pk}:daily")
    for one in move_today(row, garden, today, every).coming:
        if one.way is MoveWay.DIG and not one.is_done and one.answer.dig:
            start, last = one.answer.dig
            yield YearTask("dig", start, one.standing.name, "", 1, "", path, f"move:{row.pk}:{one.key}", last)
    yield YearTask("move", row.day, "", "", 0, row.to.name if row.to else "", path, f"move:{row.pk}", row.day)


def _moved(garden: Garden, today: date) -> Iterator[YearTask]:
    """At the new place: deep waterings once a week, and what stands in its pot looked at daily."""
    path: tuple[str, int, int | str | None] = ("moving-here", garden.pk, None)
    for one in watered_today(garden, today):
        if one.next_day is not None and one.row.stock:
            uid, litres = f"moved:{one.row.pk}:water", f"{one.row.water_l:g}"
            yield YearTask("water", one.next_day, one.row.stock.name, "", 1, litres, path, uid)
    potted = in_pots_yet(garden)
    if potted:
        yield YearTask("daily", today, "", "", len(potted), "", path, f"moved:{garden.pk}:daily")
