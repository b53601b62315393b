"""A plan's chances worked out plainly beside the engine: loops over days and looks, a fine grid of speeds and takes.

It stands in a room of one steady warmth, so that years do not differ and warmth is a number of units a day. Nothing is
shared with the engine but the handbook's pairs of days. Days are counted from the cut.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache
from statistics import NormalDist

SPEEDS = 41  # midpoints of the speed's law
TAKES = 400  # midpoints of the take


@cache
def _beta(a: float, b: float) -> list[float]:
    return [((i + 0.5) / TAKES) ** (a - 1) * (1 - (i + 0.5) / TAKES) ** (b - 1) for i in range(TAKES)]


@dataclass(frozen=True)
class Room:
    """Units a day; medians in units and log-sds of rooting and establishing; days hardened; days between looks; log-sd
    of a batch's speed; Betas of the take, and of the share of the rooted that comes to stand (none: all of them)."""

    a_day: float
    rooting: tuple[float, float]
    establish: tuple[float, float]
    harden: int
    looks: int
    speed_sd: float
    take: tuple[float, float]
    stand: tuple[float, float] | None = (19, 1)

    def ready_by(self, day: int, pace: float) -> float:
        """The chance that one which takes is ready by a day, in a batch whose medians are ``pace`` times the usual."""
        total = 0.0
        for rooted in range(day + 1):
            here = self._stage(self.rooting, rooted + 1, pace) - self._stage(self.rooting, rooted, pace)
            for wait in range(self.looks):
                stood = day - self.harden - rooted - wait
                total += here * self._stage(self.establish, stood, pace) / self.looks
        return total

    def _stage(self, law: tuple[float, float], days: int, pace: float) -> float:
        if days <= 0:
            return 0.0
        return NormalDist().cdf(math.log(self.a_day * days / (law[0] * pace)) / law[1])

    @cache  # noqa: B019 - a room lives as long as its test
    def by_speed(self, day: int) -> tuple[float, ...]:
        """``ready_by`` over the midpoints of the speed's law."""
        steps = [NormalDist().inv_cdf((i + 0.5) / SPEEDS) for i in range(SPEEDS)]
        return tuple(self.ready_by(day, math.exp(self.speed_sd * z)) for z in steps)

    def chance(self, wanted: int, count: int, day: int) -> float:
        """The chance that ``wanted`` of ``count`` are ready by a day."""
        weights = self.shares()
        whole, total = sum(weights), 0.0
        for ready in self.by_speed(day):
            for i in range(TAKES):
                p = (i + 0.5) / TAKES * ready
                fewer = sum(math.comb(count, j) * p**j * (1 - p) ** (count - j) for j in range(wanted))
                total += weights[i] / whole * (1 - fewer) / SPEEDS
        return total

    def shares(self) -> list[float]:
        """How likely each midpoint of the share that roots and comes to stand is, but for a factor."""
        takes = _beta(*self.take)
        if self.stand is None:
            return takes
        found = [0.0] * TAKES
        for i, one in enumerate(takes):
            for j, other in enumerate(_beta(*self.stand)):
                found[int((i + 0.5) * (j + 0.5) / TAKES)] += one * other
        return found

    def needed(self, wanted: int, sure: float, day: int) -> int:
        """The fewest cuttings that give ``wanted`` by a day with that sureness."""
        return next(count for count in range(wanted, 200) if self.chance(wanted, count, day) >= sure)
