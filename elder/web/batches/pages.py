"""A batch as its pages show it: where it stands, what is next, its history, the deeds it allows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from uuid import UUID, uuid4

import numpy as np
from django.core.paginator import Page
from django.forms import Form
from django.urls import reverse

from elder.drawing.ground import ground_scene, ruler_scene
from elder.drawing.scene import Scene
from elder.drawing.soil_line import COMPACT, LARGE, Sizes
from elder.engine.batch.state import STAGES
from elder.engine.cut.codes import spoken
from elder.engine.handbook.loading import unknown
from elder.engine.handbook.model import Caution
from elder.engine.record.scoring import count_range
from elder.engine.round.verdicts import stage_of
from elder.web.batches.around import around_words
from elder.web.batches.forms import HarvestForm, MoveForm, NoteForm
from elder.web.batches.models import Batch, Entry
from elder.web.batches.naming import NameForm
from elder.web.batches.potting import PottingLines, is_to_be_potted, potting_lines
from elder.web.garden.access import GardenRequest
from elder.web.garden.models import Garden, Place
from elder.web.read.batch_lists import not_marked, over_batches, those_over
from elder.web.read.batches import BatchToday
from elder.web.read.gardens import climate_of, places_of
from elder.web.read.wants import reckon
from elder.web.read.ways import condition_of
from elder.web.say.batches import counts_words, entry_words, hope_words, next_words, title_of
from elder.web.say.care import DEED_PAST
from elder.web.say.numbers import Numbers, row_numbers
from elder.web.say.pictures import batch_axis, batch_picture, batch_scene
from elder.web.say.routes import MOVE_WORDS, move_words, onward_words, stage_words
from elder.web.say.wants import Headline, condition_words, headline
from elder.web.say.words import about, day_words, days_away, span_words


@dataclass(frozen=True)
class ListedBatch:
    """A batch in the list of them all."""

    batch: BatchToday
    title: str
    counts: str
    next: str
    scene: Scene
    url: str


@dataclass(frozen=True)
class BatchesPage:
    """Every batch: the living first, then those that are over."""

    living: list[ListedBatch]
    over: list[ListedBatch]
    leaf: Page[Batch]


@dataclass(frozen=True)
class HistoryLine:
    """One line of a history, with what struck it, its photo's id, and whether it is daily care."""

    entry: Entry
    words: str
    struck_by: Entry | None
    photo: int | None
    is_care: bool


@dataclass(frozen=True)
class Move:
    """What may be done with a batch next, its form, and when it is due if that is soon."""

    verb: str
    name: str
    count: int
    due: str
    form: Form


@dataclass(frozen=True)
class ServedWant:
    """The want a batch was cut for, and how many it asks for."""

    pk: int
    total: int


@dataclass(frozen=True)
class BatchPage:
    """One batch. ``stages`` are (words, how many, stage); ``forecast`` is what was forecast on the day of the cut."""

    batch: BatchToday
    title: str
    code: str
    grown: int
    place: Place
    counts: str
    next: str
    hope: str
    stages: list[tuple[str, int, str]]
    scene: Scene
    numbers: Numbers
    ruler: Scene
    ground: Scene
    moves: list[Move]
    harvest: Form | None
    note: Form
    seen: int
    history: list[HistoryLine]
    care: list[HistoryLine]
    care_last: list[str]
    want: ServedWant | None
    want_headline: Headline | None
    want_standing: str
    forecast: list[tuple[str, str]]
    potting: PottingLines | None
    onward: str
    around: str
    unnamed: NameForm | None
    cautions: list[Caution]
    look_key: UUID = field(default_factory=uuid4)


def batches_page(request: GardenRequest) -> BatchesPage:
    """The list of a garden's batches."""
    leaf = over_batches(request.garden, request.GET.get("page"))
    ended = those_over(leaf.object_list, request.garden, request.today)
    alive, also = not_marked(request.garden, request.today) if leaf.number == 1 else ([], [])
    return BatchesPage(_listed(alive, request.garden), _listed([*also, *ended], request.garden), leaf)


def _listed(batches: list[BatchToday], garden: Garden) -> list[ListedBatch]:
    """Rows of the list."""
    return [
        ListedBatch(
            batch=item,
            title=title_of(item),
            counts=counts_words(item),
            next=next_words(item),
            scene=_scene(item, COMPACT),
            url=reverse("batch", args=[garden.pk, item.row.pk]),
        )
        for item in batches
    ]


def batch_page(request: GardenRequest, item: BatchToday, forms: Mapping[str, Form]) -> BatchPage:
    """One batch; ``forms`` are those that were refused, with what was typed."""
    axis = batch_axis(item)
    want = item.row.want
    whole = None
    if want:
        whole = reckon(want, request.garden, request.today, batches=want.batches.all())
    history = _history(item)
    return BatchPage(
        batch=item,
        title=title_of(item),
        code=spoken(item.row.code),
        grown=sum(item.state.count(stage) for stage in STAGES if stage != "waiting"),
        place=places_of(request.garden)[item.place_id(stage_of(item.state))],
        counts=counts_words(item),
        next=next_words(item),
        hope=hope_words(item),
        stages=_stages(item),
        scene=_scene(item, LARGE),
        numbers=row_numbers(batch_picture(item, _wanted(item), "", axis), request.today),
        ruler=ruler_scene(axis, request.today, day_words=lambda day: day_words(day, request.today)),
        ground=ground_scene(axis, request.today, climate_of(request.garden), height=LARGE.height),
        moves=_moves(item, request, forms),
        harvest=forms.get("harvest") or (HarvestForm(today=request.today) if _may_harvest(item) else None),
        note=forms.get("note") or NoteForm(today=request.today),
        seen=max(entry.pk for entry in item.entries),
        history=[line for line in history if not line.is_care],
        care=[line for line in history if line.is_care],
        care_last=_care_words(item),
        want=ServedWant(want.pk, want.total) if want else None,
        want_headline=headline(whole) if whole else None,
        want_standing=whole.standing_word if whole else "",
        forecast=_forecast_words(item),
        potting=potting_lines(item, request.user.units) if is_to_be_potted(item) else None,
        onward=onward_words(item.method),
        around=around_words(item, request.garden),
        unnamed=NameForm() if item.row.plant in unknown() else None,
        cautions=[c for c in item.plant.cautions if c.at in _stages_of_caution(item)],
    )


