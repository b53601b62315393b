"""Old notes made into batches: each line's plant, way, places and history, or why it cannot be one; and kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final
from uuid import uuid5

from django.db import transaction
from django.db.models import Max

from elder.engine.batch.history import replay
from elder.engine.batch.state import STAGES, BatchState
from elder.engine.handbook.finding import find_plants
from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.routes import Route
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch, Entry
from elder.web.formats.old_notes import NoteLine
from elder.web.garden.hands import Hands
from elder.web.garden.models import Garden, Place
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.read.handbook import own_here
from elder.web.read.histories import entries_of
from elder.web.say.refusals import refusal_words
from elder.web.say.words import plural
from elder.web.season.models import Want
from elder.web.season.taking import cut_condition, mother_named

LIVING_DAYS: Final = 60  # cut so lately, what is not told of yet may still stand there (assumed)
ROOTS_BY_DAYS: Final = 60  # by when roots were there, where nothing says when (assumed; it teaches no speed)
MOST_COUNT: Final = 2000
NAMELESS: Final = "from old notes"  # what stands for a mother that no note names
STEPS: Final = ("rooted_on", "potted_on", "planted_on")
BECAME: Final = {"planted": "were planted out", "lost": "were lost", "standing": "still stand here"}


@dataclass(frozen=True)
class OldBatch:
    """A line as a batch: what it is, its history in order, and what of it was guessed. ``wrong``: why it is none."""

    line: NoteLine
    plant: Plant | None = None
    method: Method | None = None
    rooting_place: Place | None = None
    growing_place: Place | None = None
    entries: tuple[Entry, ...] = ()
    guessed: tuple[str, ...] = ()
    wrong: str = ""

    @property
    def mother(self) -> str:
        """What it was cut from, by name."""
        return self.line.words.get("mother", "")[:80] or NAMELESS

    @property
    def said_from(self) -> str:
        """The same in a sentence."""
        return NAMELESS if self.mother == NAMELESS else f"from {self.mother}"


@dataclass(frozen=True)
class NotesFrame:
    """What holds for every line: the places that are taken where none is named, and what became of plants of which the
    notes say no more."""

    rooting_place: Place
    growing_place: Place
    became: str


def old_batches(lines: Sequence[NoteLine], garden: Garden, frame: NotesFrame, today: date) -> list[OldBatch]:
    """Each line as a batch, or why it is none."""
    own = list(own_here(garden).values())
    places = {place.name.lower(): place for place in garden.places.all()}
    return [_old_batch(line, own, places, frame, today) for line in lines]


def _old_batch(
    line: NoteLine, own: Sequence[Plant], places: Mapping[str, Place], frame: NotesFrame, today: date
) -> OldBatch:
    if line.wrong:
        return OldBatch(line, wrong=line.wrong)
    said = line.words.get("plant", "")
    found = find_plants(said, own) if said else []
    if not found or found[0].how not in ("name", "begins") or found[0].kin:
        near = f"; is it {found[0].plant.name}?" if found else ""
        return OldBatch(line, wrong=f"no plant of that name{near}" if said else "no plant is named")
    plant = found[0].plant
    if not plant.ways:
        return OldBatch(line, plant, wrong=f"{plant.name} is not struck, but sown")
    guessed = [] if found[0].how == "name" else [f"“{said[:30]}” is {plant.name}"]
    method, how = _way(plant, line.words.get("method", ""))
    guessed += [how] if how else []
    at = line.words.get("place", "")
    place = places.get(at.lower())
    if at and place is None:
        guessed.append(f"“{at[:30]}” is no place here: {frame.rooting_place.name}")
    entries, told = _history(line, method.route, frame, today)
    if isinstance(entries, str):
        return OldBatch(line, plant, method, wrong=entries)
    state = replay(entries_of(entries), today=today, route=method.route)
    if isinstance(state, Refusal):
        return OldBatch(line, plant, method, wrong=_without_stop(refusal_words(state, today, plant)))
    here = place or frame.rooting_place
    return OldBatch(line, plant, method, here, frame.growing_place, tuple(entries), (*guessed, *told))


def _without_stop(said: str) -> str:
    return f"{said[0].lower()}{said[1:].rstrip('.')}"


def _way(plant: Plant, said: str) -> tuple[Method, str]:
    """A plant's way by what it is called, by a word of its name, or its usual one; and what was guessed."""
    wanted = said.lower().strip()
    if not wanted:
        return plant.ways[0], f"its usual way, {plant.ways[0].name}"
    for way in plant.ways:
        if wanted in (way.slug, way.name.lower()):
            return way, ""
    words = [word for word in wanted.split() if len(word) > 2]
    for way in plant.ways:
        called = f"{way.slug} {way.name} {way.form} {way.route.key}".lower()
        if any(word in called for word in words):
            return way, f"“{said[:30]}” is {way.name}"
    return plant.ways[0], f"“{said[:30]}” is taken for its usual way, {plant.ways[0].name}"


