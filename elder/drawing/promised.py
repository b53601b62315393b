"""A promise as pots on a sill: those that stand there, those that come as surely as was asked, those that may come, the
gaps; handed over ones leave their label behind. One's own stand at the end, with a band round the pot."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from elder.drawing.scene import Mark, Scene, Shape, Stroke, number, percent

IN_A_ROW: Final = 20
MOST_DRAWN: Final = 80  # pots; of more, one stands for several
ROW_PX: Final = 42.0
TOP_PX: Final = 24.0
LEFT, SPAN = 0.02, 0.96
POT: Final = "M-6.5 0h13l-2 12h-9Z"
BAND: Final = "M-6 4h12l-.5 3h-11Z"
LEAVES: Final = "M0 0V-9M0 -4C-4 -5 -7 -8 -7 -12C-3 -11 0 -8 0 -4M0 -5C4 -6 7 -9 7 -13C3 -12 0 -9 0 -5"
LABEL: Final = "M-3 6V-8L0 -12L3 -8V6Z"
GAP: Final = "M-6.5 0h13l-2 12h-9Z"


@dataclass(frozen=True)
class Pots:
    """How many of each: ``gone`` handed over, ``now`` standing, ``sure`` to come as surely as asked, ``maybe`` to come
    on average, ``missing``; ``own`` of them, counted from the end, are kept."""

    gone: int
    now: int
    sure: int
    maybe: int
    missing: int
    own: int = 0

    @property
    def states(self) -> list[str]:
        """Each pot's state, in the order they are drawn."""
        found = ["gone"] * self.gone + ["now"] * self.now + ["sure"] * self.sure
        return found + ["maybe"] * self.maybe + ["missing"] * self.missing


def pots_of(wanted: int, own: int, *, gone: int, now: int, sure: int, expected: float) -> Pots:
    """The pots of a promise for so many and so many of one's own. ``sure`` and ``expected`` count what is gone and what
    stands too; nothing is drawn twice."""
    left = max(wanted + own - gone, 0)
    here = min(now, left)
    surely = min(max(sure - gone - here, 0), left - here)
    likely = min(max(round(expected) - gone - here - surely, 0), left - here - surely)
    return Pots(gone, here, surely, likely, left - here - surely - likely, own)


def promised_scene(pots: Pots, words: str) -> Scene:
    """The drawing, its words for those who cannot see it."""
    states = pots.states
    each = math.ceil(len(states) / MOST_DRAWN) or 1
    drawn = [(states[i], i + each > len(states) - pots.own) for i in range(0, len(states), each)]
    rows = max(math.ceil(len(drawn) / IN_A_ROW), 1)
    height = round(rows * ROW_PX + 6)
    shapes: list[Shape] = []
    for row in range(rows):
        sill = TOP_PX + row * ROW_PX + 12
        shapes.append(Stroke("pots-sill", "0%", number(sill), "100%", number(sill)))
        for i, (state, own) in enumerate(drawn[row * IN_A_ROW : (row + 1) * IN_A_ROW]):
            shapes += _pot(percent(LEFT + SPAN * (i + 0.5) / IN_A_ROW), number(sill - 12), state, own=own)
    return Scene(height, words, tuple(shapes))


def _pot(x: str, y: str, state: str, *, own: bool) -> list[Shape]:
    if state == "gone":
        return [Mark("pots-label", x, y, LABEL)]
    shapes: list[Shape] = [Mark(f"pots-pot pots-{state}", x, y, GAP if state == "missing" else POT)]
    if state != "missing":
        shapes.append(Mark(f"pots-leaf pots-leaf-{state}", x, y, LEAVES))
    if own:
        shapes.append(Mark("pots-own", x, y, BAND))
    return shapes
