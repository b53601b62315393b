"""The drawings of the bench: stems, pots, families and labels, to scale."""

from __future__ import annotations

import re
from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest

from elder.drawing.family import ROOMY, SNUG, family_axis, family_scene
from elder.drawing.floor import floor_plan
from elder.drawing.label import SIZES, STRIP, TAG, Block, LabelText, Words, fit, label_shapes
from elder.drawing.level import level_scene
from elder.drawing.pot import FLOOR, DrawnCutting, pot_scene
from elder.drawing.scene import Area, Mark, Scene, Stroke, Text
from elder.drawing.stem import PAD, Ruler, stem_scene
from elder.engine.cut.layout import Stem, Unusable, lay_out_cuts
from elder.engine.cut.standing import cut_spec, dressing, example_nodes, sticking
from elder.engine.handbook.loading import handbook
from elder.engine.mother.lineage import Family, Member, Took
from elder.engine.shed.packing import Floor, Several, arrange
from elder.engine.shed.vessels import shipped

TODAY = date(2027, 4, 6)
ROSE = handbook()["rosemary"], handbook()["rosemary"].method("gritty")


def drawn(stem: Stem, scale: float = 100.0, first: int = 1) -> tuple[Scene, int]:
    spec = cut_spec(*ROSE)
    assert spec
    layout = lay_out_cuts(stem, spec)
    dressed = [dressing(piece, stem, *ROSE) for piece in layout.pieces]
    scene = stem_scene(
        stem, layout, dressed, ruler=Ruler(10, lambda cm: f"{cm:.0f}", "cm"), scale_cm=scale, first=first,
        length_words=lambda cm: f"{cm:.1f}", words="A stem.",
    )  # fmt: skip
    return scene, len(layout.pieces)


def share(x: str) -> float:
    return float(x.removesuffix("%")) / 100


def cm_of(x: str, scale: float = 100.0) -> float:
    return (share(x) - PAD) / (1 - 2 * PAD) * scale


def of(scene: Scene, kind: type, role: str) -> list[Any]:
    return [shape for shape in scene.shapes if isinstance(shape, kind) and role in shape.role.split()]


STEM = Stem(60.0, tuple(3.0 * i for i in range(1, 20)), (Unusable(40, 47, "in flower"),))


def test_a_stem_is_drawn_to_scale() -> None:
    scene, pieces = drawn(STEM)
    (line,) = of(scene, Stroke, "stem")
    assert (cm_of(line.x1), cm_of(line.x2)) == (pytest.approx(0, abs=0.02), pytest.approx(60, abs=0.02))
    nodes = of(scene, Mark, "node")
    assert [round(cm_of(node.x), 1) for node in nodes] == list(STEM.nodes_cm)
    assert [text.words for text in of(scene, Text, "piece-number")] == [str(i + 1) for i in range(pieces)]
    assert [text.words for text in of(scene, Text, "unusable-word")] == ["in flower"]
    assert [text.words for text in of(scene, Text, "day-number")] == ["0", "10", "20", "30", "40", "50", "60"]


def test_every_cut_is_marked_and_nothing_is_cut_in_what_cannot_be_used() -> None:
    scene, pieces = drawn(STEM)
    blades = [cm_of(mark.x) for mark in of(scene, Mark, "blade")]
    assert len(blades) == 2 * pieces - 1, "the tip is left on the last"
    assert not any(40.01 < at < 46.99 for at in blades)
    strips, under = of(scene, Mark, "leaf-strip"), of(scene, Area, "under")
    assert len(strips) == len(under) == 10, "half of each piece goes under, and its leaves come off"
    fates = [len(of(scene, Mark, role)) for role in ("leaf-strip", "leaf-keep", "leaf-halve", "leaf-waste")]
    assert sum(fates) == len(STEM.nodes_cm), "every leaf has one fate"


def test_several_stems_share_a_scale_and_are_numbered_through() -> None:
    short, _ = drawn(Stem(30.0, tuple(3.0 * i for i in range(1, 10))), scale=60, first=6)
    (line,) = of(short, Stroke, "stem")
    assert share(line.x2) == pytest.approx(0.5, abs=0.01)
    assert of(short, Text, "piece-number")[0].words == "6"


def test_a_stem_with_nothing_in_it_is_drawn_all_the_same() -> None:
    scene, pieces = drawn(Stem(4.0, ()))
    assert pieces == 0
    assert not of(scene, Mark, "blade")
    assert len(of(scene, Stroke, "stem-waste")) == 1


