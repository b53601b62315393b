"""What stands before a place, as its outline in the sky: houses and walls by their measures, together with a skyline
that was drawn."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

import numpy as np

from elder.engine.place.light import Aspect, Leafy, Points, skyline_height

GRID_DEG: Final = 2.0  # where several outlines are laid over one another


@dataclass(frozen=True)
class Obstacle:
    """A house, a wall or a tree: where its middle is seen, degrees clockwise from north; how far it reaches above the
    place, how far away and how wide it is, m; the days of the year (0-based) between which it is in leaf, for a tree
    that is bare in winter."""

    towards_deg: float
    height_m: float
    away_m: float
    wide_m: float
    leaf: tuple[int, int] | None = None

    def __post_init__(self) -> None:
        if min(self.height_m, self.away_m, self.wide_m) <= 0:
            raise ValueError("what stands before a place has a height, a width, and stands some way off")

    @property
    def half_angle_deg(self) -> float:
        """Half of how wide it is seen."""
        return math.degrees(math.atan(self.wide_m / 2 / self.away_m))


def outline(obstacle: Obstacle) -> Points:
    """A level front, seen square on: at d° from its middle it is away/cos d off, and stands that much lower."""
    half = obstacle.half_angle_deg
    steps = max(math.ceil(2 * half / GRID_DEG), 2)
    rising = obstacle.height_m / obstacle.away_m
    front = [
        (obstacle.towards_deg + off, math.degrees(math.atan(rising * math.cos(math.radians(off)))))
        for off in np.linspace(-half, half, steps + 1).tolist()
    ]
    edge = 0.01
    return ((front[0][0] - edge, 0.0), *front, (front[-1][0] + edge, 0.0))


def over_one_another(outlines: Iterable[Points]) -> Points:
    """The highest of several outlines at every azimuth."""
    several = [points for points in outlines if points]
    if len(several) < 2:
        return several[0] if several else ()
    azimuth = np.arange(0.0, 360.0, GRID_DEG)
    height = np.max([skyline_height(points, azimuth) for points in several], axis=0)
    return tuple(zip(azimuth.tolist(), height.tolist(), strict=True))


def looking(
    facing_deg: float | None, half_angle_deg: float, overhang_deg: float, drawn: Points, obstacles: Iterable[Obstacle]
) -> Aspect:
    """The aspect of a place by a drawn skyline and what stands before it."""
    every = list(obstacles)
    still = [outline(obstacle) for obstacle in every if obstacle.leaf is None]
    trees = tuple(Leafy(outline(obstacle), *obstacle.leaf) for obstacle in every if obstacle.leaf is not None)
    return Aspect(facing_deg, half_angle_deg, over_one_another([drawn, *still]), overhang_deg, trees)
