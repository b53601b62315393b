"""What else the engine is asked, each beside the same by plain loops, by trying everything, or by another library."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from typing import TypeVar

import numpy as np
from scipy.stats import boschloo_exact

from bench.curve import CLIMATE
from bench.table import Line, forget, timed
from elder.engine.batch.forecast import forecast
from elder.engine.batch.history import Entry, replay
from elder.engine.batch.remedies import CutsAhead, top_up
from elder.engine.batch.state import BatchState
from elder.engine.chance.count_table import READY_STEPS, histogram
from elder.engine.chance.counting import Take, chance_at_least
from elder.engine.climate.day_of_year import doy0_range
from elder.engine.climate.normals import daily_normals
from elder.engine.climate.years import possible_years
from elder.engine.handbook.loading import clonable, handbook
from elder.engine.keeping import STORE
from elder.engine.place.warmth import Place, units_per_day
from elder.engine.plan import windfall
from elder.engine.plan.cold import cold_of
from elder.engine.plan.material import Material
from elder.engine.plan.wintering import keeps_at, winter_least_c
from elder.engine.record.scoring import Outcome, scores
from elder.engine.record.trials import compare
from elder.engine.setting import Setting
from tests.engine.plain_life import JAR, Stand, beta_response, ready_counts

T = TypeVar("T")
TODAY = date(2027, 4, 6)
TOMATO = handbook()["tomato"]
ROOM = Place("room", day_c=21, night_c=21)
RACK = Place("air")
FRAME = Place("air", lift_day_c=5, lift_night_c=1.5)


def places(count: int) -> list[tuple[str, Place]]:
    """Places of which none is like another: rooms, covers and beds."""
    found = []
    for i in range(count):
        share = (i * 0.618) % 1
        room = Place("room", day_c=round(14 + 9 * share, 1), night_c=round(12 + 7 * share, 1))
        cover = Place("air", lift_day_c=round(8 * share, 1), lift_night_c=round(4 * share, 1))
        found.append((str(i), (room, cover, Place("ground", lift_day_c=round(2 * share, 1)))[i % 3]))
    return found


def fresh() -> None:
    """Nothing kept from before but the garden's year, which is made once and would hide all else."""
    forget()
    for count in (1, 20, 400):
        possible_years(CLIMATE, count)


def seconds(run: Callable[[], T], times: int) -> tuple[float, T]:
    """The least seconds of several runs, each with nothing kept but the year; and the last answer."""
    spent = []
    for _ in range(times):
        fresh()
        spent.append(timed(run, 1))
    return min(took for took, _ in spent), spent[-1][1]


def units_by_loops() -> float:
    """A year's units in a pot outdoors, hour by hour."""
    t_min, t_max = daily_normals(CLIMATE.normals)
    cardinals, total = TOMATO.cardinals, 0.0
    for low, high in zip(t_min.tolist(), t_max.tolist(), strict=True):
        for hour in range(24):
            warmth = (low + high) / 2 + (high - low) / 2 * math.cos(2 * math.pi * (hour + 0.5 - 15) / 24)
            total += beta_response(warmth, cardinals.t_min, cardinals.t_opt, cardinals.t_max) / 24
    return total


def warmth() -> Line:
    """A year's warmth at the roots."""
    ours_s, ours = timed(lambda: forget() or units_per_day(RACK, CLIMATE, TOMATO.cardinals), 5)
    loops_s, plain = timed(units_by_loops, 3)
    agree(float(ours.sum()), plain, 0.01)
    return Line("warmth", "a year in a pot outdoors", ours_s, "hour by hour", loops_s, "the same sum")


def years() -> Line:
    """Four hundred years made up, beside the draws they are made of."""
    ours_s, _ = timed(lambda: forget() or possible_years(CLIMATE, 400), 3)
    draws_s, _ = timed(lambda: np.random.RandomState(1958).standard_normal((2, 3, 1500 + 200 * 365)), 3)
    return Line("years", "400 years made up", ours_s, "their bare draws", draws_s, "once a garden")


def _state() -> BatchState:
    cut, days = TODAY, ((3, "looked", 0), (6, "looked", 0), (9, "rooted", 4), (9, "potted", 4), (12, "rooted", 3))
    told = [(0, "taken", 12), *days]
    entries = [
        Entry(key=f"{kind}{on}", kind=kind, on=cut + timedelta(days=on), count=count) for on, kind, count in told
    ]
    state = replay(entries, today=cut + timedelta(days=12))
    if not isinstance(state, BatchState):
        raise TypeError(str(state))
    return state


def under_way() -> Line:
    """What can come of a batch under way, on the fortieth day."""
    setting = Setting(TOMATO, TOMATO.method("jar"), CLIMATE, ROOM, ROOM, TODAY + timedelta(days=12))
    state = _state()
    stand = Stand(5, 0, [3, 6, 9, 12], [(9, 4), (12, 3)], [(12, 3)], [(9, 4)], [], [], [])
    ours_s, ours = seconds(lambda: forecast(state, setting), 5)
    loops_s, plain = timed(lambda: ready_counts(JAR, stand, 12, 40), 1)
    agree(float(ours.expected[40]), sum(i * p for i, p in enumerate(plain)), 0.3)
    return Line("batch", "a forecast, every day ahead", ours_s, "one day by loops", loops_s, "within 0.3 of a plant")


