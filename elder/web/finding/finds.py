"""What a few words find in a garden: plants, wants, batches by name or code, mothers, places, rooms, words."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Final

from django.db.models import F
from django.urls import reverse
from rapidfuzz import fuzz

from elder.engine.cut.codes import code_of, number_of
from elder.engine.handbook.finding import FoundPlant, find_plants, plain
from elder.engine.handbook.loading import handbook
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking
from elder.web.read.handbook import own_here
from elder.web.say.finding import found_words, nearest_words
from elder.web.say.glossary import WORDS
from elder.web.say.words import plural
from elder.web.ui.rooms import GROUPS

MOST_EACH: Final = 8
NAMED_BYTES: Final = 1_100  # of what can be found, as it is shown (measured, rounded)
ALIKE: Final = 80.0  # of 100 by rapidfuzz's partial ratio: a letter wrong in a name


@dataclass(frozen=True)
class Find:
    """One thing found: its name, what is said of it, where it is."""

    name: str
    said: str
    url: str


@dataclass(frozen=True)
class Finds:
    """Things of one kind, and how many more of it there are."""

    kind: str
    found: list[Find]
    more: int = 0


@dataclass(frozen=True)
class Named:
    """Something that can be found: the words it goes by, its code if it has one, and what is shown of it."""

    words: tuple[str, ...]
    shown: Find
    code: str = ""


@dataclass(frozen=True)
class FoundHere:
    """All that was found, kind by kind; what is said above it; and what can be done where Elder has no such plant."""

    groups: list[Finds]
    said: str
    begin: str


def find(garden: Garden, typed: str) -> FoundHere:
    """Everything a garden holds that goes by these words. What fits comes before what is only like it."""
    wanted = plain(typed)
    plants = find_plants(typed, own_here(garden).values()) if wanted else []
    fits = bool(plants) and plants[0].how not in ("slip", "like")
    kinds = [
        ("Batches", _batches),
        ("Wants", _wants),
        ("Mothers", _mothers),
        ("Places", _places),
        ("Rooms", _rooms),
        ("Words", _words),
    ]
    number = number_of(typed)
    code = code_of(number) if number else ""
    groups = [_cut(kind, _fitting(garden, kind, listed, wanted, code)) for kind, listed in kinds if wanted]
    groups = [group for group in groups if group.found]
    if not fits and groups:
        return FoundHere(groups, "", "")
    shown = _cut("Plants", [_plant(garden, one) for one in plants])
    groups = [shown, *groups] if shown.found else groups
    begin = "" if (fits and plants[0].how != "kin") or not wanted else plants[0].plant.slug
    return FoundHere(groups, nearest_words(plants, typed), begin)


def _cut(kind: str, found: list[Find]) -> Finds:
    return Finds(kind, found[:MOST_EACH], max(len(found) - MOST_EACH, 0))


def _fitting(
    garden: Garden, kind: str, listed: Callable[[Garden], Iterable[Named]], wanted: str, code: str
) -> list[Find]:
    """What of one kind goes by the words wanted, or by the code. What there is is listed once as the garden stands."""
    there = once_looking(garden, ("named", kind), lambda: list(listed(garden)), each=NAMED_BYTES)
    return [one.shown for one in there if (code and one.code == code) or _goes_by(wanted, one.words)]


def _goes_by(wanted: str, words: Iterable[str]) -> bool:
    """Whether every word wanted begins some word of a name; of longer words, a letter may be wrong."""
    return all(
        any(part.startswith(word) or (len(word) > 4 and fuzz.ratio(part, word) >= ALIKE) for part in words)
        for word in wanted.split()
    )


def _words_of(*names: str) -> tuple[str, ...]:
    return tuple(plain(" ".join(names)).split())


def _plant(garden: Garden, found: FoundPlant) -> Find:
    said = found_words(found)
    return Find(found.plant.name, said, reverse("plant", args=[garden.pk, found.plant.slug]))


def _called(slug: str) -> tuple[str, ...]:
    plant = handbook().get(slug)
    return (plant.name, *plant.also, plant.latin) if plant else (slug,)


def _batches(garden: Garden) -> Iterator[Named]:
    rows = garden.batches.select_related("rooting_place").defer("plan", "condition", "treatment")
    for row in rows.order_by(F("over_on").desc(nulls_first=True), "-pk"):
        plant = handbook().get(row.plant)
        name = f"{plant.name if plant else row.plant}{f' ‘{row.variety}’' if row.variety else ''}"
        over = " · over" if row.over_on else ""
        said = f"{row.code} · from {row.stock_plant} · {row.rooting_place.name}{over}"
        words = _words_of(*_called(row.plant), row.variety, row.stock_plant, row.rooting_place.name)
        yield Named(words, Find(name, said, reverse("batch", args=[garden.pk, row.pk])), row.code)


def _wants(garden: Garden) -> Iterator[Named]:
    for row in garden.wants.filter(closed_on=None):
        plant = handbook().get(row.plant)
        name = f"{row.wanted} {plant.name if plant else row.plant}"
        shown = Find(name, row.variety, reverse("want", args=[garden.pk, row.pk]))
        yield Named(_words_of(*_called(row.plant), row.variety), shown)


def _mothers(garden: Garden) -> Iterator[Named]:
    for row in garden.stock_plants.all():
        said = f"no more since {row.ended_on:%Y}" if row.ended_on else plural(row.gives, "cutting", "cuttings")
        url = reverse("stock-plant", args=[garden.pk, row.pk])
        shown = Find(row.name, said if row.ended_on else f"gives {said} at a time", url)
        yield Named(_words_of(*_called(row.plant), row.variety, row.name), shown)


def _places(garden: Garden) -> Iterator[Named]:
    for row in garden.places.all():
        shown = Find(row.name, row.get_standing_display(), reverse("place-edit", args=[garden.pk, row.pk]))
        yield Named(_words_of(row.name), shown)


def _rooms(garden: Garden) -> Iterator[Named]:
    for group in GROUPS:
        for room in group.rooms:
            shown = Find(room.name, room.what, reverse(room.url, args=[garden.pk]))
            yield Named(_words_of(room.name, room.what), shown)


def _words(garden: Garden) -> Iterator[Named]:
    for word in WORDS:
        shown = Find(word.term, word.text, f"{reverse('words', args=[garden.pk])}#{word.anchor}")
        yield Named(_words_of(word.term), shown)
