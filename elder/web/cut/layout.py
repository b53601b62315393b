"""Stems as a person writes them down, laid out into cuttings: parsing, the rules, the sums and the drawings."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Final

from elder.drawing.scene import Scene
from elder.drawing.stem import Ruler, stem_scene
from elder.engine.cut.layout import CutSpec, Layout, Stem, Unusable, lay_out_cuts
from elder.engine.cut.standing import Dressing, dressing
from elder.engine.handbook.model import Method, Plant
from elder.web.say.units import US, length_in, read_length, shown_fine_length
from elder.web.say.words import counted, listed, plural

MOST_CM: Final = 600.0
MOST_NODES: Final = 120
MOST_STEMS: Final = 12
LOOSE_END: Final = (
    0.5  # of the space between two nodes: what is left at either end of a stem of so many nodes (assumed)
)
NUMBER: Final = re.compile(r"\d+(?:[.,]\d+)?")
STRETCH: Final = re.compile(r"\s*(\d+(?:[.,]\d+)?)\s*(?:-|–|to)\s*(\d+(?:[.,]\d+)?)\s*([^,;]*)")


@dataclass(frozen=True)
class Written:
    """A stem as it was typed."""

    length: str
    nodes: str
    bad: str


class UnreadableError(ValueError):
    """A stem that cannot be read: says which field and why, for the person."""

    def __init__(self, field: str, said: str) -> None:
        super().__init__(said)
        self.field = field


@dataclass(frozen=True)
class LaidOut:
    """One stem with its cuttings."""

    stem: Stem
    layout: Layout
    dressings: tuple[Dressing, ...]


@dataclass(frozen=True)
class PieceLine:
    """One cutting of a stem in words."""

    number: str
    cut: str
    length: str
    nodes: str
    leaves: str


def read_stem(written: Written, units: str) -> Stem:
    """A stem from what was typed, in cm. Raises UnreadableError with a sentence."""
    length = _number(written.length, units, "length")
    if not 0 < length <= MOST_CM:
        raise UnreadableError("length", f"A length of at most {shown_fine_length(MOST_CM, units)}, please.")
    nodes = _nodes(written.nodes, length, units)
    return Stem(length, tuple(nodes), tuple(_unusable(written.bad, length, units)))


def _number(typed: str, units: str, field: str) -> float:
    try:
        return read_length(float(typed.replace(",", ".")), units)
    except ValueError as error:
        raise UnreadableError(field, "A number, please.") from error


def _nodes(typed: str, length: float, units: str) -> list[float]:
    """Either how many, evenly spaced, or the place of each from the base. Raises UnreadableError."""
    found = NUMBER.findall(typed.replace(", ", " "))
    if not found or NUMBER.sub("", typed).strip(" ,;·") not in ("", "cm", "in"):
        raise UnreadableError("nodes", "How many nodes, or the place of each from the base, such as 4 10 16.")
    if len(found) == 1 and not re.search("cm|in", typed):  # "7" is how many, "7 cm" is where the only one is
        many = float(found[0].replace(",", "."))
        if not many.is_integer() or not 0 <= many <= MOST_NODES:
            raise UnreadableError("nodes", f"A whole number of nodes, at most {MOST_NODES}.")
        gap = length / max(many - 1 + 2 * LOOSE_END, 1)
        return [gap * (i + LOOSE_END) for i in range(int(many))]
    places = sorted({round(_number(one, units, "nodes"), 2) for one in found})
    if len(places) > MOST_NODES:
        raise UnreadableError("nodes", f"At most {MOST_NODES} nodes to a stem.")
    if places[-1] > length:
        far = shown_fine_length(places[-1], units)
        raise UnreadableError("nodes", f"{far} lies beyond the end of the stem.")
    return places


def _unusable(typed: str, length: float, units: str) -> Iterable[Unusable]:
    for part in filter(None, (one.strip() for one in re.split(r"[,;\n]", typed))):
        match = STRETCH.fullmatch(part)
        if not match:
            raise UnreadableError("bad", "From and to, and why, such as 40-47 in flower.")
        low, high = sorted(_number(match[i], units, "bad") for i in (1, 2))
        if low >= length:
            raise UnreadableError("bad", f"{match[1]} lies beyond the end of the stem.")
        yield Unusable(low, min(high, length), match[3].strip()[:40])


def lay_out(stems: Sequence[Stem], spec: CutSpec, plant: Plant, method: Method) -> list[LaidOut]:
    """Every stem laid out by the same rules."""
    found = []
    for stem in stems:
        layout = lay_out_cuts(stem, spec)
        dressed = tuple(dressing(piece, stem, plant, method) for piece in layout.pieces)
        found.append(LaidOut(stem, layout, dressed))
    return found


def drawn(laid: Sequence[LaidOut], units: str) -> list[Scene]:
    """The stems to one scale, their pieces numbered through."""
    scale, first, scenes = max((one.stem.length_cm for one in laid), default=1.0), 1, []
    step = 25.4 if units == US and scale > 60 else 12.7 if units == US else 10.0 if scale <= 150 else 50.0
    for i, one in enumerate(laid, start=1):
        scenes.append(
            stem_scene(
                one.stem,
                one.layout,
                one.dressings,
                ruler=Ruler(step, lambda cm: f"{length_in(cm, units):.0f}", "in" if units == US else "cm"),
                scale_cm=scale,
                first=first,
                length_words=lambda cm: shown_fine_length(cm, units),
                words=stem_words(one, first, i, len(laid), units),
            )
        )
        first += len(one.layout.pieces)
    return scenes


def stem_words(one: LaidOut, first: int, number: int, of: int, units: str) -> str:
    """A stem in words, for those who cannot see it."""
    name = f"Stem {number}" if of > 1 else "The stem"
    length = shown_fine_length(one.stem.length_cm, units)
    pieces = [
        f"{first + i} from {shown_fine_length(piece.base_cm, units)} to {shown_fine_length(piece.top_cm, units)}"
        for i, piece in enumerate(one.layout.pieces)
    ]
    return f"{name}, {length}, base at the left: {listed(pieces) if pieces else 'no cutting in it'}."


def piece_words(one: LaidOut, units: str, first: int) -> list[PieceLine]:
    """Each piece: its number, where it is cut, what is buried, stripped, halved, kept."""
    lines = []
    for i, (piece, dressed) in enumerate(zip(one.layout.pieces, one.dressings, strict=True)):
        foot = dressed.base_cut
        top = "tip left on" if dressed.top_cut == "tip" else "flat"
        leaves = [
            f"{verb} {counted(len(nodes))}"
            for verb, nodes in (("strip", dressed.strip), ("halve", dressed.halve), ("keep", dressed.keep))
            if nodes
        ]
        lines.append(
            PieceLine(
                number=str(first + i),
                cut=f"{shown_fine_length(piece.base_cm, units)} {foot}, {shown_fine_length(piece.top_cm, units)} {top}",
                length=shown_fine_length(piece.length_cm, units),
                nodes=f"{plural(piece.nodes, 'node', 'nodes')}, {counted(len(dressed.buried))} under",
                leaves=listed(leaves),
            )
        )
    return lines


def waste_words(laid: Sequence[LaidOut], units: str) -> str:
    """How much is left over."""
    waste = sum(high - low for one in laid for low, high in one.layout.waste_cm)
    return shown_fine_length(waste, units) if waste > 0.05 else ""


def spec_with(spec: CutSpec, **rules: float | None) -> CutSpec:
    """The rules with those a person changed. Raises ValueError where nothing could meet them."""
    given = {name: value for name, value in rules.items() if value is not None}
    least = int(given.get("nodes_least", spec.nodes_least))
    buried = min(int(given.get("nodes_buried", spec.nodes_buried)), least)
    return replace(spec, **{**given, "nodes_buried": buried})  # type: ignore[arg-type]
