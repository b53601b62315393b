"""Recorded stations, described as a gardener would, and batches lived through in their years: to judge what is stated.

A station is told to Elder as twelve monthly means and two frost dates. Then whole batches are lived in every recorded
year, each with its own take and speed, each cutting with its own luck, looked at on days of its own. Nothing here is
shared with the engine but the handbook's facts. Stations: tests/data/README.md.
"""

from __future__ import annotations

import gzip
import math
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache
from pathlib import Path
from statistics import NormalDist

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from elder.engine.climate.climate import Climate
from elder.engine.climate.frost import Frost, FrostDates, by_hand
from elder.engine.climate.normals import Normals
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import Place

Array = NDArray[np.float64]
DATA = Path(__file__).parents[1] / "data"
STATIONS = {
    "brussels": (50.8, "Europe/Brussels"), "north-yorks": (54.2, "Europe/London"), "champion": (40.4, "America/Denver"),
    "cordoba": (-31.4, "America/Argentina/Cordoba"), "tunis": (36.8, "Africa/Tunis"),
}  # fmt: skip
PLACES = {
    "sill": Place("room", day_c=20, night_c=17),
    "air": Place("air"),
    "cover": Place("air", lift_day_c=6.0, lift_night_c=1.5),
}
# Plant, way, where it roots, where it grows on.
JOBS = (
    ("tomato", "jar", "sill", "cover"), ("basil", "jar", "sill", "air"), ("mint", "mix", "air", "air"),
    ("strawberry", "plug", "cover", "air"), ("rosemary", "mix", "cover", "air"),
)  # fmt: skip
HOURS = np.arange(24) + 0.5
LENGTHS = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])


@dataclass(frozen=True, eq=False)
class Station:
    """Daily lows and highs from ``first``, °C; the climate as its gardener describes it."""

    name: str
    first: date
    low: Array
    high: Array
    climate: Climate

    def starts(self, day: date, days: int, *, only: int | None = None) -> list[int]:
        """Where that day of the year stands in each recorded year with so many days after it; in one year only."""
        last = self.first.year + len(self.low) // 365 + 1
        years = range(self.first.year, last) if only is None else [only]
        at = [(date(year, day.month, min(day.day, 28)) - self.first).days for year in years]
        return [i for i in at if i >= 0 and i + days <= len(self.low)]

    def units(self, place: Place, plant: Plant, start: int, days: int) -> Array:
        """Units gained before each day from a start; shape (days + 1,)."""
        low, high = self.low[start : start + days], self.high[start : start + days]
        if place.standing == "room":
            hours = np.tile(np.where((HOURS > 7) & (HOURS < 22), place.day_c, place.night_c), (days, 1))
        else:
            low, high = low + place.lift_night_c, np.maximum(high, low) + place.lift_day_c
            hours = ((low + high) / 2)[:, None] + ((high - low) / 2)[:, None] * np.cos(2 * np.pi * (HOURS - 15) / 24)
        return np.concatenate(([0.0], np.cumsum(response(hours, plant).mean(axis=1))))


def response(t: Array, plant: Plant) -> Array:
    """Yan & Hunt 1999 (from memory)."""
    least, best, most = plant.cardinals.t_min, plant.cardinals.t_opt, plant.cardinals.t_max
    x = np.clip(t, least, most)
    return np.asarray((most - x) / (most - best) * ((x - least) / (best - least)) ** ((best - least) / (most - best)))


@lru_cache(maxsize=8)
def station(name: str) -> Station:
    """One of the stations shipped as test data."""
    with gzip.open(DATA / f"{name}.txt.gz", "rt") as file:
        rows = [line.split() for line in file.read().splitlines()[1:]]
    first = date(int(rows[0][2]), int(rows[0][1]), int(rows[0][0]))
    low, high = (np.array([float(row[i]) for row in rows]) for i in (3, 4))
    months = np.array([int(row[1]) for row in rows])
    means = [tuple(round(float(x[months == m].mean()), 1) for m in range(1, 13)) for x in (low, high)]
    middles = np.cumsum(LENGTHS) - LENGTHS / 2
    warm = np.array(means[0]) + np.array(means[1])
    curve = CubicSpline(np.append(middles, middles[0] + 365), np.append(warm, warm[0]), bc_type="periodic")
    midwinter = (int(curve(np.arange(365) + 0.5).argmax()) + 182) % 365
    plain = [i for i, row in enumerate(rows) if (row[1], row[0]) != ("2", "29")]
    doy = [(date(2001, int(rows[i][1]), int(rows[i][0])) - date(2001, 1, 1)).days for i in plain]
    begin = doy.index(midwinter)
    count = (len(plain) - begin) // 365
    years = low[plain][begin : begin + 365 * count].reshape(count, 365)
    latitude, zone = STATIONS[name]
    frost = Frost(_frost_date(years, midwinter, spring=True), _frost_date(years, midwinter, spring=False))
    return Station(name, first, low, high, Climate(latitude, 0.0, 0.0, zone, Normals(*means), frost))


