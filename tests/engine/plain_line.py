"""A line multiplied the plain way: day by day, plant group by plant group; the same as simulated seasons; and seasons
in which every cutting is ready on a day of its own, by the engine's law of rooting."""

from __future__ import annotations

from collections import defaultdict
from datetime import timedelta

import numpy as np

from elder.engine.chance.ready_by import ready_from_cut
from elder.engine.setting import Setting
from elder.engine.year.days_to_plant import FOLLOWED_DAYS
from elder.engine.year.line import Line


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


def lived_by_plan(
    setting: Setting, line: Line, lots: list[tuple[int, int]], days: int, *, mother: tuple[int, int], seasons: int
) -> np.ndarray:
    """Plants on the last day where a gardener cuts what a plan says on its days, and no more, while every cutting is
    ready on a day of its own: in one possible year a season, each lot with its own speed and take. ``mother`` gives so
    many and again after so many days; ``lots``: (day, count)."""
    draw = np.random.default_rng(5)
    raising, take = setting.raising(harden=False), line.take
    start = setting.today
    ready_of = {day: ready_from_cut(raising, start + timedelta(days=day), FOLLOWED_DAYS).ready for day, _ in lots}
    years_of = {day: raising.scenarios(start + timedelta(days=day + FOLLOWED_DAYS // 3)).year for day, _ in lots}
    found = np.empty(seasons)
    for season in range(seasons):
        year = draw.choice(next(iter(years_of.values())))
        ready: list[float] = []
        cut_on: list[int] = []
        mother_on = -10_000
        for day, count in lots:
            of_mother = min(mother[0], count) if day - mother_on >= mother[1] else 0
            mother_on = day if of_mother else mother_on
            may = [
                i
                for i, on in enumerate(ready)
                if on + line.first_take_days <= day and cut_on[i] + line.again_days <= day
            ]
            cutters = may[: -(-(count - of_mother) // line.gives)]
            for i in cutters:
                cut_on[i] = day
            cuttings = min(of_mother + line.gives * len(cutters), count)
            took = draw.binomial(cuttings, draw.beta(take.mean * take.weight, (1 - take.mean) * take.weight))
            speed = draw.choice(np.flatnonzero(years_of[day] == year))
            by_day, luck = ready_of[day][speed], draw.random(took)
            ready += np.where(luck < by_day[-1], day + np.searchsorted(by_day, luck), 10_000).tolist()
            cut_on += [-10_000] * took
        found[season] = 1 + sum(on <= days for on in ready)
    return found
