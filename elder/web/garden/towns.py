"""Where a garden lies, from the nearest town or from degrees, however either is written; and the time kept there.

The towns are GeoNames' (CC BY 4.0), a thousand people or more; `make towns` makes their file anew.
"""

from __future__ import annotations

import lzma
import re
import unicodedata
from bisect import bisect_left
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Final

import numpy as np
import tzfpy
from rapidfuzz import process
from rapidfuzz.distance import OSA

from elder.engine.arrays import Floats

FILE: Final = Path(__file__).with_name("towns.tsv.xz")
EARTH_KM: Final = 6371.0
SHOWN: Final = 6
LEAST_LETTERS: Final = 2

# Degrees, minutes and seconds with a letter or a sign, and plain degrees.
DEGREES: Final = re.compile(
    r"""\s*(?P<before>[NSEWnsew])?\s*(?P<sign>[-−+])?\s*(?P<degrees>\d{1,3}(?:[.]\d+)?)\s*[°ºd]?
    \s*(?:(?P<minutes>\d{1,2}(?:[.]\d+)?)\s*['′’m])?\s*(?:(?P<seconds>\d{1,2}(?:[.]\d+)?)\s*(?:["″”]|''))?
    \s*(?(before)|(?P<after>[NSEWnsew])?)\s*""",
    re.VERBOSE,
)


@dataclass(frozen=True)
class Town:
    """A town: its name and country as written, degrees north and east, and how many live there."""

    name: str
    country: str
    region: str
    latitude: float
    longitude: float
    people: int

    @property
    def at(self) -> str:
        """Its degrees as a form sends them."""
        return f"{self.latitude}, {self.longitude}"

    @property
    def where(self) -> str:
        """Name, region and country in one line."""
        return ", ".join(part for part in (self.name, self.region, self.country) if part)


def folded(name: str) -> str:
    """A name as it is looked for: small, without accents, letters, digits and spaces only."""
    plain = unicodedata.normalize("NFKD", name.replace("ß", "ss").replace("ø", "o").replace("ł", "l").lower())
    return " ".join("".join(c if c.isalnum() else " " for c in plain if not unicodedata.combining(c)).split())


@lru_cache(maxsize=1)
def _lines() -> list[str]:
    return lzma.decompress(FILE.read_bytes()).decode().splitlines()


def _town(line: str) -> Town:
    _, name, country, region, north, east, people = line.split("\t")
    return Town(name, country, region, float(north), float(east), int(people))


def towns_like(text: str, most: int = SHOWN) -> list[Town]:
    """Towns of that name, or that begin so, the largest first; with no such town, those a letter or two away.
    What follows a comma says the country or, in the United States, the region."""
    name, _, rest = text.partition(",")
    wanted, within = folded(name), folded(rest)
    if len(wanted) < LEAST_LETTERS:
        return []
    lines = _beginning(wanted)
    found = [(line, town) for line in lines if _lies_in(town := _town(line), within)]
    if not found:
        found = [(line, town) for line in _near_spelled(wanted) if _lies_in(town := _town(line), within)]
    # Whose name is just that come first, by whichever of its names it was asked for.
    found.sort(key=lambda pair: (not pair[0].startswith(f"{wanted}\t"), -pair[1].people))
    return list(dict.fromkeys(town for _, town in found))[:most]


def _beginning(wanted: str) -> list[str]:
    lines = _lines()
    at, found = bisect_left(lines, wanted), []
    while at < len(lines) and lines[at].startswith(wanted):
        found.append(lines[at])
        at += 1
    return found


def _near_spelled(wanted: str) -> list[str]:
    """Towns whose names are one slip of the pen away, two in a long name; none for the shortest."""
    slips = 0 if len(wanted) < 4 else 1 if len(wanted) < 8 else 2
    keys = [line[: line.index("\t")] for line in _lines()]
    near = process.extract(wanted, keys, scorer=OSA.distance, score_cutoff=slips, limit=30) if slips else []
    return [_lines()[at] for _, _, at in near]


def _lies_in(town: Town, within: str) -> bool:
    return not within or any(folded(part).startswith(within) for part in (town.country, town.region) if part)


def read_degrees(text: str) -> tuple[float, float] | None:
    """Degrees north and east from "52.6, −4.1", "52°36′N 4°6′W" and their kin; nothing where it is no such pair."""
    first = DEGREES.match(text)
    if first is None:
        return None
    between = re.compile(r"[,;/\s]*").match(text, first.end())
    second = DEGREES.fullmatch(text, between.end() if between else first.end())
    if second is None:
        return None
    one, other = _signed(first), _signed(second)
    if _letter(first) in ("E", "W") or _letter(second) in ("N", "S"):
        one, other = other, one
    return (one, other) if abs(one) <= 90 and abs(other) <= 180 else None


def _letter(found: re.Match[str]) -> str:
    return (found["before"] or found["after"] or "").upper()


def _signed(found: re.Match[str]) -> float:
    value = float(found["degrees"]) + float(found["minutes"] or 0) / 60 + float(found["seconds"] or 0) / 3600
    south_or_west = found["sign"] in ("-", "−") or _letter(found) in ("S", "W")
    return round(-value if south_or_west else value, 4)


@lru_cache(maxsize=1)
def _at() -> tuple[Floats, Floats]:
    """Degrees north and east of every line, in radians."""
    parts = [line.split("\t") for line in _lines()]
    at = np.radians(np.array([(float(part[4]), float(part[5])) for part in parts]))
    return at[:, 0], at[:, 1]


def nearest_town(latitude: float, longitude: float) -> tuple[Town, float]:
    """The nearest town, and how far it is in km (great circle)."""
    north, east = _at()
    here_north, here_east = np.radians(latitude), np.radians(longitude)
    half = np.sin((north - here_north) / 2) ** 2 + (
        np.cos(here_north) * np.cos(north) * np.sin((east - here_east) / 2) ** 2
    )
    km = 2 * EARTH_KM * np.arcsin(np.sqrt(np.clip(half, 0.0, 1.0)))
    at = int(np.argmin(km))
    return _town(_lines()[at]), float(km[at])


def timezone_at(latitude: float, longitude: float) -> str:
    """The time zone kept there, by tzfpy's map of zones; at sea one of whole hours."""
    return tzfpy.get_tz(longitude, latitude) or "UTC"
