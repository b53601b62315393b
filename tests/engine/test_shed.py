"""Containers and mixes: volumes against outside values, counts by hand, what each step uses."""

from __future__ import annotations

import math
from datetime import date
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elder.engine.batch.history import replay
from elder.engine.batch.stands import standing_in
from elder.engine.batch.state import BatchState, Entry
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.tables import read_bench
from elder.engine.shed.containers import Counts, fitting, potted_in, stands_in, stuck_in, vessel_for
from elder.engine.shed.kit import USUAL, AsTreated, Kit
from elder.engine.shed.mix import (
    cheapest_packs,
    dry_weight_kg,
    mix_for,
    ph_range,
    usual_recipe,
    whole_packs,
)
from elder.engine.shed.recipes import mix_parts, recipes
from elder.engine.shed.shapes import Box, Cylinder, Frustum, SquareFrustum
from elder.engine.shed.uses import is_kept, uses_at_potting, uses_at_sticking, with_parts
from elder.engine.shed.vessels import shipped, vessel_of
from elder.web.say.units import registry
from tests.engine.test_outside import CHECKS

CUT = date(2027, 4, 6)
VESSELS = shipped()


def way(plant: str, method: str) -> tuple[Any, Any]:
    return handbook()[plant], handbook()[plant].method(method)


def test_volumes_of_frustums_against_outside_values() -> None:
    # Problem 14 of the Moscow papyrus, 56; and the integral by scipy 1.17.1 (see the source beside it).
    square, pot = CHECKS["volumes"]["inputs"]["square"], CHECKS["volumes"]["inputs"]["round_cm"]
    papyrus, litres = CHECKS["volumes"]["expected"]
    assert SquareFrustum(*square).volume_l * 1000 == pytest.approx(papyrus, rel=1e-12)
    assert Frustum(*pot).volume_l == pytest.approx(litres, abs=CHECKS["volumes"]["tolerance"])


def test_boxes_and_cylinders_against_units_by_definition() -> None:
    # A US gallon is 231 cubic inches, a US bushel 2150.42; a cylinder as wide and high as a ball is half as much again
    # as the ball (Archimedes). Conversions by pint 0.25.3.
    unit, inch = registry(), 2.54
    gallon = unit.Quantity(1, "gallon").to("litre").magnitude
    assert Box(11 * inch, 7 * inch, 3 * inch).volume_l == pytest.approx(gallon, rel=1e-9)
    ball = 4 / 3 * math.pi * 5**3 / 1000
    assert Cylinder(10, 10).volume_l == pytest.approx(1.5 * ball, rel=1e-12)
    assert Frustum(10, 10, 10).volume_l == pytest.approx(Cylinder(10, 10).volume_l, rel=1e-12)
    assert SquareFrustum(5, 5, 8).volume_l == pytest.approx(Box(5, 5, 8).volume_l, rel=1e-12)
    assert SquareFrustum(6, 0.0001, 9).volume_l == pytest.approx(6 * 6 * 9 / 3000, rel=1e-4), "a pyramid, a third"


@pytest.mark.parametrize("wrong", [(0, 4, 6), (4, -1, 6), (4, 2, math.nan), (4, 2, math.inf)])
def test_a_shape_that_cannot_be(wrong: tuple[float, float, float]) -> None:
    for shape in (Frustum, SquareFrustum, Box):
        with pytest.raises(ValueError, match="is a length above nought"):
            shape(*wrong)


def test_shipped_ones_hold_what_they_are_named_for() -> None:
    gallon = registry().Quantity(1, "gallon").to("litre").magnitude
    for key, many in (("gallon", 1), ("five-gallon", 5), ("seven-gallon", 7)):
        assert VESSELS[key].volume_l == pytest.approx(many * gallon, rel=0.005)
        assert VESSELS[key].shape.volume_l == pytest.approx(many * gallon, rel=0.03), "drawn as large as it is said"
    assert VESSELS["four-cell"].volume_l == pytest.approx(4 * 5.5 / 3 * (5.5**2 + 5.5 * 4 + 4**2) / 1000)
    assert VESSELS["tray-1020"].cells == 12 * VESSELS["four-cell"].cells
    assert (VESSELS["tray-1020"].foot_cm, VESSELS["tray"].is_round, VESSELS["pot"].is_round) == ((54, 28), False, True)