def _history(line: NoteLine, route: Route, frame: NotesFrame, today: date) -> tuple[list[Entry] | str, list[str]]:
    """A line's history, or why there is none; and what of it was guessed."""
    cut_on, count = line.days.get("cut_on"), line.counts.get("count", 0)
    if cut_on is None:
        return "no day of the cut", []
    if why := _unbegun(cut_on, count, line, today):
        return why, []
    got = line.counts
    planted, potted = got.get("planted", 0), got.get("potted", 0)
    told = [name for name in ("rooted", "potted", "planted") if name in got]
    rooted = max(got.get("rooted", 0), potted, planted)
    if not told and "lost" not in got and (today - cut_on).days > LIVING_DAYS:
        return "nothing is said of what came of them", []
    if rooted > count:
        return f"{rooted} rooted of {count} cut", []
    days = _days(line, cut_on, today)
    is_over = frame.became != "standing" or (today - cut_on).days > LIVING_DAYS
    lost = got.get("lost", count - rooted if told and is_over else 0)
    entries = [_entry("taken", cut_on, count, line)]
    entries += [_entry("rooted", days["rooted_on"], rooted, line)] if rooted else []
    entries += [Entry(kind="lost", on=days["rooted_on"], count=lost, why="unknown", stage="waiting")] if lost else []
    # What roots in the ground stands planted, and what came with roots stands in its pot.
    potted, planted = potted if route.is_moved else 0, 0 if route.in_ground else planted
    entries += [_entry("potted", days["potted_on"], potted, line)] if potted else []
    entries += [_entry("planted", days["planted_on"], planted, line)] if planted else []
    rest = 0 if route.in_ground else rooted - planted
    if rest and frame.became == "planted":
        entries.append(_entry("planted", days["planted_on"], rest, line))
    if rest and frame.became == "lost":
        entries += _lost_after(days["planted_on"], rest, max(potted - planted, 0))
    guessed = (
        ["no day for roots: it teaches the take, not the speed"] if rooted and not line.days.keys() & set(STEPS) else []
    )
    if note := line.words.get("note"):
        entries.append(Entry(kind="note", on=entries[-1].on, note=note))
    return entries, guessed


def _lost_after(on: date, rest: int, in_pots: int) -> list[Entry]:
    parts = (("potted", min(in_pots, rest)), ("rooted", max(rest - in_pots, 0)))
    return [Entry(kind="lost", on=on, count=n, why="unknown", stage=stage) for stage, n in parts if n]


def _unbegun(cut_on: date, count: int, line: NoteLine, today: date) -> str:
    if not 0 < count <= MOST_COUNT:
        return "no number of cuttings" if not count else f"more than {MOST_COUNT} at once"
    if cut_on > today or any(day > today for day in line.days.values()):
        return "a day that is yet to come"
    if any(day < cut_on for day in line.days.values()):
        return "something came of it before it was cut"
    return ""


