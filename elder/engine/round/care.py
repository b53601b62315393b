"""The daily care of a batch: what its state, its way of rooting and the weather ask for, derived and never stored.

Each care may be done from one day and is due by another: between the two it can wait. How often is common
practice of the trade; the minutes are assumed.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.batch.drying import is_drying
from elder.engine.batch.state import BatchState
from elder.engine.batch.under_way import UnderWay
from elder.engine.climate.day_of_year import add_days
from elder.engine.handbook.model import Method
from elder.engine.handbook.routes import SOLUTION
from elder.engine.round.hardening import hardening_ladder
from elder.engine.round.milestones import Task
from elder.engine.round.potting import ladder, potting_of

WATER_EVERY: Final = (2, 3)  # days: jars every two or three (common practice)
POTS_EVERY: Final = (2, 3)
FEED_EVERY: Final = (10, 14)
SOLUTION_EVERY: Final = (10, 14)  # a nutrient solution is made anew every two weeks (common practice)
PESTS_EVERY: Final = (6, 9)
WEEK: Final = 7
SOAK_DAYS: Final = 2  # water roots are tender: very wet for the first two days (common practice)
FEED_AFTER: Final = 14  # days after potting (common practice)
SUN_AFTER: Final = 7  # days after potting, in bright shade till then (common practice)
STAKE_AFTER: Final = 21  # days after potting (assumed)
WATER_IN_DAYS: Final = 14  # a plant set out is watered in for a fortnight (common practice)
UNCOVER_STEPS: Final = ("for an hour", "for half the day", "by day", "for good")
JARS: Final = ("water", "growbed", "clay")

# Minutes: for a lot, and for each cutting in it (assumed).
MINUTES: Final[dict[str, tuple[float, float]]] = {
    "water": (1.5, 0.0), "top_up": (1.0, 0.0), "mist": (0.5, 0.0), "moisten": (1.0, 0.05), "air": (0.5, 0.0),
    "uncover": (0.5, 0.0), "feed": (1.0, 0.1), "feed_water": (1.0, 0.0), "soak": (1.0, 0.1), "water_pots": (0.5, 0.1),
    "water_in": (1.0, 0.2),
    "pests": (1.0, 0.1), "light": (1.0, 0.2), "stake": (1.0, 1.0), "pinch": (0.5, 0.3), "harden_step": (1.0, 0.1),
    "pot_up": (3.0, 6.0), "shade": (2.0, 0.0), "first_look": (1.0, 0.2), "next_look": (1.0, 0.2), "tug": (1.0, 0.2),
    "give_up": (1.0, 0.0), "pot_on": (3.0, 2.0), "harden": (2.0, 0.2), "plant_out": (3.0, 3.0), "harvest": (2.0, 0.0),
    "carry_in": (1.0, 0.5), "stick": (3.0, 1.0), "solution": (4.0, 0.1), "lift": (4.0, 4.0),
    "fill_up": (1.0, 0.5), "relight": (1.0, 0.3), "recut": (2.0, 1.0), "carry_out": (1.0, 0.5),
}  # fmt: skip
DEEDS: Final = (
    "water", "top_up", "mist", "moisten", "air", "uncover", "feed", "feed_water", "soak", "water_pots", "water_in",
    "pests", "light", "stake", "pinch", "harden_step", "shade", "carry_in", "stick", "solution",
    "fill_up", "recut", "carry_out",
)  # fmt: skip


def minutes_of(verb: str, count: int) -> float:
    """Hands' minutes for a task on a lot of so many."""
    lot, each = MINUTES[verb]
    return lot + each * count


@dataclass(frozen=True)
class Around:
    """The air and light about a batch today: whether its place is hot, whether the sun is strong there (nobody knows:
    yes), how many mistings the air asks for, whether it is so close under a cap that mould comes."""

    hot: bool = False
    sunny: bool = True
    mistings: int = 0
    close: bool = False


CALM: Final = Around()


