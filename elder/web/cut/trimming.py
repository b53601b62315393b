"""What may become of what is cut off, and what has: only what is well known is offered, or what the gardener says."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from uuid import UUID, uuid5

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.cut.standing import cut_spec
from elder.engine.cut.steps import animal_use, kitchen_use, other_uses
from elder.engine.handbook.model import Method, Plant
from elder.engine.refusal import Refusal
from elder.web.batches.actions import add_entries, untake
from elder.web.batches.models import Batch, Entry
from elder.web.batches.undoing import strike_all
from elder.web.garden.models import Person
from elder.web.garden.undo import Asked, Undo, Undone, takes_back
from elder.web.say.batches import FATES
from elder.web.say.units import shown_length
from elder.web.say.words import counted, listed
from elder.web.season.taking import Taken, take_batch

COMPOST_CM = 30  # common practice
UNTREATED = ("", "none")


@dataclass(frozen=True)
class Fate:
    """One fate: what its button says, how it is done, and why not where it is not offered; ``asks``: a count, words,
    or nothing."""

    key: str
    name: str
    how: str
    refused: str = ""
    asks: str = ""


def fates(plant: Plant, method: Method, treatment: dict[str, str], units: str) -> list[Fate]:
    """The fates of trimmings, each with how, or why it is not offered."""
    treated = treatment.get("hormone", "") not in UNTREATED
    eaten, fed, uses = kitchen_use(plant), animal_use(plant), other_uses(plant)
    dipped = " Dipped ends go here, never to eat or to feed." if treated else ""
    unknown = "Nothing is known of eating it: leave it."
    known = f"{listed(uses).capitalize()}, or as you say." if uses else "Weaving, stakes, or as you say."
    kitchen = Fate("kitchen", "To the kitchen", f"{eaten[:1].upper()}{eaten[1:]}, if never sprayed." if eaten else "")
    animals = Fate("animals", "To the animals", f"{fed[:1].upper()}{fed[1:]}, a handful, fresh." if fed else "")
    return [
        _more_cuttings(plant, method),
        kitchen if eaten else Fate(kitchen.key, kitchen.name, "", unknown),
        animals if fed else Fate(animals.key, animals.name, "", "Nothing is known of feeding it: leave it."),
        Fate("used", "Another use", known, asks="words"),
        Fate("compost", "Compost", f"Cut to {shown_length(COMPOST_CM, units)}, touching soil.{dipped}"),
    ]


def _more_cuttings(plant: Plant, method: Method) -> Fate:
    """What is left over of a stem may be struck; of what is taken whole nothing is."""
    spec, name = cut_spec(plant, method), "More cuttings"
    if spec is None:
        return Fate("struck", name, "", "It is taken whole: nothing of it is left to strike.")
    nodes = "a node" if spec.nodes_least == 1 else f"{counted(spec.nodes_least)} nodes"
    how = f"Sound pieces with {nodes} are struck as well: a batch of their own, from the same mother."
    return Fate("struck", name, how, asks="count")


@transaction.atomic
def strike_more(batch: Batch, count: int, *, key: UUID, today: date, person: Person) -> tuple[Batch, Entry] | Refusal:
    """Trimmings struck as well: written down with the batch they fell from, and a batch of their own for its want."""
    want = batch.want
    if want is None:
        return Refusal("no_want", "")
    entry = Entry(kind=Entry.Kind.TRIMMED, on=today, deed="struck", count=count, key=uuid5(key, "struck"))
    state = add_entries(batch, [entry], today=today, person=person)
    taken = Taken(
        on=today,
        count=count,
        stock_plant=batch.stock_plant,
        rooting_place=batch.rooting_place,
        growing_place=batch.growing_place,
        key=uuid5(key, "batch"),
        seen=tuple(batch.condition),
        treatment=batch.treatment,
    )
    made = take_batch(want, taken, garden=batch.garden, person=person, today=today)
    for refused in (state, made):
        if isinstance(refused, Refusal):
            transaction.set_rollback(True)
            return refused
    assert isinstance(made, Batch)  # noqa: S101 - a refusal was returned above
    return made, Entry.objects.get(key=entry.key)  # sent twice, it was written the first time


def unstriking(made: Batch, entry: Entry, batch: Batch) -> Undo:
    """The way back from trimmings that were struck."""
    return Undo("trimmings", {"made": made.pk, "entry": entry.pk or 0, "batch": batch.pk})


@takes_back("trimmings", verb="tend")
def unstrike(asked: Asked) -> Undone:
    """The batch of trimmings is forgotten, where nothing stands on it, and the line is struck."""
    made = get_object_or_404(Batch, pk=asked.number("made"), garden=asked.garden)
    parts = (asked.number("batch"),)
    if not untake(made, with_want=False):
        return Undone("Something has been written down for them since; they stay.", "cut-after", parts, held=True)
    strike_all(asked.garden, [asked.number("entry")], today=asked.today, person=asked.person)
    return Undone("Not struck, then.", "cut-after", parts)


def fates_so_far(batches: Iterable[Batch]) -> list[tuple[str, int]]:
    """How often each fate was written down, over some batches."""
    rows = Entry.objects.filter(batch__in=batches, kind=Entry.Kind.TRIMMED, struck_by=None)
    found = Counter(rows.values_list("deed", flat=True))
    return [(FATES[key], found[key]) for key in FATES if found[key]]
