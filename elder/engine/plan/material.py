"""What is in the hand: a piece of a plant in the gardener's own word, the ways it suits, how many cuttings it makes,
and what lying about has cost it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

from elder.engine.handbook.model import Method, Plant

LOST_END_CM: Final = 5.0  # cut away above a break, to sound wood (common practice)
SHORT_SHARE: Final = 0.7  # a piece this much of the proper length still serves (assumed)
LONG_SHARE: Final = 1.3  # and one this much of it is longer than the usual (assumed)

# What a piece can be used as. A leaf is only ever a leaf.
STEMS: Final = ("softwood tip", "semi-ripe stem", "dormant stick", "side shoot", "stem joint", "vine section")
ROOTED: Final = ("division", "pup", "runner")
PIECES: Final[dict[str, tuple[str, ...]]] = {
    "tip": ("softwood tip", "side shoot", "semi-ripe stem", "vine section"),
    "shoot": ("softwood tip", "side shoot", "slip", "vine section"),
    "sucker": ("side shoot", "softwood tip", *ROOTED),
    "heel": ("semi-ripe stem", "side shoot", "leaf with heel"),
    "stick": ("dormant stick", "semi-ripe stem", "node section"),
    "joint": ("stem joint", "node section", "vine section"),
    "slip": ("slip",),
    "runner": ("runner", "division", "vine section"),
    "pup": ROOTED,
    "crown": ("crown top", "division", "pup"),
    "top": ("crown top", "softwood tip", "side shoot", "semi-ripe stem"),
    "rooted piece": ROOTED,
    "leaf": ("leaf", "leaf with heel"),
    "pruning": (*STEMS, "node section"),
    "broken stem": (*STEMS, "node section"),
}
# Of these each is one cutting, whatever its length.
WHOLE: Final = ("top", "crown", "pup", "slip", "leaf", "runner", "rooted piece", "heel")
SOFT_FORMS: Final = ("softwood tip", "side shoot", "slip", "vine section", "stem joint")
WOODY_FORMS: Final = ("semi-ripe stem", "dormant stick", "vine section", "stem joint", "node section")
LEAFY_FORMS: Final = ("softwood tip", "side shoot", "slip", "vine section", "semi-ripe stem", "leaf", "leaf with heel")
FLESHY_FORMS: Final = ("stem joint", "crown top")
STATES: Final = ("sound", "soft", "woody", "flowering", "wilted")
KEPT: Final = ("dry", "water", "bag")
MOST_DAYS: Final = 30  # after so long nobody can say (assumed)

# What so many days of being kept in a way cost, by what it is: the first row whose days have gone by (assumed; that a
# leafy stem left dry is soon lost, and a fleshy one the better for it, is common practice).
LYING: Final[dict[str, dict[str, tuple[tuple[int, str], ...]]]] = {
    "leafy": {
        "dry": ((2, "dry_for_days"), (1, "dry_for_a_day")),
        "bag": ((4, "long_in_a_bag"), (2, "days_in_a_bag")),
        "water": ((5, "long_in_water"),),
    },
    "rooted": {
        "dry": ((3, "dry_for_days"), (1, "roots_dried")),
        "bag": ((6, "days_in_a_bag"),),
        "water": ((5, "long_in_water"),),
    },
    "fleshy": {
        "dry": ((21, "shrunken"),),
        "bag": ((2, "sweated"),),
        "water": ((1, "wet_foot"),),
    },
    "bare": {
        "dry": ((5, "wood_dried"), (2, "roots_dried")),
        "bag": (),
        "water": ((7, "long_in_water"),),
    },
}


@dataclass(frozen=True)
class Material:
    """What is in the hand: so many pieces of one kind, each so long (``None`` where length says nothing), how it looks;
    cut so many days ago and kept since: dry, in water, in a bag. ``whole``: not cut up, however long it is."""

    piece: str
    pieces: int
    state: str
    length_cm: float | None = None
    cut_days: int = 0
    kept: str = "bag"
    whole: bool = False

    def __post_init__(self) -> None:
        if self.piece not in PIECES or self.state not in STATES or self.pieces < 1:
            raise ValueError("no such piece or state, or none of it")
        if self.kept not in KEPT or not 0 <= self.cut_days <= MOST_DAYS:
            raise ValueError("kept in no such way, or longer than anybody can say")

    @property
    def uncut(self) -> Material:
        """The same kept whole."""
        return replace(self, whole=True)


def suits(material: Material, method: Method) -> bool:
    """Whether a way can use it."""
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
    usable = _usable_cm(material)
    each = max(math.floor(usable / method.length_cm + 1e-9), 0)
    if each == 0 and usable >= SHORT_SHARE * method.length_cm:
        each = 1
    return (min(each, 1) if material.whole else each) * material.pieces


def _usable_cm(material: Material) -> float:
    return (material.length_cm or 0.0) - (LOST_END_CM if material.piece == "broken stem" else 0.0)


def kind_of_form(form: str) -> str:
    """Leafy, rooted, fleshy or bare: what lying about does to it."""
    if form in LEAFY_FORMS:
        return "leafy"
    if form in ROOTED:
        return "rooted"
    return "fleshy" if form in FLESHY_FORMS else "bare"


def reasons_of(material: Material, method: Method) -> tuple[str, ...]:
    """What holds it back by a way, named as in ``plan.condition``: how it looks, how long it lay, how long it is."""
    found = [material.state]
    rows = LYING[kind_of_form(method.form)][material.kept]
    found += [next((name for days, name in rows if material.cut_days >= days), "")]
    if material.whole and material.piece not in WHOLE and _usable_cm(material) >= LONG_SHARE * method.length_cm - 1e-9:
        found.append("longer")
    return tuple(name for name in found if name)


def dried_already(material: Material, method: Method) -> Method:
    """The way, its days of drying less those it has lain dry."""
    if material.kept != "dry" or not method.dry_days:
        return method
    return replace(method, dry_days=max(method.dry_days - material.cut_days, 0))


def pieces_that_serve(plant: Plant, piece: str) -> tuple[str, ...]:
    """What of a plant does make a plant, the nearest to a piece first: those that share most of its forms, then in the
    order of the list."""
    forms = {method.form for method in plant.ways}
    serve = [name for name, uses in PIECES.items() if forms & set(uses)]
    near = {name: len(set(PIECES[name]) & set(PIECES[piece])) for name in serve}
    return tuple(sorted(serve, key=lambda name: (-near[name], list(PIECES).index(name))))
