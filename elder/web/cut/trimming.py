"""What may become of what is cut off, and what has: only what is well known is offered."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from elder.engine.cut.steps import animal_use, kitchen_use
from elder.engine.handbook.model import Plant
from elder.web.batches.models import Batch, Entry
from elder.web.say.batches import FATES
from elder.web.say.units import shown_length

COMPOST_CM = 30  # common practice
UNTREATED = ("", "none")


@dataclass(frozen=True)
class Fate:
    """One fate: what its button says, how it is done, and why not where it is not offered."""

    key: str
    name: str
    how: str
    refused: str = ""


def fates(plant: Plant, treatment: dict[str, str], units: str) -> list[Fate]:
    """The four fates of trimmings, each with how, or why it is not offered."""
    treated = treatment.get("hormone", "") not in UNTREATED
    eaten, fed = kitchen_use(plant), animal_use(plant)
    dipped = " Dipped ends go here, never to eat." if treated else ""
    unknown = "Nothing is known of eating it: leave it."
    kitchen = Fate("kitchen", "To the kitchen", f"{eaten[:1].upper()}{eaten[1:]}, if never sprayed." if eaten else "")
    animals = Fate("animals", "To the animals", f"{fed[:1].upper()}{fed[1:]}, a handful, fresh." if fed else "")
    return [
        Fate("struck", "More cuttings", "Sound pieces with two nodes are struck as well, as a batch of their own."),
        kitchen if eaten else Fate(kitchen.key, kitchen.name, "", unknown),
        animals if fed else Fate(animals.key, animals.name, "", "Nothing is known of feeding it: leave it."),
        Fate("compost", "Compost", f"Cut to {shown_length(COMPOST_CM, units)}, touching soil.{dipped}"),
    ]


def fates_so_far(batches: Iterable[Batch]) -> list[tuple[str, int]]:
    """How often each fate was written down, over some batches."""
    rows = Entry.objects.filter(batch__in=batches, kind=Entry.Kind.TRIMMED, struck_by=None)
    found = Counter(rows.values_list("deed", flat=True))
    return [(FATES[key], found[key]) for key in FATES if found[key]]
