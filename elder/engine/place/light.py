"""How much direct sun reaches a sill or a bed, through what stands before it.

A place that nobody measured is said in words, one that somebody did is computed; both come to the same value, ``Lit``.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final, Literal

import numpy as np

from elder.engine.arrays import Bools, Floats, Ints
from elder.engine.climate.day_of_year import YEAR_DAYS, doy0
from elder.engine.keeping import kept
from elder.engine.place.sun import STEP_MIN, sun_of_year, sun_path

Points = tuple[tuple[float, float], ...]
Shade = Literal["full shade", "bright shade", "part sun", "full sun"]

WINDOW_DEG: Final = 75.0  # from its normal a pane lets the sun in; further, the reveal and the glass stop it (assumed)
WARMING_DEG: Final = (
    10.0  # below this the air takes over half of the sun's strength (Meinel & Meinel 1976, from memory)
)
STRONG_DEG: Final = 25.0  # above this it keeps three quarters of its strength: strong sun (the same; the line assumed)
LAMP_WORTH: Final = 0.5  # of an hour of sun, an hour under lamps set close above the plants (assumed)
# Of the sun an open place at that latitude has, what the words mean where nobody measured (assumed).
SAID_SUN: Final[dict[str, float]] = {"full shade": 0.0, "bright shade": 0.0, "part sun": 0.35, "full sun": 0.8}
SAID_SKY: Final[dict[str, float]] = {"full shade": 0.05, "bright shade": 0.3, "part sun": 0.4, "full sun": 0.7}
SOME_SUN_H: Final = 0.5  # of sun, with which no shade is called full (assumed)
PART_SUN_H, FULL_SUN_H = 2.0, 6.0  # hours from which a place is called so (common practice: six; two assumed)
DIM_SKY: Final = 0.12  # of the open sky's light; below this shade is dark, not bright (assumed)


@dataclass(frozen=True)
class Leafy:
    """A tree before a place: its outline in the sky, which counts from one day of the year to another (0-based), all
    the way round midwinter where the second comes first."""

    outline: Points
    first: int
    last: int

    def counts_on(self, doy: int) -> bool:
        """Whether it is in leaf."""
        between = self.first <= doy <= self.last
        return between if self.first <= self.last else doy >= self.first or doy <= self.last


@dataclass(frozen=True)
class Aspect:
    """What a place sees of the sky. ``facing_deg``: a window's normal, clockwise from north, ``None`` in the open;
    ``skyline``: (azimuth, height) points, straight between neighbours and around through north; ``overhang_deg``: the
    profile angle above which a roof or lintel hides the sun."""

    facing_deg: float | None = None
    half_angle_deg: float = WINDOW_DEG
    skyline: Points = ()
    overhang_deg: float = 90.0
    trees: tuple[Leafy, ...] = ()


OPEN: Final = Aspect()


@dataclass(frozen=True)
class PlaceLight:
    """The light of a place as it was described: in words (``said``), or by its aspect where that is empty; the share
    that a cloth takes, and hours under lamps."""

    said: Shade | Literal[""] = ""
    aspect: Aspect = OPEN
    cloth: float = 0.0
    lamp_h: float = 0.0


@dataclass(frozen=True)
class Lit:
    """What reaches a place on a day: hours of possible direct sun, of those with the sun 10° up and more, and of strong
    sun (25°); the share of the open sky's light; hours under lamps. A cloth has taken its part of all but the lamps."""

    direct_h: float
    warming_h: float
    strong_h: float
    sky: float
    lamp_h: float = 0.0

    @property
    def grows_h(self) -> float:
        """Hours that a plant which wants sun can count: sun, and lamps for what they are worth."""
        return self.direct_h + LAMP_WORTH * self.lamp_h

    @property
    def word(self) -> Shade:
        """In one of the four words."""
        if self.direct_h >= FULL_SUN_H:
            return "full sun"
        if self.direct_h >= PART_SUN_H:
            return "part sun"
        is_bright = self.sky >= DIM_SKY or self.lamp_h > 0 or self.direct_h >= SOME_SUN_H
        return "bright shade" if is_bright else "full shade"


def skyline_height(skyline: Points, azimuth: Floats) -> Floats:
    """Height of a skyline at azimuths, degrees; straight between neighbouring points, around through north."""
    if not skyline:
        return np.zeros_like(azimuth)
    points = sorted((at % 360, height) for at, height in skyline)
    at = np.array([points[-1][0] - 360, *(point[0] for point in points), points[0][0] + 360])
    heights = np.array([points[-1][1], *(point[1] for point in points), points[0][1]])
    return np.asarray(np.interp(np.asarray(azimuth) % 360, at, heights))


def seen(aspect: Aspect, elevation: Floats, azimuth: Floats, doy: int | None = None) -> Bools:
    """Whether a place sees the sun where it stands; arrays of one shape, degrees. Trees count on ``doy``, or never."""
    clear = (elevation > 0) & (elevation > skyline_height(aspect.skyline, azimuth))
    for tree in aspect.trees:
        if doy is not None and tree.counts_on(doy):
            clear &= elevation > skyline_height(tree.outline, azimuth)
    if aspect.facing_deg is not None:
        clear &= within(aspect, azimuth) & (elevation <= lintel_height(aspect, azimuth))
    return np.asarray(clear)


