"""The container to scale with the cuttings standing in it: how deep, how far apart, which nodes are under."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from elder.drawing.scene import Mark, Scene, Shape, Stroke, Text, number
from elder.engine.cut.standing import Sticking

WIDTH, HEIGHT = 340, 250
FLOOR: Final = 226.0  # where the container stands, px
MOST_PX: Final = 150.0  # how wide a container is drawn, so that its words find room on paper
ROOM_PX: Final = 200.0  # for container and what shows above it
LEFT: Final = 8.0
MOST_DRAWN: Final = 6  # stems side by side; more of them only hide each other
TAPER: Final = 0.78  # of the top's width at a pot's foot (assumed)
OPEN_WIDTH_CM: Final = 40.0  # of a row or bed that is shown


@dataclass(frozen=True)
class DrawnCutting:
    """A cutting as a pot shows it: its length, where its nodes lie, cm from its foot, whether it lies flat and has
    leaves."""

    length_cm: float
    nodes_cm: tuple[float, ...]
    lays_flat: bool = False
    leafy: bool = True


def pot_scene(
    stick: Sticking,
    cutting: DrawnCutting,
    *,
    kind: str,
    depth_words: str,
    words: str,
    length_words: Callable[[float], str],
) -> Scene:
    """One container with its cuttings. ``kind``: mix, water or ground; everything but the stems' thickness is to
    scale."""
    length_cm, lays_flat = cutting.length_cm, cutting.lays_flat
    in_ground = stick.container in ("row", "grow bed")
    width_cm = OPEN_WIDTH_CM if in_ground else stick.width_cm
    above = max(length_cm - stick.depth_cm - stick.laid_cm, 2.0) if not lays_flat else 2.0
    px = min(ROOM_PX / (stick.height_cm + above), MOST_PX / width_cm)
    surface = FLOOR - stick.height_cm * px + (0 if in_ground else 0.08 * stick.height_cm * px)
    shapes: list[Shape] = [*_container(stick, width_cm, px, surface, kind, in_ground)]
    many = min(stick.each, MOST_DRAWN)
    if stick.filled.vessel.cells:
        many = 1
    if in_ground:
        many = max(int(width_cm / stick.spacing_cm), 1)
    inner = width_cm * px * (1.0 if in_ground else 0.8)
    for i in range(many):
        at = LEFT + (width_cm * px - inner) / 2 + inner * (i + 0.5) / many
        shapes += _stem(i, at, surface, px, stick, cutting)
    foot = surface + stick.depth_cm * px
    beside = LEFT + width_cm * px + 14
    shapes += [
        Stroke("bracket", number(beside), number(surface), number(beside), number(foot)),
        Stroke("bracket", number(beside - 5), number(surface), number(beside), number(surface)),
        Stroke("bracket", number(beside - 5), number(foot), number(beside), number(foot)),
        Text("pot-depth", number(beside + 8), number((surface + foot) / 2 + 5), depth_words),
    ]
    tall = length_words(length_cm)
    if not lays_flat:
        shapes.append(Text("pot-word", number(beside + 8), number(max(surface - above * px / 2, 14)), f"{tall} long"))
    return Scene(HEIGHT, words, tuple(shapes))


def _container(stick: Sticking, width_cm: float, px: float, surface: float, kind: str, in_ground: bool) -> list[Shape]:
    left, right = LEFT, LEFT + width_cm * px
    top = FLOOR - stick.height_cm * px
    if in_ground:
        d = f"M{number(left)} {number(surface)}H{number(right)}V{number(FLOOR)}H{number(left)}Z"
        line = Stroke("soil", number(left), number(surface), number(right), number(surface))
        return [Mark("pot-mix", "0", "0", d), line]
    inset = 0.0 if kind == "water" else (1 - TAPER) / 2 * (right - left)
    share = (surface - top) / (FLOOR - top)
    at = inset * share
    inside = (
        f"M{number(left + at)} {number(surface)}H{number(right - at)}"
        f"L{number(right - inset)} {number(FLOOR)}H{number(left + inset)}Z"
    )
    walls = (
        f"M{number(left)} {number(top)}L{number(left + inset)} {number(FLOOR)}"
        f"H{number(right - inset)}L{number(right)} {number(top)}"
    )
    return [Mark("pot-water" if kind == "water" else "pot-mix", "0", "0", inside), Mark("pot-wall", "0", "0", walls)]


def _stem(i: int, at: float, surface: float, px: float, stick: Sticking, cutting: DrawnCutting) -> list[Shape]:
    """The i-th cutting of a pot, standing at ``at`` px."""
    length_cm, depth_cm = cutting.length_cm, stick.depth_cm
    foot = surface + depth_cm * px
    if stick.laid_cm:
        return _laid(at, surface, px, stick, cutting)
    if cutting.lays_flat:
        half = length_cm * px / 2
        return (
            [Mark("pot-stem", "0", "0", f"M{number(at - half)} {number(foot)}H{number(at + half)}")] if i == 0 else []
        )
    top = foot - length_cm * px
    shapes: list[Shape] = [Mark("pot-stem", "0", "0", f"M{number(at)} {number(foot)}V{number(top)}")]
    for node, cm in enumerate(cutting.nodes_cm):
        y = foot - cm * px
        if cutting.leafy and cm > depth_cm:
            shapes.append(Mark("leaf-keep", number(at), number(y), _leaf(1 if (node + i) % 2 else -1)))
        shapes.append(Mark("node", number(at), number(y), "M-3 0a3 3 0 1 0 6 0a3 3 0 1 0 -6 0Z"))
    return [*shapes, Mark("blade", number(at), number(foot), "M4 -5L-4 5")]


def _laid(at: float, surface: float, px: float, stick: Sticking, cutting: DrawnCutting) -> list[Shape]:
    """One that is laid: so much of it along the mix, the rest up from there."""
    y, left = surface + stick.depth_cm * px, at - stick.laid_cm * px / 2
    right, up = left + stick.laid_cm * px, (cutting.length_cm - stick.laid_cm - stick.depth_cm) * px
    path = f"M{number(left)} {number(y)}H{number(right)}V{number(surface - up)}"
    shapes: list[Shape] = [Mark("pot-stem", "0", "0", path)]
    for i, cm in enumerate(cutting.nodes_cm):
        along = cm - stick.laid_cm
        x, height = (left + cm * px, y) if along <= 0 else (right, y - along * px)
        if along > stick.depth_cm:
            shapes.append(Mark("leaf-keep", number(x), number(height), _leaf(1 if i % 2 else -1)))
        shapes.append(Mark("node", number(x), number(height), "M-3 0a3 3 0 1 0 6 0a3 3 0 1 0 -6 0Z"))
    return [*shapes, Mark("blade", number(left), number(y), "M4 -5L-4 5")]


def _leaf(side: int) -> str:
    return f"M0 0C{4 * side} -9 {12 * side} -12 {17 * side} -13C{16 * side} -4 {9 * side} 0 0 0Z"
