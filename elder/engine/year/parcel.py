"""Sticks for a parcel: cut to its inner length, and what is left of each shoot struck again.

A shoot that is longer than the parcel gives as many sticks of its length as go into it; the rest, where it has the
nodes and the length of a cutting, is laid out as cuttings of one's own (``cut/layout``).
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Final

from elder.engine.cut.layout import CutSpec, Layout, Piece, Stem, Unusable, lay_out_cuts

PADDING_CM: Final = 2.0  # damp paper and card at the two ends together (assumed)
SLACK_CM: Final = 1e-9


@dataclass(frozen=True)
class ParcelCut:
    """One shoot: the sticks that go, from the base up, and the cuttings its rest gives."""

    stem: Stem
    sticks: tuple[Piece, ...]
    rest: Layout

    @property
    def struck_again(self) -> int:
        """How many of the trimmings may be struck."""
        return len(self.rest.pieces)


def room_in(inner_cm: float) -> float:
    """How long a stick may be, cm. Raises ValueError for a parcel that has no room between its padding."""
    if inner_cm <= PADDING_CM:
        raise ValueError("a parcel is longer than its padding")
    return inner_cm - PADDING_CM


def cut_for_parcel(stem: Stem, spec: CutSpec, inner_cm: float, *, most: int | None = None) -> ParcelCut:
    """A shoot cut for a parcel of an inner length in cm: sticks as long as go in, from the base, ``most`` of them at
    the most; a shoot that goes in whole goes whole. Nothing where the parcel is too short for a cutting at all."""
    room = room_in(inner_cm)
    if room < spec.length_least_cm:
        return ParcelCut(stem, (), lay_out_cuts(stem, spec))
    whole = replace(spec, nodes_most=max(len(stem.nodes_cm), spec.nodes_least), length_most_cm=room)
    sticks: list[Piece] = []
    base = 0.0
    while most is None or len(sticks) < most:
        stick = _longest(stem, whole, base, room)
        # A second stick has to fill its parcel; what is shorter is worth more struck than sent.
        if stick is None or (sticks and not _fills(stem, whole, stick, room)):
            break
        sticks.append(stick)
        base = stick.top_cm
    taken = tuple(Unusable(one.base_cm, one.top_cm, "sent") for one in sticks)
    return ParcelCut(stem, tuple(sticks), lay_out_cuts(replace(stem, unusable=(*stem.unusable, *taken)), spec))


def _longest(stem: Stem, spec: CutSpec, base: float, room: float) -> Piece | None:
    """The stick of most nodes that begins lowest above a height."""
    for first, node in enumerate(stem.nodes_cm):
        start = node - spec.below_cm
        if start < base - SLACK_CM:
            continue
        for last in range(len(stem.nodes_cm) - 1, first + spec.nodes_least - 2, -1):
            piece = _piece(stem, spec, first, last)
            if piece and spec.length_least_cm - SLACK_CM <= piece.length_cm <= room + SLACK_CM:
                return piece
    return None


def _piece(stem: Stem, spec: CutSpec, first: int, last: int) -> Piece | None:
    """A run of nodes as it is cut; ``None`` where there is not wood enough, or a part that may not be used."""
    tip = last == len(stem.nodes_cm) - 1 and spec.keep_tip
    base = stem.nodes_cm[first] - spec.below_cm
    top = stem.length_cm if tip else stem.nodes_cm[last] + spec.above_cm
    if base < -SLACK_CM or top > stem.length_cm + SLACK_CM:
        return None
    if any(bad.from_cm < top and base < bad.to_cm for bad in stem.unusable):
        return None
    return Piece(first, last, base, top, tip)


def _fills(stem: Stem, spec: CutSpec, stick: Piece, room: float) -> bool:
    """Whether a node more would not have gone in: the stick is as long as the parcel lets it be."""
    more = stick.last_node + 1
    return more < len(stem.nodes_cm) and stem.nodes_cm[more] + spec.above_cm - stick.base_cm > room


def even_stem(length_cm: float, nodes: int) -> Stem:
    """A shoot with so many nodes evenly along it, half a space left at either end."""
    gap = length_cm / max(nodes, 1)
    return Stem(length_cm, tuple(gap * (i + 0.5) for i in range(nodes)))


@dataclass(frozen=True)
class Sent:
    """Shoots cut for a parcel until there are enough: how many sticks go, of how many shoots, how many cuttings are
    left for oneself."""

    sticks: int
    shoots: int
    struck_again: int
    cuts: tuple[ParcelCut, ...]


def cut_for(stems: Iterable[Stem], spec: CutSpec, inner_cm: float, count: int) -> Sent:
    """Shoots cut one after another until so many sticks lie there; fewer where the shoots give no more."""
    cuts: list[ParcelCut] = []
    have = 0
    for stem in stems:
        if have >= count:
            break
        cut = cut_for_parcel(stem, spec, inner_cm, most=count - have)
        cuts.append(cut)
        have += len(cut.sticks)
    return Sent(have, len(cuts), sum(one.struck_again for one in cuts), tuple(cuts))
