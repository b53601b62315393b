"""Air about a cutting: how much water it takes, by the vapour pressure deficit, and what to do about it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final, Literal

Stage = Literal["unrooted", "rooted", "hardening"]

# The band of deficit, kPa, in which each stage does well (from memory; hardening: up to 1.3).
BANDS: Final[dict[Stage, tuple[float, float]]] = {"unrooted": (0.2, 0.6), "rooted": (0.5, 1.0), "hardening": (0.5, 1.3)}
# Relative humidity under a cover, a share: a closed one, one set on loosely; in a heated room (assumed).
UNDER_COVER: Final[dict[str, float]] = {"closed": 0.95, "loose": 0.82}
ROOM_HUMIDITY: Final = 0.5
MISTING_KPA: Final = 0.4  # of deficit above the band, for which one misting a day is due (assumed): 3 at 30 °C and 60%
MOST_MISTINGS: Final = 6  # more than that is a job for a cover (assumed)


def saturation_kpa(celsius: float) -> float:
    """Saturation vapour pressure over water, kPa: FAO Irrigation and Drainage Paper 56, eq. 11 (Allen et al. 1998)."""
    return 0.6108 * math.exp(17.27 * celsius / (celsius + 237.3))


def vapour_pressure_deficit_kpa(air_c: float, humidity: float, leaf_c: float | None = None) -> float:
    """What the air could still take, kPa: saturation at the leaf (the air's warmth unless given) less what the air
    holds; ``humidity`` is a share. Below nought dew falls on the leaf. Raises ValueError for a share outside 0..1."""
    if not 0 <= humidity <= 1:
        raise ValueError("humidity is a share between 0 and 1")
    return saturation_kpa(air_c if leaf_c is None else leaf_c) - saturation_kpa(air_c) * humidity


def outdoor_humidity(air_c: float, low_c: float) -> float:
    """Relative humidity outdoors, a share, at a warmth on a day with that lowest: the air holds what saturated it at
    the night's lowest (FAO-56, eq. 48, for well-watered surroundings)."""
    return min(saturation_kpa(min(low_c, air_c)) / saturation_kpa(air_c), 1.0)


@dataclass(frozen=True)
class Air:
    """The air at a place: °C, relative humidity as a share, and whether that was read or is the cover's usual."""

    celsius: float
    humidity: float
    is_read: bool = False

    @property
    def deficit_kpa(self) -> float:
        """What it could still take, kPa."""
        return vapour_pressure_deficit_kpa(self.celsius, self.humidity)


@dataclass(frozen=True)
class AirAdvice:
    """How the air suits a stage: ``close`` (mould), ``right`` or ``dry`` (wilt); whether the cap should be open; how
    many mistings a day it takes."""

    standing: Literal["close", "right", "dry"]
    open_cap: bool
    mistings: int


def under_cover(cover: str, open_air: Air) -> Air:
    """The air under a cover, where the air about it is known: never drier than that."""
    usual = UNDER_COVER.get(cover)
    if usual is None:
        return open_air
    return Air(open_air.celsius, max(usual, open_air.humidity), open_air.is_read)


def advice(air: Air, stage: Stage, cover: str) -> AirAdvice:
    """What the air under a cover asks for. Mist is for what has no roots to drink with."""
    least, most = BANDS[stage]
    deficit = air.deficit_kpa
    if deficit < least:
        return AirAdvice("close", cover != "none", 0)
    if deficit <= most:
        return AirAdvice("right", False, 0)
    times = min(math.ceil((deficit - most) / MISTING_KPA), MOST_MISTINGS) if stage == "unrooted" else 0
    return AirAdvice("dry", False, times)