def within(aspect: Aspect, azimuth: Floats) -> Bools:
    """Whether azimuths lie within a window's half angle of its normal."""
    return np.asarray(np.abs(_from_normal(aspect, azimuth)) <= aspect.half_angle_deg)


def lintel_height(aspect: Aspect, azimuth: Floats) -> Floats:
    """Elevation up to which a window sees, degrees: tan of it is the tan of the profile angle times the cosine of the
    angle from the normal."""
    if aspect.overhang_deg >= 90:
        return np.full_like(azimuth, 90.0, dtype=np.float64)
    along = np.cos(np.radians(_from_normal(aspect, azimuth)))
    return np.asarray(np.degrees(np.arctan(np.tan(np.radians(aspect.overhang_deg)) * np.maximum(along, 0.0))))


def _from_normal(aspect: Aspect, azimuth: Floats) -> Floats:
    return (azimuth - (aspect.facing_deg or 0.0) + 180) % 360 - 180


def direct_sun_hours(
    latitude: float,
    longitude: float,
    day: date,
    *,
    facing_deg: float | None = None,
    half_angle_deg: float = WINDOW_DEG,
    skyline: Points = (),
    overhang_deg: float = 90.0,
    step_min: float = STEP_MIN,
) -> float:
    """Hours of possible direct sun in the 24 hours round solar noon. Raises ValueError off the globe."""
    aspect = Aspect(facing_deg, half_angle_deg, tuple(skyline), overhang_deg)
    path = sun_path(latitude, longitude, day, step_min=step_min)
    return float(seen(aspect, path.elevation, path.azimuth).mean()) * 24


@dataclass(frozen=True, eq=False)
class LightYear:
    """What reaches a place on each day of an ordinary year, as ``Lit`` has it; shapes (365,)."""

    direct_h: Floats
    warming_h: Floats
    strong_h: Floats
    sky: float
    lamp_h: float

    def on(self, day: date) -> Lit:
        """One day of it."""
        i = doy0(day)
        direct, warming, strong = (float(one[i]) for one in (self.direct_h, self.warming_h, self.strong_h))
        return Lit(direct, warming, strong, self.sky, self.lamp_h)


@kept
def light_year(light: PlaceLight, latitude: float, longitude: float) -> LightYear:
    """The light of a place through the year, by its description. Source: docs/architecture.md."""
    aspect, share = (OPEN, SAID_SUN[light.said]) if light.said else (light.aspect, 1.0)
    day, elevation, azimuth = _daylight(latitude, longitude)
    clear = seen(aspect, elevation, azimuth)
    for tree in aspect.trees:
        leafy = np.array([tree.counts_on(doy) for doy in range(YEAR_DAYS)])[day]
        clear[leafy] &= elevation[leafy] > skyline_height(tree.outline, azimuth[leafy])
    step_h = share * (1 - light.cloth) * STEP_MIN / 60

    def hours(least_deg: float) -> Floats:
        return np.asarray(step_h * np.bincount(day[clear & (elevation >= least_deg)], minlength=YEAR_DAYS))

    sky = (SAID_SKY[light.said] if light.said else sky_share(aspect)) * (1 - light.cloth)
    return LightYear(hours(0.0), hours(WARMING_DEG), hours(STRONG_DEG), sky, light.lamp_h)


@kept
def _daylight(latitude: float, longitude: float) -> tuple[Ints, Floats, Floats]:
    """The steps of a year with the sun up: their day, elevation and azimuth; shapes (n,)."""
    path = sun_of_year(latitude, longitude)
    day, step = np.nonzero(path.elevation > 0)
    return day, path.elevation[day, step], path.azimuth[day, step]


def sky_share(aspect: Aspect) -> float:
    """Share of the light of an even sky that falls on level ground there, trees bare: the mean over azimuth of
    sin² of the upper edge less sin² of the skyline."""
    azimuth = np.arange(0.0, 360.0, 2.0)
    low = np.sin(np.radians(np.clip(skyline_height(aspect.skyline, azimuth), 0, 90))) ** 2
    if aspect.facing_deg is None:
        return float((1 - low).mean())
    high = np.sin(np.radians(lintel_height(aspect, azimuth))) ** 2
    return float((np.maximum(high - low, 0) * within(aspect, azimuth)).mean())


def sunlit_spans(aspect: Aspect, latitude: float, longitude: float, day: date) -> list[tuple[float, float]]:
    """When the sun is on a place that day: from and to, in minutes of UTC from the midnight the day begins at."""
    path = sun_path(latitude, longitude, day, step_min=2)
    clear = np.concatenate(([False], seen(aspect, path.elevation, path.azimuth, doy0(day))[0], [False]))
    edges = np.flatnonzero(np.diff(clear.astype(np.int8)))
    middles = path.minutes[0]
    half = (middles[1] - middles[0]) / 2
    return [
        (float(middles[begin] - half), float(middles[end - 1] + half))
        for begin, end in zip(edges[::2], edges[1::2], strict=True)
    ]
