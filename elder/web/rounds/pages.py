"""The round as its pages show it: the walk in lines, what is carried in, the nights ahead."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import TypeVar
from uuid import UUID, uuid4

from django.urls import reverse

from elder.drawing.nights import nights_scene
from elder.drawing.scene import Scene
from elder.drawing.soil_line import STRIP
from elder.web.garden.access import GardenRequest
from elder.web.places.readings import OffWords
from elder.web.read.batches import BatchToday
from elder.web.read.ill_lit import IllLit
from elder.web.rounds.round import Job, Round, Shared, Stop
from elder.web.rounds.wording import (
    DEED_WORDS,
    carry_words,
    cold_words,
    job_words,
    lift_words,
    shared_about,
    shared_title,
    when_words,
)
from elder.web.say.batches import hope_words, name_of
from elder.web.say.care import CAUTIONS
from elder.web.say.numbers import Numbers
from elder.web.say.pictures import batch_axis, batch_scene
from elder.web.say.units import shown_rain, shown_temperature
from elder.web.say.words import WEEKDAYS, counted, listed, minutes_words, plural
from elder.web.say.year import year_task_words

MOVES = {"pot_on": "pot-on", "harden": "harden", "plant_out": "plant-out", "pot_up": "pot-up", "lift": "lift"}


@dataclass(frozen=True)
class SharedLine:
    """A deed done to several batches in one press; ``jobs`` are (batch, how many of what)."""

    verb: str
    title: str
    about: str
    button: str
    when: str
    late: bool
    caution: str
    jobs: list[tuple[int, str]]
    id: str
    key: UUID = field(default_factory=uuid4)


@dataclass(frozen=True)
class JobLine:
    """One thing to do to one batch: its words, its drawing where there is one, its presses."""

    verb: str
    batch: BatchToday
    name: str
    deed: str
    about: str
    caution: str
    when: str
    late: bool
    is_look: bool
    hope: str
    scene: Scene | None
    count: int
    move: str
    move_url: str
    look_url: str
    seen: int
    id: str
    light: IllLit | None = None
    key: UUID = field(default_factory=uuid4)
    give_up_key: UUID = field(default_factory=uuid4)


Line = TypeVar("Line", SharedLine, JobLine)


@dataclass(frozen=True)
class StopLines:
    """A place of the walk."""

    name: str
    shared: list[SharedLine]
    jobs: list[JobLine]

    @property
    def count(self) -> int:
        """How many lines it is on paper, its name included."""
        return len(self.shared) + len(self.jobs) + 1


@dataclass(frozen=True)
class CarryLine:
    """What must come in of one batch, how cold it gets, how heavy it is."""

    name: str
    what: str
    cold: str
    lift: str
    done: bool
    tonight: bool
    pk: int


@dataclass(frozen=True)
class YearDue:
    """Something the year asks for: what, of which plant, and where it is done."""

    deed: str
    about: str
    url: str


@dataclass(frozen=True)
class RoundPage:
    """Today's round."""

    round: Round
    headline: tuple[str, str]
    now: list[StopLines]
    waits: list[StopLines]
    carries: list[CarryLine]
    carry_batches: list[int]
    nights: Scene
    numbers: Numbers
    off_by: list[OffWords]
    weather: list[str]
    rain_sign: str
    missing: str
    year: list[YearDue]
    last: int
    weekdays: list[tuple[int, str, bool]]
    carry_key: UUID = field(default_factory=uuid4)


@dataclass(frozen=True)
class PaperRound:
    """The round on paper: set small where there is much, in columns where there is more."""

    headline: tuple[str, str]
    now: list[StopLines]
    waits: list[StopLines]
    carries: list[CarryLine]
    year: list[YearDue]
    density: str
    columns: bool


def year_lines(found: Round, request: GardenRequest) -> list[YearDue]:
    """What the year asks for today."""
    lines = []
    for task in found.year:
        deed, about = year_task_words(task, request.today, request.user.units)
        lines.append(YearDue(deed, about, reverse(task.path[0], args=[part for part in task.path[1:] if part])))
    return lines


def headline_of(found: Round) -> tuple[str, str]:
    """The round in a line: how much there is to do, and how long it takes."""
    count = found.presses
    if not count:
        waits = sum(len(stop.shared) + len(stop.jobs) for stop in found.waits)
        rest = f"{plural(waits, 'thing', 'things')} can wait." if waits else "Nothing is due; they grow by themselves."
        return "Nothing now.", rest
    places = len({stop.place.pk for stop in found.now if stop.place})
    where = f", in {counted(places)} {'place' if places == 1 else 'places'}" if places else ""
    return f"{plural(count, 'thing', 'things')} to do", f"about {minutes_words(found.minutes)}{where}"


