"""The pots of a promise and the load from above: each mark where the numbers put it."""

from __future__ import annotations

import re

import pytest

from elder.drawing.load import load_scene
from elder.drawing.promised import IN_A_ROW, Pots, pots_of, promised_scene
from elder.drawing.scene import Mark, Scene, Stroke
from elder.engine.year.load import Thing, Vehicle, load_plan


def marks(scene: Scene, role: str) -> list[Mark]:
    return [shape for shape in scene.shapes if isinstance(shape, Mark) and role in shape.role.split()]


# Six promised and two kept: of eight, one gone and three standing; six sure in all, seven likely.
def test_each_plant_of_a_promise_stands_once() -> None:
    pots = pots_of(6, 2, gone=1, now=3, sure=6, expected=7.2)
    assert pots == Pots(gone=1, now=3, sure=2, maybe=1, missing=1, own=2)
    assert pots.states == ["gone", "now", "now", "now", "sure", "sure", "maybe", "missing"]
    assert pots_of(6, 2, gone=0, now=20, sure=0, expected=0) == Pots(0, 8, 0, 0, 0, 2)
    assert pots_of(6, 0, gone=6, now=0, sure=6, expected=6) == Pots(6, 0, 0, 0, 0, 0)
    assert pots_of(3, 0, gone=0, now=0, sure=0, expected=0.4).missing == 3


def test_pots_on_a_sill() -> None:
    scene = promised_scene(pots_of(6, 2, gone=1, now=3, sure=6, expected=7.2), "words")
    assert len(marks(scene, "pots-pot")) == 7
    assert len(marks(scene, "pots-label")) == 1
    assert len(marks(scene, "pots-leaf-now")) == 3
    assert len(marks(scene, "pots-leaf-sure")) == 2
    assert len(marks(scene, "pots-missing")) == 1
    assert len(marks(scene, "pots-own")) == 2
    xs = [float(mark.x.rstrip("%")) for mark in marks(scene, "pots-own")]
    assert xs == pytest.approx([2 + 96 * 6.5 / 20, 2 + 96 * 7.5 / 20], abs=0.01)  # the seventh and the eighth
    assert scene.words == "words"


def test_more_than_a_sill_holds_stand_on_another_and_many_stand_for_several() -> None:
    scene = promised_scene(pots_of(32, 5, gone=0, now=37, sure=0, expected=0), "")
    sills = [shape for shape in scene.shapes if isinstance(shape, Stroke)]
    assert [float(sill.y1) for sill in sills] == [36.0, 78.0]
    assert len(marks(scene, "pots-now")) == 37
    assert len([mark for mark in marks(scene, "pots-now") if float(mark.y) == 24.0]) == IN_A_ROW
    many = promised_scene(pots_of(200, 0, gone=0, now=200, sure=0, expected=0), "")
    assert len(marks(many, "pots-now")) == 67  # one for three


def test_the_load_is_drawn_to_scale() -> None:
    vehicle = Vehicle(200, 100, 90, 300)
    things = [
        Thing("pot", "pot", 40, 40, 60, 10),
        Thing("tree", "tree", 20, 20, 150, 15),
        Thing("box", "box", 60, 40, 30, 5),
    ]
    (trip,) = load_plan(things, vehicle).journeys
    plan = load_scene(trip, vehicle, {"pot": "1", "tree": "2", "box": "3"}, "words")
    assert (plan.long, plan.wide, plan.window, plan.width_px) == ("200", "100", "-4 -4 208 108", "520")
    drawn = {one.sign: one for one in plan.stands}
    assert drawn["2"].role == "stow stow-lies"
    assert drawn["1"].d.count("a19.2 19.2") == 2  # round, less the rim that is left to see
    (box,) = re.findall(r"h([\d.]+)v([\d.]+)", drawn["3"].d)
    assert sorted(map(float, box)) == [38.4, 58.4]
    for one in trip.stowed:
        sign = {"pot": "1", "tree": "2", "box": "3"}[str(one.thing.key)]
        assert float(drawn[sign].x) == pytest.approx(one.x_cm + one.long_cm / 2)


def test_what_lies_is_no_round_pot_however_square_its_floor() -> None:
    """95 by 40 and 95 high under 90: laid on its broad side it takes 95 by 95."""
    vehicle = Vehicle(200, 100, 90, 300)
    (trip,) = load_plan([Thing("frame", "frame", 95, 40, 95, 5)], vehicle).journeys
    (drawn,) = load_scene(trip, vehicle, {}, "").stands
    assert (trip.stowed[0].long_cm, trip.stowed[0].wide_cm) == (95, 95)
    assert "a" not in drawn.d
