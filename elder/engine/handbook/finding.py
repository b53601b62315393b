"""Plants by whatever people call them: other names, old and regional ones, Latin, plurals, the piece in the hand, a
letter wrong; and for plants the handbook does not hold, their nearest kin in it.

Nothing typed finds nothing: at the last the names most like it are given, and said to be only like it.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final, Literal

from rapidfuzz import fuzz, process, utils

from elder.engine.handbook.loading import handbook, named
from elder.engine.handbook.model import Plant
from elder.engine.handbook.tables import FOLDER, HandbookError, read_table

How = Literal["name", "beginning", "piece", "within", "kin", "slip", "like"]
ORDER: Final[tuple[How, ...]] = ("name", "beginning", "piece", "within", "kin", "slip", "like")
WITHIN: Final = 4  # letters from which a word is looked for inside others: cress in watercress
SLIP: Final = 78.0  # of 100 by rapidfuzz's ratio: one letter wrong in a word of five, two in a word of ten
LIKE: Final = 3  # names given where nothing fits

# What gardeners call the piece itself, by the handbook's forms (common practice). A banana's sucker is a pup.
PIECE_WORDS: Final[dict[str, tuple[str, ...]]] = {
    "side shoot": ("side shoot", "sucker", "lateral", "armpit shoot"),
    "slip": ("slip",),
    "crown top": ("top", "crown"),
    "pup": ("pup", "offset", "sucker", "offshoot"),
    "runner": ("runner", "stolon"),
    "division": ("division", "clump", "split", "piece with roots"),
    "dormant stick": ("stick", "hardwood", "dormant wood", "bare wood"),
    "softwood tip": ("tip", "softwood", "greenwood", "tip cutting"),
    "semi-ripe stem": ("semi ripe", "half ripe", "stem"),
    "stem joint": ("joint", "pad", "stem section"),
    "vine section": ("vine section", "vine cutting"),
    "node section": ("node section", "sett", "stake", "cane section"),
    "leaf": ("leaf", "leaf cutting"),
    "leaf with heel": ("heel", "leaf with heel"),
}


@dataclass(frozen=True)
class Kin:
    """A plant the handbook does not hold: its nearest relative in it, by what they are kin, and how it is raised where
    not from cuttings ("" where it may well be)."""

    name: str
    near: Plant
    by: str
    sown: str


@dataclass(frozen=True)
class FoundPlant:
    """A plant, how it was found, and the word that found it. ``kin``: what was asked for, where it is a relative."""

    plant: Plant
    how: How
    word: str
    kin: Kin | None = None


def plain(words: str) -> str:
    """Words as they are compared: small, without accents and signs, each in its singular."""
    bare = "".join(c for c in unicodedata.normalize("NFKD", words) if not unicodedata.combining(c))
    return " ".join(_singular(word) for word in utils.default_process(bare).split())


def _singular(word: str) -> str:
    """A plural's singular, near enough to compare by: potatoes, berries, leaves, limes."""
    if len(word) < 4 or word.endswith(("ss", "us", "is")):
        return word
    for ending, instead in (("ies", "y"), ("oes", "o"), ("ves", "f"), ("ches", "ch"), ("shes", "sh"), ("sses", "ss")):
        if word.endswith(ending):
            return word[: -len(ending)] + instead
    return word[:-1] if word.endswith("s") else word


@lru_cache(maxsize=1)
def kin() -> dict[str, Kin]:
    """Relatives by every name of the plant that is asked for. Raises HandbookError where the file does not fit."""
    raw, where = read_table(FOLDER / "kin.yaml", "kin.schema.json")
    found = {}
    for i, row in enumerate(raw["kin"]):
        if row["near"] not in handbook():
            raise HandbookError(f"{where(['kin', i, 'near'])}: no plant {row['near']!r}")
        for name in row["names"]:
            found[plain(name)] = Kin(name, handbook()[row["near"]], row["by"], row.get("sown", ""))
    return found


