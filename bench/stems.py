"""Laying out stems by dynamic programming, beside the plain search that tries every set of cuttings; and a family of
five hundred plants, listed and drawn."""

from __future__ import annotations

import itertools
import random
from datetime import date, timedelta

from bench.table import Line, timed
from elder.drawing.family import family_scene
from elder.engine.cut.layout import CutSpec, Layout, Piece, Stem, Unusable, candidates, lay_out_cuts
from elder.engine.mother.lineage import Family, Member, Took

SPEC = CutSpec(2, 4, 1, below_cm=0.5, above_cm=0.5, length_least_cm=5, length_most_cm=20)
TODAY = date(2027, 4, 6)
FIRST = TODAY - timedelta(days=3000)


def stems(count: int, nodes: int, seed: int = 5) -> list[Stem]:
    """Stems with unevenly spaced nodes and a stretch or two that cannot be used."""
    made, found = random.Random(seed), []  # noqa: S311 - made-up stems
    for _ in range(count):
        places = list(itertools.accumulate(made.uniform(1.5, 4.5) for _ in range(nodes)))
        length = places[-1] + made.uniform(0, 3)
        bad = [made.uniform(0, length) for _ in range(2)]
        spoiled = tuple(Unusable(at, min(at + 4, length)) for at in bad)
        found.append(Stem(length, tuple(places), spoiled))
    return found


def every_layout(stem: Stem) -> int:
    """The most cuttings, by trying every set of those that could be taken."""
    pieces = list(candidates(stem, SPEC))
    best = 0

    def take(start: int, end_cm: float, count: int) -> None:
        nonlocal best
        best = max(best, count)
        for i in range(start, len(ordered)):
            if ordered[i].base_cm >= end_cm - 1e-9:
                take(i + 1, ordered[i].top_cm, count + 1)

    ordered: list[Piece] = sorted(pieces, key=lambda piece: piece.base_cm)
    take(0, float("-inf"), 0)
    return best


def lines() -> list[Line]:
    """Small stems by both ways, fifty large ones beside ten small, a family beside its members only read."""
    small, large = stems(10, 30), stems(50, 60)
    plain_s, most = timed(lambda: [every_layout(stem) for stem in small], 3)
    small_s, laid = timed(lambda: [lay_out_cuts(stem, SPEC) for stem in small], 5)
    if [len(one.pieces) for one in laid if isinstance(one, Layout)] != most:
        raise ArithmeticError("the two do not agree")
    large_s, layouts = timed(lambda: [lay_out_cuts(stem, SPEC) for stem in large], 3)
    pieces = sum(len(one.pieces) for one in layouts if isinstance(one, Layout))
    return [
        Line("stems", "10 stems of 30 nodes", small_s, "trying every layout", plain_s, "the same answers"),
        Line("stems", "50 stems of 60 nodes", large_s, "10 of 30", small_s, f"{pieces} cuttings; ten times the nodes"),
        _family_line(),
    ]


def _family_line() -> Line:
    made, members, takes = random.Random(3), [Member("0", "Plant 0", FIRST)], []  # noqa: S311 - a made-up garden
    for i in range(1, 500):
        day = FIRST + timedelta(days=5 * i)
        takes.append(Took(f"t{i}", str(made.randrange(max(i - 60, 0), i)), day, 9))
        members.append(Member(str(i), f"Plant {i}", day, None, f"t{i}"))

    def drawn() -> int:
        family = Family(members, takes)
        rows = family.rows(family.opened_at_first())
        return len(family_scene(rows, family, TODAY, line=set(), sick=set(), words="").shapes)

    drawn_s, shapes = timed(drawn, 3)
    linked_s, _ = timed(lambda: Family(members, takes), 3)
    return Line("families", "500 plants: folded, drawn", drawn_s, "only linked", linked_s, f"{shapes} shapes")
