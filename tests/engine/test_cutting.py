"""The cut sheet's table: common practice of the trade, so no sources. Sizes of pots are ours."""

from __future__ import annotations

import itertools
import re
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.cut.layout import Stem, Unusable, lay_out_cuts
from elder.engine.cut.standing import (
    cut_spec,
    depth_and_under,
    dressing,
    may_be_short,
    nodes_from_foot,
    sticking,
)  # fmt: skip
from elder.engine.cut.steps import (
    PARTS,
    animal_use,
    is_quarantined,
    kitchen_use,
    prepare_days,
    schools_of,
    sheet_steps,
    start_of,
)
from elder.engine.handbook.loading import clonable, handbook

EVERY = [(plant, way) for plant in clonable().values() for way in plant.ways]
IDS = [f"{plant.slug}-{way.slug}" for plant, way in EVERY]


def way(plant: str, method: str) -> Any:
    return handbook()[plant], handbook()[plant].method(method)


def steps(plant: str, method: str, **chosen: str) -> dict[str, Any]:
    found = sheet_steps(*way(plant, method), {key.replace("_", " "): value for key, value in chosen.items()})
    return {step.key: step for step in found}


@pytest.mark.no_cover
@pytest.mark.parametrize(("plant", "method"), EVERY, ids=IDS)
def test_every_way_has_a_whole_sheet(plant: Any, method: Any) -> None:
    """Each school alone, and beside each size: whether a stem is cut at all decides most of what follows."""
    asked = schools_of(plant, method)
    each = [(question, one.school) for question, ways in asked.items() for one in ways]
    sizes = [("size", one.school) for one in asked.get("size", ())] or [each[0]]
    for one, size in itertools.product(each, sizes):
        answers = [*start_of(plant, method).items(), size, one]
        found = sheet_steps(plant, method, dict(answers))
        keys = [step.key for step in found]
        assert len(keys) == len(set(keys))
        assert {"hygiene", "take", "stick", "place", "label"} <= set(keys)
        assert "containers" in keys
        assert [PARTS.index(step.part) for step in found] == sorted(PARTS.index(step.part) for step in found)
        assert ("hormone" in keys) == (method.hormone == "optional")
        shown = {step.school for step in found} | {"stem"}  # how the stem came is asked above the steps
        assert {question for question, _ in answers} <= shown, "every choice can be made, and made again"


@pytest.mark.parametrize(("plant", "method"), EVERY, ids=IDS)
def test_every_question_shows_both_schools_and_begins_where_the_handbook_does(plant: Any, method: Any) -> None:
    start = start_of(plant, method)
    for question, ways in schools_of(plant, method).items():
        names = [one.school for one in ways]
        assert len(names) == len(set(names))
        assert start[question] == names[0]
        theirs = [one.school for one in method.schools if one.question == question and one.start]
        assert not theirs or start[question] == theirs[0]
    if method.hormone == "optional":
        assert {one.school for one in schools_of(plant, method)["hormone"]} == {"none", "powder", "gel"}


@pytest.mark.parametrize(
    ("plant", "method", "said"),
    [
        ("pineapple", "peeled", {"take": "Twist the top off", "flesh": "root bumps", "stick": "the lowest leaf"}),
        ("pineapple", "unpeeled", {"flesh": "leave the leaves as they are"}),
        ("pineapple", "pup", {"take": "spent mother keeps one; a growing one gives up all", "stick": "no deeper"}),
        ("banana", "pup", {"take": "three or four stalks to the clump", "strip": "every leaf", "stick": "no deeper"}),
        ("banana", "ground", {"take": "straight cut", "stick": "no deeper"}),
        ("dragon-fruit", "gritty", {"length": "woody core", "callus": "airy shade", "stick": "{cm 5} to {cm 8}"}),
        ("vanilla", "bark", {"containers": "{mix}", "stick": "tied to the support", "mist": "three times a day"}),
        ("sweet-potato", "pot", {"take": "twist each slip", "water": "{cm 2} of water", "stick": "half the pot"}),
        ("grapevine", "stick", {"take": "Scratch it", "length": "slanted", "stick": "the second at the surface"}),
        ("watercress", "growbed", {"stick": "gravel"}),
        ("basil", "plug", {"stick": "One to a plug", "cover": "shut until the first roots"}),
        ("blackcurrant", "ground", {"stick": "may fail", "containers": "slit"}),
        ("tomato", "clay", {"stick": "net pot"}),
        ("strawberry", "pegged", {"stick": "still on its runner"}),
        ("sugar-cane", "mix", {"stick": "Lay each flat"}),
    ],
)  # fmt: skip
def test_special_ways_in_full(plant: str, method: str, said: dict[str, str]) -> None:
    found = steps(plant, method)
    for key, words in said.items():
        assert words in f"{found[key].title}. {found[key].text}", key


