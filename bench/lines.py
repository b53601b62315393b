"""Mint multiplied to five hundred by week, beside the same seasons lived one after the other."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np

from bench.table import Line as Row
from bench.table import timed
from elder.engine.chance.counting import Take
from elder.engine.year.line import Line, first_mothers
from elder.engine.year.multiply import LineWanted, enough, multiply

TODAY = date(2027, 4, 6)
MINT = Line(gives=4, again_days=28, first_take_days=28, days_to_plant=42, take=Take(0.85, 10))
DAYS, WANTED, SEASONS = 266, 500, 20_000


def lived(seasons: int = SEASONS) -> np.ndarray:
    """Plants on the last day of each season, one season after another."""
    draw = np.random.default_rng(17)
    found = np.empty(seasons)
    for season in range(seasons):
        ready, total = {0: 1}, 1
        for day in range(DAYS - MINT.days_to_plant + 1):
            plants = ready.pop(day, 0)
            if not plants:
                continue
            new = int(draw.binomial(plants * MINT.gives, draw.beta(8.5, 1.5)))
            total += new
            for after, count in ((MINT.again_days, plants), (MINT.days_to_plant + MINT.first_take_days, new)):
                ready[day + after] = ready.get(day + after, 0) + count
        found[season] = total
    return found


def by_week() -> list[float]:
    """The chance of five hundred by each week of it."""
    found = multiply(MINT, 1, WANTED, TODAY + timedelta(days=DAYS), TODAY)
    weeks = (TODAY + timedelta(days=7 * week) for week in range(1, DAYS // 7 + 1))
    return [found.growth.chance(WANTED, week) for week in weeks]


def lines() -> list[Row]:
    """To five hundred by week, both ways; and the fewest lots that do for a hundred."""
    week_s, chances = timed(by_week, 5)
    lived_s, totals = timed(lived, 1)
    plain = float((totals >= WANTED).mean())
    if abs(chances[-1] - plain) > 0.02:
        raise ArithmeticError(f"the two do not agree: {chances[-1]} and {plain}")
    asked = LineWanted(MINT, 100, TODAY + timedelta(days=DAYS), TODAY)
    few_s, plan = timed(lambda: enough(asked, first_mothers(1, TODAY)), 5)
    note = f"{len(plan.lots) if plan else 0} lots"
    return [
        Row("lines", "to 500 by week, 4,096 seasons", week_s, f"{SEASONS:,} one by one", lived_s, "within 0.02"),
        Row("lines", "the fewest lots to a hundred", few_s, "the whole line", week_s, note),
    ]