def test_every_key_of_the_tables_is_there() -> None:
    book, mixes, potting = (read_bench(name)[0] for name in ("containers", "mixes", "potting"))
    named = [*book["first_pot"].values(), *(row["container"] for row in book["usual"])]
    named += [row["container"] for row in book["vessels"].values() if "container" in row]
    named += [row["container"] for row in potting["ladder"]["steps"]]
    assert set(named) <= set(VESSELS)
    called = [row["recipe"] for stage in ("root", "pot") for row in mixes[stage]] + list(mixes["schools"].values())
    assert set(called) <= set(recipes())
    assert {part for recipe in recipes().values() for part in recipe.shares} <= set(mix_parts())
    asked = {row["school"] for row in read_bench("cutting")[0]["schools"] if row["question"] == "mix"}
    assert asked == set(mixes["schools"])


@pytest.mark.parametrize(
    ("key", "stem", "stick", "water", "alone"),
    [
        # As practice says, else a surface of 32, 22, 10 and 150 square centimetres each: pot of 13 cm, 132.7 of it.
        ("pot", 4, 6, 5, 1),
        ("jar", 1, 2, 5, 1),
        ("deep-pot", 4, 10, 22, 1),
        ("bin", 30, 30, 120, 8),
        ("five-gallon", 4, 34, 75, 5),
        ("hundred", 100, 100, 100, 100),
    ],
)
def test_stems_to_a_container(key: str, stem: int, stick: int, water: int, alone: int) -> None:
    found = [VESSELS[key].stems(kind) for kind in ("stem", "stick", "water stem", "alone")]
    assert found == [stem, stick, water, alone]


@pytest.mark.parametrize(
    ("plant", "method", "count", "key", "vessels"),
    [
        ("tomato", "jar", 11, "jar", 3), ("tomato", "mix", 33, "pot", 9), ("blackcurrant", "stick", 22, "deep-pot", 3),
        ("pineapple", "peeled", 3, "pot", 3), ("banana", "pup", 2, "deep-pot", 2), ("bay", "dome", 101, "hundred", 2),
        ("basil", "plug", 25, "tray", 2), ("blackcurrant", "ground", 40, "row", 1),
    ],
)  # fmt: skip
def test_what_a_batch_fills_as_it_is_stuck(plant: str, method: str, count: int, key: str, vessels: int) -> None:
    found = stuck_in(*way(plant, method), count)
    assert (found.vessel.key, found.vessels, found.plants) == (key, vessels, count)


def test_a_chosen_container_and_a_school_go_before_the_usual() -> None:
    tomato = way("tomato", "mix")
    assert stuck_in(*tomato, 12, {"container": "pot-9"}).vessels == 6, "two to a pot of 9 cm"
    assert stuck_in(*tomato, 12, {"container": "pot-9", "vessel": "one to a pot"}).vessels == 12
    assert stuck_in(*tomato, 12, {"container": "hundred", "vessel": "one to a pot"}).vessels == 1, "cells are cells"
    assert stuck_in(*tomato, 61, {"vessel": "a bin of thirty"}).vessels == 3
    assert stuck_in(*tomato, 0).vessels == 0
    tub = vessel_of(
        {"key": "own-1", "kind": "pot", "one": "tub", "many": "tubs", "shape": {"frustum": [24, 19, 22]}, "fill": 0.9}
    )
    kit = Kit((tub,), {"pot": "own-1"})
    assert vessel_for(*tomato, {}, kit) is tub
    assert stuck_in(*tomato, 29, kit=kit).vessels == 3, "452 square centimetres, 14 stems"
    assert stuck_in(*tomato, 29, {"container": "pot"}, kit).vessels == 8
    assert tub in fitting(tomato[1], kit)
    gone = Kit(
        (
            vessel_of(
                {"key": "own-1", "gone": True, "kind": "pot", "one": "t", "many": "t", "shape": {"box": [1, 1, 1]}}
            ),
        )
    )
    assert gone.vessel("own-1"), "a batch that stands in it is told of it still"
    assert all(one.key != "own-1" for one in fitting(tomato[1], gone))


