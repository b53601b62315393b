"""The sky, the shelf and the foot of a wall, shape by shape: where the sun is drawn is where it stands."""

from __future__ import annotations

import re
from datetime import date, timedelta

import numpy as np
import pytest

from elder.drawing.nights import nights_scene
from elder.drawing.scene import Area, Mark, Stroke, Text
from elder.drawing.shelf import BOARD, OnShelf, outline_of, shelf_scene
from elder.drawing.sky import FOOT, HEIGHT, DayPath, SkyFrame, frame_of, sky_scene, year_scene
from elder.drawing.wall import WALL, strip_scene
from elder.engine.place.light import Aspect, Leafy, PlaceLight, light_year
from elder.engine.place.weather import DayAhead
from elder.engine.shed.vessels import shipped

HARROW = 52.6, -4.1
SOLSTICES = date(2027, 6, 21), date(2027, 12, 21)
TODAY = date(2027, 4, 6)


def points(d: str) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in re.findall(r"(-?[\d.]+) (-?[\d.]+)", d)]


def of_role(scene: object, role: str) -> list[Area]:
    return [one for one in scene.shapes if one.role == role]  # type: ignore[attr-defined]


def test_the_frame_of_a_window_and_of_open_ground() -> None:
    # 75° and 15° more to each side of south-east; the June sun is highest in it in the south, 60.8° up, and 7 more.
    window = frame_of(Aspect(135.0), 52.6, SOLSTICES)
    assert (window.left_deg, window.span_deg) == (45.0, 180.0)
    assert window.top_deg == pytest.approx(60.84 + 7, abs=0.05)
    assert frame_of(Aspect(), 52.6, SOLSTICES).left_deg == 0.0
    assert frame_of(Aspect(), -34.9, SOLSTICES).left_deg == 180.0  # the noon sun in the middle, in the north
    assert frame_of(Aspect(), 5.0, SOLSTICES).top_deg <= 90.0


def test_a_frame_places_azimuth_and_height() -> None:
    frame = SkyFrame(45.0, 180.0, 60.0)
    assert (frame.x(45.0), frame.x(135.0), frame.x(225.0)) == (0.0, 0.5, 1.0)
    assert frame.x(30.0) > 1
    assert (frame.y(0.0), frame.y(30.0), frame.y(90.0)) == (FOOT, FOOT / 2, 0.0)


def test_the_sun_is_strong_where_it_reaches_the_place() -> None:
    aspect = Aspect(180.0, skyline=((179.0, 0.0), (180.0, 80.0), (359.0, 80.0), (0.0, 0.0)))
    frame = frame_of(aspect, 52.6, SOLSTICES)
    scene = sky_scene(aspect, HARROW, frame, [DayPath(TODAY, "sun-today", "today")], words="")
    assert scene.height == HEIGHT
    (seen,) = of_role(scene, "sun-seen sun-today")
    (hidden,) = of_role(scene, "sun-hidden sun-today")
    # From the window's edge at 105° to the wall that begins at 180°: 15° in from the left of the frame to its middle.
    across = [x for x, _ in points(seen.d)]
    assert (min(across), max(across)) == (pytest.approx(1000 * 15 / 180, abs=8), pytest.approx(500, abs=8))
    assert max(x for x, _ in points(hidden.d)) > 900
    name = next(one for one in scene.shapes if isinstance(one, Text) and one.words == "today")
    assert name.x == "50%" or float(name.x.rstrip("%")) == pytest.approx(50, abs=1)


def test_hours_below_the_horizon_or_beside_the_frame_are_not_marked() -> None:
    hours = ((180.0, 43.0, "13"), (180.0, -5.0, "1"), (10.0, 20.0, "5"))
    frame = frame_of(Aspect(180.0), 52.6, SOLSTICES)
    scene = sky_scene(Aspect(180.0), HARROW, frame, [DayPath(TODAY, "sun-today", "today", hours)], words="")
    assert [one.words for one in scene.shapes if isinstance(one, Text) and one.role == "sun-clock"] == ["13"]
    assert len([one for one in scene.shapes if isinstance(one, Mark)]) == 1


def test_a_lintel_and_a_tree_are_drawn() -> None:
    low = Aspect(180.0, overhang_deg=30.0, trees=(Leafy(((180.0, 20.0),), 100, 300),))
    frame = SkyFrame(90.0, 180.0, 60.0)
    scene = sky_scene(low, HARROW, frame, [], words="")
    (air,) = of_role(scene, "sky-air")
    assert min(y for _, y in points(air.d)) == pytest.approx(FOOT / 2, abs=1)  # 30 of 60 degrees
    (tree,) = of_role(scene, "sky-tree")
    assert min(y for _, y in points(tree.d)) == FOOT - FOOT * 20 / 60


