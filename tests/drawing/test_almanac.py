"""The almanac's strips, the frost dates and room over time, as scenes."""

from __future__ import annotations

import re
from datetime import date, timedelta

import numpy as np
import pytest

from elder.drawing.almanac import (
    FREEZE_HEIGHT,
    FreezePicture,
    YearCurves,
    daylight_scene,
    freeze_axis,
    freeze_scene,
    phase_scene,
    risk_scene,
    warmth_scene,
    worth_scene,
)
from elder.drawing.axis import TimeAxis
from elder.drawing.crowding import CEILING, FLOOR, crowding_scene
from elder.drawing.ground import named_months, ruler_scene
from elder.drawing.scene import Mark, Scene, Stroke, Text, percent
from elder.drawing.soil_line import (
    CUT_OPEN,
    CUT_SMALL,
    FRUIT,
    FRUIT_SMALL,
    SMALL,
    STRIP,
    CutMark,
    RowPicture,
    Sizes,
    soil_line,
)
from elder.engine.climate.climate import Climate
from elder.engine.climate.daylight import day_lengths
from elder.engine.climate.freezes import FreezeYear
from elder.engine.climate.frost import FrostDates
from elder.engine.climate.frost_risk import frost_risk
from elder.engine.climate.normals import daily_normals
from elder.engine.place.warmth import Place, soil_mean, units_per_day
from tests.engine.conftest import EXAMPLE_CARDINALS, north  # noqa: F401 - a fixture

AXIS = TimeAxis(date(2027, 1, 1), date(2027, 12, 31))
TODAY = date(2027, 4, 6)
WINTER = date(2027, 1, 20)


def ys(scene: Scene, role: str) -> list[float]:
    """Every y of the areas of a role."""
    return [float(y) for area in scene.areas if area.role == role for y in re.findall(r"[\d.]+ (-?[\d.]+)", area.d)]


def points(scene: Scene, role: str) -> list[tuple[float, float]]:
    """(share of the width, y) along the areas of a role."""
    return [
        (float(x) / 1000, float(y))
        for area in scene.areas
        if area.role == role
        for x, y in re.findall(r"(-?[\d.]+) (-?[\d.]+)", area.d)
    ]


def words_of(scene: Scene) -> list[str]:
    return [shape.words for shape in scene.signs if isinstance(shape, Text)]


def test_warmth_keeps_its_order(north: Climate) -> None:  # noqa: F811
    low, high = daily_normals(north.normals)
    curves = YearCurves(low, high, high + 7, soil_mean(north), ((0, "0 °C"), (20, "20 °C"), (60, "60 °C")))
    scene = warmth_scene(AXIS, TODAY, curves, words="warmth")
    assert max(ys(scene, "pot-line")) < max(ys(scene, "air-band"))  # warmer lies higher
    assert all(0 <= y <= scene.height for y in ys(scene, "air-band") + ys(scene, "pot-line"))
    assert {"0 °C", "20 °C", "air", "ground"} <= set(words_of(scene))
    assert "60 °C" not in words_of(scene)


def test_worth_rises_to_best(north: Climate) -> None:  # noqa: F811
    units = units_per_day(Place("air"), north, EXAMPLE_CARDINALS)
    scene = worth_scene(AXIS, TODAY, [("pot-line", "pot", units)], words="worth")
    day, y = min(points(scene, "pot-line"), key=lambda point: point[1])
    assert abs(day * AXIS.days - int(np.argmax(units))) <= 6, (
        "every third day, and flat at the top to a tenth of a pixel"
    )
    assert y == pytest.approx(6 + (scene.height - 10) * (1 - float(units.max())), abs=0.1)


def test_the_longest_day_stands_at_midsummer() -> None:
    scene = daylight_scene(AXIS, TODAY, day_lengths(52.6, -4.1), words="light", ends=("long", "short"))
    marks = {shape.words: shape for shape in scene.signs if isinstance(shape, Text)}
    assert 0.45 < float(marks["long"].x.rstrip("%")) / 100 < 0.49
    assert float(marks["short"].x.rstrip("%")) / 100 > 0.95


def test_risk_meets_what_is_accepted(north: Climate) -> None:  # noqa: F811
    safe = date(2027, 5, 2)
    scene = risk_scene(AXIS, TODAY, frost_risk(north, 0.0), accepted=0.1, marks=[(safe, "2 May")], words="risk")
    rule = next(shape for shape in scene.signs if isinstance(shape, Stroke) and shape.role == "accepted")
    at_safe = min(points(scene, "risk"), key=lambda point: abs(point[0] - AXIS.x(safe)))
    assert at_safe[1] == pytest.approx(float(rule.y1), abs=2)
    assert "2 May" in words_of(scene)