@dataclass(frozen=True)
class _Kept:
    """What every care is asked with."""

    batch: UnderWay
    weekdays: Sequence[int]
    around: Around

    @property
    def hot(self) -> bool:
        """Whether its place is hot today."""
        return self.around.hot

    @property
    def state(self) -> BatchState:
        """Where the batch stands."""
        return self.batch.state

    @property
    def method(self) -> Method:
        """How it is rooted."""
        return self.batch.method

    @property
    def today(self) -> date:
        """The day."""
        return self.batch.today

    def every(self, verb: str, since: date, days: tuple[int, int], count: int) -> Task:
        """A care that comes back: so many days after it was last done, or after it began."""
        last = max(filter(None, (self.state.last_tended(verb), since)))
        return Task(verb, add_days(last, days[1]), count, add_days(last, days[0]))

    def once(self, verb: str, day: date, since: date, count: int) -> Iterator[Task]:
        """A care done once after ``since``."""
        done = self.state.last_tended(verb)
        if done is None or done < since:
            yield Task(verb, day, count, day)


def cares(
    batch: UnderWay,
    *,
    weekdays: Sequence[int] = (),
    around: Around = CALM,
) -> list[Task]:
    """Every care in sight, soonest first. ``weekdays``: those on which jars are changed, Monday 0; none for every
    two or three days."""
    kept = _Kept(batch, weekdays, around)
    tasks = [*_rooting(kept), *_potted(kept), *_hardening(kept), *_planted(kept), *_pests(kept), *_pinch(kept)]
    return sorted(tasks, key=lambda task: (task.due, task.verb))


def _rooting(kept: _Kept) -> Iterator[Task]:
    state, method = kept.state, kept.method
    count = state.count("waiting") + state.count("rooted")
    began = add_days(state.taken_on, method.dry_days)  # what dries to a callus is not watered yet
    if count and is_drying(state, method):
        yield Task("stick", began, count, began)
        return
    stuck = state.last_tended("stick")
    if not count or kept.today < (stuck or began):
        return
    began = stuck or began
    gap = max(round(WEEK / max(method.visits_a_week, 0.5)), 1)
    if method.direct:  # in its row, where rain does most of it
        yield kept.every("water_in", began, (1, 1) if kept.hot else (max(gap - 1, 1), gap), count)
        return
    if method.medium == "water":
        yield _change_water(kept, began, count)
    elif method.medium in JARS:
        yield kept.every("top_up", began, (WEEK - 2, WEEK), count)
    else:
        yield kept.every("moisten", began, (max(gap - 1, 1), gap), count)
    yield from _air(kept, began, count)
    if kept.hot and kept.around.sunny:
        yield from kept.once("shade", kept.today, kept.today, count)
    rooted = state.since("rooted")
    if rooted and method.medium == "water":  # only if they must wait in the water: see the schools
        yield kept.every("feed_water", rooted, (WEEK, FEED_EVERY[1]), state.count("rooted"))


def _change_water(kept: _Kept, began: date, count: int) -> Task:
    """By the household's weekdays, else every two or three days; every two in heat."""
    last = max(filter(None, (kept.state.last_tended("water"), began)))
    if kept.weekdays:
        ahead = (add_days(last, i) for i in range(1, WEEK + 1))
        day = next(day for day in ahead if day.weekday() in kept.weekdays)
        return Task("water", day, count, day)
    most = WATER_EVERY[0] if kept.hot else WATER_EVERY[1]
    return Task("water", add_days(last, most), count, add_days(last, WATER_EVERY[0]))


def _air(kept: _Kept, began: date, count: int) -> Iterator[Task]:
    """Damp air until there are roots, then less of it by degrees."""
    state, method = kept.state, kept.method
    if method.cover != "none" and state.rooted_seen:
        first = state.rooted_seen[0].since
        done = [day for day in state.tended.get("uncover", ()) if day >= first]
        if len(done) < len(UNCOVER_STEPS):
            day = add_days(max([first, *done]), 1)
            yield Task("uncover", day, count, day)
        return
    if method.cover == "closed" or (method.cover == "loose" and kept.around.close):
        yield kept.every("air", began, (1, 1), count)
    # Soft stems all stand under some cover, which keeps them damp; what hangs in bark does not.
    if state.count("waiting") and (method.medium == "bark" or kept.hot or kept.around.mistings):
        yield kept.every("mist", began, (1, 1), count)