def find_plants(words: str, yours: Iterable[Plant] = ()) -> list[FoundPlant]:
    """Plants for what was typed, the best first: by name, by how a name begins, by the piece in the hand, by kin, and
    only without any of these by a slip of the pen or by what is most like it. ``yours``: a household's own plants."""
    wanted = plain(words)
    plants = [*yours, *named().values()]
    if not wanted:
        return [FoundPlant(plant, "name", plant.name) for plant in plants]
    found: dict[str, FoundPlant] = {}
    for one in _fitting(wanted, plants):
        held = found.get(one.plant.slug)
        if held is None or ORDER.index(one.how) < ORDER.index(held.how):
            found[one.plant.slug] = one
    return sorted(found.values(), key=lambda one: _rank(one, wanted)) if found else _near(wanted, plants)


def _rank(one: FoundPlant, wanted: str) -> tuple[int, bool, int, int]:
    """By how it was found; then those called so first; then those whose usual piece is called so before others, and of
    them those most of whose ways take it."""
    usual = PIECE_WORDS.get(one.plant.methods[0].form, ()) if one.plant.methods else ()
    called = usual.index(one.word) if one.word in usual else len(usual) + 1
    ways = sum(one.word in PIECE_WORDS.get(way.form, ()) for way in one.plant.methods)
    return ORDER.index(one.how), not plain(one.plant.name).startswith(wanted), called, -ways


def _fitting(wanted: str, plants: Iterable[Plant]) -> Iterator[FoundPlant]:
    for plant in plants:
        for name in _names(plant):
            if how := _how(wanted, plain(name)):
                yield FoundPlant(plant, how, name)
        for word in _pieces(plant):
            if plain(word) == wanted or f"{plain(plant.name)} {plain(word)}" == wanted:
                yield FoundPlant(plant, "piece", word)
    for name, relative in kin().items():
        if name == wanted or (len(wanted) > 3 and name.startswith(wanted)):
            yield FoundPlant(relative.near, "kin", relative.name, relative)


def _how(wanted: str, name: str) -> How | None:
    """How a name fits what is wanted, if it does."""
    if name == wanted:
        return "name"
    if all(any(part.startswith(word) for part in name.split()) for word in wanted.split()):
        return "beginning"
    return "within" if len(wanted) >= WITHIN and wanted in name else None


def _near(wanted: str, plants: list[Plant]) -> list[FoundPlant]:
    """By a slip of the pen; with not even that, the names most like it."""
    names = [(plain(name), FoundPlant(plant, "slip", name)) for plant in plants for name in _names(plant)]
    names += [(name, FoundPlant(one.near, "slip", one.name, one)) for name, one in kin().items()]
    pieces = [(plain(word), FoundPlant(plant, "slip", word)) for plant in plants for word in _pieces(plant)]
    slips = [one for score, one in _ranked(wanted, names + pieces) if score >= SLIP]
    if slips:
        return _each_once(slips)
    return [replace(one, how="like") for one in _each_once(one for _, one in _ranked(wanted, names))][:LIKE]


def _ranked(wanted: str, keys: list[tuple[str, FoundPlant]]) -> list[tuple[float, FoundPlant]]:
    """The likest first, by rapidfuzz's ratio of 100."""
    found = process.extract(wanted, [key for key, _ in keys], scorer=fuzz.ratio, limit=20)
    return [(score, keys[at][1]) for _, score, at in found]


def _each_once(found: Iterable[FoundPlant]) -> list[FoundPlant]:
    best: dict[str, FoundPlant] = {}
    for one in found:
        best.setdefault(one.plant.slug, one)
    return list(best.values())


def _names(plant: Plant) -> tuple[str, ...]:
    return (plant.name, *plant.also, plant.latin)


def _pieces(plant: Plant) -> Iterator[str]:
    """What the pieces of a plant are called, by its ways and its own word for one."""
    yield plant.cutting_one
    for form in dict.fromkeys(way.form for way in plant.methods):
        yield from PIECE_WORDS.get(form, (form,))
