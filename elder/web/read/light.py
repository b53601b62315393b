"""The light of places: rows to engine values, and what reaches each on a day.

A row's ``light`` is empty where nobody said; ``said`` in one of four words; or what is seen of the sky: ``facing``
(degrees, none for the open), ``half_angle``, ``overhang``, ``skyline`` ([azimuth, height] pairs) and ``before`` (houses
and trees: ``towards``, ``height``, ``away``, ``wide`` in m, ``leaf`` first and last day of the year). With either:
``cloth``, the share it takes, and ``lamps``, from and to.
"""

from __future__ import annotations

import json
from datetime import date, time
from functools import lru_cache
from typing import Literal, TypedDict

from elder.engine.place.light import WINDOW_DEG, Aspect, Lit, PlaceLight, Shade, light_year
from elder.engine.place.skyline import Obstacle, looking
from elder.engine.plan.light_needs import UNROOTED_H
from elder.web.garden.models import Garden, Place


class Before(TypedDict, total=False):
    """A house or a tree, as a row keeps it."""

    towards: float
    height: float
    away: float
    wide: float
    leaf: list[int]


class Described(TypedDict, total=False):
    """The light of a place, as a row keeps it."""

    said: Shade
    facing: float | None
    half_angle: float
    overhang: float
    skyline: list[list[float]]
    before: list[Before]
    cloth: float
    lamps: list[str]


def light_of(place: Place) -> PlaceLight | None:
    """The light a row describes; ``None`` where nobody said."""
    return _kept(json.dumps(place.light)) if place.light else None


@lru_cache(maxsize=512)
def _kept(described: str) -> PlaceLight:
    """A description worked out once: outlines of houses and trees are asked for at every batch of a round."""
    return light_as_described(json.loads(described))


def light_as_described(light: Described) -> PlaceLight:
    """The same from a description that is kept, or only tried."""
    said: Shade | Literal[""] = light.get("said", "")
    aspect = Aspect() if said else aspect_of(light)
    return PlaceLight(said, aspect, float(light.get("cloth", 0.0)), lamp_hours(light.get("lamps")))


def aspect_of(light: Described) -> Aspect:
    """What a place sees of the sky."""
    return looking(
        light.get("facing"),
        float(light.get("half_angle", WINDOW_DEG)),
        float(light.get("overhang", 90.0)),
        tuple((float(at), float(height)) for at, height in light.get("skyline", ())),
        obstacles_of(light),
    )


def obstacles_of(light: Described) -> list[Obstacle]:
    """The houses, walls and trees that stand before a place."""
    return [_obstacle(one) for one in light.get("before", ())]


def _obstacle(one: Before) -> Obstacle:
    leaf = one.get("leaf")
    months = (leaf[0], leaf[1]) if leaf else None
    return Obstacle(one["towards"], one["height"], one["away"], one["wide"], months)


def lamp_hours(lamps: list[str] | None) -> float:
    """Hours a day between two times of the clock, over midnight where the second comes first."""
    if not lamps:
        return 0.0
    on, off = (time.fromisoformat(one) for one in lamps)
    return ((off.hour * 60 + off.minute - on.hour * 60 - on.minute) % 1440) / 60


def is_shaded(place: Place, garden: Garden) -> bool:
    """Whether a place never has more strong sun than unrooted stems bear; not where nobody said."""
    light = light_of(place)
    return (
        light is not None
        and float(light_year(light, garden.latitude, garden.longitude).strong_h.max()) <= UNROOTED_H[1]
    )


def lit_at(place: Place, garden: Garden, day: date) -> Lit | None:
    """What reaches a place on a day; ``None`` where nobody said."""
    light = light_of(place)
    return light_year(light, garden.latitude, garden.longitude).on(day) if light else None