def _potted(kept: _Kept) -> Iterator[Task]:
    state, count = kept.state, kept.state.count("potted")
    if not count:
        return
    first, last = state.lots["potted"][0].since, state.lots["potted"][-1].since
    if kept.method.route is SOLUTION:
        yield from _in_solution(kept, first, count)
        return
    if kept.method.medium in JARS and (kept.today - last).days <= SOAK_DAYS:
        yield kept.every("soak", last, (1, 1), count)
    else:
        days = (1, 1) if kept.hot else POTS_EVERY
        yield kept.every("water_pots", max(first, add_days(last, SOAK_DAYS - 1)), days, count)
    yield kept.every("feed", add_days(first, FEED_AFTER - FEED_EVERY[1]), FEED_EVERY, count)
    yield from kept.once("light", add_days(first, SUN_AFTER), first, count)
    potting = potting_of(kept.batch.plant, kept.method)
    if potting.support:
        day = first if potting.support_kind == "climb" else add_days(first, STAKE_AFTER)
        yield from kept.once("stake", day, first, count)
    if potting.fill_up:
        yield from kept.once("fill_up", add_days(first, potting.fill_up_after), first, count)
    rungs = ladder(kept.batch.plant, kept.method, first)
    at = len([day for day in state.potted_up if day >= first]) + 1
    if at < len(rungs):
        yield Task("pot_up", rungs[at].due, count, rungs[at].due)


def _in_solution(kept: _Kept, first: date, count: int) -> Iterator[Task]:
    """Roots in nutrient solution: topped up with plain water, and renewed before what is left in it is one-sided."""
    yield kept.every("top_up", first, (1, 2) if kept.hot else (2, 4), count)
    yield kept.every("solution", first, SOLUTION_EVERY, count)
    yield from kept.once("light", add_days(first, SUN_AFTER), first, count)


def _hardening(kept: _Kept) -> Iterator[Task]:
    state, count = kept.state, kept.state.count("hardening")
    if not count:
        return
    since = state.lots["hardening"][0].since
    if kept.method.route.stays and kept.method.medium == "water":
        yield _change_water(kept, since, count)
    else:
        yield kept.every("water_pots", since, (1, 1) if kept.hot else (1, 2), count)
    if (kept.today - since).days < len(hardening_ladder(kept.method.harden_days)):
        yield from kept.once("harden_step", max(kept.today, since), kept.today, count)


def _planted(kept: _Kept) -> Iterator[Task]:
    state, count = kept.state, kept.state.count("planted")
    if not count or state.first_harvest:
        return
    last = state.lots["planted"][-1].since
    if (kept.today - last).days <= WATER_IN_DAYS:
        yield kept.every("water_in", last, (1, 1) if kept.hot else POTS_EVERY, count)


def _pests(kept: _Kept) -> Iterator[Task]:
    """A weekly look under the leaves; every look at a batch is one."""
    state = kept.state
    count = sum(state.count(stage) for stage in ("rooted", "potted", "hardening"))
    if not count:
        return
    found = bool(state.seen) and "pests" in state.seen[-1].signs
    began = max(filter(None, (state.last_look, state.rooted_seen[0].since if state.rooted_seen else state.taken_on)))
    yield kept.every("pests", began, (2, 2) if found else PESTS_EVERY, count)


def _pinch(kept: _Kept) -> Iterator[Task]:
    """Buds that were seen and not pinched since; and the tips of potted herbs, once, for bushy plants."""
    state = kept.state
    if state.seen and "buds" in state.seen[-1].signs and not state.count("planted"):
        day = state.seen[-1].on
        yield from kept.once("pinch", day, day, state.living)
    elif kept.batch.plant.group == "herb" and state.count("potted") and kept.batch.forecast.established_on:
        yield from kept.once(
            "pinch", kept.batch.forecast.established_on, state.lots["potted"][0].since, state.count("potted")
        )
