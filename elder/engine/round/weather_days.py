"""What rain and wind ahead mean for the round: ground work waits for rain, and what topples is stayed before a gale."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from typing import Final

from elder.engine.climate.day_of_year import add_days
from elder.engine.place.weather import DayAhead
from elder.engine.round.milestones import Task

SOAKS_MM: Final = 5.0  # rain that wets the ground a spade deep (assumed)
WAIT_DAYS: Final = 5  # so long ground work waits for rain that is told (assumed)
TOPPLES_KMH: Final = 60.0  # a gust that lays pots over (assumed; a gale is 62 km/h and more, Beaufort 8)


def after_rain(ahead: Sequence[DayAhead], today: date) -> date | None:
    """The day after the next rain worth waiting for; today where it rains today, nothing where none is told soon."""
    for day in ahead:
        if 0 <= (day.day - today).days <= WAIT_DAYS and day.rain_mm >= SOAKS_MM:
            return today if day.day == today else add_days(day.day, 1)
    return None


def is_ground_work(task: Task, *, direct: bool) -> bool:
    """Whether a task is digging, or sticking in the open ground."""
    return task.verb == "lift" or (task.verb == "stick" and direct)


def waiting_for_rain(task: Task, ahead: Sequence[DayAhead], today: date) -> Task:
    """A task of the open ground, put off to the day after the rain that is told, where that is soon."""
    day = after_rain(ahead, today)
    if day is None or day <= max(today, task.due):
        return task
    return replace(task, due=day, may_from=min(task.opens, today))


def gales(ahead: Sequence[DayAhead], today: date) -> list[DayAhead]:
    """The days ahead on which pots topple."""
    return [day for day in ahead if (day.day - today).days <= WAIT_DAYS and day.gust_kmh >= TOPPLES_KMH]
