"""The Season board: every open want on one axis, grouped and zoomed, and the room it all asks for."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from itertools import groupby
from typing import get_args

import numpy as np
from django.urls import reverse

from elder.drawing.axis import TimeAxis
from elder.drawing.crowding import crowding_scene
from elder.drawing.ground import ground_scene, ruler_scene
from elder.drawing.scene import Scene
from elder.drawing.soil_line import COMPACT, ROW, SMALL, Sizes
from elder.engine.arrays import Ints
from elder.engine.space.floors import FLOOR, WHOLE
from elder.engine.space.occupancy import Overflow, Spot
from elder.web.garden.models import Garden, Place
from elder.web.read.gardens import climate_of, places_of
from elder.web.read.space import Stays, all_stays, capacities, crowding
from elder.web.read.wants import Reckoning
from elder.web.say.containers import CONTAINERS
from elder.web.say.pictures import Zoom, season_axis, want_scene
from elder.web.say.wants import Headline, row_words, want_words
from elder.web.say.words import day_words, listed, span_words

COMPACT_FROM = 9  # rows from which a season is drawn small, unless asked otherwise
SMALLEST_FROM = 16  # and from which it is drawn smaller still, so that twenty fit a laptop
GROUPS = {"": "as wanted", "plant": "by plant", "place": "by place"}
ZOOMS = {"": "as far as needed", "spring": "spring", "year": "a year", "three": "three years"}


@dataclass(frozen=True)
class BoardRow:
    """A row of the board."""

    reckoning: Reckoning
    name: str
    headline: Headline
    scene: Scene
    url: str


@dataclass(frozen=True)
class Group:
    """Rows under one heading; no heading where they are not grouped."""

    name: str
    rows: list[BoardRow]


@dataclass(frozen=True)
class Crowd:
    """A place asked to hold more than it can: in words, and drawn over time."""

    words: str
    who: str
    scene: Scene


@dataclass(frozen=True)
class Board:
    """Everything the board shows."""

    groups: list[Group]
    count: int
    compact: bool
    smallest: bool
    ruler: Scene
    ground: Scene
    crowds: list[Crowd]


@dataclass(frozen=True)
class View:
    """How the board is looked at: row size, zoom, grouping. Anything unknown is the plain way."""

    rows: str = ""
    zoom: str = ""
    group: str = ""

    @classmethod
    def of(cls, query: Mapping[str, str]) -> View:
        """From an address."""
        asked = {name: query.get(name, "") for name in ("rows", "zoom", "group")}
        known = {"rows": ("small", "large"), "zoom": tuple(ZOOMS), "group": tuple(GROUPS)}
        return cls(**{name: value if value in known[name] else "" for name, value in asked.items()})

    @property
    def parts(self) -> list[tuple[str, str]]:
        """What is not the plain way."""
        named = (("rows", self.rows), ("zoom", self.zoom), ("group", self.group))
        return [(name, value) for name, value in named if value]

    def address(self, **changes: str) -> str:
        """The query that looks at it another way."""
        parts = {**dict(self.parts), **changes}
        return "?" + "&".join(f"{name}={value}" for name, value in parts.items() if value)


def board_of(reckonings: list[Reckoning], garden: Garden, today: date, view: View) -> Board:
    """Draw the board."""
    zoom: Zoom | None = view.zoom if view.zoom in get_args(Zoom) else None  # type: ignore[assignment]
    axis = season_axis(reckonings, today, zoom)
    compact = view.rows == "small" or (view.rows != "large" and len(reckonings) >= COMPACT_FROM)
    smallest = compact and len(reckonings) >= SMALLEST_FROM
    sizes = SMALL if smallest else COMPACT if compact else ROW
    groups = _groups(reckonings, garden, axis, sizes, view.group)
    return Board(
        groups=groups,
        count=len(reckonings),
        compact=compact,
        smallest=smallest,
        ruler=ruler_scene(axis, today, day_words=lambda day: day_words(day, today)),
        ground=ground_scene(axis, today, climate_of(garden), height=sizes.height),
        crowds=_crowds(reckonings, garden, today, axis),
    )


def _groups(reckonings: list[Reckoning], garden: Garden, axis: TimeAxis, sizes: Sizes, by: str) -> list[Group]:
    def row(item: Reckoning) -> BoardRow:
        url = reverse("want", args=[garden.pk, item.row.pk])
        return BoardRow(
            item, want_words(item.row, item.plant.name), row_words(item), want_scene(item, axis, sizes), url
        )

    def key(item: Reckoning) -> str:
        return {"plant": item.plant.name, "place": item.row.rooting_place.name}.get(by, "")

    ordered = sorted(reckonings, key=key)
    return [Group(name, [row(item) for item in items]) for name, items in groupby(ordered, key)]


def _crowds(reckonings: list[Reckoning], garden: Garden, today: date, axis: TimeAxis) -> list[Crowd]:
    places = dict(places_of(garden))
    if not capacities(places.values()):
        return []
    stays = all_stays(reckonings, garden, today)
    found = crowding(stays, places.values(), today)
    names = {item.row.pk: item.plant.name.lower() for item in reckonings}
    crowds: list[tuple[int, Crowd]] = []
    for (_, spot), several in groupby(sorted(found, key=_spot), _spot):
        over = list(several)
        worst = max(over, key=lambda one: one.most - one.holds)
        words = crowd_words(worst, places, today)
        who = listed(dict.fromkeys(names.get(key, "what stands there") for one in over for key in one.who))
        loads = _loads(stays, spot, axis)
        crowds.append((worst.holds - worst.most, Crowd(words, who, _crowd_scene(axis, loads, worst, words))))
    return [crowd for _, crowd in sorted(crowds, key=lambda pair: pair[0])]


def _crowd_scene(axis: TimeAxis, loads: Ints, worst: Overflow, words: str) -> Scene:
    said = share_words(int(loads.max(initial=0))) if worst.container == FLOOR else ""
    return crowding_scene(axis, loads, worst.holds, words=words, said=said)


def share_words(thousandths: int) -> str:
    """How much of a floor: "1.2 times the room it has"."""
    return f"{thousandths / WHOLE:.2g} times the room it has"


def _spot(one: Overflow) -> tuple[str, Spot]:
    return str(one.place), (one.place, one.container)


def crowd_words(over: Overflow, places: dict[int, Place], today: date) -> str:
    """One spell of too little room: "Kitchen sill, jars of water: 34 asked, room for 24, 6 Apr – 20 May"."""
    place = places[over.place]
    span = span_words(over.first, over.last, today)
    if over.container == FLOOR:
        return f"{place.name}, its floor: {share_words(over.most)} asked, {span}"
    return f"{place.name}, {CONTAINERS[over.container]}: {over.most} asked, room for {over.holds}, {span}"


def _loads(stays: Stays, spot: Spot, axis: TimeAxis) -> Ints:
    loads = np.zeros(axis.days + 1, dtype=np.int64)
    for stay in (s for several in stays.values() for s in several if (s.place, s.container) == spot):
        begin, end = max((stay.first - axis.start).days, 0), min((stay.last - axis.start).days + 1, len(loads))
        if begin < end:
            loads[begin:end] += stay.count
    return loads