def test_what_is_lost_leaves_its_pot_and_what_is_moved_on_empties_it() -> None:
    tomato = way("tomato", "mix")

    def pots(counts: Counts) -> tuple[int, int]:
        stuck, potted = stands_in(*tomato, counts)
        return (stuck.vessels if stuck else 0, potted.vessels if potted else 0)

    assert pots(Counts(12, 12, 0)) == (3, 0)
    assert pots(Counts(12, 8, 0)) == (3, 0), "four lost, the pots stand"
    assert pots(Counts(12, 2, 0)) == (2, 0), "no more pots than cuttings"
    assert pots(Counts(12, 7, 5, potted=5)) == (2, 5)
    assert pots(Counts(12, 0, 12, potted=12)) == (0, 12)


def told(*lines: tuple[str, int]) -> BatchState:
    entries = [Entry(str(i), kind, CUT, count) for i, (kind, count) in enumerate(lines)]
    state = replay(entries, today=CUT)
    assert isinstance(state, BatchState)
    return state


def test_a_history_says_what_stands_where() -> None:
    basil = way("basil", "mix")
    state = told(("taken", 13), ("rooted", 9), ("lost", 2), ("potted", 6), ("hardening", 2), ("given", 1))
    # Given goes first from what hardens. Thirteen in four pots, six moved on: seven left in two.
    assert state.moved_on == 6
    found = [(one.stage, one.filled.vessel.key, one.filled.vessels) for one in standing_in(state, *basil)]
    assert found == [("stuck", "pot", 2), ("potted", "half-litre", 4), ("hardening", "half-litre", 1)]
    several = AsTreated({"to a pot": "3", "pot": "litre"})
    found = [(one.filled.vessel.key, one.filled.vessels) for one in standing_in(state, *basil, several)][1:]
    assert found == [("litre", 2), ("litre", 1)]
    for_good = standing_in(state, *basil, AsTreated(for_good=True))
    assert [one.filled.vessels for one in for_good] == [2, 2, 1], "three or four herbs to a final pot"
    assert standing_in(told(("taken", 5)), *way("blackcurrant", "ground")) == ()


def test_a_pup_stands_in_its_own_pot_from_the_first() -> None:
    banana = way("banana", "pup")
    assert potted_in(*banana, 2).vessel.key == "deep-pot"
    assert potted_in(*banana, 2, AsTreated({"pot": "gallon"})).vessel.key == "gallon"
    assert uses_at_potting(*banana, 2) == {}
    solution = way("tomato", "clay-solution")
    assert (potted_in(*solution, 4).vessel.key, potted_in(*solution, 4).vessels) == ("net pot", 4)


PARTS = st.dictionaries(st.sampled_from(["peat-free", "perlite", "sand", "bark"]), st.floats(0.01, 90), min_size=1)


@settings(max_examples=120, deadline=None)
@given(PARTS, st.floats(0, 500), st.floats(0, 0.6), st.floats(0.01, 50))
def test_a_recipe_in_any_scale_is_the_same_litres(
    recipe: dict[str, float], litres: float, settle: float, scale: float
) -> None:
    found = mix_for(recipe, litres, settle)
    assert math.fsum(found.values()) == pytest.approx(litres / (1 - settle), rel=1e-9, abs=1e-12)
    scaled = mix_for({part: share * scale for part, share in recipe.items()}, litres, settle)
    assert scaled == pytest.approx(found, rel=1e-9, abs=1e-12)
    for part, amount in found.items():
        packs = whole_packs(amount, 10)
        assert packs.count * 10 >= amount - 1e-6, "never short"
        assert packs.count == 0 or (packs.count - 1) * 10 < amount, "and never a pack too many"
        assert packs.over_l == pytest.approx(packs.count * 10 - amount, abs=1e-6)
        assert found[part] * math.fsum(recipe.values()) == pytest.approx(
            recipe[part] * litres / (1 - settle), rel=1e-6, abs=1e-9
        )


