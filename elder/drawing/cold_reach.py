"""How far the cold reaches: the lowest nights of the possible winters as a mound on the line, and each plant a label
stuck where its own limit lies. Labels in the mound, or to the warm side of it, want saving."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from elder.drawing.scene import Area, Mark, Scene, Shape, Stroke, Text, box, number, percent, polyline
from elder.engine.arrays import Floats

LANE: Final = 22.0
GROUND: Final = 46.0  # px under the line: the mound hangs there
LEAST_LANES: Final = 3
LETTER: Final = 0.018  # of the width: about one letter on a phone, so that names stay apart there too
MIDDLE: Final = 0.5  # names stand on the side where there is more room
STUCK: Final = "M-3 0V-12H3V0L0 4Z"
SMOOTH_C: Final = 0.7  # the mound is smoothed by so much, °C
MOST_LANES: Final = 12


@dataclass(frozen=True)
class Limit:
    """A plant where it stands: what it bears, °C, its name, and whether it wants saving."""

    at_c: float
    name: str
    saved: bool


@dataclass(frozen=True)
class Reach:
    """The lowest nights of winters, °C, and the plants out in them; ``tick`` says a temperature."""

    lows: Floats
    limits: Sequence[Limit]
    ticks: Sequence[tuple[float, str]]

    @property
    def ends(self) -> tuple[float, float]:
        """The coldest and the warmest drawn, °C."""
        limits = [one.at_c for one in self.limits]
        low = min([float(self.lows.min()), *limits]) - 1.5
        high = max([float(self.lows.max()), *limits]) + 3.0
        return low, max(high, low + 8)


def reach_scene(shown: Reach, words: str) -> Scene:
    """The drawing: cold to the left, warm to the right."""
    low, high = shown.ends

    def x(celsius: float) -> float:
        return min(max((celsius - low) / (high - low), 0.0), 1.0)

    lanes = _lanes(shown.limits, x)
    count = max([LEAST_LANES, *(lane + 1 for lane in lanes)])
    line = 16 + LANE * count
    height = round(line + GROUND)
    shapes: list[Shape] = [Area("reach-ground", box(0, 1, line, height))]
    shapes.append(Area("reach-mound", _mound(shown.lows, (low, high), line)))
    tenth = percent(x(float(np.quantile(shown.lows, 0.1))))
    shapes.append(Stroke("reach-tenth", tenth, number(line - 8), tenth, str(height - 4)))
    shapes.append(Stroke("reach-line", "0%", number(line), "100%", number(line)))
    for celsius, said in shown.ticks:
        shapes.append(Stroke("reach-tick", percent(x(celsius)), number(line), percent(x(celsius)), number(line + 5)))
        shapes.append(Text("reach-degree", percent(x(celsius)), number(line + 17), said, "middle"))
    for limit, lane in zip(shown.limits, lanes, strict=True):
        shapes += _label(limit, x(limit.at_c), line, lane)
    return Scene(height, words, tuple(shapes))


def _label(limit: Limit, x: float, line: float, lane: int) -> list[Shape]:
    role, at, top = ("saved" if limit.saved else "bears"), percent(x), line - LANE * lane - 6
    anchor, nudge = ("start", "7") if x < MIDDLE else ("end", "-7")
    return [
        Stroke(f"reach-stem reach-stem-{role}", at, number(top), at, number(line)),
        Mark(f"reach-label reach-label-{role}", at, number(top), STUCK),
        Text(f"reach-name reach-name-{role}", at, number(top - 2), limit.name, anchor, nudge),
    ]


def _lanes(limits: Sequence[Limit], x: Callable[[float], float]) -> list[int]:
    """The lane of each label, the lowest in which its name does not run into another's."""
    taken: list[list[tuple[float, float]]] = []
    lanes = []
    for limit in limits:
        at, wide = x(limit.at_c), LETTER * (len(limit.name) + 2)
        span = (at - 0.01, at + wide) if at < MIDDLE else (at - wide, at + 0.01)
        lane = next((i for i, row in enumerate(taken) if all(span[1] < a or span[0] > b for a, b in row)), len(taken))
        if lane >= MOST_LANES:
            lane = MOST_LANES - 1
        if lane == len(taken):
            taken.append([])
        taken[lane].append(span)
        lanes.append(lane)
    return lanes


def _mound(lows: Floats, ends: tuple[float, float], line: float) -> str:
    """How often the lowest night comes down to each temperature, hung under the line."""
    at = np.linspace(*ends, 120)
    heaped = np.exp(-0.5 * ((at[:, None] - lows[None, :]) / SMOOTH_C) ** 2).sum(axis=1)
    depth = (GROUND - 8) * heaped / max(float(heaped.max()), 1e-12)
    share = (at - ends[0]) / (ends[1] - ends[0])
    below = [(float(a), line + float(d)) for a, d in zip(share, depth, strict=True)]
    return polyline([(0.0, line), *below, (1.0, line)], close=True)
