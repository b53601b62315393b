"""What is due: tasks derived from a batch's state and its forecast, never stored."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from elder.engine.batch.forecast import BatchForecast
from elder.engine.batch.state import BatchState
from elder.engine.chance.rooting_time import GIVE_UP_BELOW


@dataclass(frozen=True)
class Task:
    """One thing to do for a batch: its verb, the day it falls due, to how many, and from which day it may be done
    (nothing: from the day it is due)."""

    verb: str
    due: date
    count: int
    may_from: date | None = None

    @property
    def opens(self) -> date:
        """The first day on which it may be done."""
        return min(self.may_from or self.due, self.due)


def due(
    state: BatchState,
    forecast: BatchForecast,
    *,
    harden_days: int,
    plant_out: date,
    set_out: bool,
    harvest_days: int = 0,
) -> list[Task]:
    """Every task in sight for a batch, soonest first. ``plant_out`` is the day the plants are to be
    ready; ``set_out`` whether they go into the ground then (else they stay in their pots); ``harden_days`` how
    long they are hardened off first, if at all."""
    tasks = [*_looks(state, forecast), *_moves(state, forecast, harden_days, plant_out, set_out)]
    if state.count("planted") and state.first_harvest is None and harvest_days:
        first = min(lot.since for lot in state.lots["planted"])
        tasks.append(Task("harvest", first + timedelta(days=harvest_days), state.count("planted")))
    return sorted(tasks, key=lambda task: (task.due, task.verb))


def _looks(state: BatchState, forecast: BatchForecast) -> list[Task]:
    waiting = state.count("waiting")
    if not waiting:
        return []
    if forecast.give_up_on and forecast.hope < GIVE_UP_BELOW:
        return [Task("give_up", forecast.give_up_on, waiting)]
    verb = "first_look" if state.last_look is None else "next_look"
    return [Task(verb, forecast.next_look, waiting)] if forecast.next_look else []


def _moves(state: BatchState, forecast: BatchForecast, harden_days: int, plant_out: date, set_out: bool) -> list[Task]:
    tasks: list[Task] = []
    if state.count("rooted"):
        tasks.append(Task("pot_on", state.lots["rooted"][0].since, state.count("rooted")))
    if state.count("potted") and forecast.established_on and harden_days:
        # Hardened too soon they stand about on the step; too late they miss the gate.
        begin = max(forecast.established_on, plant_out - timedelta(days=harden_days))
        tasks.append(Task("harden", begin, state.count("potted")))
    if state.count("hardening") and set_out:
        done = state.lots["hardening"][0].since + timedelta(days=harden_days)
        tasks.append(Task("plant_out", max(done, plant_out), state.count("hardening")))
    return tasks