def test_nine_bags_by_hand() -> None:
    # Nine bags of 15 × 20 cm, nine tenths filled: 9 · 0.9 · π/4 · 15² · 20 / 1000 = 28.63 l; poured 33.68; 2 : 1 : 1.
    litres = 9 * VESSELS["bag"].filled_l
    assert litres == pytest.approx(28.6278, abs=1e-4)
    found = mix_for(recipes()["light"].shares, litres)
    assert found == pytest.approx({"peat-free": 16.8399, "perlite": 8.4199, "vermiculite": 8.4199}, abs=1e-3)
    assert dry_weight_kg(found) == pytest.approx(16.8399 * 0.45 + 8.4199 * (0.1 + 0.12), abs=1e-3)
    assert (whole_packs(20, 10).count, whole_packs(20.1, 10).count, whole_packs(0, 10).count) == (2, 3, 0)
    assert cheapest_packs(30, [(40, 9.0), (20, 5.0)]).size_l == 40, "one at 9 before two at 5"
    assert cheapest_packs(15, [(40, 9.0), (20, 5.0)]).size_l == 20


@pytest.mark.parametrize(
    ("recipe", "litres", "settle"),
    [({}, 1, 0.15), ({"sand": 0}, 1, 0.15), ({"sand": -1, "bark": 2}, 1, 0.15), ({"sand": 1}, -1, 0.15),
     ({"sand": 1}, 1, 1.0), ({"sand": 1}, math.nan, 0.15), ({"sand": math.inf}, 1, 0.15)],
)  # fmt: skip
def test_a_mix_that_cannot_be(recipe: dict[str, float], litres: float, settle: float) -> None:
    with pytest.raises(ValueError, match=r"recipe has parts|litres are nought"):
        mix_for(recipe, litres, settle)


@pytest.mark.parametrize(
    ("plant", "method", "root", "pot"),
    [
        ("tomato", "mix", "light", "plain"), ("rosemary", "gritty", "quarter-sand", "plain"),
        ("vanilla", "bark", "half-bark", "half-bark"), ("dragon-fruit", "gritty", "fifth-gritty", "quarter-sand"),
        ("fig", "bag", "light", "fifth-grit"), ("tomato", "jar", None, "plain"), ("banana", "pup", "plain", "plain"),
    ],
)  # fmt: skip
def test_the_usual_mix(plant: str, method: str, root: str | None, pot: str) -> None:
    found = usual_recipe(*way(plant, method), "root")
    assert (found.key if found else None) == root
    potted = usual_recipe(*way(plant, method), "pot")
    assert potted
    assert potted.key == pot


def test_schools_households_and_acid_mixes() -> None:
    tomato, peat = way("tomato", "mix"), usual_recipe(*way("tomato", "mix"), "root", {"mix": "with peat"})
    assert peat
    assert peat.shares == {"peat": 2, "perlite": 1, "vermiculite": 1}
    half = usual_recipe(*tomato, "root", {"mix": "half potting mix"})
    assert half
    assert half.shares["potting"] * 2 == sum(half.shares.values())
    own = Kit(usual={"light": "plain"})
    assert usual_recipe(*tomato, "root", {}, own) == recipes()["plain"]
    assert usual_recipe(*tomato, "root", {"mix": "with peat"}, own) == peat, "a school that was chosen stands"
    assert (ph_range(handbook()["pineapple"]), ph_range(handbook()["tomato"])) == ((5.5, 6.5), None)
    for recipe in recipes().values():
        dry = dry_weight_kg(mix_for(recipe.shares, 1.0))
        assert dry < recipe.wet_kg, f"{recipe.key}: wet weighs more than dry"