def test_a_year_of_hours() -> None:
    year = light_year(PlaceLight(), *HARROW)
    scene = year_scene(year, TODAY, words="")
    direct = points(of_role(scene, "sun-direct")[0].d)
    strong = points(of_role(scene, "sun-strong")[0].d)
    # Sixteen and a half hours at midsummer reach nearly to the top; strong sun never so high, and none at midwinter.
    assert min(y for _, y in direct) == pytest.approx(12 + 116 * 0.5 / 17, abs=2)
    assert min(y for _, y in strong) > min(y for _, y in direct)
    assert strong[-1][1] == 128.0
    six = next(one for one in scene.shapes if isinstance(one, Stroke) and one.role == "sun-six")
    assert float(six.y1) == pytest.approx(128 - 116 * 6 / (float(year.direct_h.max()) + 0.5), abs=0.1)
    assert {one.words for one in scene.shapes if isinstance(one, Text)} >= {
        "6 hours",
        "sun",
        "strong sun",
        "Jan",
        "Dec",
    }


def test_containers_stand_on_their_board_to_scale() -> None:
    jar, tray = shipped()["jar"], shipped()["tray"]
    for vessel in (jar, tray):
        outline = points(outline_of(vessel).replace("L", " ").replace("M", "").replace("H", " "))
        assert outline[0][1] == 0.0
    things = [OnShelf(jar, 2, "Ninepin"), OnShelf(tray, 9, "Low Tide"), OnShelf(None, 1, "Currant")]
    scene = shelf_scene(things, [(7.0, 9.5, False), (9.5, 11.0, True)], "board", words="A sill")
    assert len(of_role(scene, "shelf-vessel")) == 2 + 4  # of many only four are drawn
    assert [one.words for one in scene.shapes if isinstance(one, Text) and one.role == "shelf-name"] == [
        "2 Ninepin", "9 Low Tide", "Currant",
    ]  # fmt: skip
    (weak,), (strong,) = of_role(scene, "shelf-sun"), of_role(scene, "shelf-strong")
    # The strip runs from 4 to 22 o'clock.
    assert points(weak.d)[0][0] == pytest.approx(1000 * 3 / 18, abs=0.1)
    assert points(strong.d)[1][0] == pytest.approx(1000 * 7 / 18, abs=0.1)
    assert of_role(scene, "shelf-vessel")[0].y == f"{BOARD:g}"  # type: ignore[attr-defined]


def test_more_than_five_are_said_in_a_number() -> None:
    scene = shelf_scene([OnShelf(None, 1, f"Mint {i}") for i in range(8)], [], "soil", words="")
    names = [one.words for one in scene.shapes if isinstance(one, Text) and one.role == "shelf-name"]
    assert names == ["Mint 0", "Mint 1", "Mint 2", "Mint 3", "Mint 4", "3 more"]
    assert not of_role(scene, "shelf-glass")
    assert of_role(shelf_scene([], [], "glass", words=""), "shelf-glass")


def test_the_foot_of_a_wall_through_the_year() -> None:
    strip = np.zeros(365)
    strip[:60] = 2.0
    strip[300:] = 4.0
    scene = strip_scene(strip, TODAY, distance="m", per_mark_m=1.0, words="")
    (shade,) = of_role(scene, "strip-shade")
    edge = points(shade.d)
    reach = 4.0 * 1.08
    assert max(y for x, y in edge if x < 150) == pytest.approx(WALL + 156 * 2 / reach, abs=0.1)
    assert {y for x, y in edge if 165 <= x <= 820} == {WALL}
    assert [one.words for one in scene.shapes if isinstance(one, Text) and one.words.endswith(" m")] == [
        "1 m", "2 m", "3 m", "4 m",
    ]  # fmt: skip
    endless = strip_scene(np.full(365, np.inf), TODAY, distance="m", per_mark_m=1.0, words="")
    assert max(y for _, y in points(of_role(endless, "strip-shade")[0].d)) == 182.0


def test_rain_hangs_under_its_day() -> None:
    days = [DayAhead(TODAY + timedelta(days=i), 14, 6, mm) for i, mm in enumerate((0.0, 10.0, 0.4, 40.0))]
    scene = nights_scene(days, (), words="", day_words=str, degrees=str, rain=lambda mm: f"{mm / 25.4:.1f}")
    bars = of_role(scene, "rain-bar")
    # Half of the deepest bar for half of twenty millimetres; more than twenty goes no deeper.
    depths = [points(bar.d)[2][1] - points(bar.d)[0][1] for bar in bars]
    assert depths == [9.0, 18.0]
    assert [one.words for one in scene.shapes if isinstance(one, Text) and one.role == "rain-mm"] == ["0.4", "1.6"]
    dry = nights_scene(days[:1], (), words="", day_words=str, degrees=str)
    assert scene.height - dry.height == 34
