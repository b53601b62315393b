"""A load shared out over journeys, beside trying every way there is; and the batches of a promise, likewise."""

from __future__ import annotations

import itertools

import numpy as np
from scipy.stats import binom

from bench.table import Line as Row
from bench.table import timed
from elder.engine.year.load import Thing, Vehicle, load_plan
from elder.engine.year.promises import Spare, to_reserve

WEIGHTS = (50, 50, 40, 40, 30, 20, 20)
FLOOR = Vehicle(250, 130, None, 100)


def by_trying() -> int:
    """The fewest journeys by weight alone, every sharing out tried."""
    for count in range(1, len(WEIGHTS) + 1):
        for choice in itertools.product(range(count), repeat=len(WEIGHTS)):
            trips = np.bincount(choice, weights=WEIGHTS, minlength=count)
            if trips.max() <= FLOOR.carries_kg:
                return count
    return len(WEIGHTS)


def lines() -> list[Row]:
    """Seven things in as few journeys; forty crates; twelve batches weighed and thirty taken fullest first."""
    few = [Thing(i, f"pot {i}", 40, 40, 60, kg) for i, kg in enumerate(WEIGHTS)]
    few_s, plan = timed(lambda: load_plan(few, FLOOR, limit_kg=50), 5)
    all_s, fewest = timed(by_trying, 3)
    if len(plan.journeys) != fewest:
        raise ArithmeticError(f"the two do not agree: {len(plan.journeys)} and {fewest}")
    crates = [Thing(i, f"crate {i}", 60, 40, 30, 15) for i in range(40)]
    many_s, many = timed(lambda: load_plan(crates, Vehicle(250, 130, None, 500)), 3)
    spares = [Spare(i, binom.pmf(np.arange(9), 8, 0.5)) for i in range(30)]
    weighed_s, weighed = timed(lambda: to_reserve([], spares[:12], 20, 0.9), 3)
    taken_s, taken = timed(lambda: to_reserve([], spares, 20, 0.9), 3)
    said = f"{fewest} journeys"
    return [
        Row("loads", "7 pots in the fewest journeys", few_s, "every sharing out, weight alone", all_s, said),
        Row("loads", "40 crates", many_s, "7 pots", few_s, f"{len(many.journeys)} journeys"),
        Row("loads", "12 batches, every choice", weighed_s, "30, fullest first", taken_s,
            f"{len(weighed)} and {len(taken)} batches"),
    ]  # fmt: skip
