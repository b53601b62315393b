"""A line multiplied the plain way, shared with nothing of the engine: day by day, plant group by plant group; and the
same as a simulated season."""

from __future__ import annotations

from collections import defaultdict

import numpy as np


def plain_totals(
    gives: int, again: int, first_take: int, to_plant: int, days: int, *, mothers: int = 1, take: float = 1.0
) -> tuple[dict[int, float], float]:
    """What is cut on each day, and the plants on the last, by the recursion on averages."""
    ready: dict[int, float] = defaultdict(float, {0: float(mothers)})
    cut, total = {}, float(mothers)
    for day in range(days - to_plant + 1):
        plants = ready.pop(day, 0.0)
        if plants:
            cut[day] = plants * gives
            total += cut[day] * take
            ready[day + again] += plants
            ready[day + to_plant + first_take] += cut[day] * take
    return cut, total


def lived_seasons(
    gives: int,
    again: int,
    first_take: int,
    to_plant: int,
    days: int,
    *,
    take: tuple[float, float],
    seasons: int = 20_000,
    room: int | None = None,
    keep: float = 0.0,
    seed: int = 8,
) -> np.ndarray:
    """Plants on the last day of each season, from one mother: every lot with its own take, every cutting with its own
    luck. ``room``: cuttings that may root at once; ``keep``: the share of clones left uncut at their last cut."""
    draw = np.random.default_rng(seed)
    a, b = take[0] * take[1], (1 - take[0]) * take[1]
    found = np.empty(seasons)
    useful = days - to_plant
    for season in range(seasons):
        firsts: dict[int, int] = {0: 1}
        clones: dict[int, int] = defaultdict(int)
        total, roots = 1, []
        for day in range(useful + 1):
            of_firsts, of_clones = firsts.pop(day, 0), clones.pop(day, 0)
            if not of_firsts and not of_clones:
                continue
            left = int(np.rint(of_clones * keep)) if keep and day + again > useful else 0
            cutters = of_clones - left
            asked = (of_firsts + cutters) * gives
            if room is not None:
                roots = [(until, count) for until, count in roots if until > day]
                fits = min(asked, max(room - sum(count for _, count in roots), 0))
                held = min(-(-(asked - fits) // gives), cutters)
                if held and roots:
                    clones[min(until for until, _ in roots)] += held
                cutters, asked = cutters - held, fits
                roots.append((day + to_plant, asked))
            new = draw.binomial(asked, draw.beta(a, b))
            total += new
            if of_firsts:
                firsts[day + again] = of_firsts
            clones[day + again] += cutters
            clones[day + to_plant + first_take] += new
        found[season] = total
    return found
