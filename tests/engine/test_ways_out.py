"""Ways out of a shortfall, against distributions small enough to add up by hand."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from scipy import stats

from elder.engine.batch.forecast import forecast
from elder.engine.batch.history import replay
from elder.engine.batch.remedies import CutsAhead, TopUp, fewer, later, top_up, warmer
from elder.engine.batch.state import BatchState, Entry
from elder.engine.chance.counting import Take, chance_of
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place
from elder.engine.setting import Setting

TARGET = date(2027, 5, 1)


def coins(count: int, chance: float) -> Any:
    return stats.binom.pmf(np.arange(count + 1), count, chance)


@pytest.mark.parametrize(("confidence", "expected"), [(0.9, 3), (0.95, 2), (0.5, 5), (0.999, 1)])
def test_accepting_fewer_is_the_binomials_own_quantile(confidence: float, expected: int) -> None:
    """Ten fair coins: P(≥3) = 968/1024 = 0.945, P(≥4) = 848/1024, P(≥5) = 638/1024, P(≥2) = 1013/1024,
    P(≥1) = 1023/1024."""
    assert fewer([coins(10, 0.5)], confidence) == expected
    assert fewer([coins(4, 0.5), coins(6, 0.5)], confidence) == expected, "two batches add by convolution"


def test_none_are_sure_enough() -> None:
    assert fewer([coins(3, 0.1)], 0.9) == 0


def test_accepting_later_finds_the_first_day_that_will_do() -> None:
    def on(day: date) -> list[Any]:
        return [coins(10, min(0.5 + 0.02 * (day - TARGET).days, 0.95))]

    found = later(on, 8, 0.9, target=TARGET, shuts=None)
    assert found is not None
    assert chance_of(on(found), 8) >= 0.9
    assert chance_of(on(found - timedelta(days=1)), 8) < 0.9
    assert later(on, 8, 0.9, target=TARGET, shuts=TARGET + timedelta(days=3)) is None
    assert later(on, 11, 0.9, target=TARGET, shuts=None) is None
    assert later(on, 8, 0.9, target=TARGET, shuts=TARGET) is None


def test_warmth_is_worth_its_days_or_not_said(north: Any) -> None:
    plant = handbook()["tomato"]
    state = replay([Entry("a", "taken", date(2027, 4, 1), 8)], today=date(2027, 4, 3))
    assert isinstance(state, BatchState)

    def standing(celsius: float) -> Any:
        place = Place("room", day_c=celsius, night_c=celsius)
        return forecast(state, Setting(plant, plant.methods[0], north, place, place, date(2027, 4, 3)))

    gain = warmer(standing(16), standing(24), chance=0.8)
    assert gain is not None
    assert gain.days == (standing(16).root_day(0.5) - standing(24).root_day(0.5)).days
    assert warmer(standing(23), standing(24), chance=0.8) is None, "too little to carry them for"
    assert warmer(standing(24), standing(16), chance=0.8) is None


def by_laws(have: Any, wanted: int, take: Take, extra: int, ready: Any) -> float:
    """The chance of enough from the laws themselves: how many take, how many of those are ready, how many there are."""
    found = 0.0
    for q in ready:
        for j in range(extra + 1):
            ways = stats.betabinom.pmf(j, extra, take.mean * take.weight, (1 - take.mean) * take.weight)
            there = sum(have[k] * stats.binom.sf(wanted - k - 1, j, q) for k in range(len(have)))
            found += ways * there / len(ready)
    return float(found)


@pytest.mark.parametrize(("wanted", "confidence", "mean"), [(6, 0.9, 0.7), (4, 0.8, 0.35), (9, 0.5, 0.9)])
def test_how_many_more_by_the_laws_themselves(wanted: int, confidence: float, mean: float) -> None:
    have, take = np.array([0.1, 0.25, 0.3, 0.35]), Take(mean, 12.0)
    ready = np.array([[1.0, 0.95, 0.9, 0.5, 0.02], [0.98, 0.9, 0.7, 0.3, 0.0], [1.0, 0.99, 0.85, 0.6, 0.05]])
    can = np.array([False, True, True, True, True])
    best = next(n for n in range(1, 200) if by_laws(have, wanted, take, n, np.ones(1)) >= confidence)
    helps = [d for d in range(5) if can[d] and by_laws(have, wanted, take, 3 * best, ready[:, d]) >= confidence]
    count = next(n for n in range(1, 200) if by_laws(have, wanted, take, n, ready[:, helps[0]]) >= confidence)
    found = top_up([have], wanted, confidence, CutsAhead(TARGET, ready, can, take))
    lasts = [d for d in range(5) if can[d] and by_laws(have, wanted, take, count, ready[:, d]) >= confidence]
    days = (TARGET + timedelta(days=day) for day in (helps[0], lasts[-1], helps[-1]))
    assert found == TopUp(count, *days, 3 * best)


def test_no_more_are_cut_than_anybody_cuts() -> None:
    """One in ten takes: 479 are surely enough for 40, and three times as many nobody cuts."""
    ready = np.array([[1.0, 0.97, 0.9]])
    every = CutsAhead(TARGET, ready, np.ones(3, dtype=bool), Take(0.1, np.inf))
    sure = next(n for n in range(1, 600) if stats.binom.sf(39, n, 0.1) >= 0.9)
    assert sure == 479
    found = top_up([], 40, 0.9, every)
    assert found == TopUp(479, TARGET, TARGET, TARGET + timedelta(days=1), 500)
    assert [bool(stats.binom.sf(39, 500, 0.1 * q) >= 0.9) for q in ready[0]] == [True, True, False]
    assert top_up([], 60, 0.9, every) is None
