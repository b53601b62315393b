"""What is due: tasks derived from a batch's state and its forecast, never stored."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final

from elder.engine.batch.forecast import BatchForecast
from elder.engine.batch.state import BatchState
from elder.engine.chance.rooting_time import GIVE_UP_BELOW
from elder.engine.handbook.routes import POTTED, STRAIGHT_OUT, Route

MEASURE_AGAIN_DAYS: Final = 7  # after a root or shoot was found too short to pot (assumed)


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


@dataclass(frozen=True)
class Onward:
    """What is to become of a batch's plants: their route; ``plant_out``, the day they are to be ready; ``set_out``,
    whether they go into the ground then (else they stay in their pots); ``harden_days``, how long they are hardened off
    first, if at all; days from planting out to a first harvest; when those lined out may be lifted, first day and last;
    ``ready_cm``, the length of roots or shoots at which they are potted, where that is their sign.
    """

    plant_out: date
    harden_days: int = 0
    set_out: bool = True
    harvest_days: int = 0
    route: Route = POTTED
    lifting: tuple[date, date] | None = None
    ready_cm: float = 0.0


def due(state: BatchState, forecast: BatchForecast, onward: Onward) -> list[Task]:
    """Every task in sight for a batch, soonest first."""
    tasks = [*_looks(state, forecast), *_moves(state, forecast, onward)]
    planted = state.lots.get("planted", ())
    in_row = [lot for lot in planted if onward.lifting and not lot.grown]
    if in_row and onward.lifting:
        tasks.append(Task("lift", onward.lifting[0], sum(lot.count for lot in in_row)))
    standing = [lot for lot in planted if lot not in in_row]
    if standing and state.first_harvest is None and onward.harvest_days:
        first = min(lot.since for lot in standing)
        many = sum(lot.count for lot in standing)
        tasks.append(Task("harvest", first + timedelta(days=onward.harvest_days), many))
    return sorted(tasks, key=lambda task: (task.due, task.verb))


def _looks(state: BatchState, forecast: BatchForecast) -> list[Task]:
    waiting = state.count("waiting")
    if not waiting:
        return []
    if forecast.give_up_on and forecast.hope < GIVE_UP_BELOW:
        return [Task("give_up", forecast.give_up_on, waiting)]
    verb = "first_look" if state.last_look is None else "next_look"
    return [Task(verb, forecast.next_look, waiting)] if forecast.next_look else []


def _moves(state: BatchState, forecast: BatchForecast, onward: Onward) -> list[Task]:
    tasks: list[Task] = []
    route, plant_out, harden_days = onward.route, onward.plant_out, onward.harden_days
    if state.count("rooted") and route.is_moved:
        tasks.append(Task("pot_on", _potting_day(state, onward), state.count("rooted")))
    growing = _growing(state, route)
    if growing and forecast.established_on and harden_days:
        # Hardened too soon they stand about on the step; too late they miss the gate.
        begin = max(forecast.established_on, plant_out - timedelta(days=harden_days))
        tasks.append(Task("harden", begin, growing))
    elif growing and route is STRAIGHT_OUT and onward.set_out and forecast.established_on:
        tasks.append(Task("plant_out", max(forecast.established_on, plant_out), growing))
    if state.count("hardening") and onward.set_out:
        done = state.lots["hardening"][0].since + timedelta(days=harden_days)
        tasks.append(Task("plant_out", max(done, plant_out), state.count("hardening")))
    return tasks


def _potting_day(state: BatchState, onward: Onward) -> date:
    """When rooted ones are potted: at once, unless what was measured last falls short of their sign; then a week on."""
    since = state.lots["rooted"][0].since
    measured = [seen for seen in state.seen if seen.root_cm and seen.on >= since]
    if measured and measured[-1].root_cm < onward.ready_cm:
        return measured[-1].on + timedelta(days=MEASURE_AGAIN_DAYS)
    return since


def _growing(state: BatchState, route: Route) -> int:
    """How many grow on towards hardening: in their pots, or rooted where they go out from there. Plants that were
    lifted from their row need none."""
    potted = sum(lot.count for lot in state.lots.get("potted", ()) if not lot.grown)
    return potted + (state.count("rooted") if route is STRAIGHT_OUT else 0)
