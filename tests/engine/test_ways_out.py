"""Ways out of a shortfall, against distributions small enough to add up by hand."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from scipy import stats

from elder.engine.batch.forecast import forecast
from elder.engine.batch.history import replay
from elder.engine.batch.remedies import fewer, later, warmer
from elder.engine.batch.state import BatchState, Entry
from elder.engine.chance.counting import chance_of
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