@pytest.mark.parametrize(
    ("plant", "method", "key"),
    [("dragon-fruit", "gritty", "take"), ("pineapple", "peeled", "flesh"), ("vanilla", "bark", "stick"),
     ("rosemary", "gritty", "hormone"), ("basil", "jar", "hygiene"), ("rosemary", "mix", "containers"),
     ("banana", "pup", "take")],
)  # fmt: skip
def test_cautions_stand_where_the_hurt_could_happen(plant: str, method: str, key: str) -> None:
    assert steps(plant, method)[key].caution


def test_schools_change_the_steps() -> None:
    assert steps("rosemary", "gritty")["hormone"].title == "Hormone powder", "powder for the woody"
    assert "label is the rule" in steps("rosemary", "gritty")["hormone"].caution
    assert steps("rosemary", "gritty", hormone="none")["hormone"].title == "No hormone"
    assert steps("basil", "mix")["hormone"].title == "No hormone", "none for herbs"
    assert "wiped" not in steps("basil", "mix", blade="just sharp")["hygiene"].text
    assert steps("basil", "mix", callus="half an hour")["callus"].timer
    assert "rescue" in steps("tomato", "jar", stem="snapped")
    assert "rescue" not in steps("tomato", "jar")
    assert "heel" in steps("rosemary", "gritty", foot="with a heel")
    assert "heel" not in steps("rosemary", "gritty")
    assert steps("dragon-fruit", "gritty")["callus"].timer
    assert steps("dragon-fruit", "gritty", callus="at once")["callus"].title == "At once, and kept dry"
    assert steps("fuchsia", "mix", cover="closed")["cover"].title == "Close the dome"
    assert steps("fuchsia", "plug", cover="loose")["cover"].title == "Cover it, with air"
    assert steps("basil", "mix", cover="none")["cover"].title == "No cover"
    assert steps("banana", "pup", pups="leave all")["take"].title == "Leave them all"
    assert steps("basil", "mix", watering="from above")["water"].title.startswith("Water from above")
    assert steps("basil", "mix")["firm"].title == "Leave it loose", "loose for the unrooted"


@pytest.mark.parametrize(("plant", "method"), EVERY, ids=IDS)
@pytest.mark.parametrize("count", [1, 11, 200])
def test_how_they_stand(plant: Any, method: Any, count: int) -> None:
    found = sticking(plant, method, count)
    assert (found.containers - 1) * found.each < count <= found.containers * found.each
    assert 0 < found.depth_cm <= found.height_cm
    assert found.spacing_cm > 0
    assert (found.row_cm > 0) == (method.container == "row")
    if method.form not in ("pup", "division", "runner", "crown top", "leaf", "leaf with heel"):
        assert found.depth_cm < method.length_cm, "something shows"


