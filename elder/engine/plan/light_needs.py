"""What light a plant wants at a stage, and how a place suits it: it fits, is borderline, or does not.

Only a closed cover in the sun is shut out; else light ranks places and moves no chance, until a record shows it.
"""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from dataclasses import dataclass
from datetime import date
from enum import IntEnum
from typing import Final, Literal, TypeVar

from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.light import DIM_SKY, FULL_SUN_H, Lit, PlaceLight, light_year

Stage = Literal["unrooted", "rooted"]
Key = TypeVar("Key", bound=Hashable)

COOKS_H: Final = 0.5  # hours of direct sun from which a closed cover is too hot (common practice: none; assumed)
UNROOTED_H: Final = (1.5, 3.0)  # of strong sun: what an unrooted stem bears, and where that ends (assumed)
BLEACHES_H: Final = (2.0, 4.0)  # the same for leaves that bleach (assumed)
# Hours of sun a rooted plant wants, and below which it does not do there (six: common practice; the rest assumed).
WANTS_H: Final = {"full sun": (FULL_SUN_H, 3.0), "part sun": (3.0, 1.0)}
LAMPS_ENOUGH_H: Final = 6.0  # under lamps so long nothing is too dark (assumed)
DARK_SKY: Final = 0.02  # of the open sky's light: less is a cupboard (assumed)
SIX_HOURS: Final = "six hours of sun"  # the school that gives unrooted stems sun from the first day


class Suited(IntEnum):
    """How a place suits, best first. One that nobody described goes with those that fit."""

    FITS = 0
    BORDERLINE = 1
    NOT = 2
    SHUT_OUT = 3


@dataclass(frozen=True)
class LightNeed:
    """What a plant wants at a stage: hours of sun at least, and below which it does not do; hours of strong sun at
    most, and above which it does not; whether shade may be dark; whether it stands under a closed cover."""

    wants_h: tuple[float, float] = (0.0, 0.0)
    bears_h: tuple[float, float] | None = None
    bears_dark: bool = False
    covered: bool = False


ANYTHING: Final = LightNeed(bears_dark=True)


@dataclass(frozen=True)
class LightFit:
    """How a place suits a need, why (``cooks``, ``too_sunny``, ``too_dark``, ``too_little_sun``, ``enough``, ``right``,
    ``unsaid``) and the hours that say so."""

    standing: Suited
    why: str
    hours: float = 0.0


def need_of(plant: Plant, method: Method, stage: Stage, *, cover: str = "", school: str = "") -> LightNeed:
    """What a plant wants. ``cover``: the one that is really used, the way's own where it is not said; ``school``: what
    the household chose for unrooted stems."""
    if stage == "rooted":
        if plant.light == "bright shade":
            return LightNeed(bears_h=BLEACHES_H)
        return LightNeed(wants_h=WANTS_H[plant.light])
    used = cover or method.cover
    if used == "closed":
        return LightNeed(covered=True)
    if method.wood == "dormant":  # bare wood has no leaf to burn or to feed
        return ANYTHING
    if school == SIX_HOURS:
        return LightNeed(wants_h=WANTS_H["full sun"])
    return LightNeed(bears_h=UNROOTED_H, bears_dark=used == "none")


def fit(lit: Lit | None, need: LightNeed) -> LightFit:
    """How what reaches a place suits a need; ``None`` for a place whose light nobody said."""
    if lit is None:
        return LightFit(Suited.FITS, "unsaid")
    if need.covered and lit.warming_h > COOKS_H:
        return LightFit(Suited.SHUT_OUT, "cooks", lit.warming_h)
    if need.bears_h and lit.strong_h > need.bears_h[0]:
        return LightFit(Suited(1 + (lit.strong_h > need.bears_h[1])), "too_sunny", lit.strong_h)
    if lit.grows_h < need.wants_h[0]:
        return LightFit(Suited(1 + (lit.grows_h < need.wants_h[1])), "too_little_sun", lit.grows_h)
    if not need.bears_dark and not need.wants_h[0] and lit.lamp_h < LAMPS_ENOUGH_H and lit.sky < DIM_SKY:
        return LightFit(Suited(1 + (lit.sky < DARK_SKY)), "too_dark", lit.direct_h)
    if need.wants_h[0]:
        return LightFit(Suited.FITS, "enough", lit.grows_h)
    return LightFit(Suited.FITS, "right", lit.strong_h)


def fit_on(light: PlaceLight | None, climate: Climate, need: LightNeed, day: date) -> LightFit:
    """How a place suits a need on a day, by the light it was described with."""
    if light is None:
        return fit(None, need)
    return fit(light_year(light, climate.latitude, climate.longitude).on(day), need)


def pair_fits(
    lights: tuple[PlaceLight | None, PlaceLight | None],
    grown: tuple[Plant, Method],
    climate: Climate,
    days: tuple[date, date],
) -> tuple[LightFit, ...]:
    """How the light of a rooting and a growing place suits, each on its day; of a way struck where it stands the first
    alone."""
    rooting = fit_on(lights[0], climate, need_of(*grown, "unrooted"), days[0])
    if grown[1].direct:
        return (rooting,)
    return rooting, fit_on(lights[1], climate, need_of(*grown, "rooted"), days[1])


def ranked(lits: Mapping[Key, Lit | None], need: LightNeed, days: Mapping[Key, int]) -> list[tuple[Key, LightFit]]:
    """Places for a need, best first: by how their light suits, then by the days to roots there (−1: never)."""
    fits = {key: fit(lit, need) for key, lit in lits.items()}

    def rank(key: Key) -> tuple[Suited, bool, int]:
        return fits[key].standing, days.get(key, -1) < 0, days.get(key, -1)

    return [(key, fits[key]) for key in sorted(fits, key=rank)]
