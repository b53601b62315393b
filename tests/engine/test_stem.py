"""Where to cut a stem: against trying every layout, and by the rules every layout keeps."""

from __future__ import annotations

import itertools
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.cut.layout import CutSpec, Layout, Piece, Stem, Unusable, candidates, lay_out_cuts


def value(pieces: tuple[Piece, ...]) -> tuple[int, int, float]:
    """What makes one layout better than another: more cuttings, then more nodes, then lower on the stem."""
    return len(pieces), sum(piece.nodes for piece in pieces), -sum(piece.base_cm for piece in pieces)


def apart(pieces: tuple[Piece, ...]) -> bool:
    return all(a.top_cm <= b.base_cm + 1e-9 and a.last_node < b.first_node for a, b in itertools.pairwise(pieces))


def best_of_all(stem: Stem, spec: CutSpec) -> tuple[int, int, float]:
    """By trying every set of cuttings that do not overlap."""
    found = sorted(candidates(stem, spec), key=lambda piece: piece.base_cm)
    every = (pieces for size in range(len(found) + 1) for pieces in itertools.combinations(found, size))
    return max(value(pieces) for pieces in every if apart(pieces))


@st.composite
def stems(draw: Any) -> Stem:
    gaps = draw(st.lists(st.integers(1, 6), max_size=6))
    nodes = tuple(float(n) for n in itertools.accumulate(gaps))
    length = (nodes[-1] if nodes else 0) + draw(st.integers(0, 4))
    bad = draw(st.lists(st.tuples(st.integers(0, 20), st.integers(0, 5)), max_size=2))
    return Stem(float(length), nodes, tuple(Unusable(float(a), float(a + b)) for a, b in bad))


specs = st.builds(
    CutSpec,
    nodes_least=st.integers(1, 2),
    nodes_most=st.integers(2, 3),
    nodes_buried=st.integers(0, 1),
    below_cm=st.sampled_from([0.0, 0.5, 1.0, 2.5]),
    above_cm=st.sampled_from([0.0, 0.5, 1.0]),
    length_least_cm=st.sampled_from([0.0, 3.0]),
    length_most_cm=st.sampled_from([8.0, float("inf")]),
    keep_tip=st.booleans(),
)


@given(stems(), specs)
def test_as_good_as_trying_every_layout(stem: Stem, spec: CutSpec) -> None:
    found = lay_out_cuts(stem, spec)
    assert value(found.pieces) == pytest.approx(best_of_all(stem, spec))


@given(stems(), specs)
def test_what_every_layout_keeps(stem: Stem, spec: CutSpec) -> None:
    found = lay_out_cuts(stem, spec)
    assert apart(found.pieces)
    for piece in found.pieces:
        assert spec.nodes_least <= piece.nodes <= spec.nodes_most
        assert spec.length_least_cm - 1e-9 <= piece.length_cm <= spec.length_most_cm + 1e-9
        assert piece.base_cm >= -1e-9
        assert piece.top_cm <= stem.length_cm + 1e-9
        assert not any(piece.base_cm < bad.to_cm and bad.from_cm < piece.top_cm for bad in stem.unusable)
        assert spec.keep_tip or not piece.has_tip
    used = sum(piece.length_cm for piece in found.pieces)
    waste = sum(to - start for start, to in found.waste_cm)
    assert used + waste == pytest.approx(stem.length_cm)


def test_a_vine_of_dormant_wood() -> None:
    """Three nodes a piece, about 2.5 cm of wood left below the lowest (common practice)."""
    vine = Stem(64.0, tuple(4.0 + 7 * i for i in range(9)))
    found = lay_out_cuts(vine, CutSpec(3, 3, 2, below_cm=2.5, above_cm=1.0, keep_tip=False))
    assert [(piece.first_node, piece.last_node) for piece in found.pieces] == [(0, 2), (3, 5), (6, 8)]
    assert [piece.base_cm for piece in found.pieces] == [1.5, 22.5, 43.5]
    assert found.waste_cm[0] == (0.0, 1.5)


def test_a_flowering_tip_is_waste_and_a_sound_one_may_stay() -> None:
    shoot = Stem(20.0, (3.0, 8.0, 13.0, 18.0))
    spec = CutSpec(2, 2, 1, below_cm=1, above_cm=0.5)
    assert [piece.has_tip for piece in lay_out_cuts(shoot, spec).pieces] == [False, True]
    flowering = Stem(20.0, shoot.nodes_cm, (Unusable(17.0, 20.0, "in flower"),))
    assert [(p.first_node, p.last_node) for p in lay_out_cuts(flowering, spec).pieces] == [(0, 1)]