@pytest.mark.parametrize(
    ("plant", "method", "count", "each", "pots", "depth"),
    [
        ("rosemary", "gritty", 8, 4, 2, 5.0),  # four herbs to a pot, one in each corner
        ("grapevine", "stick", 22, 10, 3, None),  # ten vine sticks to a pot
        ("basil", "jar", 17, 5, 4, 5.0),  # half the stem of a herb under water
        ("dragon-fruit", "gritty", 3, 1, 3, 6.5),  # 5 to 8 cm
        ("sweet-potato", "pot", 8, 4, 2, 5.5),  # half the pot deep: a pot of 11 cm
        ("tomato", "jar", 11, 5, 3, 12 * 0.34),  # the bottom third
    ],
)
def test_common_practice_in_numbers(
    plant: str, method: str, count: int, each: int, pots: int, depth: float | None
) -> None:
    found = sticking(*way(plant, method), count)
    assert (found.each, found.containers) == (each, pots)
    assert depth is None or found.depth_cm == pytest.approx(depth)


@pytest.mark.parametrize(
    ("plant", "method", "depth", "under", "laid"),
    [
        # Four nodes 7 cm apart, the lowest 2.5 cm from the foot: the second stands at the surface.
        ("grapevine", "stick", 9.5, 1, 0),
        ("grapevine", "ground", 2.5 + 26 / 3, 1, 0),  # 30 cm, less 2.5 below and 1.5 above
        # Six nodes 59/6 cm apart, the first at 1 cm: two of them lie under, and half a centimetre more.
        ("vanilla", "bark", 5, 2, 1 + 59 / 6 + 0.5),
        ("tomato", "jar", 0.34 * 12, 1, 0),  # nodes at 0.5 and 4.3 cm: the third that is under holds one
        ("basil", "jar", 5, 2, 0),  # half of 10 cm; nodes at 0.5, 3.7 and 6.8
        ("dragon-fruit", "gritty", 6.5, 1, 0),
    ],
)
def test_depth_follows_from_the_nodes(plant: str, method: str, depth: float, under: int, laid: float) -> None:
    found = sticking(*way(plant, method), 12)
    assert (found.depth_cm, found.under, found.laid_cm) == (pytest.approx(depth), under, pytest.approx(laid))


@pytest.mark.parametrize(
    ("vessel", "containers", "each", "kind"),
    [
        ("one to a pot", 33, 1, "pot"),
        ("several together", 9, 4, "pot"),
        ("a bin of thirty", 2, 30, "bin"),
        ("", 9, 4, "pot"),
    ],
)
def test_what_a_vessel_holds(vessel: str, containers: int, each: int, kind: str) -> None:
    found = sticking(*way("tomato", "mix"), 33, chosen={"vessel": vessel})
    assert (found.containers, found.each, found.container) == (containers, each, kind)


def test_one_stands_alone_and_none_is_not_stuck() -> None:
    assert sticking(*way("rosemary", "gritty"), 1).spacing_cm == 13
    with pytest.raises(ValueError, match="at least one"):
        sticking(*way("rosemary", "gritty"), 0)


STEMMED = [pair for pair in EVERY if cut_spec(*pair)]


@given(
    st.sampled_from(STEMMED),
    st.lists(st.floats(0.8, 12), min_size=1, max_size=30),
    st.floats(0, 10),
    st.lists(st.tuples(st.floats(0, 150), st.floats(0, 20)), max_size=3),
)
def test_every_node_is_under_or_shows_and_leaves_have_one_fate(
    pair: Any, gaps: list[float], tip: float, bad: list[tuple[float, float]]
) -> None:
    nodes = tuple(itertools.accumulate(gaps))
    stem = Stem(nodes[-1] + tip, nodes, tuple(Unusable(low, low + size, "bad") for low, size in bad))
    spec = cut_spec(*pair)
    assert spec
    for piece in lay_out_cuts(stem, spec).pieces:
        done = dressing(piece, stem, *pair)
        mine = set(range(piece.first_node, piece.last_node + 1))
        places = nodes_from_foot(piece, stem)
        depth, under = depth_and_under(*pair, places, piece.length_cm)
        assert len(done.buried) == under >= min(spec.nodes_buried, piece.nodes)
        if pair[0].slug not in ("vanilla", "grapevine") and pair[1].form not in ("stem joint", "node section"):
            low = [cm for cm in places if cm < depth]  # nothing is said to be under that shows
            assert under == max(len(low), min(spec.nodes_buried, piece.nodes))
        shown = mine - set(done.buried)
        assert len(done.buried) + len(shown) == piece.nodes
        assert set(done.strip) <= set(done.buried)
        assert not set(done.halve) & set(done.keep)
        assert set(done.halve) | set(done.keep) <= shown
        if done.keep:
            assert set(done.halve) | set(done.keep) == shown
            assert max(mine) in done.keep, "the top leaves stay"
        assert (done.top_cut == "tip") == piece.has_tip or done.top_cut == "flat"