def _frost_date(years: Array, midwinter: int, *, spring: bool) -> FrostDates | None:
    """The mean last (first) frost and the year in ten beyond it, as people know them; none where fewer than half
    the years have any: who is asked there says that it does not freeze."""
    half = years[:, :183] <= 0 if spring else years[:, 183:] <= 0
    at = 182 - half[:, ::-1].argmax(axis=1) if spring else 183 + half.argmax(axis=1)
    share = float(half.any(axis=1).mean())
    if share < 0.5:
        return None
    at = at[half.any(axis=1)]
    beyond = NormalDist().inv_cdf(1 - min(0.1 / share, 0.49)) * float(at.std(ddof=1))
    mean = (round(float(at.mean())) + midwinter) % 365
    return by_hand(mean, mean + max(round(beyond), 1) * (1 if spring else -1))


def law(days: object, plant: Plant) -> tuple[float, float]:
    """Median in units and log-sd of an early–late pair."""
    at = float(response(np.array([days.at_c]), plant)[0])  # type: ignore[attr-defined]
    early, late = float(days.early), float(days.late)  # type: ignore[attr-defined]
    return math.sqrt(early * late) * at, math.log(late / early) / (2 * 1.28155)


STAND = (19, 1)  # Beta of the share of a batch's rooted that comes to stand: 19 in 20, worth 20


@dataclass(frozen=True)
class Lived:
    """How batches are lived: the day cut, the day the plants are wanted, how many are cut and wanted, days between
    looks, log-sd of a batch's speed, batches a year; whether some are lost once they have roots."""

    cut: date
    target: date
    count: int
    wanted: int
    look: int
    sd: float
    batches: int
    loses: bool = True


def come_true(chance: np.random.Generator, at: Station, job: tuple[str, str, str, str], lived: Lived) -> float:
    """The share of batches, over all recorded years, with enough plants ready by the target."""
    plant = handbook()[job[0]]
    method, by = plant.method(job[1]), (lived.target - lived.cut).days
    days = by + 3 * lived.look + 6
    (root, root_sd), (stand, stand_sd) = law(method.rooting, plant), law(method.establish, plant)
    take, hits, shape = method.plant_take, [], (lived.batches, lived.count)
    survive = chance.beta(*STAND, (lived.batches, 1)) if lived.loses else 1.0
    for start in at.starts(lived.cut, days):
        u, v = (at.units(PLACES[place], plant, start, days) for place in job[2:])
        pace = np.exp(lived.sd * chance.standard_normal((lived.batches, 1)))
        shares = chance.beta(take.mean * take.weight, (1 - take.mean) * take.weight, (lived.batches, 1))
        takes = chance.random(shape) < shares
        lives = chance.random(shape) < survive
        rooted = (
            np.searchsorted(u, u[method.dry_days] + root * pace * np.exp(root_sd * chance.standard_normal(shape))) - 1
        )
        phase = chance.integers(0, lived.look, (lived.batches, 1))
        potted = np.minimum(phase + -(-np.maximum(rooted - phase, 0) // lived.look) * lived.look, days - 1)
        stands = np.searchsorted(v, v[potted + 1] + stand * pace * np.exp(stand_sd * chance.standard_normal(shape))) - 1
        ready = takes & lives & (rooted < days) & (stands + method.harden_days <= by)
        hits.append((ready.sum(axis=1) >= lived.wanted).mean())
    return float(np.mean(hits))


@dataclass
class LivedBatch:
    """One batch lived in one recorded year, cutting by cutting: the days, from the cut, on which each would root, be
    seen to have failed, stand (or die, potted); −1 for never. ``looks`` are the days on which somebody comes."""

    roots: list[int]
    fails: list[int]
    stands_after: list[Array]
    dies: list[bool]
    looks: list[int]
    harden: int
    units: Array

    def stands(self, i: int, potted: int) -> int:
        """The day on which the i-th stands, potted on a day."""
        return (
            int(np.searchsorted(self.units, self.units[min(potted + 1, len(self.units) - 1)] + self.stands_after[i]))
            - 1
        )


def lived_batch(
    chance: np.random.Generator, at: Station, job: tuple[str, str, str, str], cut: date, count: int, look: int
) -> LivedBatch:
    """A batch cut on a day of a year drawn from the record, with a take and a speed of its own (log-sd 0.2)."""
    plant = handbook()[job[0]]
    method: Method = plant.method(job[1])
    days = 330
    start = int(chance.choice(at.starts(cut, days)))
    u, v = (at.units(PLACES[place], plant, start, days) for place in job[2:])
    (root, root_sd), (stand, stand_sd) = law(method.rooting, plant), law(method.establish, plant)
    take, pace = method.plant_take, math.exp(0.2 * chance.standard_normal())
    share = chance.beta(take.mean * take.weight, (1 - take.mean) * take.weight)
    takes = chance.random(count) < share

    def reached(units: Array) -> list[int]:
        return [int(day) if day < days else -1 for day in np.searchsorted(u, u[method.dry_days] + units) - 1]

    roots = reached(pace * root * np.exp(root_sd * chance.standard_normal(count)))
    fails = reached(pace * 2 * root * np.exp(0.5 * chance.standard_normal(count)))
    first = int(chance.integers(1, look + 1))
    return LivedBatch(
        roots=[day if ok else -1 for day, ok in zip(roots, takes, strict=True)],
        fails=[-1 if ok else day for day, ok in zip(fails, takes, strict=True)],
        stands_after=list(pace * stand * np.exp(stand_sd * chance.standard_normal(count))),
        dies=list(chance.random(count) >= chance.beta(*STAND)),
        looks=list(range(first, days, look)),
        harden=method.harden_days,
        units=v,
    )


def day_of(cut: date, days: int) -> date:
    """A day counted from the cut."""
    return cut + timedelta(days=days)
