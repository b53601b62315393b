"""The 365-day cut-day curve by the engine, beside a 10,000-draw Monte Carlo written plainly with numpy."""

from __future__ import annotations

from datetime import date
from typing import Any

import numpy as np
from scipy.stats import norm

from bench.table import Line, forget, timed
from elder.engine.chance.rooting_time import units_to_stage
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import doy0_range
from elder.engine.climate.frost import Frost, by_hand
from elder.engine.climate.normals import Normals
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place, units_per_day
from elder.engine.plan.curve import CutDay
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.setting import Setting

DRAWS = 10_000
TODAY = date(2027, 1, 1)
CLIMATE = Climate(
    52.6,
    -4.1,
    60,
    "Europe/London",
    Normals(
        (1.2, 1.0, 2.9, 4.9, 7.8, 10.7, 12.9, 12.8, 10.6, 7.6, 4.1, 2.0),
        (6.8, 7.6, 10.4, 13.6, 17.1, 20.0, 22.3, 22.2, 19.2, 14.6, 10.1, 7.5),
    ),
    Frost(by_hand(100, 121), by_hand(319, 299)),
)
SILL = Place("room", day_c=20, night_c=17)


def by_engine() -> SeasonPlan:
    """A whole plan with nothing kept from before."""
    forget()
    plan = plan_want(Want(8), Setting(TOMATO, TOMATO.methods[0], CLIMATE, SILL, SILL, TODAY))
    if not isinstance(plan, SeasonPlan):
        raise TypeError("eight tomatoes from January can be had")
    return plan


TOMATO = handbook()["tomato"]


def plan_by(wanted: int) -> SeasonPlan:
    """A plan for a date, so that no target is looked for."""
    plan = plan_want(Want(wanted, by=date(2027, 6, 1)), Setting(TOMATO, TOMATO.methods[0], CLIMATE, SILL, SILL, TODAY))
    if not isinstance(plan, SeasonPlan):
        raise TypeError("tomatoes by June can be had")
    return plan


def least_seconds(wanted: int) -> float:
    """What a plan takes where the year and the warmth are known, but no plan, nor any table of counts."""
    spent = []
    for _ in range(7):
        forget()
        plan_by(9)
        spent.append(timed(lambda: plan_by(wanted), 1)[0])
    return min(spent)


def by_simulation(plan: SeasonPlan) -> np.ndarray[Any, Any]:
    """The chance of every open cut day, each by 10,000 batches drawn cutting by cutting."""
    chance = np.random.default_rng(2027)
    method, take = TOMATO.methods[0], TOMATO.methods[0].take
    days = len(plan) + 120
    looks, sd = plan.raising.assumptions.look_every_days, plan.raising.assumptions.speed_sd
    daily = units_per_day(SILL, CLIMATE, TOMATO.cardinals)[doy0_range(plan.start, days)]
    total = np.concatenate(([0.0], np.cumsum(daily)))
    rooting, establish = (units_to_stage(pair, TOMATO.cardinals) for pair in (method.rooting, method.establish))
    target = plan.index(plan.target)
    found = np.zeros(len(plan))
    for cut in range(len(plan)):
        count = int(plan.counts[cut])
        if not count:
            continue
        shares = chance.beta(take.mean * take.weight, (1 - take.mean) * take.weight, (DRAWS, 1))
        takes = chance.random((DRAWS, count)) < shares
        pace = np.exp(sd * chance.standard_normal((DRAWS, 1)))
        to_root = pace * rooting.median * np.exp(rooting.sigma * chance.standard_normal((DRAWS, count)))
        rooted = np.searchsorted(total, total[cut + method.dry_days] + to_root) - 1
        to_establish = pace * establish.median * np.exp(establish.sigma * chance.standard_normal((DRAWS, count)))
        phase = cut + chance.integers(0, looks, (DRAWS, 1))
        potted = phase + -(-np.maximum(rooted - phase, 0) // looks) * looks
        established = np.searchsorted(total, total[np.minimum(potted + 1, days)] + to_establish) - 1
        ready = takes & (established + method.harden_days <= target)
        found[cut] = (ready.sum(axis=1) >= plan.want.wanted).mean()
    return found


def lines() -> list[Line]:
    """Both times, and the largest difference in chance beside its sampling error."""
    engine_s, plan = timed(by_engine, 7)
    simulation_s, simulated = timed(lambda: by_simulation(plan), 1)
    open_days = np.flatnonzero(plan.standing != CutDay.CLOSED)
    reckoned = np.array([plan.option(option.day).chance for option in plan.options])[open_days]
    gaps = np.abs(reckoned - simulated[open_days])
    error = np.sqrt(reckoned * (1 - reckoned) / DRAWS)
    # Over all the days together, a right engine passes this but once in a thousand runs (Bonferroni).
    # The engine's eighty scenarios err by 0.006 besides.
    allowed = norm.isf(0.0005 / len(open_days)) * error + 0.006
    worst = int(np.argmax(gaps / np.maximum(allowed, 1e-12)))
    within = "within" if (gaps <= allowed).all() else "OUTSIDE"
    note = (
        f"aim 0.02 × or less; {len(open_days)} open days; worst difference {gaps[worst]:.4f} of {allowed[worst]:.4f} "
        f"allowed, {within} sampling error"
    )
    rival = f"Monte Carlo, {DRAWS:,} draws a day"
    few, *many = (least_seconds(number) for number in (8, 50, 150, 300, 370))
    asap, _ = timed(by_engine, 5)
    return [
        *(
            Line("cut days, by a date", f"{number} plants", seconds, "8 plants", few, "aim 2 × or less")
            for number, seconds in zip((50, 150, 300, 370), many, strict=True)
        ),
        Line("as soon as it is safe", "8 plants", asap, "by a date", few, "all targets, then one column more"),
        Line("cut days", f"{len(plan)} days, nothing kept", engine_s, rival, simulation_s, note),
    ]
