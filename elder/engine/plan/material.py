"""What is in the hand: a piece of a plant, the ways it suits, and how many cuttings it makes."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from elder.engine.handbook.model import Method

LOST_END_CM: Final = 5.0  # cut away above a break, to sound wood (common practice)


SHORT_SHARE: Final = 0.7  # a piece this much of the proper length still serves (assumed)


# What a piece can be used as. A leaf is only ever a leaf.
STEMS: Final = ("softwood tip", "semi-ripe stem", "dormant stick", "side shoot", "stem joint", "vine section")


PIECES: Final[dict[str, tuple[str, ...]]] = {
    "pruning": (*STEMS, "node section"),
    "broken stem": (*STEMS, "node section"),
    "shoot": ("softwood tip", "side shoot", "slip", "vine section"),
    "top": ("crown top",),
    "pup": ("pup", "division", "runner"),
    "slip": ("slip",),
    "leaf": ("leaf", "leaf with heel"),
}


WHOLE: Final = ("top", "pup", "slip", "leaf")  # each of these is one cutting, whatever its length


SOFT_FORMS: Final = ("softwood tip", "side shoot", "slip", "vine section", "stem joint")


WOODY_FORMS: Final = ("semi-ripe stem", "dormant stick", "vine section", "stem joint", "node section")


STATES: Final = ("sound", "soft", "woody", "flowering", "wilted")


@dataclass(frozen=True)
class Material:
    """What is in the hand: so many pieces of one kind, each so long (``None`` where length says nothing)."""

    piece: str
    pieces: int
    state: str
    length_cm: float | None = None

    def __post_init__(self) -> None:
        if self.piece not in PIECES or self.state not in STATES or self.pieces < 1:
            raise ValueError("no such piece or state, or none of it")


def suits(material: Material, method: Method) -> bool:
    if method.form not in PIECES[material.piece]:
        return False
    if material.piece in WHOLE:
        return True
    forms = {"soft": SOFT_FORMS, "woody": WOODY_FORMS}.get(material.state)
    return forms is None or method.form in forms


def cuttings_from(material: Material, method: Method) -> int:
    """How many cuttings the material makes by a method; 0 where it is too short."""
    if material.piece in WHOLE or material.length_cm is None:
        return material.pieces
    usable = material.length_cm - (LOST_END_CM if material.piece == "broken stem" else 0.0)
    each = max(math.floor(usable / method.length_cm + 1e-9), 0)
    if each == 0 and usable >= SHORT_SHARE * method.length_cm:
        each = 1
    return each * material.pieces
