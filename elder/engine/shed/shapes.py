"""Shapes that hold mix: lengths in cm, volumes in litres. Solid geometry; the square frustum is problem 14 of the
Moscow papyrus."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

CM3_PER_LITRE: Final = 1000.0


def _positive(**lengths: float) -> None:
    for name, value in lengths.items():
        if not (math.isfinite(value) and value > 0):
            raise ValueError(f"{name} is a length above nought")


@dataclass(frozen=True)
class _Narrowing:
    """What narrows from its top to its foot; lengths in cm. Raises ValueError for lengths of nought or less."""

    top_cm: float
    base_cm: float
    height_cm: float

    def __post_init__(self) -> None:
        _positive(top_cm=self.top_cm, base_cm=self.base_cm, height_cm=self.height_cm)

    @property
    def third_cm3(self) -> float:
        """h/3 · (D² + Dd + d²): what a square one holds; a round one π/4 of it."""
        top, base = self.top_cm, self.base_cm
        return self.height_cm / 3 * (top * top + top * base + base * base)

    @property
    def foot_cm(self) -> tuple[float, float]:
        """The floor it takes, cm by cm, at its widest."""
        return (max(self.top_cm, self.base_cm),) * 2


@dataclass(frozen=True)
class Frustum(_Narrowing):
    """A round pot: its width at the top and at the foot, and its height, cm. Raises ValueError for lengths of nought or
    less."""

    @property
    def volume_l(self) -> float:
        """Litres to the brim: πh/12 · (D² + Dd + d²)."""
        return math.pi / 4 * self.third_cm3 / CM3_PER_LITRE

    @property
    def surface_cm2(self) -> float:
        """Its surface at the top."""
        return math.pi * self.top_cm**2 / 4

    @property
    def is_round(self) -> bool:
        """Whether it stands on a round foot."""
        return True


@dataclass(frozen=True)
class SquareFrustum(_Narrowing):
    """A square pot or a cell: sides at the top and at the foot, and height, cm. Raises ValueError as ``Frustum``."""

    @property
    def volume_l(self) -> float:
        """Litres to the brim: h/3 · (a² + ab + b²)."""
        return self.third_cm3 / CM3_PER_LITRE

    @property
    def surface_cm2(self) -> float:
        """Its surface at the top."""
        return self.top_cm**2

    @property
    def is_round(self) -> bool:
        """Whether it stands on a round foot."""
        return False


@dataclass(frozen=True)
class Cylinder:
    """A jar, a bag: its width and height, cm. Raises ValueError as ``Frustum``."""

    across_cm: float
    height_cm: float

    def __post_init__(self) -> None:
        _positive(across_cm=self.across_cm, height_cm=self.height_cm)

    @property
    def volume_l(self) -> float:
        """Litres to the brim."""
        return self.surface_cm2 * self.height_cm / CM3_PER_LITRE

    @property
    def top_cm(self) -> float:
        """Its width at the top."""
        return self.across_cm

    @property
    def foot_cm(self) -> tuple[float, float]:
        """The floor it takes, cm by cm."""
        return (self.across_cm, self.across_cm)

    @property
    def surface_cm2(self) -> float:
        """Its surface at the top."""
        return math.pi * self.across_cm**2 / 4

    @property
    def is_round(self) -> bool:
        """Whether it stands on a round foot."""
        return True


@dataclass(frozen=True)
class Box:
    """A bin, a crate, a stretch of bed: length, width and height, cm. Raises ValueError as ``Frustum``."""

    long_cm: float
    wide_cm: float
    height_cm: float

    def __post_init__(self) -> None:
        _positive(long_cm=self.long_cm, wide_cm=self.wide_cm, height_cm=self.height_cm)

    @property
    def volume_l(self) -> float:
        """Litres to the brim."""
        return self.surface_cm2 * self.height_cm / CM3_PER_LITRE

    @property
    def top_cm(self) -> float:
        """Its longer side."""
        return max(self.long_cm, self.wide_cm)

    @property
    def foot_cm(self) -> tuple[float, float]:
        """The floor it takes, cm by cm."""
        return (self.long_cm, self.wide_cm)

    @property
    def surface_cm2(self) -> float:
        """Its surface at the top."""
        return self.long_cm * self.wide_cm

    @property
    def is_round(self) -> bool:
        """Whether it stands on a round foot."""
        return False


Shape = Frustum | SquareFrustum | Cylinder | Box
SHAPES: Final[dict[str, type[Frustum] | type[SquareFrustum] | type[Cylinder] | type[Box]]] = {
    "frustum": Frustum, "square frustum": SquareFrustum, "cylinder": Cylinder, "box": Box,
}  # fmt: skip
