"""Edges that nothing else stood on: what was given away, the last day a top-up helps, wood where there is no winter."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from scipy.stats import binom

from elder.engine.batch.forecast import forecast
from elder.engine.batch.remedies import CutsAhead, TopUp, top_up
from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.climate.frost import FROST_FREE
from elder.engine.climate.normals import Normals, daily_normals
from elder.engine.plan.wood import wood_in_season
from elder.engine.setting import Setting
from tests.engine.test_care import SILL, STUCK, Bench


def test_what_was_given_away_counts_as_ready_from_that_day(north: Any) -> None:
    # Four rooted and potted, of which two were given away on day 20: two are ready then for certain, and no more.
    batch = Bench(north).did("rooted", 9, 4).did("lost", 9, 4, stage="waiting").did("potted", 10, 4).did("given", 20, 2)
    today = STUCK + timedelta(days=20)
    found = forecast(batch.state(20), Setting(batch.plant, batch.method, batch.climate, SILL, SILL, today))
    assert found.ready_on(today).tolist()[:2] == [0, 0]
    assert found.ready_on(today)[2] == pytest.approx(1, abs=1e-3)
    assert found.ready_on(today - timedelta(days=1))[0] == pytest.approx(1, abs=1e-3)
    assert found.ready_on(today + timedelta(days=60))[4] == pytest.approx(1, abs=1e-3)


# One cut on a day and taking is ready in time by these chances; there is no wood on the first day. Nine in ten of nine
# in ten: three cut on the second day give two with 0.905. Nine, three times three, still do where half are in time, by
# 0.962; where three in ten are, with 0.745, they do not. Binomial by hand, beside scipy's.
def test_when_to_cut_more_and_until_when_it_helps() -> None:
    ready = np.array([0.95, 0.9, 0.5, 0.3, 0.0])
    more = CutsAhead(date(2027, 5, 1), ready, np.array([False, True, True, True, True]), Take(0.9, 1e6))
    assert binom.sf(1, 2, 0.81) < 0.9 <= binom.sf(1, 3, 0.81)
    assert binom.sf(1, 9, 0.27) < 0.9 <= binom.sf(1, 9, 0.45)
    nothing_yet = [np.array([1.0])]
    assert top_up(nothing_yet, 2, 0.9, more) == TopUp(3, date(2027, 5, 2), date(2027, 5, 3))
    # With one in hand for certain one more is wanted: two on that day (0.964); three times one do until the same day.
    assert binom.sf(0, 1, 0.81) < 0.9 <= binom.sf(0, 2, 0.81)
    assert top_up([np.array([0.0, 1.0])], 2, 0.9, more) == TopUp(2, date(2027, 5, 2), date(2027, 5, 2))
    assert top_up(nothing_yet, 2, 0.9, CutsAhead(more.start, ready, ready < 0, more.take)) is None


@pytest.mark.parametrize("coolest_month", [1, 4, 7, 10])
def test_without_a_winter_wood_rests_in_the_coolest_ninety_days(coolest_month: int) -> None:
    monthly = 24 - 3 * np.cos(2 * np.pi * (np.arange(12) - coolest_month) / 12)
    climate = Climate(-5.0, 120.0, 5, "Asia/Makassar", Normals(tuple(monthly - 4), tuple(monthly + 4)), FROST_FREE)
    resting = wood_in_season(climate, "dormant", stock_indoors=False)
    low, high = daily_normals(climate.normals)
    mean = (low + high) / 2
    sums = [np.roll(mean, -day)[:90].sum() for day in range(365)]
    coolest = set((int(np.argmin(sums)) + np.arange(90)) % 365)
    assert resting.sum() == 90
    # The engine looks at a smoothed year, so a day at either end may differ.
    assert len(coolest - set(np.flatnonzero(resting))) <= 2
    # Growth begins on the day after the rest, and soft wood is its first two fifths: 110 days of 275.
    soft = wood_in_season(climate, "softwood", stock_indoors=False)
    last = next(int(day) for day in np.flatnonzero(resting) if not resting[(day + 1) % 365])
    assert set(np.flatnonzero(soft)) == set((last + 1 + np.arange(110)) % 365)