def test_what_is_used_at_each_step() -> None:
    rosemary = way("rosemary", "gritty")
    uses = uses_at_sticking(*rosemary, 40, AsTreated({"hormone": "powder"}))
    pot_l = 0.9 * math.pi * 11 / 12 * (13**2 + 13 * 10 + 10**2) / 1000
    assert uses == pytest.approx(
        {"label": 10, "vessel:pot": 10, "cover": 10, "mix:quarter-sand": 10 * pot_l, "powder": 40 * 2 * 0.05}
        if rosemary[1].cover in ("closed", "loose")
        else {"label": 10, "vessel:pot": 10, "mix:quarter-sand": 10 * pot_l, "powder": 4.0}
    )
    parts = with_parts(uses, Kit())
    assert parts["part:sand"] == pytest.approx(10 * pot_l / 0.85 / 4)
    assert parts["part:potting"] == pytest.approx(3 * parts["part:sand"])
    assert "mix:quarter-sand" not in parts
    assert uses_at_sticking(*way("tomato", "jar"), 11, AsTreated({"cover": "none"})) == {"label": 3, "vessel:jar": 3}
    assert uses_at_sticking(*rosemary, 0) == {}
    covered = way("fuchsia", "mix")
    assert covered[1].cover == "loose"
    assert uses_at_sticking(*covered, 8)["cover"] == 2
    assert "cover" not in uses_at_sticking(*covered, 8, AsTreated({"cover": "none"}))
    assert uses_at_sticking(*way("basil", "plug"), 25)["plug"] == 25
    assert "vessel:row" not in uses_at_sticking(*way("blackcurrant", "ground"), 9)
    tomato = uses_at_potting(*way("tomato", "jar"), 5, staked=True)
    assert tomato == pytest.approx({"vessel:litre": 5, "mix:plain": 5.0, "stake": 5})
    assert uses_at_potting(*way("tomato", "jar-straight-out"), 5) == {}
    assert uses_at_potting(*way("basil", "jar"), 7, AsTreated(for_good=True))["vessel:half-litre"] == 3
    assert uses_at_potting(*way("tomato", "clay-solution"), 4)["part:clay"] == pytest.approx(
        4 * VESSELS["net pot"].filled_l
    )
    assert USUAL.chosen == {}


def test_what_one_cutting_and_other_media_and_schools_use() -> None:
    """Net pots as they are filled (a truncated cone), 0.05 g of powder and 0.2 ml of gel a foot, poured twice."""
    net = VESSELS["net pot"].filled_l
    assert uses_at_sticking(*way("tomato", "clay"), 5) == pytest.approx(
        {"label": 5, "vessel:net pot": 5, "part:clay": 5 * net}
    )
    assert uses_at_sticking(*way("tomato", "jar"), 1) == {"label": 1, "vessel:jar": 1}
    one = uses_at_sticking(*way("thyme", "mix"), 1)
    assert (one["powder"], one["cover"], one["label"]) == pytest.approx((0.1, 1, 1))
    gelled = uses_at_sticking(*way("rosemary", "gritty"), 40, AsTreated({"hormone": "gel"}))
    assert (gelled["gel"], "powder" in gelled) == (16.0, False)
    none = uses_at_sticking(*way("thyme", "mix"), 6, AsTreated({"hormone": "none"}))
    assert not {"powder", "gel"} & set(none)
    assert "powder" not in uses_at_sticking(*way("tomato", "mix"), 6), "it begins with another school"
    assert uses_at_potting(*way("tomato", "jar"), 1) == pytest.approx({"vessel:litre": 1, "mix:plain": 1.0})
    assert uses_at_potting(*way("tomato", "jar"), 0) == {}


def test_mixes_that_share_a_part_are_poured_together() -> None:
    """1.7 l as it stands is 2 l poured, settling to 85 in 100."""
    light = with_parts({"mix:light": 1.7}, Kit())
    assert light == pytest.approx({"part:peat-free": 1.0, "part:perlite": 0.5, "part:vermiculite": 0.5})
    both = with_parts({"mix:light": 1.7, "part:perlite": 0.25, "label": 2, "mix:plain": 1.7, "mix:forgotten": 3}, Kit())
    assert both == pytest.approx({**light, "part:perlite": 0.75, "label": 2, "part:potting": 2.0})


@pytest.mark.parametrize(
    ("what", "kept"), [("vessel:jar", True), ("cover", True), ("stake", True), ("label", False), ("mix:plain", False)]
)
def test_what_comes_back_to_the_shed(what: str, kept: bool) -> None:
    assert is_kept(what) is kept
