"""A batch's chances and due tasks, worked out plainly beside the engine: one number at a time, no arrays, no sharing.

It stands in a room of one steady warmth, so that warmth is a number of units a day. The take is integrated over by the
midpoints of a fine grid; every sum is a loop over days; the normal comes from ``math``. Days are counted from the cut.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

GRID = 1500  # midpoints of the take


def normal(z: float) -> float:
    """The standard normal's share below ``z``."""
    return 0.5 * math.erfc(-z / math.sqrt(2))


def beta_response(c: float, least: float, best: float, most: float) -> float:
    """Yan & Hunt 1999 (from memory): 1 at the best temperature, nothing at either end."""
    if not least < c < most:
        return 0.0
    return (most - c) / (most - best) * ((c - least) / (best - least)) ** ((best - least) / (most - best))


@dataclass(frozen=True)
class Way:
    """A way of rooting in one room: units a day; the medians in units and the sigmas of rooting and establishing; days
    to harden; the take's mean, and how many cuttings it is worth."""

    a_day: float
    rooting: tuple[float, float]
    establish: tuple[float, float]
    harden: int
    take: tuple[float, float]

    def rooted(self, day: float) -> float:
        """Of those that root at all, the share that has by the end of a day."""
        return _reached(self.a_day * (day + 1), *self.rooting)

    def failed(self, day: float) -> float:
        """Of those that never will, the share that has shown it: twice the median, a spread of 0.5 (assumed)."""
        return _reached(self.a_day * (day + 1), 2 * self.rooting[0], 0.5)

    def ready(self, potted: int, day: int) -> float:
        """The chance that one potted on a day is established and hardened by another."""
        days = day - self.harden - potted
        return _reached(self.a_day * days, *self.establish) if days > 0 else 0.0


def _reached(units: float, median: float, sigma: float) -> float:
    return normal(math.log(units / median) / sigma) if units > 0 else 0.0


@dataclass(frozen=True)
class Stand:
    """How a batch stands: those waiting, those that ever rooted, those lost for no accident before rooting, the day of
    the last look (−1: none); then of those further on (day they came there, how many)."""

    waiting: int
    rooted_ever: int
    lost_waiting: int
    looked: int
    rooted: list[tuple[int, int]]
    potted: list[tuple[int, int]]
    hardening: list[tuple[int, int]]
    out: list[tuple[int, int]]


def takes(way: Way, stand: Stand, as_of: int) -> list[tuple[float, float]]:
    """The takes, each with its belief after what was seen, were those waiting still so on a day (−1: never seen)."""
    mean, worth = way.take
    rooted, failed = (way.rooted(as_of), way.failed(as_of)) if as_of >= 0 else (0.0, 0.0)
    found = []
    for i in range(GRID):
        s = (i + 0.5) / GRID
        log = (mean * worth - 1) * math.log(s) + ((1 - mean) * worth - 1) * math.log(1 - s)
        log += stand.waiting * math.log(s * (1 - rooted) + (1 - s) * (1 - failed) + 1e-300)
        log += stand.rooted_ever * math.log(s) + stand.lost_waiting * math.log(1 - s)
        found.append((s, log))
    top = max(log for _, log in found)
    weights = [math.exp(log - top) for _, log in found]
    whole = sum(weights)
    return [(s, weight / whole) for (s, _), weight in zip(found, weights, strict=True)]


def hope_of(way: Way, s: float, as_of: int) -> float:
    """Of one still waiting on a day, the chance that it roots yet, were the take ``s``."""
    if as_of < 0:
        return s
    will, wont = s * (1 - way.rooted(as_of)), (1 - s) * (1 - way.failed(as_of))
    return will / (will + wont) if will + wont else 0.0


def hope(way: Way, stand: Stand, as_of: int) -> float:
    """The same over all takes."""
    return sum(weight * hope_of(way, s, as_of) for s, weight in takes(way, stand, as_of))


def give_up_on(way: Way, stand: Stand) -> int | None:
    """The first day from the last look on which hope is below one in ten, should nothing more be seen."""
    first = max(stand.looked, 0)
    return next((day for day in range(first, first + 120) if hope(way, stand, day) < 0.10), None)


def root_on(way: Way, seen: int, day: int) -> float:
    """The chance that one which will root and had not when last seen does so on a day."""
    if day <= seen:
        return 0.0
    before = way.rooted(seen) if seen >= 0 else 0.0
    until = way.rooted(day - 1) if day > 0 else 0.0
    return (way.rooted(day) - max(until, before)) / (1 - before) if before < 1 else 0.0


def ready_counts(way: Way, stand: Stand, today: int, day: int) -> list[float]:
    """The chance of each number ready by a day, from none to all."""
    one = sum(
        root_on(way, stand.looked, k) * way.ready(max(k, today), day) for k in range(max(stand.looked, 0), day + 1)
    )
    mixed = [0.0] * (stand.waiting + 1)
    for s, weight in takes(way, stand, stand.looked):
        chance = hope_of(way, s, stand.looked) * one
        for j in range(stand.waiting + 1):
            mixed[j] += weight * math.comb(stand.waiting, j) * chance**j * (1 - chance) ** (stand.waiting - j)
    chances = [way.ready(today, day) for _, count in stand.rooted for _ in range(count)]
    chances += [way.ready(since, day) for since, count in stand.potted for _ in range(count)]
    chances += [float(day >= since + way.harden) for since, count in stand.hardening for _ in range(count)]
    chances += [float(day >= since) for since, count in stand.out for _ in range(count)]
    for chance in chances:
        mixed = [
            (mixed[j] if j < len(mixed) else 0.0) * (1 - chance) + (mixed[j - 1] * chance if j else 0.0)
            for j in range(len(mixed) + 1)
        ]
    return mixed


@dataclass(frozen=True)
class Aim:
    """What a batch is for: the day its plants are to be ready, whether they go out then, days from planting to crop."""

    day: int
    set_out: bool
    harvest: int


def due(way: Way, stand: Stand, aim: Aim, harvested: bool) -> list[tuple[int, str, int]]:
    """What is to be done, as day, deed and number: by the rules as a gardener would say them."""
    found: list[tuple[int, str, int]] = []
    if stand.waiting:
        end = give_up_on(way, stand)
        if end is not None and hope(way, stand, stand.looked) < 0.10:
            found.append((end, "give_up", stand.waiting))
        elif stand.looked < 0:
            found.append((first_day(way, 0.10), "first_look", stand.waiting))
        else:
            seen = way.rooted(stand.looked)
            later = max(first_day(way, max(seen + 0.10, 0.10)), 0) if seen < 0.90 else stand.looked + 7
            found.append((later, "next_look", stand.waiting))
    if stand.rooted:
        found.append((stand.rooted[0][0], "pot_on", sum(count for _, count in stand.rooted)))
    if stand.potted and way.harden:
        oldest = stand.potted[0][0]
        half = next(day for day in range(oldest, oldest + 400) if way.ready(oldest, day) >= 0.5) - way.harden
        found.append((max(half, aim.day - way.harden), "harden", sum(count for _, count in stand.potted)))
    if stand.hardening and aim.set_out:
        done = stand.hardening[0][0] + way.harden
        found.append((max(done, aim.day), "plant_out", sum(count for _, count in stand.hardening)))
    planted = stand.out
    if planted and aim.harvest and not harvested:
        found.append((planted[0][0] + aim.harvest, "harvest", sum(count for _, count in planted)))
    return sorted(found)


def first_day(way: Way, share: float) -> int:
    """The first day by whose end that share of those that root has."""
    return next(day for day in range(400) if way.rooted(day) >= share)
