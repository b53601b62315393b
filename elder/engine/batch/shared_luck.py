"""Batches of one mother, cut in one fortnight, share their luck: their take is drawn once for all of them.

Reckoned as independent, three poor batches would be three pieces of bad luck, where they are one: a weak mother, a hot
week. So the take is held, the counts of the batches are added up, and then they are averaged over it, weighed by what
all of them have shown.
"""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.batch.forecast import BatchForecast
from elder.engine.batch.settled import Settled
from elder.engine.chance.counting import convolve_counts

FORTNIGHT: Final = 14
LEAST: Final = 1e-300  # of a weight, where its log is taken


def lucks(cuts: Sequence[tuple[Hashable, date]]) -> list[int]:
    """For each batch, told by its mother and the day it was cut, the number of the luck it shares: a fortnight begins
    with the first cut of a mother that lies in no fortnight begun."""
    found = [0] * len(cuts)
    begun: dict[Hashable, tuple[date, int]] = {}
    for number, i in enumerate(sorted(range(len(cuts)), key=lambda i: cuts[i][1])):
        mother, day = cuts[i]
        first, name = begun.get(mother, (None, 0))
        if first is None or (day - first).days >= FORTNIGHT:
            begun[mother] = (day, number)
            name = number
        found[i] = name
    return found


def counts_together(forecasts: Sequence[BatchForecast | Settled], days: Sequence[Ints]) -> Floats:
    """The chance of each number ready of batches that share their luck, on some days, each given in days from each
    batch's own cut; shape (days, all taken + 1). Days before a batch's cut count none of it."""
    if len(forecasts) == 1:
        return _settled(forecasts[0].counts_on(days[0]), days[0])
    believed = [forecast for forecast in forecasts if isinstance(forecast, BatchForecast)]
    if len(believed) < len(forecasts):
        raise ValueError("what is settled shares its luck with nothing")
    cuttings = sum(forecast.ahead.state.taken for forecast in believed)
    logs, joint = _by_take(believed[0], days[0], cuttings)
    for forecast, at in zip(believed[1:], days[1:], strict=True):
        told, counts = _by_take(forecast, at, cuttings)
        logs, joint = logs + told, _added(joint, counts)
    logs = logs + np.log(np.maximum(believed[0].ahead.believe(cuttings).prior, LEAST))
    weights = np.exp(logs - logs.max())
    return np.asarray(np.einsum("t,tdn->dn", weights / weights.sum(), joint))


def _by_take(forecast: BatchForecast, at: Ints, cuttings: int) -> tuple[Floats, Floats]:
    """How much likelier each take makes what a batch has shown, as a log, and its counts were that the take."""
    held = np.clip(at, 0, len(forecast.rooted_by) - 1)
    prior, after, counts = forecast.ahead.by_take(held, cuttings)
    counts = np.where((at < 0)[None, :, None], np.eye(1, counts.shape[-1])[None], counts)
    return np.log(np.maximum(after, LEAST)) - np.log(np.maximum(prior, LEAST)), counts


def ready_together(forecasts: Sequence[BatchForecast | Settled], day: date) -> Floats:
    """The same on one day; shape (all taken + 1,)."""
    if len(forecasts) == 1:
        return forecasts[0].ready_on(day)
    at = [np.array([forecast.index(day)]) for forecast in forecasts]
    return np.asarray(counts_together(forecasts, at)[0])


def _settled(counts: Floats, days: Ints) -> Floats:
    counts = np.array(counts)
    counts[days < 0] = np.eye(1, counts.shape[-1])
    return counts


def _added(one: Floats, other: Floats) -> Floats:
    """The distribution of the sum, take by take and day by day."""
    return np.array(
        [[convolve_counts([one[t, d], other[t, d]]) for d in range(one.shape[1])] for t in range(one.shape[0])]
    )
