"""The drawings of the round: hope that runs out, and the nights ahead."""

from __future__ import annotations

import re
from datetime import date, timedelta

import pytest

from elder.drawing.nights import BOTTOM, TOP, nights_scene
from elder.drawing.patience import FLOOR, patience_scene
from elder.drawing.scene import Area, Scene, Stroke, Text
from elder.engine.place.weather import DayAhead

TODAY = date(2027, 4, 6)


def words(scene: Scene, role: str) -> list[str]:
    return [shape.words for shape in scene.shapes if isinstance(shape, Text) and role in shape.role.split()]


def areas(scene: Scene, role: str) -> list[list[tuple[float, float]]]:
    found = [shape.d for shape in scene.shapes if isinstance(shape, Area) and shape.role == role]
    return [[(float(x), float(y)) for x, y in re.findall(r"(-?[\d.]+) (-?[\d.]+)", d)] for d in found]


def patience(hopes: list[float], start: date, until: date) -> Scene:
    return patience_scene(
        hopes, start, TODAY, until=until, give_up_below=0.1, words="Hope.", day_words=lambda day: f"{day:%-d %b}"
    )


def test_hope_falls_from_the_last_look_to_the_day_it_is_not_worth_the_place() -> None:
    hopes = [0.8 - 0.02 * i for i in range(60)]
    scene = patience(hopes, TODAY - timedelta(days=3), TODAY + timedelta(days=35))
    assert words(scene, "day-number") == ["today", "11 May"]
    assert words(scene, "rule-number") == ["1 in 10"]
    (line,) = areas(scene, "hope-line")
    assert [y for _, y in line] == sorted(y for _, y in line), "down the page as hope falls"
    (shape,) = areas(scene, "hope")
    assert shape[0][1] == shape[-1][1] == FLOOR
    assert max(x for x, _ in shape) < 1000, "shaded only while it is worth waiting"
    assert all(0 <= x <= 1000 for x, _ in line)


@pytest.mark.parametrize("until", [TODAY + timedelta(days=1), TODAY + timedelta(days=300)])
def test_two_words_never_lie_on_each_other(until: date) -> None:
    scene = patience([0.5] * 400, TODAY, until)
    said = words(scene, "day-number")
    assert f"{until:%-d %b}" in said
    posts = {shape.role: shape.x1 for shape in scene.shapes if isinstance(shape, Stroke)}
    assert {"today", "give-up"} <= set(posts)
    near = abs(float(posts["today"][:-1]) - float(posts["give-up"][:-1])) < 17
    assert ("today" in said) != near


def nights(lows: list[float], cold: set[int]) -> Scene:
    ahead = [DayAhead(TODAY + timedelta(days=i), low + 8, low) for i, low in enumerate(lows)]
    days = {TODAY + timedelta(days=i) for i in cold}
    return nights_scene(ahead, days, words="Nights.", day_words=lambda day: f"{day:%a}", degrees=lambda c: f"{c:.0f}°")


def test_each_day_has_its_bar_and_cold_nights_a_second_sign() -> None:
    scene = nights([3, -1, 5], {1})
    assert len(areas(scene, "day-warmth")) == 3
    assert len(areas(scene, "night-cold")) == 1
    assert words(scene, "night-low") == ["3°", "-1°", "5°"]
    assert words(scene, "night-low-cold") == ["-1°"]
    for bar in areas(scene, "day-warmth"):
        assert all(TOP <= y <= BOTTOM and 0 <= x <= 1000 for x, y in bar)
    assert [shape.role for shape in scene.shapes if isinstance(shape, Stroke)] == ["freezing"]


def test_no_line_of_freezing_where_it_does_not_freeze_and_nothing_for_no_days() -> None:
    assert not [shape for shape in nights([3, 4], set()).shapes if isinstance(shape, Stroke)]
    assert nights([], set()) == Scene(0, "Nights.")
