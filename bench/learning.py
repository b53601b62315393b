"""A garden's record learned: fifteen hundred batches, one more look, and a plain grid loop beside it."""

from __future__ import annotations

import math
from itertools import product

import numpy as np
from scipy.special import ndtr
from scipy.stats import beta

from bench.table import Line, forget, timed
from elder.engine.chance.counting import Take
from elder.engine.chance.rooting_time import Lognormal
from elder.engine.keeping import STORE
from elder.engine.record.learning import Prior, learn
from elder.engine.record.looks import Look

MANY, FEW = 1500, 30
PRIOR = Prior(Take(0.9, 10), Lognormal(9.0, 0.27))
Batch = tuple[Look, ...]


def _batches(count: int, seed: int = 16) -> list[Batch]:
    """Ten cuttings each, looked at every three units; a take of 0.7, a speed a sixth above the handbook's."""
    chance = np.random.default_rng(seed)
    found = []
    for _ in range(count):
        share, pace = chance.beta(11.2, 4.8), math.exp(0.2 * chance.standard_normal())
        will = chance.random(10) < share
        roots = 7.7 * pace * np.exp(0.27 * chance.standard_normal(10))
        fails = 15.4 * pace * np.exp(0.5 * chance.standard_normal(10))
        at, looks, before = np.where(will, roots, fails), [Look(0.0, 0, 0, 10)], 0.0
        for units in np.arange(3.0, 31.0, 3.0):
            new = (at > before) & (at <= units)
            waiting = int((at > units).sum())
            looks.append(Look(float(units), int((new & will).sum()), int((new & ~will).sum()), waiting))
            before = units
            if not waiting:
                break
        found.append(tuple(looks))
    return found


def plain_learn(batches: list[Batch]) -> float:
    """The mean take by a plain loop over takes, likenesses, medians, speeds and batches' own takes."""
    means, medians = np.linspace(0.02, 0.98, 25), np.exp(np.linspace(-0.9, 0.9, 13))
    shares, speeds = np.linspace(0.01, 0.99, 50), np.linspace(-2.6, 2.6, 9)
    total = np.zeros((len(means), len(PRIOR.alike), len(medians)))
    for i, m in enumerate(medians):
        likes = []
        for looks in batches:
            by_share = np.zeros(len(shares))
            for z in speeds:
                by_share += math.exp(-z * z / 2) * _likelihood(looks, 9.0 * m * math.exp(0.2 * z), shares)
            likes.append(by_share)
        for (j, mean), (k, kappa) in product(enumerate(means), enumerate(PRIOR.alike)):
            law = beta.pdf(shares, mean * kappa, (1 - mean) * kappa)
            total[j, k, i] = sum(math.log(float(law @ like) + 1e-300) for like in likes)
    total += np.log(beta.pdf(means, 9, 1))[:, None, None] - (np.log(medians) / 0.30) ** 2 / 2
    weights = np.exp(total - total.max())
    return float(weights.sum(axis=(1, 2)) @ means / weights.sum())


def _likelihood(looks: Batch, median: float, shares: np.ndarray) -> np.ndarray:
    found, before = np.ones(len(shares)), (0.0, 0.0)
    for look in looks[1:]:
        units = math.log(look.units / median)
        late, early = ndtr((units - math.log(2)) / 0.5), 1 - math.exp(-look.units / 9.0)
        now = float(ndtr(units / 0.27)), 0.8 * late + 0.2 * early
        found = found * (shares * max(now[0] - before[0], 1e-12)) ** look.rooted
        found = found * ((1 - shares) * max(now[1] - before[1], 1e-12)) ** look.lost
        before = now
    return found * (shares * (1 - before[0]) + (1 - shares) * (1 - before[1])) ** looks[-1].waiting


def lines() -> list[Line]:
    """Fifteen hundred at once, the same after one more look, and thirty beside the plain loop."""
    many, few = _batches(MANY), _batches(FEW, 3)
    whole_s, _ = timed(lambda: learn(PRIOR, many), 1)
    changed = [*many[:-1], _batches(1, 99)[0]]
    again_s, _ = timed(lambda: learn(PRIOR, changed), 1)
    STORE.forget()
    few_s, found = timed(lambda: learn(PRIOR, few), 1)
    plain_s, plain = timed(lambda: plain_learn(few), 1)
    if abs(found.mean_take.mean - plain) > 0.02:
        raise ArithmeticError("the two do not agree")
    forget()
    return [
        Line("record", "1,500 batches learned", whole_s, "again, after one more look", again_s, "aims: 1 s and 50 ms"),
        Line("record", f"{FEW} batches learned", few_s, "a plain grid loop", plain_s, "within 0.02 of its take"),
    ]
