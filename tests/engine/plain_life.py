"""A batch's chances and due tasks, worked out plainly beside the engine: one number at a time, no arrays, no sharing.

It stands in a room of one steady warmth, so that warmth is a number of units a day. The take is integrated over by the
midpoints of a grid; its speed over eleven; every sum is a loop over days; the normal comes from ``math``. Days are
counted from the cut.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

GRID = 160  # midpoints of the take
SPEEDS = 11  # of a batch, evenly over 2.6 standard deviations on each side
SPEED_SD = 0.2


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

    def rooted(self, day: float, pace: float = 1.0) -> float:
        """Of those that root at all, the share that has by the end of a day, in a batch whose medians are ``pace``
        times the usual."""
        return _reached(self.a_day * (day + 1) / pace, *self.rooting)

    def failed(self, day: float, pace: float = 1.0) -> float:
        """Of those that never will, the share that has shown it: twice the median, a spread of 0.5 (assumed)."""
        return _reached(self.a_day * (day + 1) / pace, 2 * self.rooting[0], 0.5)

    def stands(self, potted: int, day: int, pace: float = 1.0) -> float:
        """The chance that one potted on a day is established by another."""
        return _reached(self.a_day * (day - potted) / pace, *self.establish) if day > potted else 0.0


def _reached(units: float, median: float, sigma: float) -> float:
    return normal(math.log(units / median) / sigma) if units > 0 else 0.0


# Tomato in a jar, in a room of 21 °C day and night: 7 to 14 days to roots and 8 to 14 to be established there, so those
# are its days as they stand. One in ten is 1.28155 sigmas off the middle.
UNITS = beta_response(21, 8, 25, 36)
JAR = Way(
    a_day=UNITS,
    rooting=(math.sqrt(7 * 14) * UNITS, math.log(14 / 7) / (2 * 1.28155)),
    establish=(math.sqrt(8 * 14) * UNITS, math.log(14 / 8) / (2 * 1.28155)),
    harden=7,
    take=(0.9, 20),
)


@dataclass(frozen=True)
class Stand:
    """How a batch stands: those waiting, those lost for no accident before rooting, the days of the looks; those that
    rooted (day seen, how many); then of those further on (day they came there, how many). ``hardened``: put out to
    harden (day, day potted, how many); ``opens``: the day from which hardening is worth while."""

    waiting: int
    lost_waiting: int
    looks: list[int]
    rooted_seen: list[tuple[int, int]]
    rooted: list[tuple[int, int]]
    potted: list[tuple[int, int]]
    hardening: list[tuple[int, int]]
    out: list[tuple[int, int]]
    hardened: list[tuple[int, int, int]]
    opens: int | None = None

    @property
    def looked(self) -> int:
        return self.looks[-1] if self.looks else -1

    def look_before(self, day: int) -> int:
        return max((look for look in self.looks if look < day), default=-1)

    @property
    def gap(self) -> int:
        """Days between looks: the median of those there were and the usual three."""
        gaps = sorted([3, *(b - a for a, b in zip(self.looks, self.looks[1:], strict=False))])
        middle = len(gaps) // 2
        return max(round(gaps[middle] if len(gaps) % 2 else (gaps[middle - 1] + gaps[middle]) / 2), 1)


def beliefs(way: Way, stand: Stand, as_of: int) -> list[tuple[float, float, float]]:
    """Pace, take and belief after what was seen, were those waiting still so on a day (−1: never seen)."""
    mean, worth = way.take
    found = []
    for k in range(SPEEDS):
        z = 2.6 * (2 * k / (SPEEDS - 1) - 1)
        pace = math.exp(SPEED_SD * z)
        log_pace = -z * z / 2 + _rooted_log(way, stand, pace) + _hardened_log(way, stand, pace)
        rooted, failed = (way.rooted(as_of, pace), way.failed(as_of, pace)) if as_of >= 0 else (0.0, 0.0)
        for i in range(GRID):
            s = (i + 0.5) / GRID
            log = log_pace + (mean * worth - 1) * math.log(s) + ((1 - mean) * worth - 1) * math.log(1 - s)
            log += stand.waiting * math.log(s * (1 - rooted) + (1 - s) * (1 - failed) + 1e-300)
            log += sum(count for _, count in stand.rooted_seen) * math.log(s) + stand.lost_waiting * math.log(1 - s)
            found.append((pace, s, log))
    top = max(log for _, _, log in found)
    whole = sum(math.exp(log - top) for _, _, log in found)
    return [(pace, s, math.exp(log - top) / whole) for pace, s, log in found]


def _rooted_log(way: Way, stand: Stand, pace: float) -> float:
    """Each that rooted did so between the look that saw it and the look before."""
    total = 0.0
    for day, count in stand.rooted_seen:
        before = stand.look_before(day)
        chance = way.rooted(day, pace) - (way.rooted(before, pace) if before >= 0 else 0.0)
        total += count * math.log(max(chance, 1e-12))
    return total


def _hardened_log(way: Way, stand: Stand, pace: float) -> float:
    """Those hardening stood by then, and most did not at the look before, where hardening was worth while; those that
    were not put out at the last look hardly stand: three in ten are late."""
    if stand.opens is None:
        return 0.0
    total = 0.0
    for day, potted, count in stand.hardened:
        before, chance = stand.look_before(day), way.stands(potted, day, pace)
        if before >= max(stand.opens, potted):
            chance -= 0.7 * way.stands(potted, before, pace)
        total += count * math.log(max(chance, 1e-12))
    for since, count in stand.potted:
        if stand.looked >= max(stand.opens, since):
            stood = way.stands(since, stand.looked, pace)
            total += count * math.log(0.3 * stood + 1 - stood)
    return total


def hope_of(way: Way, pace: float, s: float, as_of: int) -> float:
    """Of one still waiting on a day, the chance that it roots yet, were the pace and the take these."""
    if as_of < 0:
        return s
    will, wont = s * (1 - way.rooted(as_of, pace)), (1 - s) * (1 - way.failed(as_of, pace))
    return will / (will + wont) if will + wont else 0.0


def hope(way: Way, stand: Stand, as_of: int) -> float:
    """The same over all paces and takes."""
    return sum(weight * hope_of(way, pace, s, as_of) for pace, s, weight in beliefs(way, stand, as_of))


def give_up_on(way: Way, stand: Stand) -> int:
    """The first day from the last look on which hope is below one in ten, should nothing more be seen: by halving."""
    low = max(stand.looked, 0)
    if hope(way, stand, stand.looked) < 0.10:
        return low
    high = low + 200
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if hope(way, stand, middle) < 0.10 else (middle, high)
    return high


def _last_look(way: Way, stand: Stand, today: int, day: int) -> int:
    """The day on which hardening has to begin for plants to be ready on a day: at a look to come, today, or when it is
    first worth while, for then it is asked for; −1 where none is left."""
    asked = [today] if stand.opens is None else [today, stand.opens]
    seen_to = any(day == today for day, _, _ in stand.hardened)  # some were put out today, so the rest do not stand
    days = [one for one in asked if one >= today + seen_to]
    look = max(today, max(stand.looked, 0) + stand.gap)
    while look <= day - way.harden:
        days.append(look)
        look += stand.gap
    return max((one for one in days if one <= day - way.harden), default=-1)


def _ready_of_waiting(way: Way, stand: Stand, pace: float, today: int, day: int) -> float:
    """Of one that will root: found and potted at a look to come, established, hardened."""
    before = way.rooted(stand.looked, pace) if stand.looked >= 0 else 0.0
    look, total, left = max(today, max(stand.looked, 0) + stand.gap), 0.0, before
    while look <= day and before < 1:
        here = way.rooted(look, pace)
        total += (here - left) / (1 - before) * way.stands(look, _last_look(way, stand, today, day), pace)
        left, look = here, look + stand.gap
    return total


def _ready_of_potted(way: Way, stand: Stand, pace: float, since: int, today: int, day: int) -> float:
    """Of one potted and not yet hardening, which begins today at the soonest."""
    begun = _last_look(way, stand, today, day)
    if begun < 0:
        return 0.0
    stood = way.stands(since, begun, pace)
    if stand.opens is None or stand.looked < max(stand.opens, since):
        return stood
    then = way.stands(since, stand.looked, pace)
    return (0.3 * then + stood - then) / (0.3 * then + 1 - then)


# Of those with roots 19 in 20 come to stand, which is worth twenty plants: a Beta of that mean has the variance
# 0.95 × 0.05 / 21, and two shares that lie so far out on either side have both.
SPREAD = math.sqrt(0.95 * 0.05 / 21)
SURVIVALS = (0.95 - SPREAD, 0.95 + SPREAD)


def survives(way: Way, since: int, today: int, pace: float, survival: float) -> float:
    """Of one potted on a day and alive today, that it comes to stand: what is lost goes as the others come to stand."""
    return survival / (survival + (1 - survival) * (1 - way.stands(since, today, pace)))


def ready_counts(way: Way, stand: Stand, today: int, day: int) -> list[float]:
    """The chance of each number ready by a day, from none to all, over both shares that may come to stand."""
    both = [_counts(way, stand, today, day, survival) for survival in SURVIVALS]
    return [(one + other) / 2 for one, other in zip(*both, strict=True)]


def _counts(way: Way, stand: Stand, today: int, day: int, survival: float) -> list[float]:
    """The same for one such share: added up within each pace, then over all."""
    by_pace: dict[float, list[tuple[float, float]]] = {}
    for pace, s, weight in beliefs(way, stand, stand.looked):
        by_pace.setdefault(pace, []).append((s, weight))
    total: list[float] = []
    for pace, takes in by_pace.items():
        one = _ready_of_waiting(way, stand, pace, today, day)
        mixed = [0.0] * (stand.waiting + 1)
        for s, weight in takes:
            chance = survival * hope_of(way, pace, s, stand.looked) * one
            for j in range(stand.waiting + 1):
                mixed[j] += weight * math.comb(stand.waiting, j) * chance**j * (1 - chance) ** (stand.waiting - j)
        begun = _last_look(way, stand, today, day)
        chances = [survival * way.stands(today, begun, pace) for _, count in stand.rooted for _ in range(count)]
        for since, count in stand.potted:
            lives = survives(way, since, today, pace, survival)
            chances += [lives * _ready_of_potted(way, stand, pace, since, today, day)] * count
        chances += [float(day >= since + way.harden) for since, count in stand.hardening for _ in range(count)]
        chances += [float(day >= since) for since, count in stand.out for _ in range(count)]
        for chance in chances:
            mixed = [
                (mixed[j] if j < len(mixed) else 0.0) * (1 - chance) + (mixed[j - 1] * chance if j else 0.0)
                for j in range(len(mixed) + 1)
            ]
        total = mixed if not total else [a + b for a, b in zip(total, mixed, strict=True)]
    return total


def rooted_on_the_whole(way: Way, stand: Stand, day: int) -> float:
    """The share rooted by a day of those that will, over the paces as they are believed."""
    weights: dict[float, float] = {}
    for pace, _, weight in beliefs(way, stand, stand.looked):
        weights[pace] = weights.get(pace, 0.0) + weight
    return sum(weight * way.rooted(day, pace) for pace, weight in weights.items())


def established_on(way: Way, stand: Stand, since: int) -> int:
    """When half of those potted on a day stand, over the paces as they are believed."""
    weights: dict[float, float] = {}
    for pace, _, weight in beliefs(way, stand, stand.looked):
        weights[pace] = weights.get(pace, 0.0) + weight
    day = since
    while sum(weight * way.stands(since, day, pace) for pace, weight in weights.items()) < 0.5:
        day += 1
    return day


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
        if hope(way, stand, stand.looked) < 0.10:
            found.append((give_up_on(way, stand), "give_up", stand.waiting))
        elif stand.looked < 0:
            found.append((first_day(way, stand, 0.10), "first_look", stand.waiting))
        else:
            seen = rooted_on_the_whole(way, stand, stand.looked)
            later = first_day(way, stand, max(seen + 0.10, 0.10)) if seen < 0.90 else stand.looked + 7
            found.append((later, "next_look", stand.waiting))
    if stand.rooted:
        found.append((stand.rooted[0][0], "pot_on", sum(count for _, count in stand.rooted)))
    if stand.potted and way.harden:
        half = established_on(way, stand, stand.potted[0][0])
        found.append((max(half, aim.day - way.harden), "harden", sum(count for _, count in stand.potted)))
    if stand.hardening and aim.set_out:
        done = stand.hardening[0][0] + way.harden
        found.append((max(done, aim.day), "plant_out", sum(count for _, count in stand.hardening)))
    planted = stand.out
    if planted and aim.harvest and not harvested:
        found.append((planted[0][0] + aim.harvest, "harvest", sum(count for _, count in planted)))
    return sorted(found)


def first_day(way: Way, stand: Stand, share: float) -> int:
    """The first day by which that share of those that will root have."""
    day = 0
    while rooted_on_the_whole(way, stand, day) < share:
        day += 1
    return day
