"""The round: what every living batch asks for today, in walking order, what several share gathered into one press."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date
from itertools import groupby

from elder.engine.place.air import Air
from elder.engine.place.weather import DayAhead
from elder.engine.plan.light_needs import need_of
from elder.engine.round.care import DEEDS, cares, minutes_of
from elder.engine.round.milestones import Task
from elder.engine.round.potting import ready_sign
from elder.engine.round.verdicts import stage_of
from elder.engine.round.weather_days import is_ground_work, waiting_for_rain
from elder.web.garden.models import Garden, Place
from elder.web.read.batches import BatchToday, living
from elder.web.read.gardens import places_of
from elder.web.read.ill_lit import IllLit, cover_of, ill_lit, place_with_light
from elder.web.read.services import days_ahead
from elder.web.read.year_tasks import YearTask, year_tasks
from elder.web.rounds.carry import Carry, carry_in, carry_out
from elder.web.rounds.surroundings import air_for, around_of
from elder.web.rounds.weather_words import rain_words
from elder.web.say.air import cover_advice, dry_words

LOOKS = ("first_look", "next_look", "tug", "give_up")
AT_GROWING = frozenset(
    ("feed", "soak", "water_pots", "light", "stake", "harden_step", "pot_up", "harden", "plant_out", "pinch")
) | {"solution", "fill_up", "carry_out"}
PLANTED = frozenset(("water_in", "harvest"))
SEEN_TO_DAYS = 14  # after it was shaded, or moved to more light, so long nothing more is said of that (assumed)
YEAR_MINUTES = 10.0  # a lot, a pot carried in, a look through what winters (assumed)
LAST = 10_000  # where plants in their beds come in the walk: after every place


@dataclass(frozen=True, eq=False)
class About:
    """What the light, the air and the weather add to a task: a sentence; and for what is to stand elsewhere where it
    stands now in the wrong light, and where it would have it."""

    said: str = ""
    light: IllLit | None = None


NOTHING = About()


@dataclass(frozen=True, eq=False)
class Job:
    """One task of one batch, and where it is to be done; no place for what stands in its bed."""

    task: Task
    batch: BatchToday
    place: Place | None
    about: About = NOTHING

    @property
    def verb(self) -> str:
        """What is to be done."""
        return self.task.verb

    @property
    def is_look(self) -> bool:
        """Whether it is a look, or a word on giving up."""
        return self.verb in LOOKS

    @property
    def is_late(self) -> bool:
        """Whether its day has gone by."""
        return self.task.due < self.batch.today

    @property
    def minutes(self) -> float:
        """Hands' minutes."""
        return minutes_of(self.task.verb, self.task.count)


@dataclass(frozen=True, eq=False)
class Shared:
    """One deed that several batches of a place want: done in one press."""

    verb: str
    place: Place | None
    jobs: tuple[Job, ...]

    @property
    def is_late(self) -> bool:
        """Whether it is overdue for any."""
        return any(job.is_late for job in self.jobs)


@dataclass(frozen=True, eq=False)
class Stop:
    """A place on the walk: what is shared there, then what each batch wants."""

    place: Place | None
    shared: tuple[Shared, ...]
    jobs: tuple[Job, ...]


@dataclass(frozen=True, eq=False)
class Round:
    """Today's round: what is overdue or due, what can wait, what must be carried in, and the weather."""

    now: tuple[Stop, ...]
    waits: tuple[Stop, ...]
    carries: tuple[Carry, ...]
    ahead: tuple[DayAhead, ...]
    batches: dict[int, BatchToday] = field(repr=False)
    year: tuple[YearTask, ...] = ()

    @property
    def _to_carry(self) -> list[Carry]:
        return [carry for carry in self.carries if not carry.is_done]

    @property
    def presses(self) -> int:
        """How many things there are to do now."""
        due = sum(len(stop.shared) + len(stop.jobs) for stop in self.now) + (1 if self._to_carry else 0)
        return due + len(self.year)

    @property
    def minutes(self) -> float:
        """Hands' minutes for what is due now."""
        due = sum(job.minutes for job in jobs_in(self.now)) + sum(carry.minutes for carry in self._to_carry)
        return due + YEAR_MINUTES * sum(task.lines for task in self.year)


def jobs_in(stops: Iterable[Stop]) -> list[Job]:
    """Every job of some stops, in their order."""
    return [job for stop in stops for job in (*(one for shared in stop.shared for one in shared.jobs), *stop.jobs)]


