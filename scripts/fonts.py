"""The fonts that ship, cut down to the weights and letters in use: `make vendor` runs it after copying them.

Letters beyond plain English (é, ö, ł) stay in files of their own, which a page fetches only where it has one.
"""

from __future__ import annotations

import sys
from pathlib import Path

from fontTools import subset
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

WEIGHTS = (400, 700)
# Of the plain letters alone: none of them is joined to another, or bears a mark of its own.
PLAIN_FEATURES = ("kern", "tnum", "lnum")
FEATURES = ("kern", "liga", "tnum", "lnum", "calt", "ccmp", "mark", "mkmk", "locl")
# What an English page is written with: ASCII, degrees, fractions and dashes, quotation marks, arrows and minus.
PLAIN = [*range(0x20, 0x7F), 0xA0, 0xA3, 0xB0, 0xB1, 0xB2, 0xB3, 0xB7, 0xBC, 0xBD, 0xBE, 0xD7, 0xF7]
PLAIN += [0x2013, 0x2014, 0x2018, 0x2019, 0x201C, 0x201D, 0x2026, 0x2032, 0x2033, 0x2192, 0x2212, 0x20AC]


def weighed(path: Path) -> TTFont:
    """A font with the weights in use alone."""
    font = TTFont(path)
    instancer.instantiateVariableFont(font, {"wght": WEIGHTS}, inplace=True)
    held = path.with_suffix(".ttf")
    font.flavor = None
    font.save(held)
    found = TTFont(held)  # read anew: what was left out is out of every table
    held.unlink()
    return found


def cut_down(path: Path, letters: list[int], to: Path, features: tuple[str, ...] = FEATURES) -> None:
    """Write a font of these letters."""
    font = weighed(path)
    options = subset.Options()
    options.flavor, options.layout_features, options.hinting = "woff2", list(features), False
    cutter = subset.Subsetter(options)
    cutter.populate(unicodes=letters)
    cutter.subset(font)
    font.flavor = "woff2"
    font.save(to)


def main(folder: Path) -> None:
    """Each upright font is parted into the plain letters and the rest of its own; its italic keeps all of them."""
    for path in sorted(folder.glob("*/*-latin-wght-*.woff2")):
        known = sorted(TTFont(path).getBestCmap())
        if path.stem.endswith("normal"):
            cut_down(
                path,
                [code for code in known if code in PLAIN],
                path.with_name(f"{path.stem}-plain.woff2"),
                PLAIN_FEATURES,
            )
        cut_down(path, known, path)


if __name__ == "__main__":
    main(Path(sys.argv[1]))