@pytest.mark.parametrize(("plant", "method"), [("rosemary", "gritty"), ("basil", "jar"), ("grapevine", "ground"),
                                               ("dragon-fruit", "gritty"), ("sugar-cane", "mix")])  # fmt: skip
def test_a_pot_is_to_scale(plant: str, method: str) -> None:
    way = handbook()[plant].method(method)
    stick = sticking(handbook()[plant], way, 11)
    scene = pot_scene(
        stick,
        DrawnCutting(way.length_cm, example_nodes(handbook()[plant], way), lays_flat=way.form == "node section"),
        kind="mix",
        depth_words="deep", words="A pot.", length_words=lambda cm: f"{cm:g} cm",
    )  # fmt: skip
    sides = [line for line in of(scene, Stroke, "bracket") if line.x1 == line.x2]
    surface, foot = float(sides[0].y1), float(sides[0].y2)
    assert foot <= FLOOR + 0.01, "nothing goes through the floor"
    px = (foot - surface) / stick.depth_cm
    stems = [mark.d for mark in of(scene, Mark, "pot-stem")]
    if way.form != "node section":
        top = float(stems[0].split("V")[1])
        assert (foot - top) / px == pytest.approx(way.length_cm, rel=0.01)
        assert top >= 0, "nothing grows out of the picture"


def lines() -> Family:
    members = [
        Member("a", "First", TODAY - timedelta(days=900), TODAY - timedelta(days=30)),
        Member("b", "Second", TODAY - timedelta(days=500), None, "1", health="diseased"),
        Member("old", "Older than all cuts", TODAY - timedelta(days=9000)),
    ]
    return Family(members, [Took("1", "a", TODAY - timedelta(days=560), 11, 2, 3), Took("2", "a", TODAY, 4)])


def test_a_family_through_the_years() -> None:
    family = lines()
    rows = family.rows(family.opened_at_first())
    scene = family_scene(rows, family, TODAY, line={"a", "b"}, sick={"b"}, words="")
    axis = family_axis(family, TODAY)
    assert axis.shows(TODAY - timedelta(days=900))
    assert not axis.shows(TODAY - timedelta(days=9000)), "what lies long before the first cut is not drawn"
    lives = of(scene, Stroke, "life")
    assert [float(one.y1) for one in lives] == sorted(float(one.y1) for one in lives)
    assert len(of(scene, Mark, "life-ended")) == 1
    assert len(of(scene, Stroke, "life-sick")) == 1
    assert len(of(scene, Stroke, "strong")) == 2
    (runner,) = of(scene, Area, "branch")
    assert len(of(scene, Stroke, "faint")) == 1
    assert [text.words for text in of(scene, Text, "twig-number")] == ["11, 2 lost, 3 given", "4"]
    # A runner leaves the shoot it was cut as straight down, and comes to the plant kept along its own soil.
    start_x, start_y, bend_x, bend_y, along_x, along_y, end_x, end_y = map(float, re.findall(r"[\d.]+", runner.d))
    assert start_x == bend_x == along_x == pytest.approx(1000 * axis.x(TODAY - timedelta(days=560)), abs=1)
    assert (start_y, along_y) == (float(lives[0].y1), end_y) == (start_y, float(lives[1].y1))
    assert bend_y == pytest.approx(start_y + 0.6 * (end_y - start_y), abs=0.01)
    assert end_x == pytest.approx(10 * float(lives[1].x1.rstrip("%")), abs=1)


def test_many_rows_are_drawn_closer() -> None:
    members = [Member(str(i), f"Plant {i}", TODAY - timedelta(days=100 + i)) for i in range(60)]
    family = Family(members, [])
    few, many = family.rows(set())[:10], family.rows(set())
    a, b = (family_scene(rows, family, TODAY, line=set(), sick=set(), words="") for rows in (few, many))
    assert a.height < 10 * ROOMY + 60
    assert b.height < 60 * SNUG + 60


MATRIX = [[1, 0, 1], [0, 1, 1], [1, 1, 0]]


def measure(words: str, bold: bool, tall: float) -> float:
    return 0.55 * tall * len(words)


