"""Scenes: what stands where, in strings, with nothing off the edge."""

from __future__ import annotations

import re
from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.drawing.axis import TimeAxis, axis_around
from elder.drawing.cut_curve import cut_curve
from elder.drawing.ground import ground_scene, ruler_scene
from elder.drawing.scene import Area, Mark, Scene, Stroke, Text, number, percent, polyline, straightened
from elder.drawing.soil_line import COMPACT, LARGE, ROW, CutMark, Happening, RowPicture, Sizes, soil_line, standing_runs
from elder.engine.batch.outlook import plan_outlook
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import CutDay, SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.setting import Setting
from tests.engine.conftest import north, sill, tomato  # noqa: F401 - fixtures

TODAY = date(2027, 3, 15)
AXIS = TimeAxis(date(2027, 2, 1), date(2027, 10, 1))


@pytest.fixture(scope="module")
def plan(north: Climate, tomato: Plant, sill: Place) -> SeasonPlan:  # noqa: F811
    found = plan_want(Want(8), Setting(tomato, tomato.methods[0], north, sill, sill, TODAY))
    assert isinstance(found, SeasonPlan)
    return found


@pytest.fixture(scope="module")
def picture(plan: SeasonPlan) -> RowPicture:
    assert plan.window is not None
    return RowPicture(
        wanted=8,
        words="Cut 11",
        cuts=(CutMark(plan.recommended, 11, taken=False),),
        outlook=plan_outlook(plan, plan.recommended),
        gates=((plan.window.opens, plan.window.shuts),),
        target=plan.target,
        ribbon=standing_runs(plan.start, plan.standing),
        roots_seen=((TODAY, 3),),
        losses=((TODAY, 1),),
        happenings=(Happening(TODAY, "potted", 3),),
        harvest=date(2027, 7, 10),
    )


def roles(scene: Scene) -> list[str]:
    return [shape.role for shape in scene.shapes]


def numbers_in(scene: Scene) -> list[float]:
    """Every x of a scene as a share of its width."""
    found = [
        float(x) / 1000
        for area in scene.areas
        for x in re.findall(r"(?:M| )(-?[\d.]+) -?[\d.]+", area.d)
        if "q" not in area.d
    ]
    marks = [shape for shape in scene.signs if isinstance(shape, Mark | Text)]
    lines = [x for shape in scene.signs if isinstance(shape, Stroke) for x in (shape.x1, shape.x2)]
    return found + [float(x.rstrip("%")) / 100 for x in [*(mark.x for mark in marks), *lines]]


@pytest.mark.parametrize("sizes", [ROW, COMPACT, LARGE])
def test_nothing_leaves_the_row(picture: RowPicture, sizes: Sizes) -> None:
    scene = soil_line(picture, AXIS, TODAY, sizes)
    assert scene.height == sizes.height
    assert all(-0.001 <= x <= 1.001 for x in numbers_in(scene))


def test_a_row_shows_what_it_must(picture: RowPicture) -> None:
    shown = set(roles(soil_line(picture, AXIS, TODAY, ROW)))
    assert shown >= {"bed", "post-open", "post-shut", "root-band", "haze", "ready-forecast", "wanted", "soil", "today"}
    assert shown >= {
        "cut-planned",
        "cut-count",
        "root-seen",
        "loss",
        "did-potted",
        "harvest-due",
        "cut-comfortable",
        "cut-stretch",
    }


def test_the_cut_stands_on_its_day(picture: RowPicture, plan: SeasonPlan) -> None:
    scene = soil_line(picture, AXIS, TODAY, ROW)
    cut = next(shape for shape in scene.signs if isinstance(shape, Mark) and shape.role == "cut-planned")
    assert cut.x == percent((plan.recommended - AXIS.start).days / AXIS.days)
    assert cut.y == str(ROW.line)


def test_roots_hang_and_plants_rise(picture: RowPicture) -> None:
    scene = soil_line(picture, AXIS, TODAY, ROW)
    areas = {shape.role: shape for shape in scene.areas}
    heights = {
        role: [float(y) for y in re.findall(r"[\d.]+ ([\d.]+)", areas[role].d)]
        for role in ("root-band", "ready-forecast")
    }
    assert min(heights["root-band"]) >= ROW.line
    assert max(heights["ready-forecast"]) <= ROW.line
    assert min(heights["ready-forecast"]) < ROW.line - 0.75 * ROW.rise


def test_an_empty_row_still_has_its_line() -> None:
    assert roles(soil_line(RowPicture(3, "nothing"), AXIS, TODAY, ROW)) == ["wanted", "wanted-number", "soil", "today"]


def test_the_same_row_is_drawn_the_same(picture: RowPicture) -> None:
    assert soil_line(picture, AXIS, TODAY, ROW) == soil_line(picture, AXIS, TODAY, ROW)


def test_runs_leave_closed_days_out() -> None:
    day = timedelta(days=1)
    runs = standing_runs(TODAY, np.array([0, 2, 2, 3, 0, 3]))
    assert runs == (
        (TODAY + day, TODAY + 2 * day, CutDay.COMFORTABLE),
        (TODAY + 3 * day, TODAY + 3 * day, CutDay.STRETCH),
        (TODAY + 5 * day, TODAY + 5 * day, CutDay.STRETCH),
    )