def round_of(garden: Garden, today: date) -> Round:
    """The round of a garden on a day."""
    batches, ahead = living(garden, today), days_ahead(garden, today)
    jobs = [job for batch in batches for job in jobs_of(batch, garden, ahead)]
    due = [job for job in jobs if job.task.due <= today]
    waits = [job for job in jobs if job.task.due > today and job.task.opens <= today]
    carries = carry_in(batches, garden, ahead)
    year = tuple(year_tasks(garden, today, ahead=0))
    return Round(stops(due), stops(waits), carries, ahead, {batch.row.pk: batch for batch in batches}, year)


def jobs_of(batch: BatchToday, garden: Garden, ahead: Sequence[DayAhead]) -> list[Job]:
    """Everything a batch asks for, each at its place."""
    first = ahead[0] if ahead else None
    places = places_of(garden)
    here = places[batch.place_id(stage_of(batch.state))]
    air = air_for(batch, here, ahead)
    care = cares(
        batch.under_way, weekdays=garden.water_days, around=around_of(batch, here, garden, air=air, first=first)
    )
    out = carry_out(batch, garden, ahead)
    tasks = [*(_tug(_dry_ground(task, batch, ahead), batch) for task in batch.tasks), *care, *([out] if out else [])]
    jobs = [Job(task, batch, places.get(place_id_of(task, batch)), _about(task, batch, garden, air)) for task in tasks]
    dim = [one for one in ill_lit(batch, garden) if _is_news(one, batch)]
    return jobs + [Job(Task("relight", batch.today, one.count), batch, one.here, About(light=one)) for one in dim]


def _is_news(found: IllLit, batch: BatchToday) -> bool:
    """Whether the wrong light is worth a line today: not for a fortnight after it was shaded, or moved to more light;
    and not where it is too dark and no place here has more."""
    if found.is_dark and found.there is None:
        return False
    seen_to = batch.state.last_tended("light" if found.is_dark else "shade")
    return seen_to is None or (batch.today - seen_to).days > SEEN_TO_DAYS


def _dry_ground(task: Task, batch: BatchToday, ahead: Sequence[DayAhead]) -> Task:
    """What is dug or stuck in the open ground waits for rain that is told."""
    return waiting_for_rain(task, ahead, batch.today) if is_ground_work(task, direct=batch.method.direct) else task


def _about(task: Task, batch: BatchToday, garden: Garden, air: Air | None) -> About:
    """What the air, the light or the weather says of a task."""
    if task.verb in ("mist", "air") and air:
        return About(cover_advice(air, "unrooted", cover_of(batch)))
    if task.verb == "light":
        suits = place_with_light(batch, garden, need_of(batch.plant, batch.method, "rooted"))
        return About(f"{suits.name} has it." if suits else "")
    if task.verb == "harden_step" and air:
        return About(dry_words(air))
    if is_ground_work(task, direct=batch.method.direct):
        return About(rain_words(days_ahead(garden, batch.today), batch.today))
    return NOTHING


def _tug(task: Task, batch: BatchToday) -> Task:
    """A look at what shows its roots by holding is a light tug."""
    if task.verb == "next_look" and ready_sign(batch.method).kind == "tug":
        return Task("tug", task.due, task.count, task.may_from)
    return task


def place_id_of(task: Task, batch: BatchToday) -> int:
    """Where a task is done; 0 for in the bed."""
    state = batch.state
    if task.verb in PLANTED:
        return 0 if not batch.method.direct else batch.place_id("waiting")
    grown = next((stage for stage in ("potted", "hardening") if state.count(stage)), None)
    unpotted = state.count("waiting") + state.count("rooted")
    at_growing = task.verb in AT_GROWING or task.verb == "pests" or (task.verb == "top_up" and not unpotted)
    return batch.place_id(grown if at_growing and grown else "waiting")


def stops(jobs: Sequence[Job]) -> tuple[Stop, ...]:
    """Jobs as a walk: by place in its order, overdue first within each."""

    def where(job: Job) -> tuple[int, int]:
        return (job.place.walk, job.place.pk) if job.place else (LAST, 0)

    ordered = sorted(jobs, key=lambda job: (*where(job), not job.is_late, job.task.due, job.batch.row.pk))
    return tuple(_stop(list(several)) for _, several in groupby(ordered, where))


def _stop(jobs: list[Job]) -> Stop:
    place = jobs[0].place
    deeds = [job for job in jobs if job.verb in DEEDS]
    verbs = sorted({job.verb for job in deeds}, key=DEEDS.index)
    shared = tuple(Shared(verb, place, tuple(job for job in deeds if job.verb == verb)) for verb in verbs)
    return Stop(place, shared, tuple(job for job in jobs if job.verb not in DEEDS))
