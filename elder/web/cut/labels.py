"""Labels: what each says, and how many go on a page; drawn in ``label_drawing``, where one is asked for."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from elder.drawing.label import LabelText, Size

PAPERS: Final = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
MARGIN_MM: Final = 10.0
GAP_MM: Final = 0.0  # labels touch, so that one cut parts two
MOST_LABELS: Final = 200


@dataclass(frozen=True)
class Label:
    """What one label says and opens."""

    text: LabelText
    url: str


def labels_per_page(size: Size, paper: str) -> tuple[int, int]:
    """Columns and rows of labels on a page."""
    width, height = PAPERS[paper]
    across = int((width - 2 * MARGIN_MM + GAP_MM) // (size.width_mm + GAP_MM))
    down = int((height - 2 * MARGIN_MM - 10 + GAP_MM) // (size.height_mm + GAP_MM))
    return max(across, 1), max(down, 1)
