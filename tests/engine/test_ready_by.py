"""Columns and rows of the season, scenario by scenario, against plain loops over days, looks and paces."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from elder.engine.assumptions import Assumptions
from elder.engine.chance.ready_by import first_day_at, ready_by_target, ready_from_cut
from elder.engine.chance.rooting_time import DaysAt, Lognormal, units_to_stage
from elder.engine.chance.scenarios import scenarios
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.place.possible_warmth import running_units
from elder.engine.place.readings import Readings
from elder.engine.place.warmth import Place
from elder.engine.setting import Setting
from tests.engine.plain_plan import Room

CUT = date(2027, 3, 1)
PLAIN = {"a_day": 0.77306, "rooting": (8.9180, 0.27044), "establish": (9.5341, 0.21834), "take": (18, 2)}


@pytest.mark.parametrize("looks", [1, 3, 7])
def test_a_column_by_loops_in_every_scenario(north: Climate, tomato: Plant, sill: Place, looks: int) -> None:
    assumed = Assumptions(look_every_days=looks)
    raising = Setting(tomato, tomato.methods[0], north, sill, sill, CUT, assumed).raising()
    target = CUT + timedelta(days=60)
    column = ready_by_target(raising, CUT, 90, target)
    pace = scenarios(north, assumed, target).pace
    room = Room(**PLAIN, harden=7, looks=looks, speed_sd=0.2)  # type: ignore[arg-type]
    assert column.shape == (80, 90)
    assert not column[:, 54:].any()  # too late to be hardened
    for scenario in (0, 17, 42, 79):
        for day in (0, 15, 22, 30, 38):
            plain = room.ready_by(60 - day, float(pace[scenario]))
            assert column[scenario, day] == pytest.approx(plain, abs=3e-3), (scenario, day)


def test_a_row_is_the_column_turned_round(north: Climate, tomato: Plant, sill: Place) -> None:
    cover = Place("air", lift_day_c=6, lift_night_c=1.5)
    raising = Setting(tomato, tomato.methods[0], north, sill, cover, CUT).raising()
    target = CUT + timedelta(days=70)
    # A row's years are ranked as for its middle third, so that one of 210 days agrees with that target's column.
    row = ready_from_cut(raising, CUT, 210)
    column = ready_by_target(raising, CUT, 30, target)
    assert row.ready[:, 70] == pytest.approx(column[:, 0], abs=1e-2)
    assert row.mean_ready[70] == pytest.approx(float(column[:, 0].mean()), abs=1e-3)
    assert row.ready_on(target) == pytest.approx(row.ready[:, 70])
    assert row.ready_on(CUT - timedelta(days=1)) == pytest.approx(row.ready[:, 0])
    assert row.ready_on(CUT + timedelta(days=999)) == pytest.approx(row.ready[:, -1])
    assert row.mean_rooted == pytest.approx(row.rooted.mean(axis=0))


def test_cuttings_that_dry_root_by_the_warmth_after(north: Climate, sill: Place) -> None:
    """A dragon fruit dries first: the same column as one that does not, so many days later."""
    plant = handbook()["dragon-fruit"]
    method = plant.methods[0]
    assert method.dry_days > 0
    raising = Setting(plant, method, north, sill, sill, CUT).raising()
    wet = ready_by_target(replace(raising, dry_days=0), CUT, 120, CUT + timedelta(days=200))
    dry = ready_by_target(raising, CUT, 120, CUT + timedelta(days=200))
    days = method.dry_days
    assert dry[:, : 120 - days] == pytest.approx(wet[:, days:], abs=1e-6)
    row = ready_from_cut(raising, CUT, 120)
    assert row.rooted[:, :days].max() < 1e-6


def test_a_target_before_anything_can_be_ready(north: Climate, tomato: Plant, sill: Place) -> None:
    raising = Setting(tomato, tomato.methods[0], north, sill, sill, CUT).raising()
    assert not ready_by_target(raising, CUT, 10, CUT + timedelta(days=5)).any()
    assert not ready_by_target(raising, CUT, 10, CUT - timedelta(days=5)).any()


def test_a_law_read_off_a_table() -> None:
    law = Lognormal(9.0, 0.3)
    units = np.concatenate(([-1.0, 0.0], np.geomspace(0.5, 200, 4000)))
    assert law.quick_cdf(units) == pytest.approx(law.cdf(units), abs=3e-6)
    assert law.quick_cdf(np.array([1e9, -5.0])).tolist() == [1.0, 0.0]


def test_readings_hold_in_every_year(north: Climate, tomato: Plant) -> None:
    hours = np.full((3, 24), 25.0)
    days = np.array([CUT.toordinal() + i for i in range(3)])
    place = Place("air", readings=Readings(days, hours, np.full((3, 24), np.nan), "three warm days"))
    units = np.diff(running_units(place, north, tomato.cardinals, 20, CUT, 10), axis=1)
    assert units[:, :3] == pytest.approx(np.ones((20, 3)))  # 25 °C is tomato's best
    assert (units[:, 3:] < 0.5).all()


def test_the_first_day_a_chance_is_reached() -> None:
    rising = np.array([[0.0, 0.5, 0.9], [0.1, 0.2, 0.3]])
    assert first_day_at(rising, 0.5).tolist() == [1, -1]
    assert first_day_at(rising[0], 0.9).tolist() == 2
    assert first_day_at(rising, 0.0).tolist() == [0, 0]
    assert first_day_at(rising, 0.5).dtype == np.int64


@pytest.mark.parametrize("wrong", [(0, 5), (5, 5), (6, 5), (-1, 5)])
def test_days_that_do_not_run_from_early_to_late(wrong: tuple[float, float]) -> None:
    with pytest.raises(ValueError, match=r"^days run from a positive early to a later late$"):
        DaysAt(*wrong, at_c=20)


def test_days_where_nothing_grows_say_nothing(tomato: Plant) -> None:
    with pytest.raises(ValueError, match=r"^no growth at 8 °C, so days there cannot be turned into units$"):
        units_to_stage(DaysAt(5, 9, 8), tomato.cardinals)
