"""Cautions that belong to no plant's handbook page: each defers to the label, the breeder's right or the authority."""

from __future__ import annotations

from typing import Final

FEEDING: Final = "Feed by its label, never stronger. Wash your hands before you eat, and keep it from children."
DILUTION: Final = (
    "The product’s label is the rule: which strength, which plants, gloves, and how to throw away what is left. "
    "Powders are not thinned with water unless the label says so. Dipped stems are not eaten."
)
PROTECTED: Final = (
    "Protected, you said: propagating it without a licence is unlawful in many countries. "
    "Ask before you sell or give."
)  # fmt: skip
UNSURE: Final = "You do not know whether it is protected: ask before you sell or give."
QUARANTINED: Final = "Under quarantine in many regions: ask the plant-health authority before it travels."


def variety_cautions(protected: str, quarantine: str, *, named: bool, quarantined: bool) -> list[str]:
    """What to be told of a variety after what the household said of it.

    ``protected`` is "no", "licence", "yes" or "unknown", ``quarantine`` "no", "yes" or "unknown"; ``named`` says that
    the variety has a name, ``quarantined`` that its plant is restricted somewhere.
    """
    found = []
    if protected == "yes":
        found.append(PROTECTED)
    elif protected == "unknown" and named:
        found.append(UNSURE)
    if quarantined and quarantine != "no":
        found.append(QUARANTINED)
    return found
