"""Drawings of the year: a line that widens, how far the cold reaches, a row of years; where each thing stands."""

from __future__ import annotations

import re
from datetime import date

import numpy as np
import pytest

from elder.drawing.cold_reach import GROUND, Limit, Reach, reach_scene
from elder.drawing.scene import Area, Mark, Scene, Stroke, Text
from elder.drawing.widening import HEIGHT, SOIL, TOP, Rise, Runner, Widening, widening_scene
from elder.drawing.years_row import LARGE, PotMark, YearsRow, years_scene

TODAY, BY = date(2027, 4, 6), date(2027, 8, 4)  # 120 days: the axis has 5 before and 10 after


def of(scene: Scene, kind: type, role: str) -> list:
    return [one for one in scene.shapes if isinstance(one, kind) and role in one.role.split()]


def ys(area: Area) -> list[float]:
    return [float(y) for y in re.findall(r"[\d.]+ ([\d.]+)", area.d)]


def widening() -> Scene:
    rises = [Rise(TODAY, (1.0, 0.0), 1, 1), Rise(date(2027, 6, 5), (1.0, 9.0), 8, 12)]
    runners = [
        Runner(TODAY, date(2027, 6, 5), 12, 1),
        Runner(date(2027, 4, 16), date(2027, 6, 15), 3, 1, done=True),
    ]
    return widening_scene(Widening(TODAY, BY, 10, rises, runners, [(date(2027, 7, 1), date(2027, 7, 31))]), "words")


def test_plants_stand_to_scale_above_the_line() -> None:
    """The range reaches 12, so 12 plants are all the height there is; ten of them and the rule at ten stand alike."""
    scene = widening()
    plant = (SOIL - TOP) / 12
    (rule,) = of(scene, Stroke, "wide-rule")
    assert float(rule.y1) == pytest.approx(SOIL - 10 * plant, abs=0.01)
    (second,) = of(scene, Area, "wide-gen-1")
    assert min(ys(second)) == pytest.approx(SOIL - 10 * plant, abs=0.051)
    (haze,) = of(scene, Area, "wide-haze")
    assert min(ys(haze)) == pytest.approx(TOP, abs=0.01)
    assert scene.height == HEIGHT


def test_runners_go_from_the_cut_to_the_plants_thicker_where_more_were_cut() -> None:
    scene = widening()
    big, small = of(scene, Area, "wide-runner")
    days = 120 + 5 + 10
    xs = [float(x) for x in re.findall(r"([\d.]+) [\d.]+", big.d)]
    assert (min(xs), max(xs)) == (pytest.approx(1000 * 5 / days, abs=0.01), pytest.approx(1000 * 65 / days, abs=0.01))
    assert "wide-runner-done" in small.role
    # As thick as the root of what was cut: twelve at 17 pixels, three half way from 2 to there. 4/3 for the bend.
    thick = [sorted(set(ys(one)))[-1] - sorted(set(ys(one)))[-2] for one in (big, small)]
    assert thick == [pytest.approx(17 * 4 / 3, abs=0.02), pytest.approx((2 + 15 / 2) * 4 / 3, abs=0.02)]
    assert [text.words for text in of(scene, Text, "wide-count")] == ["12", "3"]
    assert len(of(scene, Mark, "wide-shoot")) == 2
    assert len(of(scene, Area, "wide-shut")) == 1


def test_the_cold_reaches_as_far_as_its_winters_do() -> None:
    """Half of the winters fall to −8 °C and half to −4: two mounds alike, and labels where limits lie. The drawing runs
    from 1.5 under the lowest to 3 over the highest: −9.5 to 4."""
    lows = np.array([-8.0] * 50 + [-4.0] * 50)
    limits = [Limit(-8.0, "Rosemary", False), Limit(1.0, "Banana", True), Limit(1.0, "Pineapple", True)]
    scene = reach_scene(Reach(lows, limits, [(-5.0, "−5 °C"), (0.0, "0 °C")]), "words")
    marks = of(scene, Mark, "reach-label")
    assert [float(mark.x.rstrip("%")) for mark in marks] == pytest.approx(
        [100 * 1.5 / 13.5, 100 * 10.5 / 13.5, 100 * 10.5 / 13.5], abs=0.01
    )
    assert float(marks[1].y) - float(marks[2].y) == 22, "two at one limit stand one above the other"
    assert [mark.role.split()[1] for mark in marks] == ["reach-label-bears", "reach-label-saved", "reach-label-saved"]
    (mound,) = of(scene, Area, "reach-mound")
    line = 16 + 22 * 3
    assert max(ys(mound)) == pytest.approx(line + GROUND - 8, abs=0.3)
    assert [text.words for text in of(scene, Text, "reach-degree")] == ["−5 °C", "0 °C"]
    (tenth,) = of(scene, Stroke, "reach-tenth")
    assert float(tenth.x1.rstrip("%")) == pytest.approx(100 * 1.5 / 13.5, abs=0.01)


def years(**more: object) -> Scene:
    plain = {
        "start": date(2025, 1, 1), "end": date(2030, 1, 1), "today": date(2027, 4, 6), "since": date(2025, 7, 2),
        "pots": [PotMark(date(2025, 7, 2), 3.8, True, "3.8 litres"), PotMark(date(2028, 1, 1), 22, False, "22 litres")],
        "fruit": (date(2028, 3, 1), date(2028, 9, 1), date(2029, 6, 1)),
        "winters": [(date(2025, 11, 1), date(2026, 4, 1))],
    }  # fmt: skip
    return years_scene(YearsRow(**{**plain, **more}), "words", height=LARGE)  # type: ignore[arg-type]


def test_a_row_of_years() -> None:
    scene = years()
    days = (date(2030, 1, 1) - date(2025, 1, 1)).days
    (life,) = of(scene, Stroke, "years-life")
    assert life.x1 == f"{100 * 182 / days:.2f}%"
    assert life.x2 == "100%"
    assert [text.words for text in of(scene, Text, "month")] == ["2025", "2026", "2027", "2028", "2029"]
    assert [text.words for text in of(scene, Text, "years-litres")] == ["3.8 litres", "22 litres"]
    pots = of(scene, Mark, "years-pot")
    assert ["years-pot-done" in pot.role for pot in pots] == [True, False]
    wide = [float(re.search(r"H([\d.]+)L", pot.d).group(1)) for pot in pots]  # type: ignore[union-attr]
    assert wide == pytest.approx([1.5 * (2.4 + 2.1 * litres ** (1 / 3)) for litres in (3.8, 22)], abs=0.01)
    (fruit,) = of(scene, Mark, "years-ripe")
    assert fruit.x == f"{100 * (date(2028, 9, 1) - date(2025, 1, 1)).days / days:.2f}%"
    assert len(of(scene, Area, "years-winter")) == 1


def test_one_that_has_ended_is_followed_and_one_without_fruit_has_no_hill() -> None:
    ended = years(ended=date(2027, 3, 25))
    (life,), (follows,) = of(ended, Stroke, "years-life"), of(ended, Stroke, "years-follows")
    assert life.x2 == follows.x1
    none = years(fruit=(None, None, None), labelled=False)
    assert not of(none, Area, "years-fruit")
    assert not of(none, Text, "month")