@pytest.mark.parametrize("size", SIZES.values())
@pytest.mark.parametrize("long", [1, 8])
def test_a_label_holds_what_it_says(size: Any, long: int) -> None:
    assert size in (STRIP, TAG)
    text = LabelText("Scented pelargonium " * long, "HA·JE·RE", ("from an old mother " * long, "cut 3 Feb 2027"))
    shapes = label_shapes(text, size, MATRIX, measure)
    for shape in shapes:
        if isinstance(shape, Words):
            assert shape.x + measure(shape.words, shape.bold, shape.size) <= size.width_mm + 1e-6
            assert 0 < shape.y <= size.height_mm
        elif isinstance(shape, Block):
            assert shape.x >= 0
            assert shape.x + shape.width <= size.width_mm
            assert shape.y >= 0
            assert shape.y + shape.height <= size.height_mm
    boxes = [shape for shape in shapes if isinstance(shape, Block)]
    each = min(box.height for box in boxes)
    assert sum(box.width * box.height for box in boxes) == pytest.approx(6 * each * each), "every dark module, once"
    said = [shape.words for shape in shapes if isinstance(shape, Words)]
    assert "HA·JE·RE" in said
    assert said[0].endswith("…") == (long > 1)


def test_words_that_do_not_fit_grow_small_and_then_short() -> None:
    assert fit("ten letters", True, 4, 100, measure) == ("ten letters", 4)
    words, tall = fit("ten letters", True, 4, 15, measure)
    assert words == "ten letters"
    assert tall < 4
    words, tall = fit("ten letters" * 5, True, 4, 15, measure)
    assert words.endswith("…")
    assert measure(words, True, tall) <= 15


def test_a_store_that_runs_down_is_drawn_week_by_week() -> None:
    # Ten there; two, six and twelve asked for certain. Two short makes the floor line lie at 6 + 34 · 10/12.
    scene = level_scene(
        10.0, np.array([2.0, 5.0, 9.0]), np.array([2.0, 6.0, 12.0]), words="Grit runs out.", short_words="2 short"
    )
    floor = 6 + 34 * 10 / 12
    areas = {shape.role: shape.d for shape in scene.areas}
    (out,) = (shape for shape in scene.shapes if shape.kind == "mark")
    (line,) = (shape for shape in scene.shapes if shape.kind == "line")
    assert isinstance(line, Stroke)
    assert isinstance(out, Mark)
    assert (float(line.y1), out.x, float(out.y)) == (
        pytest.approx(floor, abs=0.01),
        "66.67%",
        pytest.approx(floor, abs=0.01),
    )

    def y(left: float) -> str:
        return f"{floor - left * (floor - 6) / 10:.1f}".removesuffix(".0")

    assert f"0 {y(8)} 333.3 {y(8)} 333.3 {y(4)} 666.7 {y(4)}" in areas["level-left"]
    assert f"666.7 {y(1)} 1000 {y(1)}" in areas["level-haze"], "as expected one is left"
    assert areas["level-short"].endswith("666.7 40 1000 40 1000 34.3Z"), "two short reach the bottom"
    calm = level_scene(10.0, np.array([1.0]), np.array([1.0]), words="")
    assert "level-short" not in {shape.role for shape in calm.shapes}
    none = level_scene(0.0, np.array([1.0]), np.array([1.0]), words="", short_words="1 short")
    assert {shape.role for shape in none.areas} == {"level-short"}
    (word,) = (shape for shape in none.shapes if shape.kind == "text")
    assert isinstance(word, Text)
    assert (word.words, float(word.y) > 12) == ("1 short", True)


def test_a_floor_is_drawn_to_scale() -> None:
    pots, tray = shipped()["pot"], shipped()["four-cell"]
    found = arrange([Several(pots, 1, "a"), Several(tray, 1, "b")], Floor(30, 20))
    plan = floor_plan(found, signs={"a": "1"}, words="A shelf.", tried="b")
    assert (plan.long, plan.wide, plan.window, plan.width_px) == ("30", "20", "-1 -1 32 22", "210")
    pot, pack = plan.stands
    # 13 cm across less a rim of 0.35 on either side: radius 6.15 about (6.5, 6.5).
    assert pot.d == "M0.35 6.5a6.15 6.15 0 1 0 12.3 0a6.15 6.15 0 1 0 -12.3 0Z"
    assert (pot.role, pot.sign, pot.x, pot.y, pot.cells) == ("stand", "1", "6.5", "6.5", "")
    assert (pack.role, pack.sign) == ("stand-tried", "")
    assert pack.d == "M13.35 0.35h11.8v12.3h-11.8Z", "13 by 12.5 cm, turned"
    assert pack.cells == "M19.25 0.35v12.3M13.35 6.5h11.8", "two cells by two"
    narrow = floor_plan(arrange([], Floor(20, 90)), signs={}, words="")
    assert narrow.width_px == "93", "a tall floor is no taller than 420"