def stops_of(
    now: Iterable[Stop], waits: Iterable[Stop], request: GardenRequest, drawn: Sequence[Job] = ()
) -> tuple[list[StopLines], list[StopLines]]:
    """The walk as the page shows it: what is due, and what can wait. ``drawn`` are those with a drawing."""
    return [_stop_lines(stop, request, drawn) for stop in now], [_stop_lines(stop, request, drawn) for stop in waits]


def cautioned_once(now: list[StopLines], waits: list[StopLines]) -> tuple[list[StopLines], list[StopLines]]:
    """A caution is said where it first matters, and not again down the page."""
    said: set[str] = set()

    def once(line: Line) -> Line:
        known = line.caution in said
        said.add(line.caution)
        return replace(line, caution="") if known else line

    def of(stop: StopLines) -> StopLines:
        return replace(stop, shared=[once(line) for line in stop.shared], jobs=[once(line) for line in stop.jobs])

    return [of(stop) for stop in now], [of(stop) for stop in waits]


def _stop_lines(stop: Stop, request: GardenRequest, drawn: Sequence[Job]) -> StopLines:
    return StopLines(
        name=stop.place.name if stop.place else "In the beds",
        shared=[_shared_line(shared) for shared in stop.shared],
        jobs=[_job_line(job, job in drawn, request) for job in stop.jobs],
    )


def _shared_line(shared: Shared) -> SharedLine:
    late = next((job for job in shared.jobs if job.is_late), None)
    return SharedLine(
        verb=shared.verb,
        title=shared_title(shared),
        about=shared_about(shared),
        button=DEED_WORDS[shared.verb][2],
        when=when_words(late or shared.jobs[0]),
        late=shared.is_late,
        caution=CAUTIONS.get(shared.verb, ""),
        jobs=[(job.batch.row.pk, f"{job.task.count} {name_of(job.batch)}") for job in shared.jobs],
        id=f"{shared.verb}-{shared.place.pk if shared.place else 0}",
    )


def _job_line(job: Job, drawn: bool, request: GardenRequest) -> JobLine:
    batch, garden = job.batch, request.garden
    words = job_words(job, request.user.units)
    move = MOVES.get(job.verb, "")
    return JobLine(
        verb=job.verb,
        batch=batch,
        name=name_of(batch),
        deed=words.deed,
        about=words.about,
        caution=words.caution,
        when=when_words(job),
        late=job.is_late and not job.is_look,
        is_look=job.is_look,
        hope=hope_words(batch) if job.is_look else "",
        scene=_strip(batch) if drawn else None,
        count=job.task.count,
        move=move,
        move_url=reverse("move", args=[garden.pk, batch.row.pk, move]) if move else "",
        look_url=reverse("round-look", args=[garden.pk, batch.row.pk]),
        seen=batch.history.last,
        id=f"{job.verb}-batch-{batch.row.pk}{_potted(job)}",
        light=job.about.light,
    )


def _potted(job: Job) -> str:
    """What tells two lines of one batch apart: those waiting and those potted may both stand in the wrong light."""
    return "-potted" if job.about.light and job.about.light.kind == "potted" else ""


def _strip(batch: BatchToday) -> Scene:
    wanted = batch.row.want.total if batch.row.want else batch.state.taken
    return batch_scene(batch, wanted, "", batch_axis(batch), STRIP)


def carry_lines(found: Round, units: str) -> list[CarryLine]:
    """What must come in."""
    return [
        CarryLine(
            name=name_of(carry.batch),
            what=carry_words(carry, units),
            cold=cold_words(carry, units),
            lift=lift_words(carry, units),
            done=carry.is_done,
            tonight=carry.is_tonight,
            pk=carry.batch.row.pk,
        )
        for carry in found.carries
    ]


def nights_of(found: Round, request: GardenRequest) -> Scene:
    """The ten days ahead, with the nights on which something must come in."""
    cold = {night.night for carry in found.carries for night in carry.nights}
    units = request.user.units

    def degrees(celsius: float) -> str:
        return f"{round(shown_temperature(celsius, units))}°".replace("-", "−")

    lows = listed(f"{WEEKDAYS[day.day.weekday()]} {degrees(day.low_c)}" for day in found.ahead)
    return nights_scene(
        found.ahead,
        cold,
        words=f"Lowest of each night ahead: {lows}.",
        day_words=lambda day: "today" if day == request.today else WEEKDAYS[day.weekday()],
        degrees=degrees,
        rain=lambda mm: shown_rain(mm, units),
    )
