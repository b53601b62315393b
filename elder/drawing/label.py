"""A label to scale, in millimetres from its upper left: bars, boxes and words, for whatever prints it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

Measure = Callable[[str, bool, float], float]
QUIET: Final = 4  # modules of white round a QR code (ISO/IEC 18004, from memory)
PAD_MM: Final = 1.2
ARROW_MM: Final = 4.5
HEAD_MM: Final = 9.0  # of a tag: the title's band
FOOT_MM: Final = 12.0  # of a stake: what stands in the mix
MOST_MM: Final = 5.5  # the largest words
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
class Block:
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


LabelShape = Block | Words | Shape


def label_shapes(text: LabelText, size: Size, matrix: Sequence[Sequence[int]], measure: Measure) -> list[LabelShape]:
    """The label: an arrow that points up, its QR code, its words. ``measure`` gives the width in mm of words in bold
    or not at a size. On a tag the title stands across the top; on a stake all stands beside the code, and its foot,
    which goes into the mix, is left bare."""
    head = 0.0 if size.is_stake else HEAD_MM
    side = size.height_mm - head - 2 * PAD_MM
    qr_at = PAD_MM + ARROW_MM + 0.8
    words_at = qr_at + side + 0.8
    room = size.width_mm - words_at - (FOOT_MM if size.is_stake else PAD_MM)
    plain = [(line, False, 0.82) for line in text.lines]
    shapes: list[LabelShape] = [
        _arrow(PAD_MM, size, head + side / 2 + PAD_MM),
        *_qr(matrix, qr_at, head + PAD_MM, side),
    ]
    if size.is_stake:
        lines = [(text.title, True, 1.25), (text.code, True, 1.1), *plain]
        return shapes + _lines(lines, words_at, PAD_MM, size.height_mm - 2 * PAD_MM, room, measure)
    title = _lines([(text.title, True, 1.0)], PAD_MM + 1, 0.8, head, size.width_mm - 2 * PAD_MM - 2, measure)
    lines = [(text.code, True, 1.2), *plain]
    return shapes + title + _lines(lines, words_at, head + 3, side - 4, room, measure)


def _lines(
    lines: Sequence[tuple[str, bool, float]], x: float, y: float, height: float, room: float, measure: Measure
) -> list[LabelShape]:
    """Lines one below the other, by their weights; those of one weight all as small as the longest wants."""
    unit = height / sum(weight for _, _, weight in lines)
    fitted = [fit(words, bold, min(unit * weight * 0.78, MOST_MM), room, measure) for words, bold, weight in lines]
    smallest = {
        weight: min(tall for (_, tall), (_, _, other) in zip(fitted, lines, strict=True) if other == weight)
        for _, _, weight in lines
    }
    shapes: list[LabelShape] = []
    for (words, _), (_, bold, weight) in zip(fitted, lines, strict=True):
        y += unit * weight
        shapes.append(Words(x, y - unit * weight * 0.25, smallest[weight], words, bold))
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
                found.append(Block(left, top, (column - start) * each, each))
                start = None
    return found


def _arrow(x: float, size: Size, middle: float) -> Shape:
    """Which way is up: on a stake towards its head, on a tag towards its top."""
    if size.is_stake:
        head, tail = x, x + ARROW_MM
        return Shape(((head, middle), (head + 2.4, middle - 2.4), (head + 2.4, middle - 0.7), (tail, middle - 0.7),
                      (tail, middle + 0.7), (head + 2.4, middle + 0.7), (head + 2.4, middle + 2.4)))  # fmt: skip
    centre, top, foot = x + ARROW_MM / 2, middle - 5, middle + 5
    return Shape(((centre, top), (centre + 2.4, top + 3), (centre + 0.8, top + 3), (centre + 0.8, foot),
                  (centre - 0.8, foot), (centre - 0.8, top + 3), (centre - 2.4, top + 3)))  # fmt: skip
