"""A garden's dates, as its calendar has them; written out in ``calendar_file``."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta
from itertools import groupby
from uuid import uuid5

from elder.engine.cut.steps import prepare_days
from elder.engine.round.milestones import Task
from elder.web.garden.models import Garden
from elder.web.read.batches import BatchToday, living
from elder.web.read.services import days_ahead
from elder.web.read.shed import shed_today
from elder.web.read.wants import Reckoning, reckon_all
from elder.web.read.year_tasks import year_tasks
from elder.web.rounds.dates import CUTS, LOOKING, SHOPPING, WORK, YEAR, CalendarDate, garden_id
from elder.web.rounds.round import LOOKS, jobs_of
from elder.web.rounds.told import done_in, told
from elder.web.rounds.wording import job_words
from elder.web.say.batches import name_of
from elder.web.say.plants import plant_words
from elder.web.say.shed import packs_before, thing_words
from elder.web.say.wants import headline
from elder.web.say.words import listed
from elder.web.say.year import year_task_words

MILESTONES = frozenset((*LOOKS, "pot_on", "harden", "plant_out", "harvest", "pot_up", "stick", "lift"))


def dates_of(garden: Garden, today: date, units: str) -> list[CalendarDate]:
    """Everything in sight of a garden: cuts to make, what batches want, and the days jars are changed."""
    batches = living(garden, today)
    wants = reckon_all(garden, today)
    found = [*_cuts(wants, garden, today), *_milestones(batches, garden, today, units)]
    found += [*_jars(batches, garden, today), *_shopping(wants, garden, today, units)]
    found += _of_year(garden, today, units)
    found = told(garden, found)
    return sorted([*done_in(garden, today), *found], key=lambda item: (item.day, item.summary))


def _of_year(garden: Garden, today: date, units: str) -> Iterator[CalendarDate]:
    """Lots of lines, the winter list and its looks, pots of long crops: a year ahead."""
    for task in year_tasks(garden, today, ahead=366):
        deed, about = year_task_words(task, today, units)
        uid = uuid5(garden_id(garden), task.uid)
        name = plant_words(task.plant, task.variety)
        yield CalendarDate(uid, max(task.due, today), f"{deed}: {name}", f"{about}.", task.path, YEAR)


def _cuts(wants: list[Reckoning], garden: Garden, today: date) -> Iterator[CalendarDate]:
    for item in wants:
        day = _cut_day(item)
        if day is not None:
            name = plant_words(item.plant.name, item.row.variety)
            uid = uuid5(garden_id(garden), f"want:{item.row.pk}:cut")
            yield CalendarDate(
                uid, max(day, today), f"Cut {name}", headline(item).plain, ("want", garden.pk, item.row.pk), CUTS
            )
            ahead = prepare_days(item.plant, item.method)
            if ahead and not item.row.prepared_on and not item.batches and day > today:
                uid = uuid5(garden_id(garden), f"want:{item.row.pk}:prepare")
                before = max(day - timedelta(days=ahead), today)
                path = ("cut-sheet", garden.pk, item.row.pk)
                yield CalendarDate(uid, before, f"Ready the branch: {name}", "Its leaves back by half.", path, CUTS)


def _cut_day(item: Reckoning) -> date | None:
    if item.refusal:
        return None
    if not item.batches:
        return item.option.day if item.option and item.to_cut else None
    return item.shortfall.day if item.shortfall else None


def _milestones(batches: list[BatchToday], garden: Garden, today: date, units: str) -> Iterator[CalendarDate]:
    ahead = days_ahead(garden, today)
    for batch in batches:
        for job in jobs_of(batch, garden, ahead):
            if job.verb in MILESTONES:
                words = job_words(job, units)
                summary = f"{words.deed}: {name_of(batch)}"
                path = ("batch", garden.pk, batch.row.pk)
                uid = uuid5(garden_id(garden), f"batch:{batch.row.pk}:{_kind(job.task)}")
                category = LOOKING if job.verb in LOOKS else WORK
                yield CalendarDate(uid, max(job.task.due, today), summary, words.about, path, category)


def _kind(task: Task) -> str:
    """Looks are one event that moves on, whatever kind of look comes next."""
    return "look" if task.verb in LOOKS else task.verb


def _jars(batches: list[BatchToday], garden: Garden, today: date) -> Iterator[CalendarDate]:
    in_jars = [batch for batch in batches if batch.method.medium == "water" and _is_rooting(batch)]
    if garden.water_days and in_jars:
        day = next(day for i in range(7) if (day := today + timedelta(days=i)).weekday() in garden.water_days)
        uid = uuid5(garden_id(garden), "jars")
        about = ", ".join(dict.fromkeys(name_of(batch) for batch in in_jars))
        path = ("round", garden.pk, None)
        yield CalendarDate(uid, day, "Change the water in the jars", about, path, WORK, tuple(garden.water_days))


def _shopping(wants: list[Reckoning], garden: Garden, today: date, units: str) -> Iterator[CalendarDate]:
    """What to buy by when, a trip an event: the first trip is one event that moves on, and so is the second. Nothing in
    a garden where nobody keeps a shed: then all would be to buy."""
    shed = shed_today(garden, today, wants)
    if not shed.held.since:
        return
    for i, (by, lines) in enumerate(groupby(shed.buying, lambda one: one.by)):
        packs = ((one.what, packs_before(one.what, one.packs.count, one.packs.size_l, units)) for one in lines)
        things = listed(f"{said} {thing_words(what, shed.kit, units)}" for what, said in packs)
        uid = uuid5(garden_id(garden), f"shed:trip:{i}")
        yield CalendarDate(uid, by, "Buy for the shed", f"{things}.", ("shed", garden.pk, None), SHOPPING)


def _is_rooting(batch: BatchToday) -> bool:
    return batch.state.count("waiting") + batch.state.count("rooted") > 0