def test_phases_lie_on_their_days() -> None:
    days = np.zeros(365, dtype=bool)
    days[100:200] = True
    days[300:] = True
    scene = phase_scene(AXIS, TODAY, [("wood-growing", days)], words="wood")
    edges = sorted({x for x, _ in points(scene, "wood-growing")})
    assert edges == pytest.approx([100 / 364, 200 / 364, 300 / 364, 1.0], abs=2e-3)


@pytest.fixture
def freeze() -> FreezePicture:
    years = tuple(
        FreezeYear(2000 + i, WINTER + timedelta(days=70 + 3 * i), 70 + 3 * i, left_out=i == 4) for i in range(12)
    )
    return FreezePicture(years, FrostDates(86, 11), 0.1, spring=True)


def test_a_dot_for_each_year_that_counts(freeze: FreezePicture) -> None:
    axis = freeze_axis(freeze.law, WINTER)
    scene = freeze_scene(freeze, axis, midwinter=WINTER, words="frost", safe="1 in 10: 6 May")
    dots = [shape for shape in scene.signs if isinstance(shape, Mark)]
    assert len(dots) == 11  # the one left out has none
    assert dots[0].x == percent(axis.x(WINTER + timedelta(days=70)))
    assert float(dots[0].y) > float(dots[-1].y)  # the oldest lowest
    assert scene.height == FREEZE_HEIGHT
    post = next(shape for shape in scene.signs if isinstance(shape, Stroke) and shape.role == "post-open")
    assert freeze.law.safe_after(0.1) is not None
    assert post.x1 == percent(axis.x(WINTER + timedelta(days=freeze.law.safe_after(0.1) or 0)))
    assert "1 in 10: 6 May" in words_of(scene)


def test_autumns_risk_rises(freeze: FreezePicture) -> None:
    autumn = FreezePicture(freeze.years, freeze.law, 0.1, spring=False)
    axis = freeze_axis(freeze.law, WINTER)
    rising = points(freeze_scene(autumn, axis, midwinter=WINTER, words="", safe=""), "risk-edge")
    falling = points(freeze_scene(freeze, axis, midwinter=WINTER, words="", safe=""), "risk-edge")
    assert rising[0][1] > rising[-1][1]
    assert falling[0][1] < falling[-1][1]


def test_room_over_the_rule_is_drawn_apart() -> None:
    loads = np.zeros(365, dtype=np.int64)
    loads[50:90], loads[90:120] = 6, 14
    scene = crowding_scene(AXIS, loads, 10, words="sill")
    over = points(scene, "load-over")
    assert {round(x * 364) for x, _ in over} == {90, 120}
    rule = FLOOR - (FLOOR - CEILING) * 10 / 14
    assert min(ys(scene, "load-held")) == pytest.approx(rule, abs=0.051)  # drawn to a tenth of a pixel
    assert "14 of 10" in words_of(scene)
    assert not points(crowding_scene(AXIS, loads, 20, words="sill"), "load-over")


def test_a_long_axis_names_each_third_month() -> None:
    axis = TimeAxis(date(2027, 4, 1), date(2030, 4, 1))
    assert {day.month for day in named_months(axis)} == {1, 4, 7, 10}
    assert "Jan ’29" in words_of(ruler_scene(axis, TODAY, day_words=str))
    assert len(named_months(AXIS)) == 12


# How far each sign reaches above its own origin, pixels, by its path.
REACH_UP = {FRUIT: 19, FRUIT_SMALL: 13, CUT_OPEN: 5, CUT_SMALL: 4}


@pytest.mark.parametrize("sizes", [SMALL, STRIP])
def test_low_rows_keep_their_signs_inside(sizes: Sizes) -> None:
    picture = RowPicture(3, "row", cuts=(CutMark(TODAY, 4, taken=False),), harvest=date(2027, 7, 1), target=TODAY)
    scene = soil_line(picture, AXIS, TODAY, sizes)
    marks = [shape for shape in scene.signs if isinstance(shape, Mark)]
    assert len(marks) == 2
    assert all(float(mark.y) - REACH_UP[mark.d] >= 0 for mark in marks)
