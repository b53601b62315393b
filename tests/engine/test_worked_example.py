"""The worked example of the model, held to its last digit shown."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest

from elder.engine.assumptions import Assumptions
from elder.engine.chance.count_table import count_table
from elder.engine.chance.counting import Take, chance_at_least, cuttings_needed
from elder.engine.chance.ready_by import Raising, first_day_at, ready_by_target, ready_from_cut
from elder.engine.chance.rooting_time import DaysAt, hope, units_to_stage
from elder.engine.climate.climate import Climate
from elder.engine.climate.normals import daily_normals
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place, units_per_day
from elder.engine.setting import Setting
from tests.engine.conftest import EXAMPLE_CARDINALS

TAKE = Take(0.9, 20)  # Beta(18, 2)
READY_DAYS = [25, 30, 35, 40, 45]


def test_daily_normals(north: Climate) -> None:
    low, high = daily_normals(north.normals)
    assert [round(float(low[105]), 2), round(float(high[105]), 2)] == [4.94, 13.66]


def test_units_of_a_pot_outdoors(north: Climate) -> None:
    units = units_per_day(Place("air"), north, EXAMPLE_CARDINALS)
    assert [round(float(units[doy]), 4) for doy in (74, 105, 135, 166)] == [0.0247, 0.1237, 0.2951, 0.5054]


def test_units_of_a_room(north: Climate, sill: Place) -> None:
    assert round(float(units_per_day(sill, north, EXAMPLE_CARDINALS)[0]), 4) == 0.7731


@pytest.mark.parametrize(
    ("days", "median", "sigma"), [(DaysAt(7, 14, 21), 8.918, 0.2704), (DaysAt(8, 14, 21), 9.534, 0.2183)]
)
def test_days_as_units(days: DaysAt, median: float, sigma: float) -> None:
    stage = units_to_stage(days, EXAMPLE_CARDINALS)
    assert (round(stage.median, 3), round(stage.sigma, 4)) == (median, sigma)


CUT = date(2027, 1, 1)


@pytest.fixture(scope="module")
def raising(north: Climate, tomato: Plant, sill: Place) -> Raising:
    """In the year of the normals, with batches of one speed, looked at daily."""
    return Setting(tomato, tomato.methods[0], north, sill, sill, CUT, Assumptions.ideal()).raising()


@pytest.fixture(scope="module")
def ready(raising: Raising) -> list[float]:
    return [float(ready_from_cut(raising, CUT, 120).ready[0, day]) for day in READY_DAYS]


def test_rooted_days(raising: Raising) -> None:
    rooted = ready_from_cut(raising, CUT, 120).mean_rooted
    assert [int(first_day_at(rooted, level)) for level in (0.1, 0.5, 0.9)] == [8, 11, 16]


def test_chance_of_being_ready(ready: list[float]) -> None:
    assert [round(chance, 4) for chance in ready] == [0.0606, 0.4318, 0.8249, 0.9681, 0.9958]


def test_every_cut_day_for_one_target_says_the_same(raising: Raising, ready: list[float]) -> None:
    # In a steady room a cut d days before the target is as far as one cut on the first day after d days.
    target = CUT + timedelta(days=60)
    column = ready_by_target(raising, CUT, 61, target)
    assert column.shape == (1, 61)
    assert [float(column[0, 60 - day]) for day in READY_DAYS] == pytest.approx(ready, abs=1e-12)


def test_counts_read_off_the_table(ready: list[float]) -> None:
    table = count_table(8, TAKE, 0.9)
    assert table is not None
    assert (table.least, table.most) == (11, 33)
    # 217 is past three times the least, so the day is closed.
    assert table.counts(np.array([ready])).tolist() == [0, 29, 14, 11, 11]


def test_counts(ready: list[float]) -> None:
    counts = [cuttings_needed(8, chance_ready=chance, take=TAKE, confidence=0.9) for chance in ready]
    assert counts == [217, 29, 14, 11, 11]


def test_least_count_and_its_chance() -> None:
    assert cuttings_needed(8, chance_ready=1.0, take=TAKE, confidence=0.9) == 11
    assert round(float(chance_at_least(8, 11, chance_ready=1.0, take=TAKE)), 4) == 0.9528


def test_hope() -> None:
    rooting = units_to_stage(DaysAt(7, 14, 21), EXAMPLE_CARDINALS)
    medians = np.array([0, 1, 1.5, 2, 3]) * rooting.median
    assert [round(float(h), 3) for h in hope(medians, take=0.9, rooting=rooting)] == [0.900, 0.831, 0.456, 0.085, 0.001]
