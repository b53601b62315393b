"""Containers in words."""

from __future__ import annotations

from typing import Final

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
