"""Containers in words."""

from __future__ import annotations

from typing import Final

from elder.engine.shed.containers import Filling
from elder.engine.shed.vessels import Vessel
from elder.web.say.units import shown_length, shown_volume

CONTAINER_WORDS: Final = {
    "jar": ("jar", "jars"),
    "pot": ("pot", "pots"),
    "tray": ("tray", "trays"),
    "net pot": ("net pot", "net pots"),
    "grow bed": ("grow bed", "grow beds"),
    "row": ("row", "rows"),
    "bin": ("bin", "bins"),
}


# Kinds of container a place can hold, by their name in the handbook.
CONTAINERS = {
    "jar": "jars of water",
    "pot": "pots",
    "tray": "trays of plugs",
    "net pot": "net pots",
    "grow bed": "a grow bed",
    "row": "rows in the ground",
}
SHELF: Final = "its floor"  # what a measured place is said to be short of


def vessel_words(vessel: Vessel, count: int, units: str) -> str:
    """A container by name and size: "pot of 13 cm", "pots of 1 gal"; one of a household's own by its own name."""
    name = vessel.one if count == 1 else vessel.many
    if vessel.said == "across":
        return f"{name} of {shown_length(vessel.shape.top_cm, units)}"
    return f"{name} of {shown_volume(vessel.volume_l, units)}" if vessel.said == "litres" else name


def filled_words(filled: Filling, units: str) -> str:
    """So many of it: "3 pots of 13 cm"."""
    return f"{filled.vessels} {vessel_words(filled.vessel, filled.vessels, units)}"