def test_the_curve_tells_its_days_apart_by_more_than_colour(plan: SeasonPlan) -> None:
    curve = cut_curve(plan, plan.recommended, words="curve")
    words = {shape.words for shape in curve.scene.signs if isinstance(shape, Text)}
    assert words >= {"comfortable", "stretch", "cut 12"}
    assert {shape.role for shape in curve.scene.areas} >= {"curve-comfortable", "curve-stretch", "curve-closed"}
    assert all(-0.001 <= x <= 1.001 for x in numbers_in(curve.scene))


def test_the_curve_marks_a_closed_choice(plan: SeasonPlan) -> None:
    curve = cut_curve(plan, plan.open_until + timedelta(days=2), words="curve")
    assert "closed" in {s.words for s in curve.scene.signs if isinstance(s, Text) and s.role == "chosen-count"}


def test_the_wash_fades_as_frost_goes(north: Climate) -> None:  # noqa: F811
    scene = ground_scene(AXIS, TODAY, north, height=70)
    ends = [max(float(x) for x in re.findall(r"(?:M| )([\d.]+) ", area.d)) for area in scene.areas]
    assert len(ends) > 5
    assert ends == sorted(ends, reverse=True)


def test_the_ruler_names_months_and_today() -> None:
    scene = ruler_scene(AXIS, TODAY, day_words=str)
    words = [shape.words for shape in scene.signs if isinstance(shape, Text)]
    assert words == ["Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "today"]


def test_the_year_stands_where_it_turns() -> None:
    scene = ruler_scene(TimeAxis(date(2027, 11, 1), date(2028, 4, 1)), date(2027, 12, 1), day_words=str)
    assert "Jan 2028" in [shape.words for shape in scene.signs if isinstance(shape, Text)]


def test_the_year_is_short_where_months_crowd() -> None:
    scene = ruler_scene(TimeAxis(date(2027, 4, 1), date(2028, 4, 1)), date(2027, 4, 6), day_words=str)
    assert "Jan ’28" in [shape.words for shape in scene.signs if isinstance(shape, Text)]


def test_axis_holds_today_and_what_is_coming() -> None:
    axis = axis_around(TODAY, [date(2027, 2, 20), date(2027, 12, 24)])
    assert axis.start == date(2027, 2, 1)
    assert axis.shows(date(2027, 12, 24))
    with pytest.raises(ValueError, match="forward"):
        TimeAxis(TODAY, TODAY)


@pytest.mark.parametrize(
    ("value", "said"), [(1.5, "1.5"), (2.0, "2"), (0.0, "0"), (100.0, "100"), (1 / 3, "0.33"), (-0.5, "-0.5")]
)
def test_numbers_are_markup_ready(value: float, said: str) -> None:
    assert number(value) == said


@pytest.mark.parametrize(
    ("points", "kept"),
    [
        ([(0, 0), (1, 1), (2, 2), (3, 3)], [0, 3]),
        ([(0, 0), (1, 1.09), (2, 2), (3, 3)], [0, 3]),
        ([(0, 0), (1, 1.25), (2, 2), (3, 2.8)], [0, 1, 3]),
        ([(0, 0), (1, 1), (2, 1.82), (3, 2.6)], [0, 2, 3]),  # it must still pass by the first
        ([(0, 0), (1, 1), (2, 2.18), (3, 3.4)], [0, 2, 3]),
        ([(0, 0), (1, 0), (1, 5), (2, 5), (3, 5)], [0, 1, 2, 4]),  # straight up
        ([(0, 0), (2, 0), (1, 0), (0, 0)], [0, 1, 3]),  # and back
        ([(3, 0), (2, 0.05), (1, -0.05), (0, 0)], [0, 3]),
        ([(0, 0), (0, 4)], [0, 1]),
        ([(1, 1)], [0]),
    ],
)
def test_what_lies_on_a_straight_line_is_left_out(points: list[tuple[float, float]], kept: list[int]) -> None:
    assert straightened(points, 0.1) == [points[i] for i in kept]


@given(st.lists(st.floats(0, 40), min_size=2, max_size=60))
def test_no_point_lies_further_than_a_tenth_from_what_is_drawn(heights: list[float]) -> None:
    points = list(enumerate(heights))
    drawn = straightened(points)
    assert (drawn[0], drawn[-1]) == (points[0], points[-1])
    through = np.interp(np.arange(len(heights)), [x for x, _ in drawn], [y for _, y in drawn])
    assert np.abs(through - heights).max() <= 0.1 + 1e-9


def test_paths() -> None:
    assert polyline([(0, 1), (0.5, 2.26)], close=True) == "M0 1 500 2.3Z"
    assert polyline([(0, -0.04), (0.00004, 3)]) == "M0 0 0 3"
    assert polyline([]) == ""
    assert Area("a", "M0 0").kind == "area"