def test_dormant_wood_is_slanted_below_and_flat_above() -> None:
    plant, method = way("grapevine", "stick")
    spec = cut_spec(plant, method)
    assert spec
    assert (spec.nodes_least, spec.nodes_buried, spec.below_cm) == (3, 1, 2.5)
    vine = Stem(64.0, tuple(4.0 + 7 * i for i in range(9)))
    piece = lay_out_cuts(vine, spec).pieces[0]
    done = dressing(piece, vine, plant, method)
    assert (done.base_cut, done.top_cut, done.strip, done.keep) == ("slanted", "flat", (), ())


def test_an_orchid_vine_wants_five_to_seven_nodes_or_three_if_material_is_short() -> None:
    plant, method = way("vanilla", "bark")
    spec, short = cut_spec(plant, method), cut_spec(plant, method, short=True)
    assert spec
    assert short
    assert (spec.nodes_least, spec.nodes_most, spec.nodes_buried, short.nodes_least) == (5, 7, 2, 3)
    assert may_be_short(plant, method)
    assert not may_be_short(*way("basil", "jar"))


def test_what_is_taken_whole_is_not_laid_out() -> None:
    assert cut_spec(*way("pineapple", "peeled")) is None
    assert cut_spec(*way("banana", "pup")) is None


def test_branches_are_made_ready_for_trees_and_not_for_herbs() -> None:
    assert prepare_days(*way("elder", "mix")) == 2
    assert prepare_days(*way("rosemary", "gritty")) == 0
    assert prepare_days(*way("fig", "bag")) == 0, "bare wood has no leaves to take"


def test_only_what_is_well_known_is_eaten_or_fed() -> None:
    assert kitchen_use(handbook()["basil"])
    for slug in ("tomato", "chilli", "fuchsia", "elder", "fig"):
        assert not kitchen_use(handbook()[slug])
        assert not animal_use(handbook()[slug])
    assert {slug for slug in clonable() if is_quarantined(handbook()[slug])} == {
        "citrus", "grapevine", "banana", "sweet-potato", "blackcurrant", "redcurrant", "gooseberry",
        "sugar-cane", "cassava",
    }  # fmt: skip


@pytest.mark.parametrize(("plant", "method"), EVERY, ids=IDS)
def test_every_brace_is_one_the_sheet_fills(plant: Any, method: Any) -> None:
    known = {
        "count", "wanted", "lost", "mother", "cuttings", "pots", "per_pot", "labels", "depth", "spacing", "row",
        "length", "nodes", "buried", "buried_nodes", "below", "above", "above_cut", "above_why", "laid", "plugs", "mix",
        "long_length", "short_length", "powder", "gel", "strength", "dry_days",
        "stick_on", "place", "warmth", "day_warmth", "best", "first_look",
    }  # fmt: skip
    for step in sheet_steps(plant, method):
        said = step.text + step.figure + step.why
        assert {brace for brace in re.findall(r"\{([^}]*)\}", said) if not re.fullmatch(r"cm? [\d.]+", brace)} <= known
        assert not re.search(r"\d (cm|°C)", said), "a measure is given in the person's units"