def test_nothing_can_be_cut_from_nothing() -> None:
    assert lay_out_cuts(Stem(5.0, ()), CutSpec()) == Layout((), ((0.0, 5.0),))
    assert lay_out_cuts(Stem(0.0, ()), CutSpec()) == Layout((), ())


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: Stem(5, (6.0,)),
        lambda: Stem(5, (3.0, 3.0)),
        lambda: Stem(5, (), (Unusable(4, 2),)),
        lambda: CutSpec(3, 2),
        lambda: CutSpec(2, 3, 3),
        lambda: CutSpec(length_least_cm=5, length_most_cm=4),
    ],
)
def test_what_cannot_be_is_a_mistake_of_ours(wrong: Any) -> None:
    with pytest.raises(ValueError, match=r"\w"):
        wrong()


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        (lambda: Stem(10, (11,)), "a node lies on its stem"),
        (lambda: Stem(10, (-1, 4)), "a node lies on its stem"),
        (lambda: Stem(10, (4, 4)), "nodes rise from the base"),
        (lambda: Stem(10, (4,), (Unusable(5, 4),)), "a stretch runs from the base up"),
        (lambda: CutSpec(nodes_least=0, nodes_buried=0), "nodes run from at least one to at most as many"),
        (lambda: CutSpec(nodes_least=4, nodes_most=3), "nodes run from at least one to at most as many"),
        (lambda: CutSpec(nodes_least=2, nodes_buried=3), "no more nodes are buried than a cutting has"),
        (lambda: CutSpec(nodes_buried=-1), "no more nodes are buried than a cutting has"),
        (lambda: CutSpec(below_cm=-1), "lengths run from nought up"),
        (lambda: CutSpec(above_cm=-1), "lengths run from nought up"),
        (lambda: CutSpec(length_least_cm=-1), "lengths run from nought up"),
        (lambda: CutSpec(length_least_cm=9, length_most_cm=8), "lengths run from nought up"),
    ],
)
def test_what_is_said_of_what_cannot_be(wrong: Any, said: str) -> None:
    with pytest.raises(ValueError, match=f"^{said}$"):
        wrong()


def test_a_cutting_at_the_very_edge_of_what_fits() -> None:
    # Two nodes, a centimetre of wood below and above: from 0 to 6 cm, and neither more nor less will do.
    exact = CutSpec(2, 2, 1, below_cm=1, above_cm=1, length_least_cm=6, length_most_cm=6, keep_tip=False)
    assert lay_out_cuts(Stem(6, (1, 5)), exact) == Layout((Piece(0, 1, 0, 6),), ())
    assert lay_out_cuts(Stem(6, (1, 4.9)), exact).pieces == ()  # a millimetre short
    assert lay_out_cuts(Stem(6, (0.9, 5)), exact).pieces == ()  # too little wood below the lowest node
    assert lay_out_cuts(Stem(5.9, (1, 5)), exact).pieces == ()  # or above the highest
    assert lay_out_cuts(Stem(7, (1, 5)), exact).waste_cm == ((6, 7),)
    # Stretches that only touch its ends are none of its business; one that reaches in is.
    stem = Stem(9, (2, 6), (Unusable(0, 1), Unusable(7, 9)))
    assert lay_out_cuts(stem, exact) == Layout((Piece(0, 1, 1, 7),), ((0, 1), (7, 9)))
    assert lay_out_cuts(Stem(9, (2, 6), (Unusable(0, 1.1),)), exact).pieces == ()
    assert lay_out_cuts(Stem(9, (2, 6), (Unusable(6.9, 9),)), exact).pieces == ()


def test_the_first_node_may_lie_too_low_and_the_next_not() -> None:
    spec = CutSpec(2, 2, 1, below_cm=1, above_cm=1, keep_tip=False)
    found = lay_out_cuts(Stem(10, (0.5, 3, 6)), spec)
    assert found == Layout((Piece(1, 2, 2, 7),), ((0, 2), (7, 10)))


def test_ends_that_meet_do_not_overlap() -> None:
    spec = CutSpec(2, 2, 1, below_cm=0.5, above_cm=0.5, keep_tip=False)
    found = lay_out_cuts(Stem(8, (0.5, 3.5, 4.5, 7.5)), spec)
    assert found == Layout((Piece(0, 1, 0, 4), Piece(2, 3, 4, 8)), ())
    assert (found.pieces[0].nodes, found.pieces[0].length_cm) == (2, 4)


def test_the_tip_stays_where_all_else_is_equal() -> None:
    spec = CutSpec(2, 2, 1, below_cm=1, above_cm=1)
    assert lay_out_cuts(Stem(6, (1, 5)), spec).pieces == (Piece(0, 1, 0, 6, has_tip=True),)
    assert lay_out_cuts(Stem(6, (1, 5)), CutSpec(2, 2, 1, 1, 1, keep_tip=False)).pieces == (Piece(0, 1, 0, 6),)
