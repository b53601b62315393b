"""Things of the shed in words: their names, and amounts in the person's own measure."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.round.lifting import weight_limit_kg
from elder.engine.shed.kit import Kit
from elder.engine.shed.recipes import mix_parts
from elder.engine.shed.uses import COVER, GEL, LABEL, MIX, PART, PLUG, POWDER, STAKE, VESSEL
from elder.web.say.containers import vessel_words
from elder.web.say.mixes import part_name, poured
from elder.web.say.units import US, convert, shown_small_volume, shown_small_weight
from elder.web.say.words import plural

SMALL: Final = {
    PLUG: ("plug", "plugs"), LABEL: ("label", "labels"), COVER: ("cover", "covers"), STAKE: ("stake", "stakes"),
    POWDER: ("hormone powder",) * 2, GEL: ("hormone gel",) * 2,
}  # fmt: skip
SPLIT: Final = "Heavy bags are more than one should lift from the floor: open them where they lie, and carry halves."


@dataclass(frozen=True)
class Measure:
    """How an amount is written: the sign of its unit, and the way there and back from the engine's own."""

    sign: str
    shown: Callable[[float], float]
    read: Callable[[float], float]


def _measure(sign: str, here: str, there: str) -> Measure:
    return Measure(sign, lambda value: convert(value, here, there), lambda value: convert(value, there, here))


PIECES: Final = Measure("", lambda value: value, lambda value: value)
METRIC: Final = {"l": Measure("litres", PIECES.shown, PIECES.read), "g": Measure("g", PIECES.shown, PIECES.read),
                 "ml": Measure("ml", PIECES.shown, PIECES.read)}  # fmt: skip
CUSTOMARY: Final = {
    "l": _measure("qt", "litre", "quart"), "g": _measure("oz", "g", "oz"), "ml": _measure("fl oz", "ml", "fluid_ounce"),
}  # fmt: skip


def measure_of(what: str, units: str) -> Measure:
    """How a thing is measured: parts and mixes in litres or quarts, hormone by weight or volume, all else counted."""
    kind = "l" if what.startswith((PART, MIX)) else {POWDER: "g", GEL: "ml"}.get(what, "")
    return (CUSTOMARY if units == US else METRIC)[kind] if kind else PIECES


def thing_words(what: str, kit: Kit, units: str, count: float = 2) -> str:
    """A thing by name; several of it, unless the count is one."""
    if what.startswith(PART):
        key = what.removeprefix(PART)
        known = mix_parts().get(key)
        return known.name if known else part_name(key)
    if what.startswith(MIX):
        recipe = kit.mix(what.removeprefix(MIX))
        return f"{recipe.name}, made up" if recipe else "mix"
    if what.startswith(VESSEL):
        vessel = kit.vessel(what.removeprefix(VESSEL))
        return vessel_words(vessel, 1 if count == 1 else 2, units) if vessel else "containers"
    return SMALL[what][0 if count == 1 else 1]


def amount_words(what: str, amount: float, units: str) -> str:
    """An amount by itself: "3.4 litres", "12", "1.5 g"."""
    if what.startswith((PART, MIX)):
        return poured(amount, units) if amount > 0 else poured(0.0, units)
    if what == POWDER:
        return shown_small_weight(amount, units)
    return shown_small_volume(amount, units) if what == GEL else f"{round(amount)}"


def so_much(what: str, amount: float, kit: Kit, units: str) -> str:
    """An amount with its thing: "3.4 litres of perlite", "12 pots of 13 cm", "1.5 g of hormone powder"."""
    name = thing_words(what, kit, units, amount)
    return f"{amount_words(what, amount, units)} {'of ' if measure_of(what, units).sign else ''}{name}"


def packs_words(what: str, count: int, size: float, units: str) -> str:
    """Whole packs: "2 bags of 20 litres", "1 pack of 100"; pieces bought singly need no word."""
    if size == 1 and not what.startswith(PART):
        return f"{count}"
    kind = ("bag", "bags") if what.startswith(PART) else ("jar", "jars") if what in (POWDER, GEL) else ("pack", "packs")
    return f"{plural(count, *kind)} of {amount_words(what, size, units)}"


def packs_before(what: str, count: int, size: float, units: str) -> str:
    """The same, to stand before the thing's own name: "2 bags of 20 litres of"."""
    return f"{packs_words(what, count, size, units)}{' of' if what.startswith((PART, MIX)) else ''}"


def bag_kg(what: str, size_l: float) -> float:
    """What a bag of a part weighs, where it is too heavy to be lifted whole from the floor; nought where it is not."""
    part = mix_parts().get(what.removeprefix(PART)) if what.startswith(PART) else None
    kilos = size_l * part.dry_kg if part else 0.0
    return kilos if kilos > weight_limit_kg() else 0.0


def jar_words(opened: date | None, use_by: date | None, today: date) -> str:
    """What the dates on a hormone jar say; nothing where it has none."""
    if use_by and use_by < today:
        return "Past its date: it may do nothing any more. Its label says how to get rid of it."
    if opened and (today - opened).days > OPEN_DAYS:
        return "Open for over two years: powder loses its strength, and damp spoils it."
    return ""


OPEN_DAYS: Final = 730  # kept cool, dark and dry an opened jar serves about so long (from memory; the label goes first)
