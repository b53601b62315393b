"""Where to cut a stem: as many good cuttings as it gives, and what is waste.

A cutting is a run of neighbouring nodes with some wood below the lowest and above the highest. Weighted interval
scheduling (dynamic programming over the cuttings by their upper ends): Kleinberg & Tardos 2005, "Algorithm Design",
6.1 (from memory).
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass

SLACK_CM = 1e-9  # ends that meet do not overlap, whatever the rounding


@dataclass(frozen=True)
class Unusable:
    """A stretch of a stem that no cutting may touch, cm from its base, and why."""

    from_cm: float
    to_cm: float
    reason: str = ""


@dataclass(frozen=True)
class Stem:
    """A stem by its length and its nodes, cm from the base, rising.

    Raises ValueError where a node lies off the stem or below the one before it, or a stretch runs backwards.
    """

    length_cm: float
    nodes_cm: tuple[float, ...]
    unusable: tuple[Unusable, ...] = ()

    def __post_init__(self) -> None:
        if any(not 0 <= node <= self.length_cm for node in self.nodes_cm):
            raise ValueError("a node lies on its stem")
        if any(b <= a for a, b in zip(self.nodes_cm, self.nodes_cm[1:], strict=False)):
            raise ValueError("nodes rise from the base")
        if any(stretch.to_cm < stretch.from_cm for stretch in self.unusable):
            raise ValueError("a stretch runs from the base up")


@dataclass(frozen=True)
class CutSpec:
    """What a cutting must be: nodes least to most, how many of them buried, wood left below the lowest and above the
    highest, its least and greatest length, all in cm; and whether the growing tip may stay on the top one.

    Raises ValueError for bounds that cannot be met by anything.
    """

    nodes_least: int = 2
    nodes_most: int = 3
    nodes_buried: int = 1
    below_cm: float = 1.0
    above_cm: float = 0.5
    length_least_cm: float = 0.0
    length_most_cm: float = float("inf")
    keep_tip: bool = True

    def __post_init__(self) -> None:
        if not 1 <= self.nodes_least <= self.nodes_most:
            raise ValueError("nodes run from at least one to at most as many")
        if not 0 <= self.nodes_buried <= self.nodes_least:
            raise ValueError("no more nodes are buried than a cutting has")
        if not 0 <= self.length_least_cm <= self.length_most_cm or self.below_cm < 0 or self.above_cm < 0:
            raise ValueError("lengths run from nought up")


@dataclass(frozen=True)
class Piece:
    """One cutting: its first and last node (counted from 0 at the base), and where it is cut, cm from the base."""

    first_node: int
    last_node: int
    base_cm: float
    top_cm: float
    has_tip: bool = False

    @property
    def nodes(self) -> int:
        """How many nodes it has."""
        return self.last_node - self.first_node + 1

    @property
    def length_cm(self) -> float:
        """From cut to cut."""
        return self.top_cm - self.base_cm


@dataclass(frozen=True)
class Layout:
    """The cuttings from the base up, and what is left over between them, as (from, to) in cm."""

    pieces: tuple[Piece, ...]
    waste_cm: tuple[tuple[float, float], ...]


def lay_out_cuts(stem: Stem, spec: CutSpec) -> Layout:
    """The most cuttings; of those layouts the one that uses most nodes; of those the one lowest on the stem; of those
    the one that keeps the growing tip."""
    pieces = sorted(candidates(stem, spec), key=lambda piece: (piece.top_cm, piece.base_cm))
    tops = [piece.top_cm for piece in pieces]
    best: list[tuple[int, int, float, bool]] = [(0, 0, 0.0, False)]
    # Cut at the node itself, two neighbours would share it: one ends below where the next begins.
    apart = SLACK_CM if spec.below_cm + spec.above_cm > SLACK_CM else -SLACK_CM
    before = [bisect_right(tops, piece.base_cm + apart, hi=i) for i, piece in enumerate(pieces)]
    for piece, earlier in zip(pieces, before, strict=True):
        count, nodes, height, _ = best[earlier]
        best.append(max(best[-1], (count + 1, nodes + piece.nodes, height - piece.base_cm, piece.has_tip)))
    chosen: list[Piece] = []
    i = len(pieces)
    while i > 0:
        if best[i] == best[i - 1]:
            i -= 1
        else:
            chosen.append(pieces[i - 1])
            i = before[i - 1]
    chosen.reverse()
    return Layout(tuple(chosen), tuple(_waste(stem, chosen)))


def candidates(stem: Stem, spec: CutSpec) -> Iterator[Piece]:
    """Every cutting that could be taken, alone."""
    last = len(stem.nodes_cm) - 1
    for first in range(len(stem.nodes_cm)):
        base = stem.nodes_cm[first] - spec.below_cm
        if base < -SLACK_CM:
            continue
        for end in range(first + spec.nodes_least - 1, min(first + spec.nodes_most, last + 1)):
            pieces = [Piece(first, end, base, stem.nodes_cm[end] + spec.above_cm)]
            if end == last and spec.keep_tip:  # the tip may stay, and may be cut off where it is too long or in flower
                pieces.append(Piece(first, end, base, stem.length_cm, has_tip=True))
            for piece in pieces:
                if piece.top_cm <= stem.length_cm + SLACK_CM and _fits(piece, stem, spec):
                    yield piece


def _fits(piece: Piece, stem: Stem, spec: CutSpec) -> bool:
    if not spec.length_least_cm - SLACK_CM <= piece.length_cm <= spec.length_most_cm + SLACK_CM:
        return False
    return not any(piece.base_cm < bad.to_cm and bad.from_cm < piece.top_cm for bad in stem.unusable)


def _waste(stem: Stem, pieces: list[Piece]) -> Iterator[tuple[float, float]]:
    at = 0.0
    for piece in pieces:
        if piece.base_cm > at + SLACK_CM:
            yield at, piece.base_cm
        at = piece.top_cm
    if stem.length_cm > at + SLACK_CM:
        yield at, stem.length_cm