def _history(item: BatchToday) -> list[HistoryLine]:
    """Its lines, the latest first."""
    struck = {entry.strikes_id: entry for entry in item.entries if entry.strikes_id}
    photos = {photo.entry_id: photo.pk for photo in item.row.photos.only("pk", "entry_id")}
    return [
        HistoryLine(
            entry=entry,
            words=entry_words(entry),
            struck_by=struck.get(entry.pk),
            photo=photos.get(entry.pk),
            is_care=_is_care(entry),
        )
        for entry in sorted(item.entries, key=lambda entry: (entry.on, entry.pk), reverse=True)
    ]


def _stages(item: BatchToday) -> list[tuple[str, int, str]]:
    """Each stage of its route in words, how many stand there, its key; one that the route passes by only where some
    stand there all the same."""
    words, route = stage_words(item.method.route), item.method.route
    shown = {"rooted": route.roots_as == "rooted", "potted": route.establishes, "hardening": not route.in_ground}
    return [(words[s], item.state.count(s), s) for s in STAGES if item.state.count(s) or shown.get(s, True)]


def _scene(batch: BatchToday, sizes: Sizes) -> Scene:
    return batch_scene(batch, _wanted(batch), f"{title_of(batch)}. {counts_words(batch)}.", batch_axis(batch), sizes)


def _wanted(batch: BatchToday) -> int:
    want = batch.row.want
    return want.total if want else int(batch.row.plan.get("wanted", batch.state.taken))


def _is_care(entry: Entry) -> bool:
    """Water, mist and the like: folded away, since they outnumber all that is told by a history."""
    kind = entry.strikes.kind if entry.kind == Entry.Kind.STRUCK and entry.strikes else entry.kind
    return kind == Entry.Kind.TENDED


def _care_words(item: BatchToday) -> list[str]:
    """Each care with the day it was last done, latest first."""
    last = sorted(((max(days), deed) for deed, days in item.state.tended.items()), reverse=True)
    return [f"{DEED_PAST.get(deed, deed)} {about(day, item.today)}" for day, deed in last]


def _forecast_words(item: BatchToday) -> list[tuple[str, str]]:
    """What was forecast on the day of the cut, to set beside what comes."""
    rows = []
    for name, key in (("Roots", "rooted"), ("Ready", "ready"), ("First harvest", "harvest")):
        days = [day for day in item.row.plan.get(key, []) if day]
        if len(days) == 3:
            first, _, last = (date.fromisoformat(day) for day in days)
            rows.append((name, span_words(first, last, item.today)))
    if counts := item.row.plan.get("forecast", {}).get("counts"):
        low, high = count_range(np.array(counts))
        rows.append(
            ("Plants", f"{low}–{high} of {len(counts) - 1} by {about(item.target, item.today)}, the broken line")
        )
    if cost := condition_words(condition_of(item.row), item.method.plant_take, 1):
        rows.append(("Cut as it was", cost))
    return rows


def _stages_of_caution(item: BatchToday) -> set[str]:
    """The steps a batch has ahead of it now."""
    steps = {"waiting": "pot", "rooted": "pot", "potted": "plant", "hardening": "plant", "planted": "eat"}
    return {steps[stage] for stage in STAGES if item.state.count(stage)}


def _may_harvest(item: BatchToday) -> bool:
    return bool(item.state.count("planted")) and item.state.first_harvest is None


def _due_words(day: date, today: date) -> str:
    return f"ready since {about(day, today)}" if day < today else f"due {days_away(day, today)}"


def _moves(item: BatchToday, request: GardenRequest, given: Mapping[str, Form]) -> list[Move]:
    """The moves a batch's state allows, each with its form; one that was refused keeps what was typed."""
    soon = {task.verb.replace("_", "-"): task.due for task in item.tasks if (task.due - request.today).days <= 1}
    words = stage_words(item.method.route)
    moves = []
    for verb in MOVE_WORDS:
        stages = stages_to_move(item, verb)
        count = item.state.count(stages[0]) if stages else 0
        if count or verb in given:
            choices = [(stage, f"{item.state.count(stage)} {words[stage]}") for stage in stages]
            asked = MoveForm(today=request.today, initial={"count": count}, prefix=verb, stages=choices)
            due = _due_words(soon[verb], request.today) if verb in soon else ""
            moves.append(Move(verb, move_words(verb, item.method.route), count, due, given.get(verb) or asked))
    return moves


def stages_to_move(item: BatchToday, verb: str) -> list[str]:
    """The stages at which some stand that a move may take, those it is likeliest for first."""
    route = item.method.route
    by_verb = {
        "pot-on": ["rooted"],
        "harden": ["potted", *(["rooted"] if route.stays else [])],
        "plant-out": ["hardening", "potted", "rooted"],
        "lift": ["planted"] if not item.plant.crops_before_frost or route.in_ground else [],
        "give": ["hardening", "potted", "rooted", "planted", "waiting"],
    }
    return [stage for stage in by_verb[verb] if item.state.count(stage)]
