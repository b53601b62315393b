"""Today's list: what is due this week, for wants and for batches, most pressing first."""

from __future__ import annotations

from datetime import date, timedelta

from django.urls import reverse

from elder.engine.cut.steps import prepare_days
from elder.engine.refusal import Refusal
from elder.engine.round.weather_days import after_rain
from elder.web.garden.models import Garden
from elder.web.read.mothers import Known
from elder.web.read.services import days_ahead
from elder.web.read.wants import Reckoning
from elder.web.read.year_tasks import YearTask, year_tasks
from elder.web.say.plants import plant_words
from elder.web.say.words import day_words, days_away, plural
from elder.web.say.year import year_task_words
from elder.web.season.wording import MOVED, PRESSING, Due, task_words

AHEAD = timedelta(days=7)


def todays_list(
    reckonings: list[Reckoning], garden: Garden, today: date, units: str, mothers: list[Known] | None = None
) -> list[Due]:
    """Everything due by a week from today."""
    found: list[Due] = []
    for reckoning in reckonings:
        found += _cuts(reckoning, garden, today)
        for batch in reckoning.batches:
            url = reverse("batch", args=[garden.pk, batch.row.pk])
            for task in batch.tasks:
                if task.due <= today + AHEAD:
                    deed, what = task_words(task, batch)
                    found.append(_due(task.due, task.verb, deed, what, url, today))
    found += [_of_year(task, today, units) for task in year_tasks(garden, today, ahead=AHEAD.days, every=mothers)]
    return sorted(found, key=lambda line: line.order)


def _of_year(task: YearTask, today: date, units: str) -> Due:
    """What the year asks for: a lot of a line, a plant before the frost, a pot."""
    deed, what = year_task_words(task, today, units)
    url = reverse(task.path[0], args=[part for part in task.path[1:] if part])
    return _due(task.due, "cut" if task.kind == "lot" else "year", deed, what, url, today)


def _cuts(reckoning: Reckoning, garden: Garden, today: date) -> list[Due]:
    """The cut of a want, once its days have begun; a shortfall that can still be put right."""
    plant, row = reckoning.plant, reckoning.row
    name = plant_words(plant.name, row.variety)
    url = reverse("want", args=[garden.pk, row.pk])
    if not reckoning.batches and reckoning.option and not reckoning.refusal:
        option = reckoning.option
        ahead = prepare_days(plant, reckoning.method)
        ready_by = option.day - timedelta(days=ahead)
        if ahead and reckoning.to_cut and not row.prepared_on and today < option.day and ready_by <= today + AHEAD:
            sheet = reverse("cut-sheet", args=[garden.pk, row.pk])
            what = f"{name} · leaves back by half, {plural(ahead, 'day', 'days')} before the cut"
            return [_due(max(ready_by, today), "prepare", "Ready the branch", what, sheet, today)]
        if option.day <= today + AHEAD:
            deed = f"Cut {plural(reckoning.to_cut, plant.cutting_one, plant.cutting_many)}"
            day, told = _after_rain(reckoning, garden, option.day, today)
            return [_due(day, "cut", deed, f"{name}{told}", url, today)]
    more = reckoning.shortfall
    if more and more.day <= today + AHEAD:
        what = f"{name}, which is short; until {day_words(more.lasts, today, weekday=False)}"
        return [_due(max(more.day, today), "cut", f"Cut {more.count} more", what, url, today)]
    return []


def _after_rain(reckoning: Reckoning, garden: Garden, day: date, today: date) -> tuple[date, str]:
    """What is struck in the open ground is cut the day after rain that is told, if that day is as good."""
    option = reckoning.option
    if not reckoning.method.direct or option is None or isinstance(reckoning.plan, Refusal):
        return day, ""
    wet = after_rain(days_ahead(garden, today), today)
    plan = reckoning.plan
    if wet is None or wet <= max(day, today) or not 0 <= plan.index(wet) < len(plan):
        return day, ""
    if plan.standing[plan.index(wet)] != plan.standing[plan.index(max(day, today))]:
        return day, ""
    return wet, f" · after the rain that is told for {day_words(wet - timedelta(days=1), today)}"


def _due(day: date, verb: str, deed: str, what: str, url: str, today: date) -> Due:
    return Due(
        when=_when(day, verb, today),
        now=day <= today,
        deed=deed,
        about=what,
        url=url,
        due=day,
        pressing=PRESSING[verb],
    )


def _when(day: date, verb: str, today: date) -> str:
    """The day of a task. One that has gone by is worth doing now; a plant that is ready says since when."""
    if day < today:
        return f"ready since {day_words(day, today, weekday=False)}" if verb in MOVED else "now"
    return days_away(day, today) if (day - today).days < 2 else day_words(day, today)
