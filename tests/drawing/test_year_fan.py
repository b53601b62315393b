"""The fan of a year’s nights: where its edges and the frost line stand."""

from __future__ import annotations

import re
from datetime import date

import numpy as np
import pytest

from elder.drawing.axis import TimeAxis
from elder.drawing.scene import Scene, Stroke
from elder.drawing.year_fan import HEIGHT, Fan, fan_scene, smoothed

AXIS = TimeAxis(date(2027, 1, 1), date(2027, 12, 31))


def fan(shift: float = 0.0) -> Fan:
    flat = np.full(365, 5.0 + shift)
    return Fan(flat - 4, flat, flat + 4, 0.0, "0 °C")


def lines_of(scene: Scene) -> list[Stroke]:
    return [shape for shape in scene.signs if isinstance(shape, Stroke)]


def test_an_edge_is_the_mean_of_a_month_round_the_turn_of_the_year() -> None:
    one = np.zeros(365)
    one[364] = 31.0
    assert smoothed(one)[[348, 349, 364, 14, 15]] == pytest.approx([0.0, 1.0, 1.0, 1.0, 0.0])


def test_the_band_the_middle_and_the_frost_stand_to_scale() -> None:
    scene = fan_scene(AXIS, date(2027, 4, 6), fan(), words="nights")
    # From a degree under the frost line, at −1 °C, to a degree over the warmest edge, at 10: 11 degrees in 102 pixels.
    degree = (HEIGHT - 8) / 11
    heights = {"night-fan": {4 + degree, 4 + 9 * degree}, "night-middle": {4 + 5 * degree}}
    for area in scene.areas:
        found = {float(y) for y in re.findall(r"[\d.]+ ([\d.]+)", area.d)}
        assert sorted(found) == pytest.approx(sorted(heights[area.role]), abs=0.06), area.role
    frost = next(line for line in lines_of(scene) if line.role == "accepted")
    assert float(frost.y1) == pytest.approx(4 + 10 * degree, abs=0.06)
    assert [line.role for line in lines_of(scene)] == ["accepted", "today"]


def test_a_warm_place_shows_how_far_off_frost_is() -> None:
    scene = fan_scene(AXIS, date(2030, 1, 1), fan(15.0), words="nights")
    frost = next(line for line in lines_of(scene) if line.role == "accepted")
    assert float(frost.y1) == pytest.approx(HEIGHT - 4 - (HEIGHT - 8) / 26, abs=0.06)  # from −1 to 25 °C
    assert [line.role for line in lines_of(scene)] == ["accepted"]


def test_a_middle_that_stays_is_drawn_from_the_first_day_to_the_last() -> None:
    scene = fan_scene(AXIS, date(2027, 4, 6), fan(), words="nights")
    middle = next(area for area in scene.areas if area.role == "night-middle")
    (first, *_, last) = re.findall(r"([\d.]+) [\d.]+", middle.d)
    assert (first, last) == ("0", "1000")
