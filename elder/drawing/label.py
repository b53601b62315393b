"""A label to scale, in millimetres from its upper left: bars, boxes and words, for whatever prints it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

Measure = Callable[[str, bool, float], float]
QUIET: Final = 4  # modules of white round a QR code (ISO/IEC 18004, from memory)
LEAST_MM: Final = 1.9  # the smallest words that can be read at the bench (assumed)
MM_PER_PT: Final = 25.4 / 72


@dataclass(frozen=True)
class Size:
    """A kind of label: how wide and high, mm, and whether it is pushed into the pot by one end."""

    key: str
    name: str
    width_mm: float
    height_mm: float
    is_stake: bool


STRIP: Final = Size("strip", "strip, 125 × 18 mm, pushed in at the pot’s edge", 125.0, 18.0, is_stake=True)
TAG: Final = Size("tag", "tag, 70 × 40 mm, tied on", 70.0, 40.0, is_stake=False)
SIZES: Final = {size.key: size for size in (STRIP, TAG)}


@dataclass(frozen=True)
class LabelText:
    """What a label says; ``lines`` below its title, the most telling first."""

    title: str
    code: str
    lines: tuple[str, ...]


@dataclass(frozen=True)
class Box:
    """A black box, mm."""

    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class Words:
    """Words whose baseline begins at a point; ``size`` in mm from line to line."""

    x: float
    y: float
    size: float
    words: str
    bold: bool = False


@dataclass(frozen=True)
class Shape:
    """A closed black outline."""

    points: tuple[tuple[float, float], ...]


LabelShape = Box | Words | Shape


def label_shapes(text: LabelText, size: Size, matrix: Sequence[Sequence[int]], measure: Measure) -> list[LabelShape]:
    """The label: an arrow that points up, its QR code, its words. ``measure`` gives the width in mm of words in bold
    or not at a size."""
    pad = 1.2
    side = min(size.height_mm, size.width_mm * 0.42) - 2 * pad
    arrow = 4.5
    left = pad + arrow + 0.8
    qr = _qr(matrix, left, (size.height_mm - side) / 2, side)
    words_at = left + side + 0.8
    room = size.width_mm - words_at - (12.0 if size.is_stake else 1.5)  # a stake's foot stands in the mix
    shapes: list[LabelShape] = [_arrow(pad, size, arrow), *qr]
    lines = [(text.title, True, 1.25), (text.code, True, 1.1), *((line, False, 0.82) for line in text.lines)]
    total = sum(weight for _, _, weight in lines)
    unit = (size.height_mm - 2 * pad) / total
    y = pad
    for words, bold, weight in lines:
        tall = min(unit * weight * 0.78, 4.6)
        y += unit * weight
        said, fitted = fit(words, bold, tall, room, measure)
        shapes.append(Words(words_at, y - unit * weight * 0.25, fitted, said, bold))
    return shapes


def fit(words: str, bold: bool, tall: float, room: float, measure: Measure) -> tuple[str, float]:
    """Words made smaller until they fit, and then shorter."""
    while tall > LEAST_MM and measure(words, bold, tall) > room:
        tall = max(tall - 0.1, LEAST_MM)
    if measure(words, bold, tall) <= room:
        return words, tall
    while words and measure(f"{words}…", bold, tall) > room:
        words = words[:-1]
    return f"{words.rstrip()}…", tall


def _qr(matrix: Sequence[Sequence[int]], x: float, y: float, side: float) -> list[LabelShape]:
    """Runs of black modules as boxes."""
    each = side / (len(matrix) + 2 * QUIET)
    found: list[LabelShape] = []
    for row, modules in enumerate(matrix):
        start = None
        for column, black in enumerate([*modules, 0]):
            if black and start is None:
                start = column
            elif not black and start is not None:
                left, top = x + (start + QUIET) * each, y + (row + QUIET) * each
                found.append(Box(left, top, (column - start) * each, each))
                start = None
    return found


def _arrow(x: float, size: Size, wide: float) -> Shape:
    """Which way is up: on a stake towards its head, on a tag towards its top."""
    middle = size.height_mm / 2
    if size.is_stake:
        head, tail = x, x + wide
        return Shape(((head, middle), (head + 2.4, middle - 2.4), (head + 2.4, middle - 0.7), (tail, middle - 0.7),
                      (tail, middle + 0.7), (head + 2.4, middle + 0.7), (head + 2.4, middle + 2.4)))  # fmt: skip
    centre, top, foot = x + wide / 2, middle - 5, middle + 5
    return Shape(((centre, top), (centre + 2.4, top + 3), (centre + 0.8, top + 3), (centre + 0.8, foot),
                  (centre - 0.8, foot), (centre - 0.8, top + 3), (centre - 2.4, top + 3)))  # fmt: skip