def _days(line: NoteLine, cut_on: date, today: date) -> dict[str, date]:
    """The day of each step: as told, else that of the step after it; with neither, a day by which it surely was."""
    later = [line.days[name] for name in STEPS if name in line.days]
    rooted = later[0] if later else min(cut_on + timedelta(days=ROOTS_BY_DAYS), today)
    potted = max(line.days.get("potted_on", rooted), rooted)
    planted = max(line.days.get("planted_on", potted), potted)
    return {"rooted_on": rooted, "potted_on": potted, "planted_on": planted}


def _entry(kind: str, on: date, count: int, line: NoteLine) -> Entry:
    return Entry(kind=kind, on=on, count=count, root_cm=line.root_cm if kind == "rooted" else 0.0)


@transaction.atomic
def keep_notes(found: Sequence[OldBatch], hands: Hands) -> list[Batch]:
    """Keep every line that is a batch. The same press twice keeps them once."""
    hands = hands.own("old-notes")
    kept = [one for one in found if not one.wrong]
    first = Entry.objects.filter(key__in=[uuid5(hands.key, f"{one.line.number}:0") for one in kept])
    if first.exists():
        return [entry.batch for entry in first.select_related("batch")]
    return [_kept(one, hands) for one in kept]


def _kept(one: OldBatch, hands: Hands) -> Batch:
    plant, method, rooting, growing = one.plant, one.method, one.rooting_place, one.growing_place
    if plant is None or method is None or rooting is None or growing is None:
        raise ValueError("only a line that is a batch can be kept")
    garden, cut_on, last = hands.garden, one.entries[0].on, one.entries[-1].on
    mother = mother_named(garden, plant.slug, one.mother)
    want = Want(
        garden=garden, plant=plant.slug, method=method.slug, rooting_place=rooting, growing_place=growing, wanted=1
    )
    target = max(last, cut_on + timedelta(days=1)).isoformat()
    batch = Batch(
        garden=garden, plant=plant.slug, variety=one.line.words.get("variety", "")[:60], method=method.slug,
        mother=mother, stock_plant=one.mother, rooting_place=rooting, growing_place=growing,
        plan={"target": target, "window": None, "count": one.entries[0].count},
        condition=list(cut_condition(want, garden, cut_on, mother=mother).reasons),
    )  # fmt: skip
    state = replay(entries_of(one.entries), today=hands.today, route=method.route)
    if isinstance(state, BatchState) and (state.over or _is_long_out(state, hands.today)):
        batch.over_on = state.last_entry_on
    batch.save()
    for i, entry in enumerate(one.entries):
        entry.batch, entry.by, entry.key = batch, hands.person, uuid5(hands.key, f"{one.line.number}:{i}")
        entry.save()
    return batch


def _is_long_out(state: BatchState, today: date) -> bool:
    """Whether all that lives of it was planted long ago: nobody is asked for its first harvest any more."""
    planted_alone = not any(state.count(stage) for stage in STAGES if stage != "planted")
    return planted_alone and (today - state.last_entry_on).days > LIVING_DAYS


def unkeeping(batches: Sequence[Batch]) -> Undo:
    """The way back from having kept them."""
    last = Entry.objects.filter(batch__in=batches).aggregate(last=Max("pk"))["last"]
    return Undo("old-notes", {"batches": [batch.pk for batch in batches], "last": last})


@takes_back("old-notes", verb="plan")
def unkeep(asked: Asked) -> Undone:
    """None of them was read in, but for those that something was written of since."""
    numbers = asked.told["batches"]
    rows = Batch.objects.filter(garden=asked.garden, pk__in=numbers if isinstance(numbers, list) else [])
    used = rows.filter(entries__pk__gt=asked.number("last")).values_list("pk", flat=True)
    stay = set(used)
    with transaction.atomic():
        for batch in rows.exclude(pk__in=stay):
            batch.delete()
    said = f" {plural(len(stay), 'batch', 'batches')} you wrote of since stay." if stay else ""
    return Undone(f"Taken back: the old notes are not here any more.{said}", "record", held=bool(stay))
