"""A stem to scale: where it is cut, what goes under, what is stripped, halved and kept, and what is waste."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

from elder.drawing.scene import Area, Mark, Scene, Shape, Stroke, Text, box, number, percent
from elder.engine.cut.layout import Layout, Stem
from elder.engine.cut.standing import Dressing

PAD: Final = 0.03  # of the width, on either side
MIDDLE, BRACKET, RULER, HEIGHT = 78.0, 26.0, 142.0, 166
NARROW: Final = 0.11  # of the width: a piece shorter than this has no room for its length beside its number

UP = "M0 -4C-8 -12 -6 -30 3 -38C10 -26 9 -12 0 -4Z"
DOWN = "M0 4C-8 12 -6 30 3 38C10 26 9 12 0 4Z"
HALF_UP = "M0 -4C-7 -10 -8 -16 -6 -21L7.5 -21C8 -14 6 -9 0 -4Z"
HALF_DOWN = "M0 4C-7 10 -8 16 -6 21L7.5 21C8 14 6 9 0 4Z"
KNOB = "M-4.5 0a4.5 4.5 0 1 0 9 0a4.5 4.5 0 1 0 -9 0Z"
CUTS: Final = {"slanted": "M6 -16L-6 16", "flat": "M0 -16V16", "straight": "M0 -16V16", "pared": "M10 -15L-5 0L10 15"}


@dataclass(frozen=True)
class Ruler:
    """Marks below a stem: every so many cm, what each says, and the words at its end."""

    step_cm: float
    words: Callable[[float], str]
    end: str


def stem_scene(
    stem: Stem,
    layout: Layout,
    dressings: Sequence[Dressing],
    *,
    ruler: Ruler,
    scale_cm: float,
    first: int,
    length_words: Callable[[float], str],
    words: str,
) -> Scene:
    """One stem, base at the left; ``scale_cm`` is the length the full width stands for, so that several stems are to
    one scale; ``first`` the number of its first piece."""

    def x(cm: float) -> float:
        return PAD + (1 - 2 * PAD) * cm / scale_cm

    under = (x(stem.nodes_cm[node]) for dressed in dressings for node in dressed.buried)
    shapes: list[Shape] = [Area("under", box(max(at - 0.012, 0), at + 0.012, MIDDLE - 13, MIDDLE + 13)) for at in under]
    shapes += [Area("unusable", box(x(bad.from_cm), x(bad.to_cm), MIDDLE - 42, MIDDLE + 42)) for bad in stem.unusable]
    for role, low, high in (("stem", 0.0, stem.length_cm), *(("stem-waste", *span) for span in layout.waste_cm)):
        shapes.append(Stroke(role, percent(x(low)), number(MIDDLE), percent(x(high)), number(MIDDLE)))
    fate = _fates(dressings)
    for i, cm in enumerate(stem.nodes_cm):
        shapes += _node(i, percent(x(cm)), fate.get(i, "bare" if _inside(layout, i) else "waste"))
    for i, (piece, dressed) in enumerate(zip(layout.pieces, dressings, strict=True)):
        shapes += _piece(x(piece.base_cm), x(piece.top_cm), dressed, str(first + i), length_words(piece.length_cm))
    shapes += [
        Text("unusable-word", percent(x((bad.from_cm + bad.to_cm) / 2)), number(MIDDLE - 46), bad.reason, "middle")
        for bad in stem.unusable
        if bad.reason
    ]
    return Scene(HEIGHT, words, (*shapes, *_ruler(ruler, stem.length_cm, x)))


def _fates(dressings: Sequence[Dressing]) -> dict[int, str]:
    found: dict[int, str] = {}
    for dressed in dressings:
        found |= dict.fromkeys(dressed.buried, "bare")
        found |= dict.fromkeys(dressed.keep, "keep") | dict.fromkeys(dressed.halve, "halve")
        found |= dict.fromkeys(dressed.strip, "strip")
    return found


def _inside(layout: Layout, node: int) -> bool:
    return any(piece.first_node <= node <= piece.last_node for piece in layout.pieces)


def _node(i: int, at: str, fate: str) -> list[Shape]:
    up, half = (UP, HALF_UP) if i % 2 == 0 else (DOWN, HALF_DOWN)
    leaf = {"keep": ("leaf-keep", up), "halve": ("leaf-halve", half), "strip": ("leaf-strip", up)}.get(fate)
    if fate == "waste":
        leaf = ("leaf-waste", half)
    shapes: list[Shape] = [Mark(leaf[0], at, number(MIDDLE), leaf[1])] if leaf else []
    return [*shapes, Mark("node", at, number(MIDDLE), KNOB)]


def _piece(left: float, right: float, dressed: Dressing, name: str, length: str) -> list[Shape]:
    top, middle = number(BRACKET), percent((left + right) / 2)
    shapes: list[Shape] = [
        Stroke("bracket", percent(left), top, percent(right), top),
        Stroke("bracket", percent(left), top, percent(left), number(BRACKET + 7)),
        Stroke("bracket", percent(right), top, percent(right), number(BRACKET + 7)),
        Mark("blade", percent(left), number(MIDDLE), CUTS[dressed.base_cut]),
    ]
    if dressed.top_cut in CUTS:
        shapes.append(Mark("blade", percent(right), number(MIDDLE), CUTS[dressed.top_cut]))
    wide = right - left >= NARROW
    shapes.append(Text("piece-number", middle, number(BRACKET - 7), name, "end" if wide else "middle", "-3"))
    if wide:
        shapes.append(Text("piece-length", middle, number(BRACKET - 7), length, "start", "3"))
    return shapes


def _ruler(ruler: Ruler, length_cm: float, x: Callable[[float], float]) -> list[Shape]:
    line = number(RULER - 14)
    shapes: list[Shape] = [Stroke("ruler", percent(x(0)), line, percent(x(length_cm)), line)]
    marks = int(length_cm / ruler.step_cm + 1e-9)
    for i in range(2 * marks + 1):
        cm = i * ruler.step_cm / 2
        if cm <= length_cm:
            at = percent(x(cm))
            shapes.append(Stroke("ruler", at, line, at, number(RULER - (6 if i % 2 == 0 else 10))))
            if i % 2 == 0:
                shapes.append(Text("day-number", at, number(RULER + 6), ruler.words(cm), "middle"))
    shapes.append(Text("ruler-word", percent(x(0)), number(RULER + 21), "base", "start", "-4"))
    shapes.append(Text("ruler-word", percent(x(length_cm)), number(RULER + 21), ruler.end, "end", "4"))
    return shapes