def in_the_hand() -> Line:
    """A piece in the hand at 18 places, of which none is like another."""
    spots, looked = places(18), windfall.LOOKED_AT
    basil = handbook()["basil"]
    setting = Setting(basil, basil.methods[0], CLIMATE, ROOM, ROOM, TODAY)
    piece = Material("shoot", 3, "soft", 40.0)

    def ask() -> object:
        return windfall.what_can_this_become(piece, setting, spots)

    ours_s, _ = seconds(ask, 3)
    windfall.LOOKED_AT = 10**6  # type: ignore[misc]  # every pair is looked at closely
    every_s, _ = seconds(ask, 1)
    windfall.LOOKED_AT = looked  # type: ignore[misc]
    return Line("windfall", "18 places, none like another", ours_s, "every pair closely", every_s, "aim at 40: 250 ms")


def nights() -> Line:
    """Nights to carry in before each cut day of a season, beside a count night by night."""
    setting = Setting(TOMATO, TOMATO.method("jar"), CLIMATE, FRAME, FRAME, TODAY)
    target, days = date(2027, 6, 20), 70

    def one_by_one() -> list[float]:
        # The nights from today alone: when half have rooted is the engine's to say, and costs what it costs.
        lows = possible_years(CLIMATE, setting.assumptions.years).t_min + FRAME.lift_night_c
        found = []
        for cut in range(days):
            when = doy0_range(TODAY + timedelta(days=cut), (target - TODAY).days - cut)
            found.append(sum(float(low[day]) < TOMATO.frost_limit_c for low in lows for day in when) / len(lows))
        return found

    ours_s, _ = seconds(lambda: cold_of(setting, TODAY, days, target), 3)
    loops_s, _ = seconds(lambda: one_by_one(), 1)
    return Line(
        "cold", "nights to carry in, 70 cut days", ours_s, "night by night", loops_s, "its own half rooted included"
    )


def winters() -> Line:
    """Every plant at forty places over the winter."""
    spots = [place for _, place in places(40) if place.standing == "air"]
    plants = list(clonable().values())

    def one_by_one() -> int:
        lows, kept = possible_years(CLIMATE, 400).t_min, 0
        for place in spots:
            lowest = [min(low) + place.lift_night_c for low in lows.tolist()]
            for plant in plants:
                kept += sum(low < winter_least_c(plant, place) for low in lowest) <= 0.1 * len(lowest)
        return kept

    ours_s, ours = seconds(lambda: sum(keeps_at(p, place, CLIMATE) for p in plants for place in spots), 3)
    loops_s, plain = seconds(lambda: one_by_one(), 1)
    agree(ours, plain, 0)
    what = f"{len(plants)} plants, {len(spots)} places"
    return Line("winter", what, ours_s, "night by night", loops_s, f"{ours} are kept, by both")


def trial() -> Line:
    """Two arms of forty, with the exact test of another library."""
    ours_s, ours = seconds(lambda: compare(31, 40, 22, 40), 3)
    theirs_s, theirs = timed(lambda: boschloo_exact([[31, 22], [9, 18]]), 1)
    agree(ours.p, theirs.pvalue, 0.002)
    return Line("trials", "two arms of 40", ours_s, "scipy's Boschloo alone", theirs_s, f"p {ours.p:.3f} by both")


def scored() -> Line:
    """Seven hundred and fifty forecasts scored, beside loops over each number of plants."""
    chance = np.random.default_rng(11)
    due = [Outcome(pmf := chance.dirichlet(np.ones(13)), 8, int(chance.choice(13, p=pmf))) for _ in range(750)]

    def loops() -> float:
        total = 0.0
        for one in due:
            below = 0.0
            for number, share in enumerate(one.forecast.tolist()):
                below += share
                total += (below - (one.came <= number)) ** 2
        return total / len(due)

    ours_s, ours = timed(lambda: scores([replace(one) for one in due]), 3)
    loops_s, plain = timed(loops, 3)
    agree(ours.crps, plain, 1e-9)
    return Line("record", "750 forecasts scored", ours_s, "by loops, CRPS alone", loops_s, "the same CRPS")


def ran_short() -> Line:
    """How many more for twelve of which some are there, beside a quadrature for each count that may be missing."""
    chance = np.random.default_rng(5)
    have = chance.dirichlet(np.ones(9))
    ready = np.sort(chance.uniform(0.3, 1.0, (40, 30)), axis=1)[:, ::-1]
    take, wanted = Take(0.7, 20.0), 12
    ahead = CutsAhead(TODAY, ready, np.ones(30, dtype=bool), take)

    def each_day(extra: int) -> float:
        missing = [wanted - there for there in range(len(have))]
        parts = [have[wanted - n] * chance_at_least(n, extra, chance_ready=READY_STEPS, take=take) for n in missing]
        return float(histogram(ready)[0] @ np.sum(parts, axis=0))

    ours_s, ours = timed(lambda: top_up([have], wanted, 0.9, ahead), 3)
    theirs_s, theirs = timed(lambda: next(n for n in range(1, 100) if each_day(n) >= 0.9), 1)
    agree(ours.count if ours else 0, theirs, 0)
    return Line("counts", "how many more, 30 days", ours_s, "a quadrature a count", theirs_s, f"{theirs} by both")


def agree(ours: float, theirs: float, within: float) -> None:
    """Raises ArithmeticError where the two sides answer another question, and a ratio would say nothing."""
    if abs(ours - theirs) > within:
        raise ArithmeticError(f"the two do not agree: {ours} and {theirs}")


def lines() -> list[Line]:
    """Each question once."""
    STORE.forget()
    return [warmth(), years(), under_way(), in_the_hand(), nights(), winters(), trial(), scored(), ran_short()]
